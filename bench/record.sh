#!/usr/bin/env bash
# The record's figures: a large one, and what keeping costs besides analysing. Called by ./kite bench.
# Usage: record.sh BUILD_FOLDER
set -euo pipefail
build=$1
cli=$build/src/cli/kite-hinge-cli
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
for i in $(seq 1 40); do
    "$cli" simulate --seed "$i" --rate 360 --noise-mm 0.4 "$work/$i.c3d" >/dev/null
done
mkdir "$work/record"
"$build/bench/kite-record-bench" "$work/record" "$work/1.c3d" 10000
rm -r "$work/record"
for _ in 1 2 3 4 5; do
    rm -rf "$work"/r.db*
    /usr/bin/time -f 'record add, 40 captures: %e s' "$cli" record add --store "$work/r.db" "$work"/*.c3d >/dev/null
    /usr/bin/time -f 'analyse --json:          %e s' "$cli" analyse --json "$work"/*.c3d >/dev/null
done
