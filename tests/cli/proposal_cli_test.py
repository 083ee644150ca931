# SPDX-License-Identifier: GPL-3.0-or-later
"""What logs make of the tables, from the command line: against SciPy's dense solution, and against the next log."""
import csv
import io
import json
import math
import pathlib
import shutil
import subprocess
import sys
import tempfile
import unittest

import numpy
import scipy.linalg

PRACTICE = sys.argv.pop(1)

from command_line import CLI, ROOT, CommandLineTest  # noqa: E402  (what is left is the program's path)

CONTENTS = ("0.10", "0.35", "0.60", "0.78")


def day(content):
    return {"start": "warm", "ethanol": float(content), "steps": [
        {"do": "idle", "seconds": 5},
        {"do": "hold", "rpm": 2000, "load_kpa": 60, "seconds": 4}, {"do": "hold", "rpm": 3000, "load_kpa": 60, "seconds": 4},
        {"do": "hold", "rpm": 4000, "load_kpa": 80, "seconds": 4},
        {"do": "pull", "mode": "loaded", "from_rpm": 2500, "to_rpm": 6000}]}


class Proposals(CommandLineTest):
    @classmethod
    def setUpClass(cls):
        cls.folder = pathlib.Path(tempfile.mkdtemp())
        cls.addClassCleanup(shutil.rmtree, cls.folder)
        cls.base = cls.folder / "base.wwjob"
        subprocess.run([CLI, "job", "import", cls.base, ROOT / "data/demo/thistle.json"], check=True, capture_output=True)
        # One engine for all logs, whatever the tables become: a seed draws it around them.
        cls.engine = cls.folder / "engine.json"
        cls.engine.write_text(subprocess.run([PRACTICE, "draw", cls.base, "--seed", "3"], check=True, capture_output=True, text=True).stdout)
        for content in CONTENTS:
            cls.log(cls.base, content)

    @classmethod
    def log(cls, job, content, prefix="e"):
        script, log = cls.folder / "day.json", cls.folder / f"{prefix}{content}.csv"
        script.write_text(json.dumps(day(content)))
        subprocess.run([PRACTICE, "run", job, "--script", script, "--engine", cls.engine, "--log-hz", "50", "--log", log],
                       check=True, capture_output=True)
        subprocess.run([CLI, "log", "import", job, log], check=True, capture_output=True)

    def setUp(self):
        self.job = self.folder / f"{self._testMethodName}.wwjob"
        shutil.copy(self.base, self.job)

    def table(self, content):
        return list(csv.reader(io.StringIO(self.run_cli("table", "export", self.job, "fuel", "--csv", "-", "--content", content).stdout)))

    def test_fuel_says_its_cells_and_the_next_log_finds_what_was_foretold(self):
        found = self.json("evidence", "fuel", self.job, "--content", "0.35")
        self.assertEqual((found["damping"], found["clamp"], found["min_hits"]), (0.7, 0.08, 5))
        for cell in found["cells"]:
            self.assertLessEqual({"rpm", "load_kpa", "hits", "lambda_error", "sd", "proposed"}, set(cell))
            step = cell["proposed"] / cell["now"] - 1
            expected = max(-0.08, min(0.08, 0.7 * cell["lambda_error"])) if cell["state"] == "corrected" else 0
            self.assertAlmostEqual(step, expected, places=9)
        self.assertLess(found["rms_predicted"], found["rms_before"])
        before = self.job.read_bytes()
        self.json("evidence", "fuel", self.job, "--content", "0.35")
        self.assertEqual(self.job.read_bytes(), before)  # nothing is written without --apply
        self.json("evidence", "fuel", self.job, "--content", "0.35", "--apply")
        # The same log against the tables as they are now: what is left of its errors is what was foretold.
        again = self.json("evidence", "fuel", self.job, "--content", "0.35", "--log", "e0.35.csv")
        self.assertAlmostEqual(again["rms_before"], found["rms_predicted"], places=5)
        self.refused("evidence", "fuel", self.job, words=["no log of this calibration"])  # the others are of the one before
        self.log(self.job, "0.35", "next")
        fresh = self.json("evidence", "fuel", self.job)
        self.assertEqual([log["name"] for log in fresh["logs"]], ["next0.35.csv"])
        self.assertLess(fresh["rms_before"], 1.3 * found["rms_predicted"])
        noted = self.json("job", "get", self.job, "evidence.corrections")
        self.assertIn("calibration.fuel.base", json.dumps(noted))

    def test_fuel_options(self):
        def steps(*options):
            return {(c["rpm"], c["load_kpa"]): c["proposed"] / c["now"] - 1
                    for c in self.json("evidence", "fuel", self.job, "--content", "0.35", *options)["cells"]}
        plain, whole = steps(), steps("--damping", "1", "--clamp", "1")
        self.assertGreater(max(map(abs, whole.values())), 0.08)
        self.assertAlmostEqual(max(map(abs, plain.values())), 0.08, places=9)
        self.assertLess(sum(v != 0 for v in steps("--min-hits", "100").values()), sum(v != 0 for v in plain.values()))
        self.assertGreater(sum(v != 0 for v in steps("--neighbours", "1").values()), sum(v != 0 for v in plain.values()))
        region = steps("--region", "1900,3100,50,70")
        self.assertEqual(len({round(v, 9) for (rpm, load), v in region.items() if 1900 <= rpm <= 3100 and 50 <= load <= 70}), 1)
        self.assertNotEqual(steps("--delay-ms", "0"), plain)
        self.assertNotEqual(steps("--nearest"), plain)
        self.refused("evidence", "fuel", self.job, words=["content", "E10", "E78"])
        self.refused("evidence", "fuel", self.job, "--content", "0.35", "--delay-ms", "soon", words=["--delay-ms"])
        self.refused("evidence", "fuel", self.job, "--content", "0.35", "--log", "none.csv", words=["--log"])
        self.refused("evidence", "fuel", self.job, "--content", "0.35", "--region", "3000,2000,50,70", words=["--region"])

    def test_joint_is_scipys_dense_solution(self):
        equations = self.folder / "equations.json"
        self.json("evidence", "joint", self.job, "--equations", equations)
        system = json.loads(equations.read_text())
        n = system["unknowns"]
        left, right, weight = numpy.zeros((len(system["equations"]), n)), [], []
        for row, equation in zip(left, system["equations"]):
            for unknown, coefficient in equation["left"]:
                row[unknown] += coefficient
            right.append(equation["right"])
            weight.append(equation["weight"])
        weight, right = numpy.array(weight), numpy.array(right)
        normal = left.T @ (left * weight[:, None])
        solution = scipy.linalg.solve(normal, left.T @ (weight * right), assume_a="pos")
        variance = numpy.diag(scipy.linalg.inv(normal))
        sigma = system["sigma"] * math.sqrt((1 + system["correlation"]) / (1 - system["correlation"]))
        self.assertGreater(n, 1100)
        for cell in system["cells"] + system["nodes"]:
            self.assertAlmostEqual(cell["value"], solution[cell["unknown"]], delta=1e-8)
            if cell["standard_error"] > 0:
                self.assertAlmostEqual(cell["standard_error"], sigma * math.sqrt(variance[cell["unknown"]]), delta=1e-8)

    def test_joint_shows_in_the_tables_of_every_content(self):
        before = {c: self.table(c) for c in ("0.10", "0.48", "0.85")}
        found = self.json("evidence", "joint", self.job, "--apply")
        self.assertLessEqual({"base", "top", "content_curve", "not_separable", "explained", "left_out_rms"}, set(found))
        self.assertGreater(found["explained"], 0.9)
        self.assertLess(found["left_out_rms"], found["rms_before"] / 3)
        for cell in found["base"] + found["top"] + found["content_curve"]:
            self.assertIn("standard_error", cell)
        self.assertEqual([round(c, 2) for c in found["contents"]], [0.10, 0.35, 0.60, 0.78])
        for content, table in before.items():
            self.assertNotEqual(self.table(content), table)
        # Cell by cell what it said of the base table, whole: no damping, no clamp.
        base = {(c["rpm"], c["load_kpa"]): c for c in found["base"]}
        old, new = before["0.10"], self.table("0.10")
        cells = 0
        for row, (was, now) in enumerate(zip(old[1:], new[1:])):
            for column in range(1, len(was)):
                cell = base[(float(old[0][column].split()[0]), float(was[0]))] if self.number(old[0][column]) else None
                if cell is None or not self.number(was[column]):
                    continue
                step = cell["value"] if cell["known"] in ("measured", "inferred") else 0
                self.assertAlmostEqual(float(now[column]) / float(was[column]) - 1, step, places=6)
                cells += 1
        self.assertGreater(cells, 300)
        for content in CONTENTS[:2]:
            self.log(self.job, content, "next")
        after = self.json("evidence", "joint", self.job)
        self.assertLess(after["rms_before"], found["rms_before"] / 4)

    @staticmethod
    def number(text):
        try:
            return math.isfinite(float(text))
        except ValueError:
            return False

    def test_knock_goes_on_from_where_it_stood(self):
        first = self.json("evidence", "knock", self.job, "--content", "0.10")
        cells = first["cells"]
        self.assertTrue(cells)
        for cell in cells:
            self.assertLessEqual({"rpm", "load_kpa", "content", "hits", "most_retard_deg", "transient", "proposed_deg", "next"}, set(cell))
            self.assertIn(round(cell["proposed_deg"] - cell["now_deg"], 6), (0, 1, 2))  # clean, on the road; 0 and 1: a ceiling is near
        raised = [c for c in cells if c["proposed_deg"] > c["now_deg"]]
        self.assertTrue(raised)
        self.json("evidence", "knock", self.job, "--content", "0.10", "--apply")
        again = self.json("evidence", "knock", self.job, "--content", "0.10", "--log", "e0.10.csv")
        for cell in again["cells"]:
            self.assertEqual(cell["proposed_deg"], cell["now_deg"])  # counted already
        phases = {(c["rpm"], c["load_kpa"]): (c["phase"], c["steps"]) for c in again["cells"]}
        for cell in raised:
            self.assertEqual(phases[(cell["rpm"], cell["load_kpa"])], ("raise_one", 1))
        # Fixed values are not raised.
        self.run_cli("job", "set", self.job, "evidence.spark_school", "fixed")
        for cell in self.json("evidence", "knock", self.job, "--content", "0.60", "--log", "e0.60.csv", code=None)["cells"]:
            self.assertLessEqual(cell["proposed_deg"], cell["now_deg"])

    def test_ceilings_are_known_where_logs_say_so(self):
        for step, prefix in (("+6", "k"), ("+3", "l"), ("+3", "m")):  # more and more spark, until it knocks
            self.run_cli("table", "edit", self.job, "spark", "--content", "0.35", "--expression", step)
            self.log(self.job, "0.35", prefix)
        found = self.json("evidence", "ceilings", self.job, "--content", "0.35", code=None)
        self.assertTrue(any(c["knocked"] > 0 for c in found["cells"]))
        self.assertEqual(found["content"], 0.35)
        self.assertEqual({l["log"] for l in found["logs"]}, {l["id"] for l in self.json("log", "list", self.job)["logs"]})
        for cell in found["cells"]:
            self.assertEqual(set(cell), {"rpm", "load_kpa", "ceiling_deg", "sigma_deg", "knocked", "clean"})
            if cell["ceiling_deg"] is not None:
                self.assertLessEqual(cell["sigma_deg"], 1.5)
        self.assertTrue(any(c["ceiling_deg"] is None for c in found["cells"]))  # where no log has been near knock
        self.assertTrue(any(c["clean"] > 0 for c in found["cells"]))
        known = {(c["rpm"], c["load_kpa"]): c["ceiling_deg"] for c in found["cells"] if c["ceiling_deg"] is not None}
        self.assertTrue(known)
        # Hotter air takes some of it everywhere.
        hot = self.json("evidence", "ceilings", self.job, "--content", "0.35", "--intake-c", "70", code=None)
        for cell in hot["cells"]:
            if cell["ceiling_deg"] is not None and known.get((cell["rpm"], cell["load_kpa"]), -20) > -15:
                self.assertLess(cell["ceiling_deg"], known[(cell["rpm"], cell["load_kpa"])])
        # Written, they are tables of ceilings with what is not known left as estimates.
        applied = self.json("evidence", "ceilings", self.job, "--content", "0.35", "--apply", code=None)
        self.assertTrue(applied["changed"])
        document = json.loads(self.run_cli("job", "export", self.job, "--file", "-").stdout)
        tables = [t for t in document["calibration"]["extras"] if t["name"] == "Learned E35"]
        self.assertEqual(len(tables), 1)
        self.assertFalse(self.json("evidence", "ceilings", self.job, "--content", "0.35", "--apply", code=None)["changed"])  # nothing new
        self.refused("evidence", "ceilings", self.job, "--content", "1.2", words=["--content"])

    def test_the_search_may_go_by_what_was_learned(self):
        plain = self.json("evidence", "knock", self.job, "--content", "0.10", code=None)
        aimed = self.json("evidence", "knock", self.job, "--content", "0.10", "--learned", code=None)
        self.assertEqual([(c["rpm"], c["load_kpa"], c["hits"]) for c in plain["cells"]], [(c["rpm"], c["load_kpa"], c["hits"]) for c in aimed["cells"]])

    def test_sweep_of_points(self):
        rising = self.json("evidence", "sweep", "--points", "12:518,14:548,16:580,18:613,20:639")
        self.assertTrue(rising["still_rising"])
        self.assertIsNone(rising["best_deg"])
        self.assertAlmostEqual(rising["power_per_deg"], 15, delta=0.5)  # handbook, chapter 6
        level = self.json("evidence", "sweep", "--points", "16:580,18:600,20:612,22:618,24:619,26:616")
        self.assertTrue(23 <= level["best_deg"] <= 24 and not level["still_rising"])
        self.assertTrue(level["best_low_deg"] < level["best_deg"] < level["best_high_deg"])
        x, y = numpy.array([16, 18, 20, 22, 24, 26]), numpy.array([580, 600, 612, 618, 619, 616])
        c, b, a = numpy.polyfit(x, y, 2)
        self.assertAlmostEqual(level["best_deg"], -b / 2 / c, places=6)
        most = a - b * b / 4 / c
        self.assertAlmostEqual(level["least_for_995_deg"], min(numpy.roots([c, b, a - 0.995 * most])), places=6)
        self.refused("evidence", "sweep", "--points", "12:518,14:548", words=["three"])
        self.refused("evidence", "sweep", words=["--points"])
        self.refused("evidence", "sweep", "--points", "12:518,14:548,16:580", "--apply", words=["--apply"])
        self.assertEqual(self.json("evidence", "sweep", self.job)["sweeps"], [])

    def test_proof_of_a_change_of_fuel(self):
        moves = {m["quantity"]: m for m in self.json("evidence", "proof", self.job, "--log", "e0.10.csv", "--log", "e0.60.csv", code=None)}
        fuel = moves["fuel"]
        self.assertAlmostEqual(fuel["measured"] - fuel["expected"], fuel["residual"], places=9)
        self.assertGreater(fuel["expected"], 0.1)
        self.assertIn(fuel["verdict"], ("as_expected", "off", "not_sure"))
        self.assertEqual({"quantity", "expected", "measured", "residual", "sigma", "verdict"} - set(fuel), set())
        self.refused("evidence", "proof", self.job, "--log", "e0.10.csv", words=["two"])
        self.refused("evidence", "proof", self.job, "--log", "e0.10.csv,e0.10.csv", words=["apart"])

    def test_the_dynos_sensor_against_the_controllers(self):
        """The dyno's column is the controller's, 9 kPa off and with another span: the line through it in numpy's way."""
        self.assertEqual(self.json("evidence", "boost", self.job, code=None)["sensors"], [])  # no log has both
        rows = list(csv.DictReader(io.StringIO((self.folder / "e0.60.csv").read_text())))
        column = next(c for c in rows[0] if c.startswith("map"))
        for row in rows:
            row["dyno_boost_kpa"] = f"{9 + 1.03 * float(row[column]) - 101.325:.4f}"
        log = self.folder / "dyno.csv"
        with log.open("w", newline="") as out:
            writer = csv.DictWriter(out, rows[0].keys())
            writer.writeheader()
            writer.writerows(rows)
        self.run_cli("log", "import", self.job, log)
        sensors = self.json("evidence", "boost", self.job, "--log", "dyno.csv", code=1)["sensors"]
        self.assertEqual(len(sensors), 1)
        found = sensors[0]
        self.assertEqual(found["verdict"], "off")
        self.assertGreaterEqual(found["seconds"], 6)
        self.assertAlmostEqual(found["dyno_less_controller_kpa"], 9 + 0.03 * found["at_kpa"], delta=0.01)
        self.assertAlmostEqual(found["per_100_kpa"], 3, delta=0.01)

    def test_boost_of_pulls(self):
        found = self.json("evidence", "boost", self.job, code=None)
        self.assertEqual(len(found["pulls"]), 4)
        for pull in found["pulls"]:
            self.assertTrue(pull["reached"])
            self.assertLess(abs(pull["held_kpa_gauge"] - pull["target_kpa_gauge"]), 25)


if __name__ == "__main__":
    unittest.main()
