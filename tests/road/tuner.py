# SPDX-License-Identifier: GPL-3.0-or-later
"""A tuner who does what the product proposes: the rung that is next, and of its gates the first that is open. What is his own: when to look for spark and
for how long, to correct all contents at once where there are several, to fill up with what is in the tank, and a pull again after knock that was heard once."""
import csv
import random

from rig import Refused

EVERYWHERE = ("--region", "0,20000,0,800", "--damping", 1)  # the gate of light load: 'over all of the table'


class Stuck(Exception):
    """The product does not say how to get further, or says the same again and again."""


class Ended(Exception):
    """A gate says that a part has come to its end: the way up is over, and well."""


def light(idle=8):
    """Idle, a slow cruise and four holds without boost."""
    return [{"do": "idle", "seconds": idle}, {"do": "cruise", "from_rpm": 1800, "to_rpm": 4200, "from_kpa": 40, "to_kpa": 90, "seconds": 12},
            *({"do": "hold", "rpm": 2000 + 25 * kpa, "load_kpa": kpa, "seconds": 5} for kpa in (45, 60, 75, 90))]


class Tuner:
    def __init__(self, product, car, owner, say=lambda words: None):
        self.product, self.car, self.owner, self.say = product, car, owner, say
        self.hand = random.Random(car.seed)  # reads tubes
        self.spent, self.poured_l, self.corrections = 0, 0, 0
        self.found = []   # what the gates called a fault
        self.proven = []  # contents of rungs that were passed by evidence
        self.driven = []  # true contents of the logs
        self.logs = []    # their names
        self.rungs = {}   # id: kind
        self.kept = 0     # revisions
        self.changed = True  # the calibration, since the last of them
        self.last = None  # rung
        self.tubes = 0    # read of this fill

    # Driving

    def event(self, **what):
        self.product("tank", "event", after=[f"{key}={value}" for key, value in what.items()])

    def keep(self):
        """What the controller gets is kept: the way back, and so that its logs count for every later calibration."""
        if self.changed:
            self.kept += 1
            self.product("revision", "keep", after=(f"File {self.kept}", "--sent"))
            self.changed = False

    def go(self, steps):
        """An outing with a log, which comes in; pulls leave the dyno's curves in self.curves."""
        if self.car.litres < 7 and self.owner.alcohol == "ethanol":  # more of what is in it
            share = min(1, max(0, (self.car.content - 0.1) / 0.75))
            mixed = [{"fuel": fuel, "litres": round(12 * part), "price": 12 * part * price} for fuel, part, price in (("Strong", share, 1.3), ("Pump", 1 - share, 1.9)) if 12 * part >= 1]
            self.pour({"drain_l": 0, "pours": mixed})
        self.keep()
        self.curves = self.car.folder / f"dyno-{self.car.outings + 1}"
        on_the_dyno = any(s["do"] == "pull" and s.get("mode") != "road" for s in steps)
        log, burned, self.said = self.car.drive(steps, runs=self.curves, more=("--dyno",) if on_the_dyno else ())
        if self.car.destroyed:
            raise Stuck(f"destroyed by {self.car.destroyed} at E{100 * self.car.content:.0f}")
        wear = {k: round(v, 3) for k, v in self.said["damage"].items() if v > 0.005 and k != "oil_dilution"}
        if wear:
            self.say(f"      wears it by {wear}")
        self.event(kind="burn", litres=round(burned, 2))
        self.product("log", "import", after=(log, *(() if self.owner.sensor else ("--content", self.tube))))
        self.logs.append(log.name)
        self.driven.append(self.car.content)

    def change(self, *command, after=()):
        """Something of the calibration, by the product. Whether it did."""
        self.changed = True
        answer = self.product(*command, after=after)
        return answer.get("changed", True)

    def pull(self, to_share=0.97, mode="loaded"):
        return [{"do": "cool_down", "seconds": 240}, {"do": "idle", "seconds": 8},
                {"do": "pull", "mode": mode, "to_rpm": round(to_share * self.owner.rev_limit_rpm)}, {"do": "idle", "seconds": 2}]

    # Rungs

    def read_tube(self):
        self.tubes += 1
        self.tube = round(min(1, max(0, self.car.content + self.hand.gauss(0, 0.008))), 3)
        self.event(kind="tube", content_sigma=0.012, **{self.owner.alcohol: self.tube})

    def pour(self, rung):
        """Drains and pours what the plan says, drives until the lines hold it, and reads a tube."""
        steps, self.tubes = [], 0
        if rung["drain_l"] > 0:
            came = round(min(rung["drain_l"], self.car.litres - 0.1), 2)  # there may be less in it than the sum says
            steps.append({"do": "drain", "litres": came})
            self.event(kind="drain", litres=came)
        for p in rung["pours"]:
            steps.append({"do": "pour", "litres": p["litres"], "fuel": p["fuel"]})
            self.event(kind="pour", litres=p["litres"], **{self.owner.alcohol: self.labels[p["fuel"]]})
            self.spent += p["price"]
            self.poured_l += p["litres"]
        if steps:
            seconds = max(60, 60 * (rung.get("settle_injectors_min") or 0))
            _, burned, _ = self.car.drive([*steps, {"do": "cruise", "from_rpm": 1800, "to_rpm": 3000, "from_kpa": 40, "to_kpa": 70, "seconds": seconds}])
            self.event(kind="burn", litres=round(burned, 2))
        self.read_tube()

    def begin(self, rung):
        self.pour(rung)
        if rung["boost_kpa"] and rung["kind"] != "way_down":
            self.change("ladder", "set")

    def look_over(self):
        warm = {"do": "warm_up", "seconds": 300} if self.owner.alcohol == "ethanol" else {"do": "idle", "seconds": 20}
        _, burned, _ = self.car.drive([warm, {"do": "look", "at": "timing_light"}])
        self.event(kind="burn", litres=round(burned, 2))
        # The light reads what the crank does.
        self.product("job", "set", after=("spark.base_timing_error_deg", round(self.car.truth["cylinder"]["base_timing_error_deg"], 1)))
        self.product("job", "set", after=("spark.base_timing_checked", "true"))
        for item in "leaks levels base_timing sensors plugs wideband log cuts file room fire".split():
            self.product("ladder", "look", after=("preflight", item))

    def knock(self, content, *more):
        changed = self.change("evidence", "knock", after=("--content", content, "--apply", *more))
        self.corrections += changed
        return changed

    def fuel_of_all(self):
        """All contents at once, from all logs."""
        named = [word for log in self.logs for word in ("--log", log)]
        self.change("evidence", "joint", after=(*named, "--damping", 1, "--apply"))
        self.corrections += 1

    def fuel(self, gate):
        """By the gate: over all of the table before there is boost; then by what pulls say, of all contents where there are several."""
        content = round(self.car.content, 3)
        if gate["gate"] != "light_load" and max(self.driven) - min(self.driven) > 0.1:
            return self.fuel_of_all()
        more = EVERYWHERE if gate["gate"] == "light_load" else ()
        if not self.change("evidence", "fuel", after=("--content", content, "--neighbours", 1, "--apply", *more)):
            raise Stuck(f"{gate['said']} There is no fuel to correct.")
        self.corrections += 1

    def remedy(self, rung, gate):
        """What the gate says. True: the rung goes on as it is; False: it begins anew."""
        what, content = gate["remedy"], round(self.car.content, 3)
        if rung["kind"] == "road":
            self.on_the_road()
        elif rung["kind"] == "hand_over":
            self.hand_over(gate)
        elif what == "light_load":
            self.go(light())
        elif what == "short_pull":
            self.go(self.pull(0.65))
        elif what in ("pull", "cool"):
            self.go(self.pull())
        elif what == "wait":
            self.go([{"do": "idle", "seconds": 90}, *self.pull()])
        elif what == "correct_fuel":
            self.fuel(gate)
        elif what == "take_spark":
            if not self.knock(content):  # heard once, as the throttle opened: if it comes again it is believed
                self.go(self.pull())
        elif what == "tube" or gate["gate"] == "tube" and what == "find_out" and self.tubes < 4:  # 'read the tube again'
            self.read_tube()
        elif what == "look" and gate["gate"] == "forecast":  # pulled once more; what is the same then is how this engine is
            self.go(self.pull())
            self.found.append(f"{rung['id']}: {gate['said']}")
            self.product("ladder", "look", after=(rung["id"], gate["gate"], "--note", "pulled again, and the same; fuel, sensors and hoses are sound"))
        elif what == "look":
            self.product("ladder", "look", after=(rung["id"], gate["gate"]))
        elif what == "pour":
            self.product("ladder", "replan", after=("--content", self.tube))
            return False
        elif what == "setting" and "set_path" in gate:
            self.change("ladder", "do", after=(gate["gate"],))
            return not gate["set_path"].startswith(("boost.spring", "limits."))
        else:
            raise Stuck(f"{rung['id']}: {gate['gate']}: {gate['said']} {gate.get('to_pass', '')}")
        return True

    def climb_rung(self, rung):
        """Until it is passed by evidence. False: it must be planned anew."""
        if rung["kind"] == "preflight":
            self.look_over()
        elif rung["kind"] == "pass":
            self.make_pass(rung)
        elif rung["kind"] not in ("road", "hand_over"):
            self.begin(rung)
        for _ in range(90):
            status = self.product("ladder", "status")
            if status["light"] == "green":
                self.product("ladder", "pass")
                self.say(f"  {rung['id']}: passed, E{100 * self.car.content:.1f}, {self.car.litres:.1f} L, {self.car.pulls} pulls")
                return True
            gate = next(g for g in status["gates"] if g["gate"] == status["first"])
            self.say(f"    {gate['gate']} ({gate['remedy']}): {gate['said']}")
            if gate["remedy"] in ("find_out", "stop_here"):
                self.found.append(f"{rung['id']}: {gate['said']}")
            if gate["remedy"] == "stop_here":  # the way up ends here, as the gate says
                return self.stop(rung)
            if not self.remedy(rung, gate):
                return False
        raise Stuck(f"{rung['id']}: no way past {gate['gate']}: {gate['said']}")

    def stop(self, rung):
        """A part has come to its end: back to what was passed before, and that is what is handed over."""
        if rung["kind"] == "pass":
            self.change("job", "set", after=("mechanical.main_mm", self.pill))
        raise Ended(f"{rung['id']}: {self.found[-1]}")

    def search(self):
        """On the road, two-sided, to what all of the logs have taught."""
        content = round(self.car.content, 3)
        self.product("job", "set", after=("evidence.spark_school", "road"))
        idle = 0
        for _ in range(self.owner.search):
            idle = 0 if self.knock(content, "--learned") else idle + 1
            if idle > 1:  # nothing to change, and the log since then says no other
                break
            self.go(self.pull())
        self.product("job", "set", after=("evidence.spark_school", "fixed"))
        self.knock(content)  # what the last of them heard is taken away
        self.say(f"  searched for spark at E{100 * self.car.content:.0f}, {self.car.pulls} pulls")

    def make_pass(self, rung):
        """With mechanical injection: the pill, one pass, what the thermocouple held and what the dyno said."""
        self.pour(rung)
        self.change("ladder", "set")
        self.go(self.pull())
        with (self.car.folder / self.logs[-1]).open() as log:
            hottest = max(float(row["exhaust_c"]) for row in csv.DictReader(log))
        day = f"2026-05-{1 + len(self.proven):02d}"
        self.product("job", "add", after=("mechanical.passes", f"at={day}", f"pill_mm={rung['pill_mm']}", f"exhaust_c={hottest:.0f}",
                                          f"power={self.said['runs'][-1]['peak_power_kw']:.0f}", "plugs=even", "oil=clear"))

    def on_the_road(self):
        self.go(self.pull(mode="road"))
        self.product("run", "road", after=("--log", self.logs[-1], "--pull", 1, "--apply"))

    def take_run(self, name):
        """A dyno's curve of a pull that was just made."""
        self.product("run", "import", after=(sorted(self.curves.glob("*.csv"))[-1], "--note", name))

    def hand_over(self, gate):
        if gate["gate"] == "before_after":
            self.go(self.pull())
            self.take_run("after")
        elif gate["gate"] == "way_back":
            self.keep()
        else:
            raise Stuck(f"hand_over: {gate['said']}")

    def climb(self, most=60):
        """The whole way; says where it ends."""
        self.product("job", "set", after=("evidence.spark_school", "fixed"))
        self.labels = {f["name"]: f[self.owner.alcohol] for f in self.product("job", "get", after=("fuel.shelf",))["records"]}
        for _ in range(most):
            plan, rung = self.plan()
            if rung is None:
                return plan.get("ends") or "all"
            if self.leave(rung):
                plan, rung = self.plan()  # the tank holds less
            if self.climb_rung(rung):
                if not self.proven and self.logs:
                    self.take_run("before")
                if rung["content"] and self.logs:
                    self.proven.append(rung["content"])
                self.pill = rung.get("pill_mm")
        raise Stuck("the way up has no end")

    def plan(self):
        plan = self.product("ladder", "plan")
        self.rungs = {r["id"]: r["kind"] for r in plan["rungs"]}
        return plan, next((r for r in plan["rungs"] if r["state"] == "next"), None)

    def leave(self, rung):
        """Before another fuel goes in: spark is looked for where all of the boost has been reached; at the top, the fuel of all contents."""
        was, self.last, before = self.last, rung["id"], self.car.outings
        down = rung["kind"] == "way_down"
        of_file = not self.owner.sensor and self.rungs.get(was) == "content"  # which has tables of its own
        if was and was != rung["id"] and (self.rungs.get(was) != rung["kind"] and (self.rungs.get(was) == "base_boost" or down) or of_file):
            self.search()
        if was and was != rung["id"] and down:
            self.fuel_of_all()
            self.go(light() + self.pull())
        return self.car.outings > before

    def finish(self):
        """What the engine stands, as its logs have taught it; then what Verify asks for first, as far as somebody can say it; and the papers."""
        if self.owner.alcohol == "ethanol":
            self.product("evidence", "ceilings", after=("--apply",))
        for need in self.product("verify")["next"]:
            self.answer(need["place"])
        papers = self.car.folder / "handover.html"
        self.product("handover", "write", after=(papers,))
        self.checked = self.product("handover", "check", str(papers))

    def answer(self, place):
        """What is asked for there: targets are what he wants, data sheets say the rest. That fuel is right nobody says but logs."""
        if place in ("calibration.lambda", "calibration.boost", "calibration.spark"):
            self.change("table", "state", after=(place.removeprefix("calibration."),))
        for path, value in self.owner.sheet.items():
            if path.split(".")[0] == place.split(".")[0]:
                self.product("job", "set", after=(path, value))
