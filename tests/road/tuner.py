# SPDX-License-Identifier: GPL-3.0-or-later
"""A tuner who does what the product proposes, rung by rung, and nothing else."""
import random

from rig import Refused

SETTLE = {"do": "cruise", "from_rpm": 2000, "to_rpm": 4000, "from_kpa": 40, "to_kpa": 85}
PREFLIGHT = "leaks levels base_timing sensors plugs wideband log cuts file room fire".split()
SEEN = ("plugs", "oil")  # what only eyes can see after a pull; a practice engine shows nothing wrong there


class Stuck(Exception):
    """The product proposes something that does not get further."""


class Tuner:
    def __init__(self, product, car, rev_limit_rpm, say=lambda words: None):
        self.product, self.car, self.say = product, car, say
        self.rev_limit_rpm = rev_limit_rpm
        self.hand = random.Random(car.seed)  # reads tubes
        self.spent, self.poured_l, self.corrections = 0, 0, 0
        self.proven = []  # contents of rungs that were passed by evidence

    def event(self, **what):
        self.product("tank", "event", after=[f"{key}={value}" for key, value in what.items()])

    def pull(self, to_share):
        return {"do": "pull", "from_rpm": 2200, "to_rpm": round(to_share * self.rev_limit_rpm)}

    def look_over(self):
        self.car.drive([{"do": "warm_up", "seconds": 300}, {"do": "look", "at": "timing_light"}])
        # The light reads what the crank does.
        self.product("job", "set", after=("spark.base_timing_error_deg", round(self.car.truth["cylinder"]["base_timing_error_deg"], 1)))
        self.product("job", "set", after=("spark.base_timing_checked", "true"))
        for item in PREFLIGHT:
            self.product("ladder", "look", after=("preflight", item))

    def pour(self, rung):
        """Drains and pours what the plan says, and drives until the lines hold it, without a log."""
        steps = []
        if rung["drain_l"] > 0:
            steps.append({"do": "drain", "litres": rung["drain_l"]})
            self.event(kind="drain", litres=rung["drain_l"])
        for p in rung["pours"]:
            steps.append({"do": "pour", "litres": p["litres"], "fuel": p["fuel"]})
            self.event(kind="pour", litres=p["litres"], ethanol=self.labels[p["fuel"]])
            self.spent += p["price"]
            self.poured_l += p["litres"]
        if steps:
            _, burned = self.car.drive([*steps, SETTLE | {"seconds": max(60, 60 * (rung["settle_min"] or 0))}])
            self.event(kind="burn", litres=round(burned, 2))

    def log_a_day(self, pulls):
        """Light load, a short pull, then full ones; a tube of what is in the tank."""
        steps = [SETTLE | {"seconds": 60}, *({"do": "hold", "rpm": rpm, "load_kpa": kpa, "seconds": 6} for rpm in (2200, 3000, 3800) for kpa in (50, 80)),
                 self.pull(0.65)]
        for _ in range(pulls):
            steps += [{"do": "cool_down", "seconds": 90}, self.pull(0.96)]
        log, burned = self.car.drive(steps)
        self.event(kind="burn", litres=round(burned, 2))
        self.event(kind="tube", ethanol=round(self.car.content + self.hand.gauss(0, 0.008), 3), content_sigma=0.012)
        self.product("log", "import", after=(log,))

    def correct(self, wanted):
        content = round(self.car.content, 3)
        for remedy, command in (("correct_fuel", "fuel"), ("take_spark", "knock")):
            if remedy not in wanted:
                continue
            try:
                self.product("evidence", command, after=("--content", content, "--apply"))
                self.corrections += 1
            except Refused as why:
                self.say(f"    {remedy}: {why}")

    def climb(self, most=60):
        """All rungs; says where it ends."""
        self.labels = {f["name"]: f["ethanol"] for f in self.product("job", "get", after=("fuel.shelf",))["records"]}
        tried = {}
        for _ in range(most):
            plan = self.product("ladder", "plan")
            rung = next((r for r in plan["rungs"] if r["state"] == "next"), None)
            if rung is None:
                return "up"
            name = rung["id"]
            tried[name] = tried.get(name, 0) + 1
            if tried[name] > 8:
                raise Stuck(f"{name}: {self.open_gates(name)}")
            if name == "preflight":
                self.look_over()
            else:
                self.pour(rung)
                if rung["boost_kpa"]:
                    self.product("ladder", "set")
                self.log_a_day(round(rung["pulls"] or 1))
                if self.car.destroyed:
                    return f"destroyed by {self.car.destroyed} at {name}"
                for what in SEEN:
                    try:
                        self.product("ladder", "look", after=(name, what))
                    except Refused:
                        pass  # this rung does not ask for it
            status = self.product("ladder", "status")
            self.say(f"  {name}: {status['light']}, E{100 * self.car.content:.0f}, {self.car.litres:.1f} L"
                     + "".join(f"; {g['gate']}: {g['said']}" for g in status["gates"] if g["verdict"] == "failed"))
            if status["light"] == "green":
                self.product("ladder", "pass")
                self.proven.append(rung["content"] or self.car.content)
                continue
            self.correct({g["remedy"] for g in status["gates"] if g["verdict"] == "failed"})
        raise Stuck("the way up has no end")

    def open_gates(self, name):
        return "; ".join(f"{g['gate']} {g['verdict']}: {g['said']} {g['to_pass']}" for g in self.product("ladder", "status")["gates"] if g["verdict"] != "passed")
