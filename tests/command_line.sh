#!/usr/bin/env bash
# SPDX-License-Identifier: GPL-3.0-or-later
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
"$cli" check data/demo/fairgoer-*.ivrant --brief data/demo/fairgoers.brief.json --all >"$out/brief.txt" || code=$?
[[ $code == 1 ]]
[[ $(grep -c "The kind of Head must be one-stud swivel" "$out/brief.txt") == 5 ]]
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
# A machine that is typed stands; boards of older files become parts; models without rings say so.
"$cli" build data/demo/gate-drive.script -o "$out/gate.ivrant"
"$cli" check "$out/gate.ivrant" --json | python3 -c "import json,sys; s=json.load(sys.stdin)['summary']; assert s['fail'] == 0, s"
"$cli" convert tests/fixtures/boards/bridge.ivrant --parts -o "$out/bridge-parts.ivrant" | grep -q "without holes"
diff <("$cli" drive tests/fixtures/boards/bridge.ivrant | grep -A9 ^Functions) <("$cli" drive "$out/bridge-parts.ivrant" | grep -A9 ^Functions)
code=0
"$cli" convert "$out/bridge-parts.ivrant" --parts -o "$out/again.ivrant" 2>"$out/none.json" || code=$?
[[ $code == 2 ]] && grep -q '"code":"convert.none"' "$out/none.json"
code=0
"$cli" close "$heron" 2>"$out/none.json" || code=$?
[[ $code == 2 ]] && grep -q '"code":"ring.none"' "$out/none.json"
code=0
echo '{ "format": "ivrant-project", "version": 1, "name": 5 }' >"$out/bad.ivrant"
"$cli" check "$out/bad.ivrant" 2>"$out/error.json" || code=$?
[[ $code == 2 ]]
python3 -c "import json,sys; e=json.load(open(sys.argv[1])); assert e['ivrant']=='error' and e['pointer']=='/name', e" "$out/error.json"
# What was measured, the scale and offset desks, covers.
printf 'reading\n18\n20\n19\n' >"$out/readings.csv"
"$cli" measure "$heron" --readings "$out/readings.csv" --quantity holding --kind "stepped hinge small" --json -o "$out/measured.ivrant" >"$out/measure.json"
"$cli" hold "$out/measured.ivrant" --json >"$out/measured.json"
"$cli" covers "$heron" --section Body --json >"$out/covers.json"
"$cli" scale 90=346 --real 20 --json >"$out/scale.json"
"$cli" offset 5.6mm --json >"$out/offset.json"
python3 - "$out" <<'PY'
import json, sys
load = lambda name: json.load(open(f"{sys.argv[1]}/{name}.json"))
measure = load("measure")
# One-sided tolerance factor of 3 readings, 90 % at 95 %: 6.155 (tables of the non-central t); mean 19, spread 1.
assert measure["count"] == 3 and measure["mean"] == 19 and abs(measure["counted_on"] - (19 - 6.155)) < 0.01, measure
knee = next(j for j in load("measured")["joints"] if j["have_nmm"] and abs(j["have_nmm"] - 12.845) < 0.01)
assert knee["basis"] == "measured", knee
costs = load("covers")["costs"]
assert all(c["cost"] >= 0 and c["without"][0] <= c["with"][0] + 1e-9 for c in costs) and costs[0]["cost"] > 1
scale = load("scale")
assert abs(scale["mm_per_real"] - 346 / 90) < 1e-3 and scale["studs"] * 8 - 20 * 346 / 90 - scale["studs_error_mm"] < 1e-3, scale
way = load("offset")["ways"][0]
assert abs(way["studs"] * 8 + way["half_studs"] * 4 + way["plates_sideways"] * 3.2 + way["leaves"] * 1.6 - 5.6) < 1e-9, way
PY
code=0
"$cli" scale nonsense 2>"$out/scale.err" || code=$?
[[ $code == 2 ]] && grep -q '"error"' "$out/scale.err"
code=0
"$cli" measure "$heron" --readings "$heron" --quantity holding --kind "stepped hinge small" -o "$out/no.ivrant" 2>/dev/null || code=$?
[[ $code == 2 && ! -e $out/no.ivrant ]]
# A ring read from a file: it turns, and its range is followed all round.
"$cli" range tests/fixtures/basket_crank.ivrant --json | grep -q '"ring"\|"endless": true'
# Balance and bonds, statues.
code=0
"$cli" stand "$heron" --json >"$out/stand.json" || code=$?
[[ $code == 1 ]] # on a slope of 8 degrees it falls over
"$cli" stand "$heron" --case standing --json >"$out/rest.json"
"$cli" stand "$heron" --hand Body --json >"$out/hand.json"
"$cli" layers 240mm 480mm --mesh data/demo/great-auk.obj --sizes 2x4,2x2,1x2 --json -o "$out/auk.ivrant" >"$out/layers.json"
"$cli" hollow "$out/auk.ivrant" --json -o "$out/hollow.ivrant" >"$out/hollow.json" || true
"$cli" hidden "$out/auk.ivrant" --json >"$out/hidden.json"
"$cli" firm "$out/auk.ivrant" --json >"$out/firm.json"
"$cli" support "$heron" --json >"$out/support.json"
"$cli" support "$heron" --json -o "$out/posted.ivrant" >"$out/kept.json"
"$cli" stand "$out/posted.ivrant" --case standing --json >"$out/posted.json" || true
"$cli" stand data/demo/heron-stand.ivrant --variant "D on a post" --case standing --json >"$out/study.json" || true
boards=tests/fixtures/boards
"$cli" stand $boards/bridge.ivrant --case standing --json >"$out/slewing.json" || true
"$cli" ballast "$heron" --json >"$out/ballast.json"
code=0
"$cli" stand "$heron" --every-step --json >"$out/every.json" || code=$?
[[ $code -le 1 ]]
mkdir -p "$out/pictures"
for layer in 1 2 3; do "$cli" render "$heron" --size 24x16 -o "$out/pictures/layer $layer.png"; done
"$cli" layers --pictures "$out/pictures" --json -o "$out/pictured.ivrant" >"$out/pictured.json"
code=0
"$cli" layers --pictures "$out/none" --json 2>"$out/pictures.err" || code=$?
[[ $code == 2 ]] && grep -q '"code":"picture' "$out/pictures.err"
code=0
"$cli" layers 240mm --mesh "$out/open.stl" 2>"$out/layers.err" || code=$?
[[ $code == 2 ]] && grep -q '"code":"mesh' "$out/layers.err"
code=0
"$cli" stand "$heron" --case juggled 2>"$out/case.err" || code=$?
[[ $code == 2 ]] && grep -q juggled "$out/case.err"
python3 - "$out" <<'PY'
import json, sys
load = lambda name: json.load(open(f"{sys.argv[1]}/{name}.json"))
stand = load("stand")
assert stand["ivrant"] == "stand" and len(stand["rose"]) == 24 and 7 < stand["tip"]["angle_deg"] < 8, stand["tip"]
cases = {c["case"]: c for c in stand["cases"]}
assert cases["standing"]["holds"] and 0.3 < cases["standing"]["lambda"] < 1 and cases["standing"]["weakest"]
assert not cases["slope"]["holds"] and cases["slope"]["lambda"] is None
assert all(c["left_over_n"] < 1e-4 for c in stand["cases"])
assert len(load("rest")["cases"]) == 1 and load("hand")["cases"][0]["case"] == "carry"
assert stand["moves"] and stand["pieces"] and stand["necks"], "what hands pull off"
support = load("support")
posted, study, slewing = load("posted"), load("study"), load("slewing")
assert load("kept")["supports"] == support["supports"] and len(posted["posts"]) == 1
assert posted["posts"][0]["at_mm"] == support["supports"][0]["at_mm"] and posted["posts"][0]["state"] == "touches"
assert posted["tip"]["angle_deg"] >= 8 > stand["tip"]["angle_deg"], "the post brings it past what is asked"
assert study["posts"][0]["needed"] and study["posts"][0]["tips_deg"] > study["posts"][0]["without_deg"]
slew = {m["name"]: m["angles_deg"] for m in slewing["moves"]}["Slew"]
assert len(slew) == 25 and slew[0] - slew[-1] > 0.1, "what the turntable carries slews in the balance"
ballast = load("ballast")
assert ballast["sections"] and all(s["mass_g"] >= 1 for s in ballast["sections"]), ballast
every = load("every")
assert every["steps"] > 10 and (every["first_falling"] is None) == (not every["falling"])
assert support["needed"] and all(s["tips_deg"] >= support["wish_deg"] for s in support["supports"]) and support["supports"]
assert load("firm")["as_wished"], "a solid statue needs nothing inside"
pictured = load("pictured")["sizes"][0]
assert abs(pictured["height_mm"] - 28.8) < 1e-6 and pictured["parts"] > 3
sizes = load("layers")["sizes"]
assert sizes[1]["cost"] > sizes[0]["cost"] and sizes[0]["holds"]
assert 3 < sizes[1]["mass_g"] / sizes[0]["mass_g"] < 9 and sizes[1]["parts"] > 4 * sizes[0]["parts"] / 2, sizes
assert load("hidden")["count"] >= load("hollow")["parts"] and load("hidden")["rays"] > 1000, "what is left out lies inside"
PY
# Gear boards, found trains, fits.
"$cli" drive $boards/bridge.ivrant --json >"$out/bridge.json"
"$cli" drive $boards/cart.ivrant --board Basket --json >"$out/cart.json"
"$cli" drive $boards/bridge.ivrant --board "Span side" -o "$out/span.svg"
grep -q "<svg" "$out/span.svg"
"$cli" steps $boards/bridge.ivrant --json >"$out/bridge-steps.json"
"$cli" drive data/demo/bridge.ivrant --json >"$out/machine.json"
"$cli" drive data/demo/bridge.ivrant >"$out/machine.txt"
grep -q "^Functions with Selector at Signals" "$out/machine.txt" && grep -q "Span lift *M2 *-9:1000" "$out/machine.txt"
"$cli" ratio 1:15 >"$out/ratio.txt"
grep -q "8 on 40, 8 on 24" "$out/ratio.txt"
"$cli" ratio 1:105 --worm --json >"$out/ratio.json"
"$cli" meshes 24 20 --json >"$out/meshes.json"
"$cli" meshes --at 3s 0 --json >"$out/pairs.json"
python3 - "$out" <<'PY'
import json, sys
load = lambda name: json.load(open(f"{sys.argv[1]}/{name}.json"))
bridge = load("bridge")
steps = load("bridge-steps")["steps"]
assert [s["board"] is not None for s in steps] == [False, True, True] and sum(line["count"] for line in steps[1]["tray"]) > 40, steps
assert bridge["ivrant"] == "drive" and len(bridge["positions"]) == 3 and not bridge["faults"] and not bridge["clashes"], bridge["clashes"]
first = {f["name"]: f for f in bridge["positions"][0]["functions"]}
# 12:36, 8:24 and 8 on the turntable's 56 with three outside meshes; 20:28, 12:20, 24:40, bevels 1:1, a worm on 24.
assert first["Slew"]["motors"][0]["ratio"]["fraction"] == "-1:63"
assert first["Span lift"]["motors"][0]["ratio"]["fraction"].lstrip("-") == "3:280" and first["Span lift"]["holds"]
assert not first["Gate"]["motors"] and first["Span lift"]["creep"], first
machine = load("machine")
turn = {f["name"]: f for f in machine["positions"][0]["functions"]}
assert turn["Slew"]["motors"][0]["ratio"]["fraction"] == "-1:63" and turn["Slew"]["without_power"] == "rests", turn["Slew"]
assert turn["Span lift"]["without_power"] == "holds" and not machine["faults"] and not machine["clashes"]
for f in turn.values():
    assert abs(f["in_w"] - f["out_w"] - f["lost_w"]) < 1e-9, f
