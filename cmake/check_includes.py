#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Holds every #include against the table of who may include whom. Run from the top of the tree."""
import pathlib
import re
import sys

CORE = {
    "base": set(),
    "geometry": {"base"},
    "parts": {"base", "geometry"},
    "model": {"base", "geometry", "parts"},
    "bonds": {"base", "geometry", "parts", "model"},
    "pose": {"base", "geometry", "parts", "model", "bonds"},
    "stand": {"base", "geometry", "parts", "model", "bonds"},
    "drive": {"base", "geometry", "parts", "model", "bonds"},
    "make": {"base", "geometry", "parts", "model", "bonds"},
    "trials": {"base", "geometry", "parts", "model"},
    "brief": {"base", "geometry", "parts", "model", "bonds"},
}
CORE["script"] = {"base", "geometry", "parts", "model", "bonds", "pose", "drive", "make"}
CORE["study"] = set(CORE) - {"script"}
CORE["verdict"] = set(CORE)
CORE["files"] = set(CORE)
ALL_CORE = {f"core/{name}" for name in CORE}
ALLOWED = {f"core/{name}": {f"core/{used}" for used in uses} for name, uses in CORE.items()}
ALLOWED["render"] = ALL_CORE
ALLOWED["print"] = ALL_CORE | {"render"}
ALLOWED["cli"] = ALL_CORE | {"render", "print"}
SHELL = ALL_CORE | {"render", "print"}
ALLOWED["app/shell"] = SHELL
ALLOWED["app/charts"] = SHELL | {"app/shell"}
ALLOWED["app/sheet3d"] = SHELL | {"app/shell"}
for station in ("brief", "shape", "pose", "drive", "stand", "make", "diary"):
    ALLOWED[f"app/stations/{station}"] = SHELL | {"app/shell", "app/charts", "app/sheet3d"}

TOGETHER = ("app", "app/stations")  # main.cpp and stations.* put everything together

VERDICT_DOMAINS = ("shape", "pose", "stand", "drive", "make", "asks", "diary")


def room(folder):
    """The domains of core/verdict are one room."""
    top, _, domain = folder.rpartition("/")
    return top if top == "core/verdict" and domain in VERDICT_DOMAINS else folder


QT_FREE = ("core/", "render/")
bad = []
for path in [p for top in ("core", "render", "print", "cli", "app") for p in pathlib.Path(top).rglob("*") if p.suffix in (".h", ".cpp", ".in")]:
    folder = room(str(path.parent))
    if folder in TOGETHER:
        continue
    if folder not in ALLOWED:
        bad.append(f"{path}: no rule says what {folder} may include; add it to the table in cmake/check_includes.py")
        continue
    for number, text in enumerate(path.read_text().splitlines(), 1):
        own = re.match(r'#include "([^"]+)/[^/"]+"', text)
        if own and room(own[1]) != folder and room(own[1]) not in ALLOWED[folder]:
            bad.append(f"{path}:{number}: {folder} must not include {own[1]}")
        if folder.startswith(QT_FREE) and re.match(r"#include <Q", text):
            bad.append(f"{path}:{number}: no Qt here")
print("\n".join(bad) or "includes keep to the table")
sys.exit(1 if bad else 0)
