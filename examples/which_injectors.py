#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Which injectors would do? Tries sizes on the job before anybody buys any, and says the first that stays under 85 %.

    examples/which_injectors.py [folder to work in]
"""
import json
import os
import pathlib
import subprocess
import sys
import tempfile

CLI = os.environ.get("WHEELWRIGHT_CLI", "wheelwright-cli")
DEMO = pathlib.Path(os.environ.get("WHEELWRIGHT_DEMO", "/usr/share/wheelwright/demo"))
SIZES_CC_MIN = (725, 850, 1000, 1200, 1600)
DEAD_TIME_MS = 0.9  # of what is on offer; its data sheet says


def main():
    folder = pathlib.Path(sys.argv[1] if len(sys.argv) > 1 else tempfile.mkdtemp())
    job = folder / "car.wwjob"
    subprocess.run([CLI, "job", "import", job, DEMO / "thistle.json"], check=True, capture_output=True)
    enough = None
    for size in SIZES_CC_MIN:
        done = subprocess.run([CLI, "injector-change", job, "--flow-cc-min", str(size), "--dead-time-ms", str(DEAD_TIME_MS), "--json"],
                              capture_output=True, text=True)
        if done.returncode > 1:
            sys.exit(done.stderr.strip())
        duty = json.loads(done.stdout)["duty_after"]
        print(f"{size:5d} cc/min: {100 * duty:5.1f} % at the worst place, at any content")
        if enough is None and duty < 0.85:
            enough = size
    print(f"The first that stays under 85 %: {enough} cc/min" if enough else "None of them stays under 85 %.")


if __name__ == "__main__":
    main()
