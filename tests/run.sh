#!/usr/bin/env bash
# SPDX-License-Identifier: GPL-3.0-or-later
# Everything that must hold before a change lands, cheapest first. Ends with "N passed, N failed".
set -uo pipefail
cd "$(dirname "$0")/.."
passed=0
failed=0
jobs=$(nproc)
note() { printf '\n== %s (%s)\n' "$1" "$(date +%T)"; stage=$1 begun=$SECONDS; }
took() { times+=("$(printf '%5d s  %s' $((SECONDS - begun)) "$stage")"); } # after each stage; all are printed at the end
times=()
check() { # name, command …: one check that passes or fails
    local name=$1
    shift
    note "$name"
    if "$@"; then passed=$((passed + 1)); else failed=$((failed + 1)); echo "FAILED: $name"; fi
    took
}
suite() { # name, command …: a test program, in SHARDS parts at once (usually one); its cases are counted
    local name=$1 shards=${SHARDS:-1} code=0 passes=0 fails=0 shard log pid good bad pids=()
    shift
    note "$name"
    for ((shard = 0; shard < shards; ++shard)); do
        GTEST_TOTAL_SHARDS=$shards GTEST_SHARD_INDEX=$shard "$@" >"build/$name.$shard.log" 2>&1 &
        pids+=($!)
    done
    for pid in "${pids[@]}"; do wait "$pid" || code=$?; done
    for ((shard = 0; shard < shards; ++shard)); do
        log=build/$name.$shard.log
        good=$(grep -oP '^\[  PASSED  \] \K[0-9]+' "$log" | tail -1)
        bad=$(grep -oP '^ ?\K[0-9]+(?= FAILED TEST)' "$log" | tail -1)
        passes=$((passes + ${good:-0}))
        fails=$((fails + ${bad:-0}))
        ((code != 0)) && grep -E 'Failure$|FAILED|error|ERROR|what\(\)' -A6 "$log" | head -80
        [[ -z $good$bad ]] && { echo "$name ended before its end:"; tail -5 "$log"; }
    done
    if ((code != 0)); then
        ((fails == 0)) && fails=1
        echo "FAILED: $name (whole logs: build/$name.*.log)"
    fi
    passed=$((passed + passes))
    failed=$((failed + fails))
    echo "$name: $passes passed, $fails failed"
    took
}
quiet() { "$@" >build/last.log 2>&1 || { tail -40 build/last.log; return 1; }; }

mkdir -p build
export CCACHE_DIR=${CCACHE_DIR:-$HOME/.cache/ccache} CCACHE_BASEDIR=$PWD CCACHE_NOHASHDIR=1 # before HOME becomes a private one
export HOME=$PWD/build/home XDG_STATE_HOME=$PWD/build/home/state XDG_CONFIG_HOME=$PWD/build/home/config XDG_RUNTIME_DIR=$PWD/build/home/run
mkdir -p "$XDG_STATE_HOME" "$XDG_CONFIG_HOME" "$XDG_RUNTIME_DIR"
chmod 700 "$XDG_RUNTIME_DIR"
display() { xvfb-run -a -s "-screen 0 1400x900x24" "$@"; }

