#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""The practice engine's program and its page. Usage: practice_cli_test.py <wheelwright-practice> <wheelwright-cli>"""
import csv
import io
import json
import pathlib
import subprocess
import sys
import tempfile
import unittest

ROOT = pathlib.Path(__file__).resolve().parents[2]
PRACTICE, CLI = sys.argv[1], sys.argv[2]
JOB = str(ROOT / "data/demo/thistle.json")
PAGE = (ROOT / "docs/practice-engine.md").read_text(encoding="utf-8")


def number(v):
    return f"{v:g}" if abs(v) < 1e6 else str(int(v))


class Practice(unittest.TestCase):
    def setUp(self):
        self.kept = tempfile.TemporaryDirectory()
        self.folder = pathlib.Path(self.kept.name)
        self.addCleanup(self.kept.cleanup)

    def run_it(self, *arguments, script=None):
        return subprocess.run([PRACTICE, *map(str, arguments)], capture_output=True, text=True,
                              input=None if script is None else json.dumps(script), check=False)

    def drive(self, script, *more):
        return self.run_it("run", JOB, "--script", "-", *more, script=script)

    SHORT = {"ethanol": 0.3, "steps": [{"do": "hold", "rpm": 2600, "load_kpa": 70, "seconds": 2},
                                       {"do": "pull", "from_rpm": 3000, "to_rpm": 4500, "mode": "loaded"}]}

    def refused(self, result, *words):
        self.assertEqual((result.returncode, result.stdout), (2, ""), result.stderr)
        self.assertEqual(len(result.stderr.strip().splitlines()), 1)
        for word in words:
            self.assertIn(word, result.stderr)

    def test_log_runs_and_envelope(self):
        log, runs, envelope = self.folder / "log.csv", self.folder / "runs", self.folder / "truth.json"
        r = self.drive(self.SHORT, "--seed", 5, "--log", log, "--runs", runs, "--envelope", envelope, "--json")
        self.assertEqual((r.returncode, r.stderr), (0, ""))
        answer = json.loads(r.stdout)
        rows = list(csv.DictReader(io.StringIO(log.read_text())))
        self.assertEqual(len(rows), answer["rows"])
        self.assertEqual([row["time_s"] for row in rows[:3]], ["0.01", "0.02", "0.03"])
        self.assertTrue({"rpm", "map_kpa", "lambda", "spark_deg", "ethanol_percent", "pulse_ms"} <= set(rows[0]))
        for row in rows:
            for value in row.values():
                float(value)
        self.assertEqual([p.name for p in runs.iterdir()], ["run-01.csv"])
        text = (runs / "run-01.csv").read_text()
        pull = list(csv.DictReader(io.StringIO("\n".join(line for line in text.splitlines() if not line.startswith("#")))))
        self.assertEqual(len(pull), answer["runs"][0]["rows"])
        self.assertIn("# mode: loaded\n", text)
        peak = max(float(row["power_kw"]) for row in pull)
        self.assertAlmostEqual(peak, answer["runs"][0]["peak_power_kw"], delta=0.01)
        # The envelope is the engine: with it in place of the seed the same run, byte by byte.
        again = self.folder / "again.csv"
        r = self.drive(self.SHORT, "--engine", envelope, "--log", again)
        self.assertEqual(r.returncode, 0)
        self.assertEqual(again.read_bytes(), log.read_bytes())
        other = self.folder / "other.csv"
        self.drive(self.SHORT, "--seed", 6, "--log", other)
        self.assertNotEqual(other.read_bytes(), log.read_bytes())

    def test_the_envelope_opened_by_cell(self):
        r = self.drive(self.SHORT, "--seed", 5, "--log", self.folder / "log.csv", "--cells", "--json")
        cells = json.loads(r.stdout)["cells"]
        self.assertGreater(len(cells), 3)
        rows = [row for row in csv.DictReader((self.folder / "log.csv").open()) if float(row["map_kpa"]) >= 80]
        self.assertLessEqual(sum(c["rows"] for c in cells), len(rows))
        for c in cells:
            self.assertAlmostEqual(c["content"], 0.3, delta=0.01)
            self.assertAlmostEqual(c["lambda"] / c["lambda_target"], 1, delta=0.3)
            self.assertLessEqual(c["best_safe_deg"], min(c["knock_limit_deg"] - 1, c["clean_deg"], c["best_deg"]) + 1e-9)
            self.assertAlmostEqual(c["least_safe_deg"], min(c["best_safe_deg"], c["least_deg"]), delta=1e-9)
            self.assertLess(c["least_deg"], c["best_deg"])
        # Nothing is told where nobody asked.
        self.assertNotIn("cells", json.loads(self.drive(self.SHORT, "--seed", 5, "--json").stdout))

    def test_standard_output(self):
        r = self.drive(self.SHORT, "--seed", 5, "--log", "-")
        self.assertTrue(r.stdout.startswith("time_s,rpm,") and r.returncode == 0)
        drawn = self.run_it("draw", JOB, "--seed", "9", "--fault", "weak_pump:0.2@3>120")
        truth = json.loads(drawn.stdout)
        self.assertEqual(truth["faults"], [{"fault": "weak_pump", "strength": 0.2, "from_s": 3.0, "above_kpa": 120.0}])
        self.assertEqual(truth["seed"], 9)

    def test_a_destroyed_engine_says_by_what(self):
        wild = {"ethanol": 0.1, "steps": [{"do": "set", "field": "spark.knock_control", "value": False},
                                          {"do": "set", "table": "spark.base", "change": "+16"},
                                          *[{"do": "pull", "from_rpm": 2500, "to_rpm": 6800, "mode": "loaded"}] * 4]}
        r = self.drive(wild, "--json")
        answer = json.loads(r.stdout)
        self.assertEqual(r.returncode, 3)
        self.assertTrue(answer["destroyed"])
        self.assertIn(answer["destroyed_by"], r.stderr)
        self.assertGreaterEqual(answer["damage"][answer["destroyed_by"]], 1)
        sound = json.loads(self.drive(self.SHORT, "--json").stdout)
        self.assertFalse(sound["destroyed"])
        self.assertNotIn("destroyed_by", sound)

    def test_bad_input_is_one_line_and_writes_nothing(self):
        log = self.folder / "log.csv"
        self.refused(self.drive({"steps": [{"do": "fly"}]}, "--log", log), "-, steps[0].do", "warm_up")
        self.refused(self.drive({"steps": [{"do": "idle", "seconds": 1}, {"do": "drain", "litres": 900}]}, "--log", log), "step 2: litres")
        self.refused(self.drive(self.SHORT, "--log", log, "--fault", "rust"), "--fault", "throttle_unplugged")
        self.refused(self.drive(self.SHORT, "--log", log, "--engine", self.folder / "none.json"), "none.json")
        self.refused(self.drive(self.SHORT, "--log", log, "--seed", "1.5"), "--seed")
        self.refused(self.run_it("run", self.folder / "no.wwjob", "--script", "-", script=self.SHORT), "no.wwjob")
        bad = self.folder / "bad.json"
        bad.write_text('{"format": "wheelwright-practice-engine", "boost": {"spring_kpa": 9999}}')
        self.refused(self.drive(self.SHORT, "--log", log, "--engine", bad), "bad.json, boost.spring_kpa")
        self.assertFalse(log.exists())

    def test_never_writes_to_the_job(self):
        job = self.folder / "a.wwjob"
        subprocess.run([CLI, "job", "import", job, JOB], check=True, capture_output=True)
        before = job.read_bytes()
        script = {"steps": [{"do": "set", "table": "spark.base", "change": "+1"}, {"do": "idle", "seconds": 1}]}
        self.assertEqual(self.run_it("run", job, "--script", "-", script=script).returncode, 0)
        self.assertEqual(job.read_bytes(), before)
        self.refused(self.run_it("run", job, "--script", "-", "--log", job, script=script), "job")
        self.assertEqual(job.read_bytes(), before)

    def test_demo_documents_are_what_the_program_writes(self):
        documents = sorted((ROOT / "data/demo").glob("*.json"))
        self.assertEqual([p.stem for p in documents], ["bramble", "moorhen", "thistle"])
        for document in documents:
            job, out = self.folder / f"{document.stem}.wwjob", self.folder / document.name
            subprocess.run([CLI, "job", "import", job, document], check=True, capture_output=True)
            subprocess.run([CLI, "job", "export", job, out], check=True, capture_output=True)
            self.assertEqual(out.read_bytes(), document.read_bytes(), document)
            engine = ROOT / f"data/demo/engines/{document.name}"
            self.assertEqual(self.run_it("draw", document, "--engine", engine).returncode, 0)

    def test_the_page_says_all_of_it(self):
        fields = json.loads(self.run_it("fields", "--json").stdout)["fields"]
        self.assertGreater(len(fields), 40)
        how = {"itself": "", "times_job": " × job", "plus_job": " + job"}
        for f in fields:
            usual = number(f["usual"]) if f["drawn"] == "itself" else "job"
            self.assertIn(f"| `{f['key']}` | {number(f['least'])} to {number(f['most'])} | {usual} | "
                          f"{number(f['draw_low'])} to {number(f['draw_high'])}{how[f['drawn']]} | {f['help']} |", PAGE)
        for f in json.loads(self.run_it("faults", "--json").stdout)["faults"]:
            unit = f["strength"][len(f["fault"]) + 1:]
            self.assertIn(f"| `{f['fault']}` | {number(f['least'])} to {number(f['most'])} {unit} | {number(f['usual'])} | {f['title']} | {f['sign']} |", PAGE)
        for s in json.loads(self.run_it("steps", "--json").stdout)["steps"]:
            self.assertIn(f"**`{s['do']}`** {s['help']}", PAGE)
            for key in s["numbers"] + s["texts"]:
                self.assertIn(f"`{key['key']}`", PAGE)
        header = self.drive({"steps": [{"do": "idle", "seconds": 0.1}]}, "--log", "-").stdout.splitlines()[0].split(",")
        for name in header:
            self.assertIn(f"`{name}`", PAGE)

    # The trainer.

    def train(self, *arguments, script=None, code=0):
        r = subprocess.run([CLI, "train", *map(str, arguments)], capture_output=True, text=True, input=None if script is None else json.dumps(script), check=False)
        self.assertEqual(r.returncode, code, (r.stdout[-300:], r.stderr))
        return r.stderr if code == 2 else json.loads(r.stdout)

    GENTLY = [{"do": "idle", "seconds": 20}, {"do": "cruise", "from_rpm": 1800, "to_rpm": 3200, "from_kpa": 45, "to_kpa": 85, "seconds": 30}]

    def test_trains(self):
        listed = self.train("list", "--json")
        self.assertEqual(len(listed["scenarios"]), 12)
        self.assertEqual(listed["scenarios"][0]["scenario"], "throttle_unplugged")
        self.assertIn("weak_pump", [a["answer"] for a in listed["answers"]])
        self.assertEqual(next(x["minutes"] for x in listed["looks"] if x["look"] == "injectors"), 90)
        script = {"steps": [*self.GENTLY, {"do": "pull", "mode": "loaded"}, {"do": "look", "at": "throttle"}, {"do": "look", "at": "tube"}]}
        said = self.train("run", JOB, "throttle_unplugged", "--script", "-", "--answer", "throttle_unplugged", "--json", script=script)
        self.assertEqual((said["points"], said["passed"], said["verdict"]), (100, True, "Passed."))
        self.assertEqual([(x["look"], x["sound"]) for x in said["looked"]], [("throttle", False), ("tube", True)])
        self.assertTrue(any("Boost solenoid is stuck" in line for line in said["debrief"]))
        hinted = self.train("run", JOB, "throttle_unplugged", "--script", "-", "--answer", "throttle_unplugged", "--hints", 2, "--json", script=script)
        self.assertEqual((hinted["points"], len(hinted["hints"])), (90, 2))
        # While nobody has said what it is, nothing is given away.
        shut = self.train("run", JOB, "throttle_unplugged", "--script", "-", "--json", script={"steps": self.GENTLY}, code=1)
        self.assertNotIn("debrief", shut)
        self.assertNotIn("hrottle", json.dumps(shut["items"]))
        wrong = self.train("run", JOB, "throttle_unplugged", "--script", "-", "--answer", "solenoid_stuck", "--json", script=script, code=1)
        self.assertEqual((wrong["passed"], wrong["items"][0]["points"]), (False, 0))

    def test_training_refuses(self):
        script = {"steps": [{"do": "idle", "seconds": 1}]}
        self.assertIn("scenario: expected one of throttle_unplugged", self.train("run", JOB, "none", "--script", "-", script=script, code=2))
        self.assertIn("--answer: expected one of", self.train("run", JOB, "weak_pump", "--script", "-", "--answer", "none", script=script, code=2))
        self.assertIn("expected a job with a controller", self.train("run", ROOT / "data/demo/moorhen.json", "weak_pump", "--script", "-", script=script, code=2))
        self.assertIn("steps[0]: expected at, found none", self.train("run", JOB, "weak_pump", "--script", "-", script={"steps": [{"do": "look"}]}, code=2))
        self.assertIn("timing_light", self.train("run", JOB, "weak_pump", "--script", "-", script={"steps": [{"do": "look", "at": "stars"}]}, code=2))
        self.assertIn("--hints", self.train("run", JOB, "weak_pump", "--script", "-", "--hints", 4, script=script, code=2))

    def test_looking_is_an_event(self):
        said = json.loads(self.drive({"ethanol": 0.3, "steps": [{"do": "look", "at": "coolant"}, {"do": "idle", "seconds": 1}]}, "--json").stdout)
        self.assertEqual([e["what"] for e in said["events"]], ["look coolant"])
        self.assertAlmostEqual(said["tank_ethanol"], 0.3, 6)


if __name__ == "__main__":
    unittest.main(argv=sys.argv[:1])
