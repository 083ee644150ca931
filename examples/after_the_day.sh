#!/bin/sh
# SPDX-License-Identifier: GPL-3.0-or-later
# After the day: bring in every log of a folder, see where the engine has been, and hand over what there is.
#   examples/after_the_day.sh [folder to work in]
set -eu
cli=${WHEELWRIGHT_CLI:-wheelwright-cli}
demo=${WHEELWRIGHT_DEMO:-/usr/share/wheelwright/demo}
cd "${1:-$(mktemp -d)}"
"$cli" job import car.wwjob "$demo/thistle.json" >/dev/null

# One log that cannot be read must not keep the others out: its line goes to standard error, the job stays as it was.
for log in "$demo"/logs/thistle-e10*.csv "$demo"/logs/thistle-e62-pulls.csv; do
    if "$cli" log import car.wwjob "$log" >/dev/null; then
        echo "in: $(basename "$log")"
    else
        [ $? -lt 2 ] || echo "left out: $(basename "$log")"
    fi
done

echo
# One line a cell of the map and a band of contents; seen is not yet proven.
echo "Cells, of all contents together:"
"$cli" evidence coverage car.wwjob >cells.txt
awk 'NR > 1 { cells[$6]++ } END { for (state in cells) printf "%-8s %5d\n", state, cells[state] }' cells.txt | sort

# A file that can be checked later: the owner's page alone, as a page for a browser.
echo
"$cli" handover write car.wwjob owner.html --page owner --today 2026-05-16 || [ $? -eq 1 ]
"$cli" handover check owner.html car.wwjob
