#!/usr/bin/env bash
# Everything that must hold before a change lands, cheapest first. Ends with "N passed, N failed".
set -uo pipefail
cd "$(dirname "$0")/.."
passed=0
failed=0
note() { printf '\n== %s (%s)\n' "$1" "$(date +%T)"; }
check() { # name, command …: one check that passes or fails
    local name=$1
    shift
    note "$name"
    if "$@"; then passed=$((passed + 1)); else failed=$((failed + 1)); echo "FAILED: $name"; fi
}
suite() { # name, command …: a test program; its cases are counted
    local name=$1 log=build/$1.log
    shift
    note "$name"
    "$@" >"$log" 2>&1
    local code=$? good bad
    good=$(grep -oP '^\[  PASSED  \] \K[0-9]+' "$log" | tail -1)
    bad=$(grep -oP '^ ?\K[0-9]+(?= FAILED TEST)' "$log" | tail -1)
    passed=$((passed + ${good:-0}))
    failed=$((failed + ${bad:-0}))
    if ((code != 0)); then
        [[ -z ${bad:-} ]] && failed=$((failed + 1))
        grep -E 'Failure|FAILED|error|ERROR|what\(\)' -A6 "$log" | head -80
        echo "FAILED: $name (whole log: $log)"
    fi
    echo "$name: ${good:-0} passed, ${bad:-0} failed"
}

mkdir -p build build-asan
export HOME=$PWD/build/home XDG_STATE_HOME=$PWD/build/home/state XDG_CONFIG_HOME=$PWD/build/home/config XDG_RUNTIME_DIR=$PWD/build/home/run
mkdir -p "$XDG_STATE_HOME" "$XDG_CONFIG_HOME" "$XDG_RUNTIME_DIR"
chmod 700 "$XDG_RUNTIME_DIR"

check includes python3 cmake/check_includes.py
check build ./dev build
if ((failed > 0)); then
    echo "$passed passed, $failed failed"
    exit 1
fi
suite tests-core build/ivrant-tests-core
[[ -x build/ivrant-tests-app ]] && suite tests-app xvfb-run -a -s "-screen 0 1400x900x24" build/ivrant-tests-app
check command-line tests/command_line.sh build/ivrant-cli

echo
echo "$passed passed, $failed failed"
((failed == 0))
