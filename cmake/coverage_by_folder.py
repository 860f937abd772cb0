#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Lines run by the tests, folder by folder, from a summary of gcovr."""
import collections
import json
import pathlib
import sys

summary = json.loads(pathlib.Path(sys.argv[1]).read_text())
lines = collections.defaultdict(lambda: [0, 0])
for entry in summary["files"]:
    folder = str(pathlib.Path(entry["filename"]).parent)
    lines[folder][0] += entry["line_covered"]
    lines[folder][1] += entry["line_total"]
for folder, (run, total) in sorted(lines.items()):
    print(f"{100 * run / max(total, 1):5.1f} %  {run:6d} of {total:6d}  {folder}")
run, total = sum(r for r, _ in lines.values()), sum(t for _, t in lines.values())
print(f"{100 * run / max(total, 1):5.1f} %  {run:6d} of {total:6d}  all")
