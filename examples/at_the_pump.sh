#!/bin/sh
# SPDX-License-Identifier: GPL-3.0-or-later
# At the pump: a quarter of a tank of something that was just read by a tube, and E60 is wanted.
#   examples/at_the_pump.sh [folder to work in]
set -eu
cli=${WHEELWRIGHT_CLI:-wheelwright-cli}
demo=${WHEELWRIGHT_DEMO:-/usr/share/wheelwright/demo}
cd "${1:-$(mktemp -d)}"

# A tube of ten parts of water, filled up to a hundred with fuel: the layer below stands at 47.
echo "What the tube says:"
"$cli" tube --water 10 --fuel 100 --layer 47 >tube.txt
cat tube.txt
content=$(sed -n 's/^alcohol  *//p' tube.txt)

# Of numbers alone, without a job: 15 of 61 litres are in the tank, and E10 and E85 at the pump. Exit code 1 is a finding,
# such as a plan that misses what is wanted: what was found stands on standard output. 2 is an input that cannot be used,
# with one line on standard error.
echo
echo "What to pour:"
"$cli" tank plan --capacity-l 61 --volume-l 15 --ethanol "$content" --target-ethanol 0.6 --shelf 0.1,0.85 || [ $? -eq 1 ]

# Of a job, to be printed small: content now and litres on top of it. What is written is the file car.wwjob alone; the
# document stays as it is.
"$cli" job import car.wwjob "$demo/thistle.json" >/dev/null
echo
"$cli" handover write car.wwjob - --page card --today 2026-05-16 || [ $? -eq 1 ]
