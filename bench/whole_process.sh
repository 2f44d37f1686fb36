#!/usr/bin/env bash
# Whole-process figures: many captures from file to full result, peak memory, and the same pipeline
# written plainly in NumPy and SciPy side by side on the same files. Called by ./kite bench.
#
# Usage: whole_process.sh CLI    (the command line program, release build)
set -euo pipefail
cli=$1
folder=$(dirname "$0")
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT

seconds() { # of a command, its output thrown away
    local begin end
    begin=$(date +%s.%N)
    "$@" >/dev/null
    end=$(date +%s.%N)
    awk -v a="$begin" -v b="$end" 'BEGIN {print b - a}'
}
least() { # of nine runs: other work on the machine lengthens some
    local best=
    for _ in 1 2 3 4 5 6 7 8 9; do
        local now
        now=$(seconds "$@")
        best=$(awk -v a="${best:-$now}" -v b="$now" 'BEGIN {print (a < b) ? a : b}')
    done
    printf '%s' "$best"
}
memory_mb() { /usr/bin/time -f %M "$@" 2>&1 >/dev/null | tail -n 1 | awk '{printf "%.1f", $1 / 1024}'; }
per() { awk -v s="$1" -v n="$2" -v f="$3" 'BEGIN {printf f, s / n}'; }

printf 'machine: %s, %s cores; %s\n' "$(grep -m1 'model name' /proc/cpuinfo | cut -d: -f2 | xargs)" "$(nproc)" "$(date -I)"
for i in $(seq 1 100); do
    "$cli" simulate --seed "$i" --rate 360 --noise-mm 0.4 "$work/$(printf '%03d' "$i").c3d" >/dev/null
done
files=("$work"/*.c3d)
printf 'files: 100 captures of %s bytes, 40 markers at 360 Hz\n' "$(stat -c %s "${files[0]}")"
many=()
for _ in $(seq 1 10); do many+=("${files[@]}"); done

one_core=$(least taskset -c 0 "$cli" analyse --json "${files[@]}")
printf 'one core, 100 files:     %s ms a file\n' "$(per "$(awk -v s="$one_core" 'BEGIN {print 1000 * s}')" 100 %.1f)"
all_cores=$(seconds "$cli" analyse --json "${many[@]}")
printf 'all cores, 1000 files:   %s files a second\n' "$(per 1000 "$all_cores" %.0f)"
printf 'peak memory:             %s MB for 1 file, %s MB for 1000\n' \
    "$(memory_mb "$cli" analyse --json "${files[0]}")" "$(memory_mb "$cli" analyse --json "${many[@]}")"
bytes=$(least taskset -c 0 cat "${files[@]}")
printf 'reading the bytes once:  %s ms a file\n' "$(per "$(awk -v s="$bytes" 'BEGIN {print 1000 * s}')" 100 %.2f)"

# A file more, in turns, the least of five runs each: starting is not the pipeline, of neither.
few=("${files[@]:0:20}")
starts=$(least taskset -c 0 /usr/bin/python3 "$folder/reference_pipeline.py")
start=$(least taskset -c 0 "$cli" --version)
plain= ours=
for _ in 1 2 3 4 5; do
    plain=$(printf '%s\n' $plain "$(seconds taskset -c 0 /usr/bin/python3 "$folder/reference_pipeline.py" "${few[@]}")" | sort -g | head -n 1)
    ours=$(printf '%s\n' $ours "$(seconds taskset -c 0 "$cli" analyse --json "${files[@]}")" | sort -g | head -n 1)
done
awk -v s="$starts" -v p="$plain" -v t="$start" -v o="$ours" 'BEGIN {
    a = (p - s) / 20; b = (o - t) / 100
    printf "NumPy and SciPy on one core: %.1f ms a file (started in %.0f ms); here %.2f ms (%.0f ms): %.0f times as fast\n",
        1000 * a, 1000 * s, 1000 * b, 1000 * t, a / b}'