basket = load("cart")["positions"][0]["functions"]
assert [f["name"] for f in basket] == ["Tip the basket"] and basket[0]["motors"][0]["ratio"]["fraction"] == "1:15", basket
group = load("ratio")["groups"][0]
assert group["fraction"] == "1:105" and group["error"] == 0 and any(s["driver"] == "worm" for s in group["trains"][0]["stages"])
assert all(-0.1001 <= o["error_mm"] <= 0.2501 for o in load("meshes")["offsets"]) and load("meshes")["distance_mm"] == 22
assert sorted(p["teeth"] for p in load("pairs")["pairs"]) == [[8, 40], [12, 36], [20, 28], [24, 24]], load("pairs")
PY
code=0
"$cli" ratio 11:13 --tolerance 0 --json >"$out/none.json" || code=$?
[[ $code == 1 ]] && python3 -c "import json,sys; d=json.load(open(sys.argv[1])); assert not d['groups'] and d['nearest']" "$out/none.json"
for bad in "ratio 0" "ratio x:y" "ratio 1:0" "ratio 1:15 --stock 0:2" "meshes 24" "meshes 2 20" "drive $heron"; do
    code=0
    # shellcheck disable=SC2086
    "$cli" $bad >/dev/null 2>"$out/bad.json" || code=$?
    [[ $code == 2 ]] && grep -q '"error"' "$out/bad.json" || { echo "not refused: $bad"; exit 1; }
