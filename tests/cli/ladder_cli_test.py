# SPDX-License-Identifier: GPL-3.0-or-later
"""The ladder on the command line: plan, status, look, set, pass, replan, and how they end."""
import json
import pathlib
import subprocess
import sys
import tempfile
import unittest

CLI = sys.argv.pop(1)
ROOT = pathlib.Path(__file__).resolve().parents[2]
ITEMS = "leaks levels base_timing sensors plugs wideband log cuts file room fire".split()


class Ladders(unittest.TestCase):
    def setUp(self):
        self.folder = tempfile.TemporaryDirectory()
        self.job = pathlib.Path(self.folder.name) / "a.wwjob"
        self.cli("job", "import", self.job, ROOT / "data/demo/thistle.json")

    def tearDown(self):
        self.folder.cleanup()

    def cli(self, *arguments, code=0):
        r = subprocess.run([CLI, *map(str, arguments)], capture_output=True, text=True)
        self.assertEqual(r.returncode, code, (arguments, r.stdout[-300:], r.stderr))
        if code == 2:
            self.assertEqual((r.stdout, len(r.stderr.strip().splitlines())), ("", 1), r.stderr)
        return r.stdout if code != 2 else r.stderr

    def json(self, *arguments, code=0):
        return json.loads(self.cli(*arguments, "--json", code=code))

    def walk(self, plan, shelf, volume, content):
        """Pours what the plan says, and looks whether its numbers follow."""
        alcohol = volume * content
        price = 0
        for rung in plan["rungs"]:
            if rung["state"] not in ("next", "later") or "volume_l" not in rung:
                continue
            alcohol *= 1 - rung["drain_l"] / volume
            volume -= rung["drain_l"]
            for pour in rung["pours"]:
                litres = pour["count"] * (pour["can_l"] or 1)
                self.assertAlmostEqual(litres, pour["litres"])
                volume += litres
                alcohol += litres * shelf[pour["fuel"]]
                price += pour["price"]
            self.assertAlmostEqual(volume, rung["volume_l"], places=6, msg=rung["id"])
            self.assertAlmostEqual(alcohol / volume, rung["expected_content"], places=6, msg=rung["id"])
            alcohol *= 1 - rung["burn_l"] / volume
            volume -= rung["burn_l"]
        self.assertAlmostEqual(price, plan["price"])

    def test_plan(self):
        self.cli("job", "add", self.job, "tank.events", "kind=level", "litres=18")
        self.cli("job", "add", self.job, "tank.events", "kind=content", "ethanol=0.1")
        plan = self.json("ladder", "plan", self.job, code=1)  # its injectors end it
        ids = [r["id"] for r in plan["rungs"]]
        self.assertEqual(ids[0], "preflight")
        self.assertEqual(ids[-3:], ["way_down", "road", "hand_over"])
        self.assertEqual([i for i in ids if i.startswith("content.")],
                         [f"content.{c}" for c in (25, 40, 50, 60, 70, 85)])
        self.assertIn("Injectors", plan["ends"])
        self.assertEqual(plan["next"], "preflight")
        fuels = self.json("shelf", self.job, code=1)["fuels"]  # something there is opened too long
        shelf = {f["name"]: f["ethanol"] + f["methanol"] for f in fuels}
        self.walk(plan, shelf, 18, 0.1)
        bought = {i["fuel"]: i["litres"] for i in plan["shopping"]}
        poured = {}
        for rung in plan["rungs"]:
            for pour in rung.get("pours", []):
                poured[pour["fuel"]] = poured.get(pour["fuel"], 0) + pour["litres"]
        self.assertEqual(bought, poured)
        for rung in plan["rungs"]:
            if rung["kind"] in ("base_boost", "content", "top_boost"):
                self.assertGreater(rung["cut_kpa"], rung["boost_kpa"] + 10, rung["id"])
                self.assertEqual(rung["duty"] > 0.85, rung["state"] == "out_of_reach", rung["id"])
        self.assertIn("To have at hand", self.cli("ladder", "plan", self.job, code=1))

    def test_the_way_up(self):
        self.assertIn("not judged", self.cli("ladder", "status", self.job, code=1))
        self.assertIn("gate looked_over", self.cli("ladder", "pass", self.job, code=2))
        self.assertIn("one of leaks", self.cli("ladder", "look", self.job, "preflight", "tyres", code=2))
        for item in ITEMS:
            self.cli("ladder", "look", self.job, "preflight", item, "--note", "good")
        status = self.json("ladder", "status", self.job)
        self.assertEqual((status["light"], status["state"]), ("green", "next"))
        passed = self.json("ladder", "pass", self.job)
        self.assertEqual((passed["rung"], passed["by"], passed["next"]), ("preflight", "evidence", "base_boost.173"))
        self.assertIn("which is next", self.cli("ladder", "pass", self.job, "content.40", "--by-hand", "why not", code=2))
        self.assertIn("one of preflight", self.cli("ladder", "status", self.job, "content.41", code=2))

        cut = next(g for g in self.json("ladder", "status", self.job, code=1)["gates"] if g["gate"] == "cut")
        self.assertEqual((cut["verdict"], cut["remedy"]), ("failed", "setting"))
        made = self.json("ladder", "set", self.job)
        self.assertEqual(json.loads(self.cli("job", "get", self.job, "boost.cut_kpa", "--json"))["value"], made["cut_kpa"])
        self.assertGreater(json.loads(self.cli("job", "get", self.job, "ladder.top_boost_kpa", "--json"))["value"], 230)
        status = self.json("ladder", "status", self.job, code=1)
        self.assertEqual(next(g for g in status["gates"] if g["gate"] == "cut")["verdict"], "passed")
        self.assertEqual(status["pulls"], 0)
        self.assertIn("with a boost of its own", self.cli("ladder", "set", self.job, "road", code=2))

        passed = self.json("ladder", "pass", self.job, "--by-hand", "the baseline day, see its sheet")
        self.assertEqual((passed["by"], passed["reason"]), ("hand", "the baseline day, see its sheet"))
        kept = self.json("job", "get", self.job, "ladder.passed")["records"]
        self.assertEqual([r["by"] for r in kept], ["evidence", "hand"])
        self.assertIn("lambda: not_judged", kept[1]["gates"])

    def test_logs_are_evidence(self):
        self.cli("log", "import", self.job, ROOT / "data/demo/logs/thistle-e41-pulls.csv")
        status = self.json("ladder", "status", self.job, "content.40", code=1)
        self.assertGreater(status["pulls"], 0)
        gates = {g["gate"]: g for g in status["gates"]}
        findings = self.json("log", "findings", self.job, "--log", "thistle-e41-pulls.csv", code=1)
        knocked = any(f["rule"] == "knock" for f in (findings["found"] if isinstance(findings, dict) else findings))
        self.assertEqual(gates["knock"]["verdict"] == "failed", knocked)
        self.assertEqual(gates["duty"]["used"][0]["name"], "thistle-e41-pulls.csv")
        self.assertLess(gates["duty"]["used"][0]["from_s"], gates["duty"]["used"][0]["to_s"])

    def test_replan(self):
        before = self.json("ladder", "plan", self.job, code=1)
        after = self.json("ladder", "replan", self.job, "--volume-l", 15, "--content", 0.1)
        self.assertEqual(after["before"]["price"], before["price"])
        events = self.json("job", "get", self.job, "tank.events")["records"]
        self.assertEqual([(e["kind"], e["note"]) for e in events[-2:]], [("level", "Replanned"), ("content", "Replanned")])
        base = next(r for r in after["rungs"] if r["kind"] == "base_boost")
        self.assertEqual((base["drain_l"], base["pours"]), (0, []))  # it is there already
        self.assertIn("--volume-l, --content", self.cli("ladder", "replan", self.job, code=2))
        self.assertIn("--today", self.cli("ladder", "plan", self.job, "--today", "soon", code=2))


if __name__ == "__main__":
    unittest.main()
