#!/bin/sh
# SPDX-License-Identifier: GPL-3.0-or-later
# Before the dyno: does this calibration hold over every content? For a script that must not go on when it does not.
#   examples/before_the_dyno.sh [folder to work in]
set -eu
cli=${WHEELWRIGHT_CLI:-wheelwright-cli}
demo=${WHEELWRIGHT_DEMO:-/usr/share/wheelwright/demo}
cd "${1:-$(mktemp -d)}"

for name in thistle bramble; do
    "$cli" job import "$name.wwjob" "$demo/$name.json" >/dev/null
    code=0
    "$cli" verify "$name.wwjob" >"$name.txt" || code=$?
    case $code in
    0) echo "$name: every question is answered, and holds" ;;
    1) echo "$name: not to be run like this" ;; # something fails, or nobody has judged it: the same for a script
    *) echo "$name: could not be judged" >&2; exit 2 ;;
    esac
    # The verdict in words, as the window has it.
    "$cli" report "$name.wwjob" verdict || [ $? -eq 1 ]
    echo
done
