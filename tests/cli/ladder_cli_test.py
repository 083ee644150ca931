# SPDX-License-Identifier: GPL-3.0-or-later
"""The ladder on the command line: plan, status, look, set, pass, replan, and how they end."""
import json
import unittest

from command_line import ROOT, CommandLineTest

ITEMS = "leaks levels base_timing sensors plugs wideband log cuts file room fire".split()


class Ladders(CommandLineTest):
    def setUp(self):
        super().setUp()
        self.cli("job", "import", self.job, ROOT / "data/demo/thistle.json")

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
        self.assertEqual((cut["verdict"], cut["remedy"], cut["set_path"]), ("failed", "setting", "boost.cut_kpa"))
        # What a gate asks to be set can be done as it says; one that asks for none refuses, and so does one that is not of this rung.
        done = self.json("ladder", "do", self.job, "cut")
        self.assertEqual((done["set_path"], done["set_value"]), (cut["set_path"], cut["set_value"]))
        self.assertEqual(self.json("job", "get", self.job, "boost.cut_kpa")["value"], cut["set_value"])
        self.assertIn("one that asks for a setting", self.cli("ladder", "do", self.job, "plugs", code=2))
        self.assertIn("one of cut", self.cli("ladder", "do", self.job, "looked_over", code=2))
        self.cli("job", "set", self.job, "boost.cut_kpa", 0)
        made = self.json("ladder", "set", self.job)
        self.assertEqual(json.loads(self.cli("job", "get", self.job, "boost.cut_kpa", "--json"))["value"], made["cut_kpa"])
        self.assertGreater(json.loads(self.cli("job", "get", self.job, "ladder.top_boost_kpa", "--json"))["value"], 230)
        status = self.json("ladder", "status", self.job, code=1)
        self.assertEqual(next(g for g in status["gates"] if g["gate"] == "cut")["verdict"], "passed")
        self.assertEqual(status["pulls"], 0)
        self.assertIn("with a boost or a pill of its own", self.cli("ladder", "set", self.job, "road", code=2))

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

    def test_forecast(self):
        nothing = self.json("ladder", "forecast", self.job, code=1)  # nobody has pulled: not judged
        self.assertEqual(nothing["evidence_rungs"], 0)
        rung = next(r for r in nothing["rungs"] if r["rung"] == "content.50")
        self.assertEqual((rung["fuel_over"], rung["solenoid_duty"], rung["stands_spark_deg"]), (0, None, None))
        self.cli("log", "import", self.job, ROOT / "data/demo/logs/thistle-e41-pulls.csv")
        found = self.json("ladder", "forecast", self.job, code=1)
        self.assertEqual(found["evidence_rungs"], 1)
        known = next(r for r in found["rungs"] if r["rung"] == "content.50")
        self.assertAlmostEqual(known["duty"], known["tables_duty"] * (1 + known["fuel_over"]), 9)
        self.assertLess(known["duty_sigma"] / known["duty"], rung["duty_sigma"] / rung["duty"])
        self.assertGreater(known["stands_spark_deg"], 5)
        boost = next(c for c in found["crossings"] if c["over"] == "boost")
        self.assertLess(boost["earliest_boost_kpa"], boost["at_boost_kpa"])
        self.assertLess(boost["at_boost_kpa"], boost["latest_boost_kpa"])
        self.assertIn(f"{boost['at_boost_kpa']:.0f} kPa", boost["said"])

    def test_bundle_goes_out_and_comes_back(self):
        folder = self.folder / "out"
        out = self.json("bundle", "out", self.job, "--folder", folder, "--name", "First", "--note", "mind the pump")
        self.assertEqual((out["revision"], out["rung"]), ("First", "preflight"))
        self.assertEqual(sorted(out["files"]), sorted(str(p.relative_to(folder)) for p in folder.rglob("*") if p.is_file()))
        self.assertIn("mind the pump", (folder / "read-me.txt").read_text())
        self.assertEqual((folder / "message.txt").read_text().strip(), out["message"])
        kept = self.json("job", "get", self.job, "revisions")["records"]
        self.assertEqual([(r["name"], r["sent"], r["note"]) for r in kept if r["name"] == "First"], [("First", True, "mind the pump")])
        self.assertIn("something is there already", self.cli("bundle", "out", self.job, "--folder", folder, code=2))
        self.assertEqual(len(self.json("job", "get", self.job, "revisions")["records"]), len(kept))  # nothing half-done

        # Loaded, read back unchanged but for one table and one guarded setting, with a log.
        back = folder / "back"
        back.mkdir()
        settings = json.loads((folder / "settings.json").read_text())
        settings["injectors.boost_referenced"] = not settings["injectors.boost_referenced"]
        (back / "settings.json").write_text(json.dumps(settings))
        table = (folder / "tables/calibration.lambda.top.csv").read_text()
        (back / "calibration.lambda.top.csv").write_text(table)
        log = (ROOT / "data/demo/logs/thistle-e41-pulls.csv").read_text()
        (folder / "pulls.csv").write_text(log)
        (folder / "plug.jpg").write_bytes(b"\xff\xd8")
        came = self.json("bundle", "back", self.job, "--folder", folder, code=1)
        self.assertEqual((came["revision"], came["tied_by"], came["light"], came["alarm"]), ("First", "fingerprint", "red", True))
        self.assertEqual([(d["path"], d["guarded"]) for d in came["changed"]], [("injectors.boost_referenced", True)])
        self.assertEqual((came["logs"], came["known_logs"], came["left_alone"]), (["pulls.csv"], [], ["plug.jpg"]))
        self.assertIn("calibration.lambda.top", came["compared"])
        self.assertIn("load revision First again", came["message"])
        taken = self.json("job", "get", self.job, "evidence.logs")["records"]
        self.assertEqual([(r["name"], r["revision"], r["calibration"]) for r in taken], [("pulls.csv", "First", out["calibration"])])
        again = self.json("bundle", "back", self.job, "--folder", folder, code=1)
        self.assertEqual((again["logs"], again["known_logs"]), ([], ["pulls.csv"]))

        # Rubbish among it: nothing is taken in.
        (back / "calibration.lambda.top.csv").write_text(table.replace("lambda", "spark_deg", 1))
        (folder / "more.csv").write_text(log.replace("12", "13"))
        self.assertIn("calibration.lambda.top.csv", self.cli("bundle", "back", self.job, "--folder", folder, code=2))
        (back / "calibration.lambda.top.csv").write_text(table)
        (folder / "more.csv").write_text("not a log\n")
        self.assertIn("more.csv", self.cli("bundle", "back", self.job, "--folder", folder, code=2))
        self.assertEqual(len(self.json("job", "get", self.job, "evidence.logs")["records"]), 1)

    def test_bundle_is_tied_by_fingerprint_or_asked(self):
        folder = self.folder / "back"
        folder.mkdir()
        log = ROOT / "data/demo/logs/thistle-e10-hot.csv"
        (folder / "a.csv").write_bytes(log.read_bytes())
        for kept in self.json("revision", "list", self.job)["revisions"]:
            self.cli("revision", "remove", self.job, kept["name"])
        self.assertIn("none was sent", self.cli("bundle", "back", self.job, "--folder", folder, code=2))
        sent = self.json("bundle", "out", self.job, "--folder", self.folder / "out", "--name", "First")
        self.assertIn("--revision: First", self.cli("bundle", "back", self.job, "--folder", folder, code=2))
        self.assertIn("one of First", self.cli("bundle", "back", self.job, "--folder", folder, "--revision", "Second", code=2))
        asked = self.json("bundle", "back", self.job, "--folder", folder, "--revision", "First", code=1)
        self.assertEqual((asked["tied_by"], asked["light"], asked["compared"]), ("asked", "amber", []))  # nobody read it back
        (folder / "a.csv").rename(folder / f"a-{sent['calibration']}.csv")
        self.assertEqual(self.json("bundle", "back", self.job, "--folder", folder, code=1)["tied_by"], "fingerprint")

        # The job has gone on: what comes back is of before, and of another job nothing is taken in.
        self.cli("job", "set", self.job, "boost.cut_kpa", "200")
        self.cli("bundle", "out", self.job, "--folder", self.folder / "two", "--name", "Second")
        self.assertTrue(self.json("bundle", "back", self.job, "--folder", folder, code=1)["gone_on"])
        self.assertIn("First", self.cli("bundle", "back", self.job, "--folder", folder, "--revision", "Second", code=2))
        (folder / "bundle.json").write_bytes((self.folder / "two/bundle.json").read_bytes())
        self.assertIn("of revision Second", self.cli("bundle", "back", self.job, "--folder", folder, code=2))
        other = self.folder / "b.wwjob"
        document = json.loads((ROOT / "data/demo/bramble.json").read_text(encoding="utf-8"))
        document["revisions"] = []
        nothing_sent = self.folder / "nothing-sent.json"
        nothing_sent.write_text(json.dumps(document), encoding="utf-8")
        self.cli("job", "import", other, nothing_sent)
        self.assertIn("bundle.json: expected one that was sent, and none was", self.cli("bundle", "back", other, "--folder", folder, code=2))

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