format_is_kept() { git ls-files '*.cpp' '*.h' | xargs clang-format --dry-run -Werror; }
build_preset() { # preset, targets …
    local preset=$1
    shift
    quiet cmake --preset "$preset" && quiet ninja -C "build-$preset" -j "$jobs" "$@"
}
core_without_qt() { build_preset core-only && ! grep -q 'qt6' build-core-only/build.ninja; }
tidy() { # what the newest commit changed; ./dev tidy looks at everything
    quiet cmake --preset dev || return 1 # its list of commands has every source on its own
    git diff --name-only --diff-filter=d HEAD~1 HEAD -- 'core/*.cpp' 'cli/*.cpp' 2>/dev/null | head -8 |
        xargs cmake/tidy.py --minutes "${TIDY_MINUTES:-0}" --jobs "$jobs"
}
demo_shows_every_station() {
    local out
    out=$(mktemp -d)
    quiet display build/ivrant-shots "$out" || return 1
    for picture in start shape pose motion choose lines walls own brief bench mend make stock time modules bridge drive stand; do
        [[ $(stat -c %s "$out/$picture.png") -gt 10000 ]] || { echo "no $picture"; return 1; }
    done
    rm -rf "$out"
}
demo_is_made_anew() { # the stored demo is what its program makes
    local out
    out=$(mktemp -d)
    quiet build/ivrant-make-demo "$out" || return 1
    (cd "$out" && find . -type f) | while read -r file; do cmp "$out/$file" "data/demo/$file" || exit 1; done || return 1
    rm -rf "$out"
}
package_starts() {
    local out
    out=$(mktemp -d)
    (cd build && quiet_here cpack) || return 1
    dpkg -x build/ivrant_*.deb "$out"
    "$out/usr/bin/ivrant" --version && "$out/usr/bin/ivrant-cli" check "$out/usr/share/ivrant/demo/fairgoer-keeper.ivrant" >/dev/null
    [[ $? -le 1 ]] || return 1
    # The window comes up with a file and stays until it is told to go.
    display timeout 5 "$out/usr/bin/ivrant" "$out/usr/share/ivrant/demo/heron.ivrant"
    local code=$?
    rm -rf "$out"
    ((code == 124))
}
quiet_here() { "$@" >last.log 2>&1 || { tail -20 last.log; return 1; }; }
fuzz_a_minute() {
    mkdir -p build/fuzz-corpus
    cp tests/fixtures/*.ivrant data/demo/fairgoer-baker.ivrant build/fuzz-corpus
    quiet build-asan/ivrant-fuzz-project-file -max_total_time=60 -max_len=20000 -rss_limit_mb=2048 -timeout=10 -artifact_prefix=build/ build/fuzz-corpus
}

check format format_is_kept
check includes python3 cmake/check_includes.py
check documents python3 tests/check_documents.py
check manuals sh -c 'mandoc -T lint -W warning data/man/*.1 && desktop-file-validate data/ivrant.desktop'
before=$failed
check build ./dev build
if ((failed > before)); then
    echo "$passed passed, $failed failed"
    exit 1
fi
suite tests-core build/ivrant-tests-core
suite tests-app display build/ivrant-tests-app
check command-line tests/command_line.sh build/ivrant-cli
check schema python3 tests/schema_check.py build/ivrant-cli
check parts-page sh -c 'build/ivrant-cli families --markdown | diff - docs/parts.md'
check demo-made-anew demo_is_made_anew
check demo-stations demo_shows_every_station
check browser python3 tests/browser_sheets.py build/ivrant-cli data/demo/fairgoer-choices.ivrant
check package package_starts
check core-without-qt core_without_qt
check tidy tidy
check build-asan build_preset asan ivrant-tests-core ivrant-fuzz-project-file # one build for both
# Left out: what takes minutes there and runs nothing that others do not: oracles of other libraries, whole reports of every demo, sweeps of a thousand.
slow_again=RangeOracle.TwentyRandom*:Verdicts.TheDemoTeaches*:CheckJson.EveryVerdict*:Certificate.OfAThousand*:Catalogue.*:Kill.*
slow_again+=:LargeModels.BondsFollow*:Shapes.EverySolid*:RangeJson.OneJoint*:History.Grows*:Worst.BruteForce*:Facts.*:Families.EverySize*:Sheet.SaysWhat*:Path.Blocked*Oracle*:ResultsJson.Variants*:KeptFacts.RandomEdits*:*DemoMachines.OneFinding*
[[ -x build-asan/ivrant-tests-core ]] && SHARDS=$jobs suite tests-core-asan env LSAN_OPTIONS="suppressions=$PWD/tests/lsan.supp:print_suppressions=0" \
    build-asan/ivrant-tests-core --gtest_filter="-$slow_again"
check fuzz fuzz_a_minute

printf '\ntime of each stage\n'
printf '%s\n' "${times[@]}"
printf '%5d s  all\n' "$SECONDS"
echo
echo "$passed passed, $failed failed"
((failed == 0))