done
# Stock, orders, the calendar, options of the demo's fair-goers.
captain=data/demo/fairgoer-captain.ivrant
code=0
"$cli" stock "$captain" --stand-ins --json >"$out/stock.json" || code=$?
[[ $code == 1 ]] # three kinds are missing
"$cli" stock "$captain" --pick drawers --json >"$out/pick.json"
"$cli" order "$captain" --today 2026-12-01 -o "$out/ordered.ivrant" --json >"$out/order.json"
"$cli" stock "$out/ordered.ivrant" --json >"$out/onway.json" # all is on its way
"$cli" plan "$captain" --today 2026-12-01 --json >"$out/plan.json"
"$cli" plan "$captain" --today 2026-12-01 -o "$out/plan.ics"
code=0
"$cli" plan "$captain" --today 2026-12-20 >/dev/null || code=$?
[[ $code == 1 ]] # the day has passed
code=0
"$cli" options data/demo/fairgoer-choices.ivrant --json >"$out/options.json" || code=$?
[[ $code == 1 ]] # a fishing net tips it over
"$cli" options data/demo/fairgoer-choices.ivrant --choose "Hat=baker's hat" --choose Tool=none -o "$out/baker.ivrant"
"$cli" modules data/demo/fairgoer-choices.ivrant --json >"$out/modules.json"
"$cli" modules data/demo/fairgoer-captain.ivrant --add "Torso=Body" --reach "Neck=p22.top" -o "$out/torso.ivrant"
code=0
"$cli" modules "$out/torso.ivrant" --json >"$out/torso.json" || code=$?
[[ $code == 1 ]] # the head sits on it
"$cli" modules "$out/torso.ivrant" --remove Torso --remove Neck -o "$out/bare.ivrant"
"$cli" pack data/demo/bridge.ivrant --json >"$out/pack.json"
code=0
"$cli" pack data/demo/auk.ivrant >/dev/null || code=$?
[[ $code == 1 ]] # a statue of 78 cm fits no box of 30
for bad in "--add Hat" "--add Hat=nothing" "--reach Top=p9999.top" "--reach Top=p22.inside" "--remove Nobody"; do
    code=0
    "$cli" modules data/demo/fairgoer-captain.ivrant $bad >/dev/null 2>&1 || code=$?
    [[ $code == 2 ]]
