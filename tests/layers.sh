#!/usr/bin/env bash
# Which folder may include what, by the headers that sources name: links alone do not see a header
# that needs no library. Usage: layers.sh SOURCE_FOLDER
set -euo pipefail
cd "$1"
found=0
# may FOLDER PREFIX…: sources of the folder include only headers that begin so.
may() {
    local folder=$1 allowed
    shift
    allowed=$(printf '|%s' "$@")
    local wrong
    wrong=$(grep -rnE '^#include "' "src/$folder" --include='*.h' --include='*.cpp' |
        grep -vE "#include \"(${allowed#|})" || true)
    if [ -n "$wrong" ]; then
        printf 'src/%s may include %s alone:\n%s\n' "$folder" "$*" "$wrong"
        found=1
    fi
}
may core/base core/base/
may core/signal core/base/ core/signal/
may core/motion core/base/ core/signal/ core/motion/
may core/measures core/base/ core/signal/ core/motion/ core/measures/
may core/catalogue core/base/ core/signal/ core/motion/ core/measures/ core/catalogue/
may core/reading core/
may core/sets core/
may core/live core/base/ core/signal/ core/motion/ core/live/
may live core/ live/
may formats core/ live/capture formats/
may simulate core/ simulate/
may parts parts/
may film core/ parts/ simulate/ film/
may store core/ formats/ store/
may report core/ report/
may paper core/ report/ paper/
may cli core/ film/ formats/ live/ parts/ simulate/ store/film_beside store/measured store/record store/told report/ paper/pdf_module cli/
may app/theme core/ report/drawing paper/ app/theme/
may app/session core/ film/ formats/ live/ simulate/ store/film_beside store/measured store/record store/told store/packing report/ app/theme/ app/session/
may app/charts core/ report/ paper/ app/theme/ app/session/ app/charts/
may app/widgets core/ report/drawing paper/ app/theme/ app/session/ app/widgets/
may app/shell core/ app/theme/ app/widgets/ app/shell/
# No Qt in what computes, reads and writes.
if grep -rnE '#include <Q[A-Z]' src/core src/film src/formats src/live src/simulate src/report src/cli; then
    echo "no Qt belongs there"
    found=1
fi
# FFmpeg and OpenCV are known in one place.
if grep -rnE '#include <(opencv2|libav|libsw)' src --include='*.h' --include='*.cpp' | grep -v '^src/film/'; then
    echo "film belongs to src/film"
    found=1
fi
exit $found
