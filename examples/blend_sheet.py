#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""What the engine gets at one place of the map, over content: a sheet as CSV, for a spreadsheet or a plot.

    examples/blend_sheet.py [folder to work in]

Every number is SI, and its unit is in its name. What comes out with --json keeps its names from version to version.
"""
import csv
import json
import os
import pathlib
import subprocess
import sys
import tempfile

CLI = os.environ.get("WHEELWRIGHT_CLI", "wheelwright-cli")
DEMO = pathlib.Path(os.environ.get("WHEELWRIGHT_DEMO", "/usr/share/wheelwright/demo"))


def cli(*arguments):
    """What a subcommand answers. Exit code 1 is a finding and still an answer; 2 is an input that cannot be used."""
    done = subprocess.run([CLI, *map(str, arguments)], capture_output=True, text=True)
    if done.returncode > 1:
        sys.exit(done.stderr.strip())
    return done.stdout


def main():
    folder = pathlib.Path(sys.argv[1] if len(sys.argv) > 1 else tempfile.mkdtemp())
    job = folder / "car.wwjob"
    cli("job", "import", job, DEMO / "thistle.json")
    out = csv.writer(sys.stdout, lineterminator="\n")
    first = None
    for percent in range(0, 101, 10):
        got = json.loads(cli("blend", job, "--content", percent / 100, "--rpm", 5200, "--load-kpa", 180, "--json"))
        # One column for each number that the blend has.
        numbers = {key: value for key, value in got.items() if isinstance(value, (int, float)) and not isinstance(value, bool)}
        if first is None:
            first = list(numbers)
            out.writerow(["content_percent", *first])
        out.writerow([percent, *(f"{numbers[key]:.4g}" for key in first)])


if __name__ == "__main__":
    main()
