#!/usr/bin/env bash
# An installed Kite Hinge: everything in its place, it runs from there with its demo, and it knows no
# path of the machine that built it. Usage: installed.sh BUILD_FOLDER SOURCE_FOLDER CMAKE
set -euo pipefail
build=$1 source=$2 cmake=$3
place=$(mktemp -d)
trap 'rm -rf "$place"' EXIT
fail() { echo "installed: $*" >&2; exit 1; }

"$cmake" --install "$build" --prefix "$place/usr" >/dev/null
for file in bin/kite-hinge bin/kite-hinge-bay bin/kite-hinge-cli share/applications/kite-hinge.desktop \
    share/metainfo/kite.hinge.KiteHinge.metainfo.xml share/icons/hicolor/scalable/apps/kite-hinge.svg \
    share/man/man1/kite-hinge-bay.1 share/man/man1/kite-hinge-cli.1 share/bash-completion/completions/kite-hinge-cli \
    share/kite-hinge/demo/lesson/lesson.json; do
    [ -s "$place/usr/$file" ] || fail "$file is missing"
done
mapfile -t parts < <(find "$place/usr/lib" -path '*/kite-hinge/*.so')
[ ${#parts[@]} = 2 ] || fail "film and paper are no parts beside it: ${parts[*]}"
for program in "$place"/usr/bin/* "${parts[@]}"; do
    ! grep -qaF "$source" "$program" || fail "$program holds the path $source"
done
# What a program needs only now and then is not loaded at its start.
! ldd "$place"/usr/bin/* | grep -qE 'libav|libopencv' || fail "a program loads what reads film at its start"
desktop-file-validate "$place/usr/share/applications/kite-hinge.desktop"
appstreamcli validate --no-net --pedantic "$place"/usr/share/metainfo/*.xml >"$place/appstream.log" ||
    { cat "$place/appstream.log" >&2; fail "the AppStream data are not valid"; }

cd "$place"
bin=$place/usr/bin
"$bin/kite-hinge-cli" simulate --seed 1 swing.csv >/dev/null
"$bin/kite-hinge-cli" analyse --json swing.csv | grep -q '"events"' || fail "the command line gives no result"
"$bin/kite-hinge-cli" report swing.csv --out report.pdf && head -c 5 report.pdf | grep -q '%PDF-' || fail "no PDF"
"$bin/kite-hinge-cli" simulate --seed 1 --view face-on --film --film-height 160 swing.film.json >/dev/null
"$bin/kite-hinge-cli" film swing-face-on.mp4 | grep -q 'vp9' || fail "film is not read"
QT_QPA_PLATFORM=offscreen HOME=$place "$bin/kite-hinge" --demo --shot demo.png
QT_QPA_PLATFORM=offscreen HOME=$place "$bin/kite-hinge" --shot empty.png
[ -s demo.png ] || fail "no picture of the demo"
! cmp -s demo.png empty.png || fail "the demo was not found"
