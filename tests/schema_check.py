#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""The published schema and the loader must agree: what the program writes is valid, what is broken is refused by both."""
import copy
import json
import pathlib
import subprocess
import sys
import tempfile

import jsonschema

cli = sys.argv[1]
schema = json.loads(pathlib.Path("docs/ivrant-project.schema.json").read_text())
validator = jsonschema.validators.validator_for(schema)(schema)
files = [pathlib.Path("tests/fixtures/gate_arm.ivrant"), pathlib.Path("tests/fixtures/basket_crank.ivrant"), *sorted(pathlib.Path("data/demo").glob("*.ivrant"))]
bad = 0
for path in files:
    for error in validator.iter_errors(json.loads(path.read_text())):
        print(f"{path}: {'/'.join(map(str, error.path))}: {error.message}")
        bad += 1

gate = json.loads(files[0].read_text())


def change(*path, value=None):
    broken = copy.deepcopy(gate)
    target = broken
    for key in path[:-1]:
        target = target[key]
    if value is None:
        del target[path[-1]]
    else:
        target[path[-1]] = value
    return broken


cases = [
    change("name"), change("name", value=3), change("version", value=3), change("format", value="x"), change("sections", value=[]),
    change("sections", 0, "id", value="S 1"), change("sections", 0, "parts", 0, "at", value=[0, 0]), change("sections", 0, "parts", 0, "at", value=[0, 0, 0.5]),
    change("sections", 0, "parts", 0, "turn", value=24), change("sections", 0, "parts", 0, "step", value=0), change("sections", 0, "parts", 0, "colour"),
    change("sections", 0, "parts", 0, "weighed_g", value=-1), change("joints", 0, "from", value={"part": "p2"}), change("joints", 0, "wanted", value=[[0]]),
    change("joints", 0, "value", value=[]), change("poses", 0, "stands", value={}), change("poses", 0, "values", value={"j1": "0"}), change("rules", value="lax"),
    change("asks", value={}), change("tilt_deg", value=600), change("shown_on", value="soon"), change("variants", value=[{"id": "v1"}]),
]
gate["version"] = 2
ask = {"id": "a1", "measure": "mass", "is": "at most", "value": 5, "must": True}
series = {"id": "m1", "quantity": "holding", "kind": "stepped hinge small", "readings": [20, 21]}
entry = {"id": "d1", "entry": "failure", "text": "came off"}
cases += [change("asks", value=[{**ask, **wrong}]) for wrong in ({"is": "about"}, {"measure": 3}, {"must": "yes"}, {"value": "5"}, {"id": "A"})]
cases += [change("measured", value=[{**series, **wrong}]) for wrong in ({"quantity": "luck"}, {"readings": []}, {"readings": [-1]}, {"date": "2026-13-01"})]
cases += [change("diary", value=[{**entry, **wrong}]) for wrong in ({"entry": "wish"}, {"text": ""}, {"answered_on": "later"})]
whole = change("asks", value=[ask])
run = {"torque_nmm": 10, "rpm": 200, "current_a": 0.2, "voltage_v": 8.8}
motor = {"id": "m2", "quantity": "motor", "kind": "motor medium", "runs": [run]}
cases += [change("measured", value=[{**motor, **wrong}]) for wrong in ({"runs": []}, {"runs": [{"rpm": 200}]}, {"runs": [{**run, "rpm": -1}]}, {"runs": 3})]
cases += [change("measured", value=[{key: value for key, value in motor.items() if key != missing}]) for missing in ("kind", "runs")]
whole["measured"], whole["diary"], whole["tilt_deg"], whole["shown_on"] = [series, motor], [entry], 5, "2026-11-20"
own = {"name": "own tetra", "mass_g": 1, "points": [[0, 0, 0], [9000, 0, 0], [0, 9000, 0], [0, 0, 9000]], "triangles": [[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 2, 3]],
       "pieces": [[[0, 0, 0], [9000, 0, 0], [0, 9000, 0], [0, 0, 9000]]],
       "ports": [{"name": "stud 0", "kind": "stud", "at": [1000, 1000, 0], "axis": [0, 0, -1], "reference": [1, 0, 0]}]}
cases += [change("own_shapes", value=[{**own, **wrong}]) for wrong in ({"mass_g": 0}, {"points": [[0, 0]]}, {"triangles": [[0, 1]]}, {"triangles": []}, {"pieces": []},
                                                                      {"ports": [{"name": "stud 0"}]}, {"name": 3})]
