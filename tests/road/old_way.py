# SPDX-License-Identifier: GPL-3.0-or-later
"""The baseline: the same car tuned in the way that needs no product. All of the boost at once, one content after the other, a straight line between."""
import csv

from tuner import Ended, Tuner, light


class OldWay(Tuner):
    def climb(self):
        if self.owner.kind == "mechanical":
            return self.leaner_by_two()
        if self.owner.kind == "turbo":
            for quantity in ("fuel", "spark", "boost", "lambda"):
                self.change("job", "set", after=(f"calibration.{quantity}.weight_shape", "straight"))
        for content, litres in ((0.1, None), (0.85, 40), *(((0.5, 20),) if self.owner.kind == "files" else ())):
            if litres:
                self.fill(content, litres)
            self.read_tube()
            for _ in range(3):
                self.full_pull()
                self.change("evidence", "fuel", after=("--content", round(self.car.content, 3), "--log", self.logs[-1], "--neighbours", 1, "--apply"))
            self.more_spark()
        return "all"

    def fill(self, content, litres):
        """Out with what is in, in with the other: what the label says is taken for true."""
        fuels = [{"do": "drain", "litres": self.car.litres - 2}]
        fuels += [{"do": "pour", "litres": litres, "fuel": "Strong"}] if content > 0.8 else [{"do": "pour", "litres": 10, "fuel": "Pump"}, {"do": "pour", "litres": 12, "fuel": "Strong"}]
        self.event(kind="drain", litres=round(self.car.litres - 2, 2))
        for f in fuels[1:]:
            self.event(kind="pour", litres=f["litres"], ethanol=0.85 if f["fuel"] == "Strong" else 0.1)
            self.spent += f["litres"] * (1.3 if f["fuel"] == "Strong" else 1.9)
            self.poured_l += f["litres"]
        self.car.drive([*fuels, {"do": "cruise", "from_rpm": 1800, "to_rpm": 3000, "from_kpa": 40, "to_kpa": 70, "seconds": 120}])

    def full_pull(self):
        self.go(light() + self.pull() * 2)

    def more_spark(self, most=9):
        """Two degrees at a time in the boosted area until something is heard; then three back."""
        content = round(self.car.content, 3)
        for _ in range(most):
            self.change("table", "edit", after=("spark", "--content", content, "--expression", "+2", "--y", "105,400"))
            self.full_pull()
            if self.heard() > 0.5:
                self.change("table", "edit", after=("spark", "--content", content, "--expression", "-3", "--y", "105,400"))
                return

    def heard(self):
        with (self.car.folder / self.logs[-1]).open() as log:
            return max(float(row["knock_retard_deg"]) for row in csv.DictReader(log))

    def leaner_by_two(self):
        """Two pills at a time, by power alone."""
        self.read_tube()
        pill, power = self.product("job", "get", after=("mechanical.main_mm",))["value"], 0
        for _ in range(8):
            self.change("job", "set", after=("mechanical.main_mm", round(pill, 3)))
            self.go(self.pull())
            made = self.said["runs"][-1]["peak_power_kw"]
            if made < power:
                raise Ended(f"no more power from {pill:.2f} mm")
            pill, power = pill + 0.254, made
        return "all"

    def finish(self):
        """Nobody writes papers."""
