# SPDX-License-Identifier: GPL-3.0-or-later
"""The intake sheet and the line of revisions on the command line, and how they end."""
import unittest

from command_line import ROOT, CommandLineTest


class Sheets(CommandLineTest):
    def setUp(self):
        super().setUp()
        self.cli("job", "import", self.job, ROOT / "data/demo/bramble.json")

    def part(self, sheet, name):
        return next(p for p in sheet["parts"] if p["id"] == name)

    def test_what_is_known(self):
        sheet = self.json("sheet", "show", self.job, code=1)
        self.assertFalse(sheet["complete"])
        self.assertEqual(self.part(sheet, "surge_tank")["fitted"], False)
        self.assertIn(("tank.capacity_l", "stated"), [(f["path"], f["known"]) for f in self.part(sheet, "tank")["figures"]])
        self.assertIn("not looked at", self.cli("sheet", "show", self.job, code=1))

    def test_complete_only_when_all_is_stated(self):
        self.cli("job", "set", self.job, "engine.charge_cooler", "not_stated")
        self.cli("sheet", "inspect", self.job, "plugs_gap")
        for name in [p["id"] for p in self.json("sheet", "show", self.job, code=1)["parts"] if p["fitted"]]:
            self.cli("sheet", "confirm", self.job, name)
        sheet = self.json("sheet", "show", self.job, code=1)
        left = {p["id"]: [f["path"] for f in p["figures"] if f["known"] != "stated"] for p in sheet["parts"] if p["fitted"] and p["known"] != "stated"}
        self.assertIn("engine.charge_cooler", left.get("cooler", []))  # 'not stated' is no statement
        for paths in left.values():
            for path in paths:
                get = self.json("job", "get", self.job, path)
                if path == "engine.charge_cooler":
                    self.cli("job", "set", self.job, path, "air")
                elif path == "boost.spring_kpa":
                    self.cli("job", "set", self.job, path, "60")
                elif path == "content_sensor.on_fault":
                    self.cli("job", "set", self.job, path, "hold")
                elif path == "supply.pumps":
                    self.cli("job", "add", self.job, "supply.pump_points", "pump=P", "voltage_v=13.5", "pressure_kpa=300", "flow_l_min=3")
                    self.cli("job", "add", self.job, "supply.pumps", "pump=P", "count=1")
                elif path == "boost.points":
                    self.cli("job", "add", self.job, "boost.points", "duty=0.2", "boost_kpa=70")
                else:
                    self.fail((path, get))
        self.assertTrue(self.json("sheet", "show", self.job)["complete"])
        self.cli("sheet", "inspect", self.job, "oil", "--wrong", "--note", "milky")
        self.assertEqual(self.part(self.json("sheet", "show", self.job, code=1), "cylinders")["inspected"], "wrong")

    def test_inspections(self):
        self.assertEqual(self.part(self.json("sheet", "show", self.job, code=1), "ignition")["inspected"], "wrong")
        self.cli("sheet", "inspect", self.job, "plugs_gap")  # the last word counts
        after = self.json("sheet", "inspect", self.job, "base_timing", "--note", "by light")
        ignition = self.part(after, "ignition")
        self.assertEqual(ignition["inspected"], "good")
        mark = next(i for i in ignition["inspections"] if i["item"] == "base_timing")
        self.assertEqual((mark["wrong"], mark["note"]), (False, "by light"))
        self.assertEqual(self.json("job", "get", self.job, "spark.base_timing_checked")["value"], True)
        self.assertIn("one of tank_clean", self.cli("sheet", "inspect", self.job, "luck", code=2))

    def test_parts_come_and_go(self):
        after = self.json("sheet", "fit", self.job, "surge_tank")
        self.assertEqual((self.part(after, "surge_tank")["fitted"], self.part(after, "surge_tank")["known"]), (True, "estimated"))
        self.cli("job", "set", self.job, "tank.surge_l", "2")
        self.assertEqual(self.part(self.json("sheet", "show", self.job, code=1), "surge_tank")["figures"][0], {"path": "tank.surge_l", "said": "holds 2 L", "known": "stated"})
        self.assertEqual(self.part(self.json("sheet", "remove", self.job, "surge_tank"), "surge_tank")["fitted"], False)
        self.assertIn("injectors: expected a part that can be fitted", self.cli("sheet", "fit", self.job, "injectors", code=2))
        self.assertIn("part: expected one of", self.cli("sheet", "fit", self.job, "gearbox", code=2))

    def test_revisions_are_a_line(self):
        def line(answer):
            return [(r["name"], r["parent"], r["current"]) for r in answer["revisions"][-3:]]
        before = len(self.json("revision", "list", self.job)["revisions"])
        self.cli("revision", "keep", self.job, "One")
        self.cli("revision", "keep", self.job, "Two")
        self.cli("revision", "restore", self.job, "One")
        self.assertEqual(line(self.json("revision", "keep", self.job, "Three")), [("One", line(self.json("revision", "list", self.job))[0][1], False), ("Two", "One", False), ("Three", "One", True)])
        self.assertTrue(self.json("revision", "mark-returned", self.job, "Two")["revisions"][-2]["came_back"])
        self.assertTrue(self.json("revision", "release", self.job, "Three")["revisions"][-1]["released"])
        after = self.json("revision", "remove", self.job, "One")
        self.assertEqual(len(after["revisions"]), before + 2)
        self.assertEqual({r["parent"] for r in after["revisions"][-2:]}, {after["revisions"][-3]["name"] if before else ""})
        self.assertIn("expected the name", self.cli("revision", "remove", self.job, "One", code=2))

    def test_two_jobs_differ_in_a_table_of_its_own(self):
        other = self.folder / "b.wwjob"
        self.cli("job", "import", self.job.parent / "c.wwjob", ROOT / "data/demo/thistle.json")
        other.write_bytes((self.job.parent / "c.wwjob").read_bytes())
        self.cli("table", "edit", other, "extras.Pump fuel", "--expression", "-1")
        (found,) = self.json("diff", self.job.parent / "c.wwjob", other, code=1)["differences"]
        self.assertEqual((found["changed_cells"], found["worst"], "rpm" in found), (42, -1, False))

    def test_the_line_says_what_changed_and_what_was_made_with_it(self):
        self.cli("revision", "keep", self.job, "One")
        self.cli("job", "set", self.job, "engine.rev_limit_rpm", "7300")
        self.cli("revision", "keep", self.job, "Two")
        self.cli("revision", "restore", self.job, "One")
        line = self.json("revision", "line", self.job)
        marks = {m["name"]: m for m in line["marks"]}
        self.assertEqual((marks["One"]["now"], marks["One"]["lane"], marks["Two"]["lane"], line["lanes"]), (True, 0, 1, 2))
        self.assertEqual([(d["path"], d["said"], d["before"] != d["after"]) for d in marks["Two"]["changed"]], [("engine.rev_limit_rpm", "7300 rpm", True)])
        self.assertEqual([d["after"] for d in self.json("revision", "compare", self.job, "One", "Two", code=1)["differences"]], ["7300"])
        self.assertEqual([d["before"] for d in self.json("revision", "compare", self.job, "Two", "One", code=1)["differences"]], ["7300"])
        self.assertTrue(self.json("revision", "compare", self.job, "One")["same"])
        self.cli("job", "set", self.job, "engine.rev_limit_rpm", "7100")
        last = self.json("revision", "line", self.job)["marks"][-1]
        self.assertEqual((last["name"], last["now"], last["made_from"], last["changed"][0]["after"]), (None, True, "One", "7100"))
        self.cli("revision", "rename", self.job, "One", "First")
        self.cli("revision", "note", self.job, "First", "as it came")
        named = self.json("revision", "list", self.job)["revisions"]
        self.assertEqual([(r["name"], r["parent"], r["note"]) for r in named[-2:]], [("First", named[-2]["parent"], "as it came"), ("Two", "First", "")])
        self.assertIn("a name of its own", self.cli("revision", "rename", self.job, "First", "Two", code=2))
        self.assertIn("expected the name", self.cli("revision", "compare", self.job, "Nine", code=2))


if __name__ == "__main__":
    unittest.main()
