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
