#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Static analysis of core, app and cli, remembering what was found clean and has not changed since.

A source is known by what it says and what the headers of ours that it includes say, with the checks and the compiler's
flags. Run from the top of the tree after `cmake --preset dev`:
    cmake/tidy.py [--minutes N] [FILE ...]
Named files are always looked at; then all others that are not known to be clean, until the time is used up. What is
left is told, and is looked at the next time. Exit 1 when something is found.
"""
import argparse
import concurrent.futures
import hashlib
import json
import pathlib
import re
import subprocess
import sys
import time

TOP = pathlib.Path.cwd()
KNOWN = TOP / "build" / "tidy-clean"
INCLUDE = re.compile(rb'^#include "([^"]+)"', re.M)


class Sources:
    """What a source reads of ours, each file once."""

    def __init__(self):
        self.texts = {}
        self.closures = {}

    def text(self, path):
        if path not in self.texts:
            self.texts[path] = path.read_bytes() if path.is_file() else b""
        return self.texts[path]

    def reads(self, path):
        seen, waiting = {path}, [path]
        while waiting:
            for name in INCLUDE.findall(self.text(waiting.pop())):
                header = TOP / name.decode()
                if header not in seen:
                    seen.add(header)
                    waiting.append(header)
        return sorted(seen)


def main():
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--minutes", type=float, default=1e9)
    parser.add_argument("--jobs", type=int, default=2)
    parser.add_argument("files", nargs="*")
    options = parser.parse_args()
    until = time.monotonic() + 60 * options.minutes
    commands = {}
    for entry in json.loads((TOP / "build-dev" / "compile_commands.json").read_text()):
        path = pathlib.Path(entry["file"])
        if path.is_relative_to(TOP) and path.relative_to(TOP).parts[0] in ("core", "app", "cli"):
            commands[path] = entry["command"]
    sources = Sources()
    rules = (TOP / ".clang-tidy").read_bytes()
    version = subprocess.run(["clang-tidy", "--version"], capture_output=True, check=True).stdout
    KNOWN.mkdir(parents=True, exist_ok=True)

    def stamp(path):
        digest = hashlib.sha256(rules + version + commands[path].encode())
        for read in sources.reads(path):
            digest.update(sources.text(read))
        return KNOWN / digest.hexdigest()

    stamps = {path: stamp(path) for path in commands}
    for old in set(KNOWN.iterdir()) - set(stamps.values()):
        old.unlink()
    named = [TOP / name for name in options.files if TOP / name in commands]
    others = sorted(set(commands) - set(named))
    due = [p for p in named + others if not stamps[p].exists()]

    def look(path):
        if path not in named and time.monotonic() > until:
            return path, None
        done = subprocess.run(
            ["clang-tidy", "-p", "build-dev", "--quiet", "--extra-arg=-Wno-unknown-warning-option", str(path)],
            capture_output=True, text=True, check=False)
        if done.returncode == 0:
            stamps[path].touch()
            return path, ""
        return path, done.stdout + done.stderr

    found, left = 0, 0
    with concurrent.futures.ThreadPoolExecutor(options.jobs) as pool:
        for path, told in pool.map(look, due):
            left += told is None
            if told:
                found += 1
                print(told)
    print(f"static analysis: {len(commands)} sources, {len(due) - left} looked at, {found} with findings, "
          f"{left} left for the next time")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
