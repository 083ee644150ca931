# SPDX-License-Identifier: GPL-3.0-or-later
"""What a tuner has: the product's command line, and a car whose truth is hidden in its envelope."""
import datetime
import json
import os
import subprocess
import time


class Refused(Exception):
    """The product said that it was asked for nonsense; the tuner must know why."""


class Product:
    """wheelwright-cli on one job. Findings (exit code 1) are answers, refusals (2) are not."""

    def __init__(self, program, job):
        self.program, self.job, self.took = program, job, {}
        self.now = datetime.datetime(2026, 5, 1, 8)

    def __call__(self, *arguments, after=()):
        """The command, the job, the rest: product('ladder', 'plan') or product('job', 'set', after=('boost.spring_kpa', 60))."""
        words = [str(self.program), *map(str, arguments), str(self.job), *map(str, after), "--json"]
        begun = time.monotonic()
        self.now += datetime.timedelta(minutes=1)  # as at a dyno: what came after another thing is later, however fast the machine
        done = subprocess.run(words, capture_output=True, text=True, env=os.environ | {"WHEELWRIGHT_NOW": self.now.strftime("%Y-%m-%dT%H:%M:%SZ")})
        key = " ".join(map(str, arguments[:2])) + (" learned" if "--learned" in after else "")
        self.took[key] = self.took.get(key, 0) + time.monotonic() - begun
        if done.returncode not in (0, 1):
            raise Refused(f"{' '.join(map(str, [*arguments, *after]))}: {done.stderr.strip()}")
        return json.loads(done.stdout) if done.stdout.strip() else {}


class Car:
    """wheelwright-practice with one truth, drawn once: what its tank holds and how far it is worn go on from outing to outing."""

    def __init__(self, program, job, seed, folder, capacity_l, litres, content):
        self.program, self.job, self.seed, self.folder = program, job, seed, folder
        self.capacity_l, self.litres, self.content = capacity_l, litres, content
        drawn = subprocess.run([program, "draw", job, "--seed", str(seed)], capture_output=True, text=True, check=True)
        self.truth = json.loads(drawn.stdout)
        self.worn, self.destroyed, self.pulls, self.burned_l, self.outings, self.took = {}, None, 0, 0, 0, 0

    def drive(self, steps, hz=25, runs=None, more=()):
        """Does the steps with the job's calibration as it is now. The log, what was burned, and all that the engine said of it."""
        self.outings += 1
        name = self.folder / f"outing-{self.outings}"
        begins_with = 0.75 * self.capacity_l  # as every run of the engine does
        spare = max(0.0, self.litres - begins_with)  # of the same fuel, waits beside it
        first = [{"do": "drain", "litres": begins_with - self.litres}] if self.litres < begins_with - 0.001 else []
        script, truth, log = (name.with_suffix(s) for s in (".json", ".truth", ".csv"))
        script.write_text(json.dumps({"ethanol": self.content, "steps": first + steps}))
        # Another outing is another day's noise, of the same engine.
        truth.write_text(json.dumps(self.truth | {"seed": self.seed * 1000 + self.outings}))
        words = [self.program, "run", self.job, "--engine", truth, "--script", script, "--log", log, "--log-hz", hz, "--json", *more]
        begun = time.monotonic()
        done = subprocess.run(list(map(str, words + (["--runs", runs] if runs else []))), capture_output=True, text=True)
        self.took += time.monotonic() - begun
        if done.returncode not in (0, 3):
            raise Refused(f"the engine: {done.stderr.strip()}")
        said = json.loads(done.stdout)
        left = said["tank_l"] + spare
        if left <= 0:
            raise Refused("the engine: its tank ran empty")
        self.content = (said["tank_l"] * said["tank_ethanol"] + spare * self.content) / left
        self.litres = left
        self.burned_l += said["burned_l"]
        self.pulls += len(said["runs"])
        for kind, share in said["damage"].items():
            if kind == "knock":  # every outing begins with a sound engine: what knock has broken stays broken
                self.worn[kind] = self.worn.get(kind, 0) + share
            elif kind != "oil_dilution":  # heat and pressure are over when it has cooled
                self.worn[kind] = max(self.worn.get(kind, 0), share)
        if said["destroyed"]:
            self.destroyed = said["destroyed_by"]
        elif self.worn["knock"] >= 1:
            self.destroyed = "knock"
        return log, said["burned_l"], said
