#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""What the documents say about the tree must be true: links lead somewhere, commands exist, every folder has its README."""
import pathlib
import re
import subprocess
import sys

tracked = subprocess.run(["git", "ls-files", "-co", "--exclude-standard"], check=True, capture_output=True, text=True).stdout.split("\n")
bad = []
for name in (n for n in tracked if n.endswith(".md")):
    path = pathlib.Path(name)
    if not path.exists():
        continue
    text = path.read_text()
    for target in re.findall(r"\]\(([^)#\s]+)", text):
        if "://" not in target and not (path.parent / target).exists():
            bad.append(f"{name}: leads nowhere: {target}")
    for verb in re.findall(r"\./dev ([a-z]+)", text):
        if not re.search(rf"^{verb}\)", pathlib.Path("dev").read_text(), re.M):
            bad.append(f"{name}: there is no ./dev {verb}")
folders = {str(pathlib.Path(n).parent) for n in tracked if n.endswith((".cpp", ".h"))}
for folder in sorted(folders):
    depth = folder.split("/")
    needs = depth[0] in ("core", "render", "print", "cli", "bench") or folder in ("app/shell", "app/sheet3d", "app/charts")
    if needs and not pathlib.Path(folder, "README.md").exists():
        bad.append(f"{folder}: no README.md")
print("\n".join(bad) or "documents agree with the tree")
sys.exit(1 if bad else 0)