done
"$cli" guide data/demo/fairgoer-baker.ivrant --pictures "$out/steps"
[[ -s $out/steps/step-0001.png && -s $out/steps/cover.png ]]
"$cli" lineup data/demo/fairgoer-*.ivrant -o "$out/lineup.png"
[[ -s $out/lineup.png ]]
"$cli" steps data/demo/fairgoer-baker.ivrant --csv | cmp - "$out/steps/steps.csv"
"$cli" assembly "$heron" --hands --json >"$out/assembly.json"
python3 - "$out" <<'PY'
import json, sys
def load(name, verb):
    data = json.load(open(f"{sys.argv[1]}/{name}.json"))
    assert data["ivrant"] == verb and data["version"] == 1, name
    return data
stock = load("stock", "stock")
assert stock["missing"] == 3 and stock["first_step_short"] == 4, stock
assert any(s["works"] for s in stock["stand_ins"])
picks = load("pick", "stock")["picks"]
assert sum(p["count"] for p in picks) == 35 and sum(p["count"] for p in picks if not p["drawer"]) == 3
order = load("order", "order")
assert order["proven"] and not order["unmet"], order
assert abs(order["cost"] - sum(s["goods"] + s["fill_up"] + s["shipping"] for s in order["sellers"])) < 0.02, order
assert load("onway", "stock")["missing"] == 0
plan = load("plan", "plan")
assert plan["due_on"] == "2026-12-19" and plan["basis"] == "starting" and len(plan["waits"]) == 3, plan
assert open(f"{sys.argv[1]}/plan.ics", newline="").read().startswith("BEGIN:VCALENDAR\r\n")
rows = load("options", "options")["combinations"]
assert len(rows) == 19 and any(r["passes"] for r in rows)
assert all(not r["passes"] for r in rows if r["Tool"] == "fishing net")
modules = {m["name"]: m for m in load("modules", "modules")["modules"]}
assert modules["Head"]["carries"] == ["Hat"] and modules["Hat"]["hold_n"] == 6, modules
assert abs(modules["Hat"]["force_n"] - 6 - modules["Hat"]["mass_g"] * 9.80665e-3) < 1e-3, modules
assert load("torso", "modules")["reaches"][0]["name"] == "Neck"
pack = load("pack", "pack")
assert pack["fits"] and pack["boxes"][0]["mass_g"] > pack["pieces"][0]["mass_g"], pack
assert any("charged cells" in line["what"] for line in pack["bring"]), pack
assert load("assembly", "assembly")["holds"]
PY