whole["own_shapes"] = [own]
support = {"id": "u9", "at": [0, 0, 9600]}
cases += [change("supports", value=[{**support, **wrong}]) for wrong in ({"id": 3}, {"at": [0, 0]}, {"at": [0, 0, 10]}, {"at": [0, 0.5, 9600]}, {"at": 9600})]
cases += [change("supports", value=[{"id": "u9"}]), change("supports", value={})]
whole["supports"] = [support]
shaft, spur = {"id": "h1", "at": [0, 0, 0], "length": 8000}, {"id": "g1", "kind": "spur", "teeth": 8, "shaft": "h1"}
rack = {"id": "g2", "kind": "rack", "teeth": 10, "at": [0, 0, 0]}
function, selector = {"id": "f1", "name": "Turn", "shaft": "h1"}, {"id": "e1", "name": "S", "positions": [{"name": "off", "engaged": []}]}
board = {"id": "b1", "name": "Board", "walls": [0], "step": 2, "colour": "slate", "shafts": [shaft], "gears": [spur, rack], "motors": [{"id": "m7", "name": "M", "line": "motor small", "shaft": "h1", "at_end": True}],
         "selectors": [selector], "functions": [function]}
cases += [change("boards", value=[{**board, **wrong}]) for wrong in (
    {"id": "B 1"}, {"name": 3}, {"walls": ["0"]}, {"shafts": [{**shaft, "length": 0}]}, {"shafts": [{**shaft, "axis": "down"}]}, {"shafts": [{**shaft, "at": [0, 0]}]},
    {"gears": [{**spur, "kind": "wheel"}]}, {"gears": [{**spur, "teeth": 0}]}, {"gears": [{**spur, "teeth": 2.5}]}, {"gears": [{**spur, "loose": "yes"}]},
    {"gears": [{"id": "g1", "kind": "spur", "teeth": 8}]}, {"gears": [{"id": "g2", "kind": "rack", "teeth": 10}]}, {"loops": [{"id": "l1", "kind": "rope", "gears": ["g1", "g1"]}]},
    {"loops": [{"id": "l1", "kind": "chain", "gears": ["g1"]}]}, {"couplings": [{"id": "u1", "a": "h1"}]}, {"motors": [{"id": "m7", "name": "M", "shaft": "h1"}]},
    {"selectors": [{**selector, "positions": []}]}, {"functions": [{**function, "load": "wind"}]}, {"functions": [{**function, "amount": -1}]},
    {"functions": [{**function, "within_s": 0}]}, {"functions": [{**function, "rate_n_mm": -1}]}, {"step": -1}, {"step": "last"}, {"colour": 3},
    {"motors": [{"id": "m7", "name": "M", "line": "motor small", "shaft": "h1", "at_end": "yes"}]})]
whole["boards"] = [board]
module, reach = {"id": "x1", "name": "Lid", "parts": ["p1"]}, {"id": "x2", "name": "Switch", "part": "p1", "side": "top", "with": "plug", "most_moves": 2}
cases += [change("modules", value=[{**module, **wrong}]) for wrong in ({"id": 3}, {"name": ""}, {"parts": "p1"}, {"sections": [3]})]
cases += [change("reaches", value=[{**reach, **wrong}]) for wrong in ({"side": "inside"}, {"with": "hand"}, {"most_moves": -1}, {"most_moves": 1.5}, {"part": ""}, {"part": 3})]
note = {"part": "p1", "text": "mind this one", "view": [30, -20]}
cases += [change("making", value={"notes": [{**note, **wrong}]}) for wrong in ({"part": ""}, {"text": 3}, {"view": [1]}, {"view": [1, 900]})]
cases += [change("making", value={"packing": wrong}) for wrong in ({"box_mm": [1, 2, 3]}, {"box_mm": [300, 300]}, {"most_kg": 0}, {"foam_mm": -1}, {"running": 2})]
whole["modules"], whole["reaches"] = [module], [reach]
whole["making"] = {"notes": [note], "packing": {"box_mm": [300, 200, 100], "most_kg": 5, "foam_mm": 10, "show_hours": 6, "running": 0.5}}
with tempfile.TemporaryDirectory() as folder:
    target = pathlib.Path(folder, "whole.ivrant")
    target.write_text(json.dumps(whole))
    if subprocess.run([cli, "parts", str(target), "--json"], capture_output=True).returncode != 0:
        print("a whole project of version 2 is not taken")
        bad += 1
if not validator.is_valid(whole):
    print("a whole project of version 2 is not valid")
    bad += 1
with tempfile.TemporaryDirectory() as folder:
    for number, case in enumerate(cases):
        target = pathlib.Path(folder, "case.ivrant")
        target.write_text(json.dumps(case))
        refused = subprocess.run([cli, "parts", str(target), "--json"], capture_output=True).returncode == 2
        if validator.is_valid(case) or not refused:
            print(f"case {number}: schema says {'valid' if validator.is_valid(case) else 'broken'}, the loader {'refuses' if refused else 'takes'} it")
            bad += 1
print(f"schema: {len(files)} files, {len(cases)} broken ones, {bad} disagreements")
sys.exit(1 if bad else 0)
