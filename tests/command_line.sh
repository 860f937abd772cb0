#!/usr/bin/env bash
# The documented verbs on the demo: exit codes and shapes.
set -euo pipefail
cli=$1
out=$(mktemp -d)
trap 'rm -rf "$out"' EXIT
heron=data/demo/heron.ivrant
code=0
"$cli" check "$heron" --json >"$out/check.json" || code=$?
[[ $code == 1 ]] # the demo has failing verdicts on purpose
for verb in range hold parts steps; do "$cli" $verb "$heron" --json >"$out/$verb.json"; done
python3 - "$out" <<'PY'
import json, sys
out = sys.argv[1]
for verb in ("check", "range", "hold", "parts", "steps"):
    data = json.load(open(f"{out}/{verb}.json"))
    assert data["ivrant"] == verb and data["version"] == 1, verb
check = json.load(open(f"{out}/check.json"))
assert all(check["summary"][k] > 0 for k in ("fail", "thin", "good")), check["summary"]
hold = {j["id"]: j for j in json.load(open(f"{out}/hold.json"))["joints"]}
assert len(hold) >= 12
assert json.load(open(f"{out}/parts.json"))["count"] >= 120
PY
# The studies of Pose, variants, a shared brief.
"$cli" map "$heron" --joint "Neck 1" --with "Neck 2" --steps 24 --json >"$out/map.json"
"$cli" chain "$heron" --variant "B smooth" --joint "Neck 1" --to Head --pose Reach --json >"$out/chain.json"
"$cli" choose "$heron" --joint "Neck 3" --firm 1 --json >"$out/choose.json"
"$cli" clearance data/demo/drum.ivrant --joint "Middle ring" --json >"$out/clearance.json"
"$cli" reach "$heron" --section Head --samples 500 --json >"$out/reach.json"
"$cli" path "$heron" --pose Standing --to Asleep --json >"$out/path.json"
"$cli" gaps "$heron" --joint "Neck 1" --json >"$out/gaps.json"
"$cli" compare "$heron" --json >"$out/compare.json"
"$cli" hold "$heron" --worst --json >"$out/worst.json"
"$cli" chain "$heron" --joint "Neck 1" --to Head | grep -q "tip_play_mm" # as text
python3 - "$out" <<'PY'
import json, sys
def load(name):
    data = json.load(open(f"{sys.argv[1]}/{name}.json"))
    assert data["ivrant"] == ("hold" if name == "worst" else name) and data["version"] == 1, name
    return data
cells = load("map")["cells"]
assert len(cells) == 24 and all(len(row) == 24 for row in cells)
chain = load("chain")
assert chain["sag_mm"] > 1 and chain["firm_first"][0]["joint"] == "Neck 1", chain
choices = load("choose")["choices"]
assert choices[0]["kind"] == "stepped hinge large" and any(c["present"] for c in choices)
assert load("clearance")["passes"] and load("clearance")["gap_mm"] > 0
assert load("reach")["free"] > 50
assert load("path")["free"] or load("path")["detour"]
assert len(load("gaps")["views"]) == 5
assert any(j["differs"] for j in load("compare")["joints"])
assert all(j["need_nmm"] >= 0 for j in load("worst")["joints"])
PY
code=0
"$cli" check data/demo/fairgoer-*.ivrant --brief data/demo/fairgoers.brief.json >"$out/brief.txt" || code=$?
[[ $code == 1 ]]
[[ $(grep -c "The kind of Head must be one-stud swivel" "$out/brief.txt") == 4 ]]
code=0
"$cli" chain "$heron" --joint "Neck 1" --to "Left hip" 2>"$out/run.json" || code=$?
[[ $code == 2 ]] && grep -q chain.run "$out/run.json"
"$cli" own "$heron" --mesh data/demo/heron-crest.obj --name crest --mass 0.8 --json -o "$out/crest.ivrant" >"$out/own.json"
python3 -c "import json,sys; o=json.load(open(sys.argv[1])); assert o['ivrant']=='own' and o['triangles']==416 and 1 < o['pieces'] < 12 and o['excess_share'] < 0.05, o" "$out/own.json"
"$cli" parts "$out/crest.ivrant" >/dev/null
code=0
echo 'solid open' >"$out/open.stl"
"$cli" own "$heron" --mesh "$out/open.stl" --name x --mass 1 -o "$out/x.ivrant" 2>"$out/mesh.json" || code=$?
[[ $code == 2 ]] && grep -q '"code":"mesh' "$out/mesh.json"
"$cli" guide "$heron" -o "$out/heron.pdf"
pdftotext "$out/heron.pdf" - | grep "Neck 1" >/dev/null
"$cli" guide "$heron" -o "$out/heron.html"
grep -q "Wings" "$out/heron.html" || grep -q "wing" "$out/heron.html"
"$cli" render "$heron" -o "$out/heron.png" --pose Reach --size 640x480
"$cli" convert "$heron" -o "$out/again.ivrant"
cmp "$heron" "$out/again.ivrant"
"$cli" convert "$heron" -o "$out/heron.stl"
code=0
echo '{ "format": "ivrant-project", "version": 1, "name": 5 }' >"$out/bad.ivrant"
"$cli" check "$out/bad.ivrant" 2>"$out/error.json" || code=$?
[[ $code == 2 ]]
python3 -c "import json,sys; e=json.load(open(sys.argv[1])); assert e['ivrant']=='error' and e['pointer']=='/name', e" "$out/error.json"
