# SPDX-License-Identifier: GPL-3.0-or-later
"""Logs come in: against pandas and against what a small writer of MDF put there, value by value."""
import io
import json
import shutil
import signal
import struct
import subprocess
import sys
import time
import unittest

import numpy
import pandas

from command_line import CLI, ROOT, CommandLineTest

sys.path.insert(0, str(ROOT / "tests/support"))
import mdf_writer  # noqa: E402

KPA_PER_PSI, KPA_PER_INHG, AMBIENT = 6.894757293168, 3.386388640341, 101.325  # NIST SP 811; the job's default


class Logs(CommandLineTest):
    def setUp(self):
        super().setUp()
        self.run_cli("job", "new", self.job)

    def file(self, text, name="log.csv", encoding="utf-8"):
        path = self.folder / name
        path.write_bytes(text if isinstance(text, bytes) else text.encode(encoding))
        return path

    def imported(self, text, *options, name="log.csv", encoding="utf-8", code=0):
        path = self.file(text, name, encoding)
        return self.json("log", "import", self.job, path, *options, code=code)

    def channel(self, answer, role):
        found = [c for c in answer["channels"] if c["role"] == role]
        self.assertEqual(len(found), 1, (role, answer["channels"]))
        return found[0]

    def exported(self, log):
        text = self.run_cli("log", "export", self.job, "--log", log, "--csv", "-").stdout
        return pandas.read_csv(io.StringIO(text), skiprows=[1], float_precision="round_trip")

    # Text, in all its shapes.

    def test_values_are_those_that_pandas_reads(self):
        for path in sorted((ROOT / "data/demo/logs").glob("*.csv")):
            answer = self.json("log", "import", self.job, path)
            expected = pandas.read_csv(path)
            self.assertEqual(answer["rows"], len(expected))
            names = [c["name"] for c in answer["channels"]]
            self.assertEqual(names, list(expected.columns))
            for channel in answer["channels"]:
                column = expected[channel["name"]]
                self.assertEqual((channel["samples"], channel["missing"]), (column.notna().sum(), column.isna().sum()))
            got = self.exported(answer["id"])
            self.assertEqual(len(got), len(expected))
            numpy.testing.assert_array_equal(got["time"], expected["time_s"])
            for name in ("rpm", "map_kpa", "lambda", "spark_deg", "coolant_c"):  # no conversion: the same 4 bytes
                numpy.testing.assert_array_equal(got[name].astype(numpy.float32), expected[name].astype(numpy.float32))
            numpy.testing.assert_allclose(got["ethanol_percent"], expected["ethanol_percent"] / 100, rtol=1e-6)
            numpy.testing.assert_allclose(got["rail_kpa"], expected["rail_kpa"] + AMBIENT, rtol=1e-6)

    def test_units_come_out_in_si(self):
        text = ("Time (ms),Engine Speed (rpm),Boost (psi),AFR,Coolant Temp (°F),TPS (%),Flex Fuel %,IAT (°C),Battery (mV),"
                "Speed (mph),Manifold Vac (inHg abs),Torque (lb-ft),Power (hp),Inj PW (us)\n"
                "0,1000,-7.25,14.7,212,0,10,20,13900,0,20,100,50,2500\n"
                "10,6000,14.5,11.76,194,100,85,45,13800,62,40,300,340,12500\n")
        a = self.imported(text)
        by = {c["role"]: c for c in a["channels"]}
        want = {"time": (0, 0.01, "s"), "rpm": (1000, 6000, "rpm"), "map": (AMBIENT - 7.25 * KPA_PER_PSI, AMBIENT + 14.5 * KPA_PER_PSI, "kPa"),
                "lambda": (0.8, 1, "λ"), "coolant_temp": (90, 100, "°C"), "throttle": (0, 1, "fraction"), "ethanol": (0.1, 0.85, "fraction"),
                "intake_temp": (20, 45, "°C"), "battery": (13.8, 13.9, "V"), "speed": (0, 62 * 1.609344, "km/h"),
                "torque": (100 * 1.3558179483, 300 * 1.3558179483, "N·m"), "power": (50 * 0.74569987158, 340 * 0.74569987158, "kW"),
                "pulse_width": (2.5, 12.5, "ms")}
        for role, (low, high, unit) in want.items():
            self.assertAlmostEqual(by[role]["min"], low, delta=2e-5 * max(1, abs(low)), msg=role)
            self.assertAlmostEqual(by[role]["max"], high, delta=2e-5 * max(1, abs(high)), msg=role)
            self.assertEqual(by[role]["unit"], unit)
        self.assertEqual(a["span_s"], 0.01)
        self.assertAlmostEqual(a["content"], (0.1 + 0.85) / 2, places=6)

    def test_shapes_of_text_are_the_same_log(self):
        plain = "time,rpm,map\ns,rpm,kPa\n0.5,1000,50.5\n1.0,2000,\n1.5,3000,150.25\n"
        shapes = {
            "semicolons and decimal commas": plain.replace(",", ";").replace(".", ","),
            "tabs": plain.replace(",", "\t"),
            "bars": plain.replace(",", "|"),
            "CRLF and BOM": "\ufeff" + plain.replace("\n", "\r\n"),
            "CR alone": plain.replace("\n", "\r"),
            "no line end": plain[:-1],
            "quotes": plain.replace("time", '"time"').replace("1000", '"1000"'),
            "quoted names with delimiters": plain.replace("rpm,map", '"rpm",map'),
            "remarks and blank lines": "# made by hand\n\n" + plain.replace("1.0,", "# pause\n\n1.0,"),
            "several lines before": "Logger;x\nDate: 2001-02-03\n" + plain,
            "units in the names": plain.replace("time,rpm,map\ns,rpm,kPa", "time (s),rpm [rpm],map (kPa)"),
            "a delimiter at the end": plain.replace("\n", ",\n"),
            "blanks around": plain.replace(",", " , "),
            "a missing word": plain.replace("2000,", "2000,NaN"),
        }
        first = self.imported(plain)
        self.run_cli("log", "remove", self.job, "--log", first["id"])
        for what, text in shapes.items():
            a = self.imported(text)
            self.assertEqual(a["id"], first["id"], what)  # the same samples have the same name
            self.assertEqual([(c["role"], c["min"], c["max"]) for c in a["channels"]], [(c["role"], c["min"], c["max"]) for c in first["channels"]], what)
            self.run_cli("log", "remove", self.job, "--log", a["id"])
        for encoding in ("utf-16", "utf-16-le", "utf-16-be"):
            self.assertEqual(self.imported(plain, encoding=encoding)["id"], first["id"])
            self.run_cli("log", "remove", self.job, "--log", first["id"])
        text = plain.replace("time,rpm,map\ns,rpm,kPa", "time;rpm;Kühlmittel °C\ns;rpm;°C").replace(",", ";")
        self.assertEqual(self.imported(text, encoding="cp1252")["channels"][2]["name"], "Kühlmittel °C")

    def test_words_events_clocks_and_repeated_names(self):
        text = ('time,lambda,lambda,mode,event\n12:00:00.0,0.9,0.91,open,\n12:00:00.1,0.9,,closed,"mark, one"\n'
                "12:00:00.3,0.8,0.93,open,\n")
        a = self.imported(text)
        self.assertAlmostEqual(a["span_s"], 0.3)
        self.assertEqual([c["role"] for c in a["channels"]], ["time", "lambda", "none", "none", "none"])
        self.assertEqual((a["channels"][3]["texts"], a["channels"][3]["samples"]), (["open", "closed"], 3))
        self.assertEqual((a["channels"][4]["texts"], a["channels"][4]["missing"]), (["mark, one"], 2))
        got = self.exported(a["id"])
        self.assertEqual(list(got["mode"]), ["open", "closed", "open"])
        dates = self.imported("Date Time;rpm\n2001-02-03 23:59:59,5;900\n2001-02-04 00:00:00,5;950\n", name="d.csv")
        self.assertAlmostEqual(dates["span_s"], 1)

    def test_what_is_wrong_is_said_and_nothing_is_left(self):
        good = "time,rpm,map\n" + "".join(f"{i / 10},{1000 + i},50\n" for i in range(100))
        lines = good.splitlines(keepends=True)
        for bad, words in ((lines[50].replace(",50", ""), ["line 51 (row 50)", "3 columns", "2", "49 rows"]),
                           (lines[50].replace(",50", ",50,60"), ["line 51", "3 columns", "4"]),
                           (lines[50].replace(",50", ",5O"), ["line 51", "column 3", "a number", "5O"]),
                           ('4.9,"1049,50\n', ["closing quote"])):
            path = self.file("".join([*lines[:50], bad, *lines[51:]]))
            before = self.job.read_bytes()
            self.refused("log", "import", self.job, path, words=[*words, "log.csv"])
            self.assertEqual(self.json("log", "list", self.job)["logs"], [])
            self.assertEqual(len(self.job.read_bytes()), len(before))
            part = self.json("log", "import", self.job, path, "--partly")
            self.assertEqual(part["rows"], 49)
            self.assertTrue(any("Read only up to" in w for w in part["warnings"]), part["warnings"])
            self.run_cli("log", "remove", self.job, "--log", part["id"])
        for content, words in (("", ["empty file"]), (bytes(range(256)) * 100, ["binary"]), ("a,b\nc,d\n", ["rows of numbers"]),
                               ("rpm,map\n1,2\n2,3\n", ["time"]), ("t," * 4100 + "x\n" + "1," * 4100 + "1\n" + "2," * 4100 + "1\n", ["4096 columns"]),
                               ("MDF     3.30    ", ["version 4"])):
            self.refused("log", "import", self.job, self.file(content), words=words)
        self.refused("log", "import", self.job, self.folder, words=["a folder"])
        self.refused("log", "import", self.job, self.folder / "none.csv", words=["no file of that name"])

    def test_more_columns_than_a_log_may_have(self):
        wide = "time," + ",".join(f"c{i}" for i in range(4999)) + "\n" + "".join(f"{t}," + ",".join(["1"] * 4999) + "\n" for t in range(3))
        path = self.file(wide)
        self.refused("log", "import", self.job, path, words=["4096 columns", "5000"])
        part = self.json("log", "import", self.job, path, "--partly")
        self.assertEqual((part["rows"], len(part["channels"])), (3, 4096))
        self.assertIn("first 4096 columns are taken, 904 are left out", part["warnings"][0])

    def test_warnings_name_their_row(self):
        rows = [f"{i / 10},{1000 + i},50" for i in range(60)]
        rows[20] = "1.85,1020,50"   # back by 0.05 s: row 21
        rows[30] = "3.0,99000,50"   # no engine: row 31
        rows[40] = "4.0,inf,50"     # row 41
        a = self.imported("time,rpm,map_kpa\n" + "\n".join(rows) + "\n5.9,10")
        self.assertEqual(a["rows"], 60)
        self.assertAlmostEqual(a["span_s"], 5.9)
        said = "\n".join(a["warnings"])
        for words in ("first in row 21 by 0.050 s", "first in row 31: 99000 rpm", "first in row 41, column 2", "line, 62, is not whole"):
            self.assertIn(words, said)
        self.assertEqual(self.channel(a, "rpm")["missing"], 1)
        # Another recording behind the first.
        b = self.imported("time,rpm\n" + "".join(f"{i % 50 / 10},{1000 + i}\n" for i in range(100)), name="two.csv")
        self.assertIn("begins again 1 times, first in row 51", "\n".join(b["warnings"]))
        self.assertAlmostEqual(b["span_s"], 9.9)
        got = self.exported(b["id"])
        numpy.testing.assert_allclose(got["time"], numpy.arange(100) / 10, atol=1e-9)

    def test_a_cut_file_is_whole_rows_or_a_sentence(self):
        text = "time,rpm,map_kpa,mode\n0.0,1000,50.5,open\n0.1,1010,51.5,shut\n0.2,1020,52.5,\"a, b\"\n"
        whole = self.imported(text)["rows"]
        self.run_cli("job", "new", self.folder / "b.wwjob")
        self.assertEqual(whole, 3)
        for end in range(len(text)):
            path = self.file(text[:end], "cut.csv")
            job = self.folder / "b.wwjob"
            result = subprocess.run([CLI, "log", "import", job, path, "--json"], capture_output=True, text=True)
            if result.returncode == 2:
                self.assertEqual(len(result.stderr.splitlines()), 1, result.stderr)
                continue
            answer = json.loads(result.stdout)
            self.assertIn(answer["rows"], (text[:end].count("\n") - 1, text[:end].count("\n")), text[:end])
            self.run_cli("log", "remove", job, "--log", answer["id"])

    # The map.

    def test_a_map_is_suggested_taken_and_remembered(self):
        text = "t;Mystery;Lam\n0;10;0,9\n0,1;20;1,0\n0,2;30;1,1\n"
        path = self.file(text)
        suggested = json.loads(self.run_cli("log", "map", path).stdout)
        self.assertEqual([c["role"] for c in suggested["columns"]], ["time", "none", "lambda"])
        self.assertEqual((suggested["decimal"], suggested["delimiter"]), (",", ";"))
        suggested["columns"][1].update(role="boost_target", unit="psi", reference="gauge")
        suggested["columns"][2].update(role="skip")
        mapped = self.file(json.dumps(suggested), "map.json")
        a = self.json("log", "import", self.job, path, "--map", mapped)
        self.assertEqual([c["role"] for c in a["channels"]], ["time", "boost_target"])
        self.assertAlmostEqual(self.channel(a, "boost_target")["max"], AMBIENT + 30 * KPA_PER_PSI, places=3)

    def test_scales_of_afr(self):
        path = self.file("time,afr\n0,11.76\n1,11.76\n2,11.76\n")
        for scale, stoich in (("gasoline", 14.7), (12.5, 12.5), ("true", None)):
            mapped = self.file(json.dumps({"columns": [{"name": "time", "role": "time", "unit": "s"}, {"name": "afr", "role": "lambda", "unit": "AFR", "scale": scale}]}), "m.json")
            a = self.json("log", "import", self.job, path, "--map", mapped, "--content", 0.5)
            if stoich is None:
                stoich = self.json("fuel", "--ethanol", 0.5)["stoich_afr"]
            self.assertAlmostEqual(self.channel(a, "lambda")["mean"], 11.76 / stoich, places=6)
            self.run_cli("log", "remove", self.job, "--log", a["id"])

    def test_maps_that_cannot_be(self):
        path = self.file("time,rpm,map\n0,1000,50\n1,2000,60\n")
        time_column = {"name": "time", "role": "time", "unit": "s"}
        for columns, words in (([{"name": "time", "role": "tempo"}], ["columns 1 role"]), ([{"role": "time"}], ["columns 1", "a name"]),
                               ([time_column, {"name": "nobody", "role": "rpm"}], ["nobody"]), ([{"name": "rpm", "role": "rpm"}], ["time"]),
                               ([time_column, {"name": "rpm", "role": "map", "unit": "°C"}], ["'rpm'", "kPa", "°C"]),
                               ([time_column, {"name": "rpm", "role": "map", "unit": "furlong"}], ["furlong"]),
                               ([time_column, {"name": "rpm", "role": "rpm"}, {"name": "map", "role": "rpm"}], ["Engine speed"]),
                               ([time_column, {"name": "rpm", "role": "lambda", "unit": "AFR", "scale": 1}], ["stoichiometry"])):
            mapped = self.file(json.dumps({"columns": columns}), "m.json")
            self.refused("log", "import", self.job, path, "--map", mapped, words=words)
        for text in ("{", "[]", '{"columns": 3}', '{"kolumns": []}'):
            self.refused("log", "import", self.job, path, "--map", self.file(text, "m.json"), words=["m.json"])

    # Kept, shown, removed.

    def test_list_info_remove_and_revisions(self):
        a = self.imported("time,rpm\n0,1000\n1,2000\n", "--note", "first pull")
        self.assertEqual((a["revision"], a["note"], a["content_basis"]), ("", "first pull", "none"))
        self.assertNotIn("content", a)
        self.refused("log", "import", self.job, self.folder / "log.csv", words=["the same samples", a["id"]])
        self.run_cli("revision", "keep", self.job, "base")
        b = self.imported("time,rpm\n0,1000\n1,2001\n", "--revision", "base", "--content", "0.3", name="b.csv")
        self.assertEqual((b["revision"], b["content"], b["calibration"]), ("base", 0.3, a["calibration"]))
        self.run_cli("table", "edit", self.job, "spark.base", "--expression", "+1")
        c = self.imported("time,rpm\n0,1000\n1,2002\n", name="c.csv")
        self.assertNotEqual(c["calibration"], a["calibration"])
        self.refused("log", "import", self.job, self.file("time,rpm\n0,1\n1,2\n"), "--revision", "no", words=["revision"])
        self.assertEqual([x["name"] for x in self.json("log", "list", self.job)["logs"]], ["log.csv", "b.csv", "c.csv"])
        self.assertEqual(self.json("log", "info", self.job, "--log", "b.csv")["id"], b["id"])
        self.assertEqual(len(self.json("log", "info", self.job, "--log", b["id"])["source_hash"]), 32)
        self.run_cli("log", "remove", self.job, "--log", b["id"])
        self.refused("log", "export", self.job, "--log", b["id"], "--csv", "-", words=["--log"])
        self.assertEqual(len(self.exported(c["id"])), 2)

    def test_a_document_takes_its_logs_along(self):
        a = self.json("log", "import", self.job, ROOT / "data/demo/logs/thistle-e62-road.csv")
        self.imported("time,rpm,mode,gap\n0,1000,x,\n0.5,1001,,3\n1e-9,1002,\"y, z\",\n", name="odd.csv")
        document = self.folder / "doc.json"
        self.run_cli("job", "export", self.job, document)
        self.assertEqual(len(list((self.folder / "doc-logs").iterdir())), 2)
        again = self.folder / "again.wwjob"
        self.assertNotIn("logs_without_samples", self.json("job", "import", again, document))
        for log in self.json("log", "list", self.job)["logs"]:
            one = self.run_cli("log", "export", self.job, "--log", log["id"], "--csv", "-").stdout
            self.assertEqual(self.run_cli("log", "export", again, "--log", log["id"], "--csv", "-").stdout, one)
        series = next((self.folder / "doc-logs").glob(a["id"] + "*"))
        series.write_text(series.read_text().replace("923", "924", 1))
        self.refused("job", "import", self.folder / "x.wwjob", document, words=[a["id"], "others"])
        self.assertFalse((self.folder / "x.wwjob").exists())
        shutil.rmtree(self.folder / "doc-logs")
        self.assertEqual(self.json("job", "import", self.folder / "x.wwjob", document)["logs_without_samples"], 2)
        self.refused("log", "export", self.folder / "x.wwjob", "--log", a["id"], "--csv", "-", words=["samples"])

    def test_killed_while_it_imports(self):
        rows = "".join(f"{i / 100},{1000 + i % 5000},{i % 977 / 7:.3f}\n" for i in range(400_000))
        path = self.file("time,rpm,map_kpa\n" + rows)
        killed = 0
        for wait in (0.02, 0.05, 0.1, 0.15, 0.2, 0.3, 0.4, 0.6):
            process = subprocess.Popen([CLI, "log", "import", self.job, path, "--json"], stdout=subprocess.DEVNULL)
            time.sleep(wait)
            process.send_signal(signal.SIGKILL)
            killed += process.wait() != 0
            logs = self.json("log", "list", self.job)["logs"]
            self.assertIn(len(logs), (0, 1))
            for log in logs:  # it was faster than the kill: all of it is there
                self.assertEqual(len(self.exported(log["id"])), 400_000)
                self.run_cli("log", "remove", self.job, "--log", log["id"])
        self.assertGreater(killed, 0)
        self.assertEqual(self.json("log", "import", self.job, path)["rows"], 400_000)

    # Judged.

    def demo(self, *logs):
        job = self.folder / "demo.wwjob"
        self.run_cli("job", "import", job, ROOT / "data/demo/thistle.json")
        return job, [self.json("log", "import", job, ROOT / f"data/demo/logs/{log}.csv")["id"] for log in logs]

    def test_episodes_and_findings(self):
        job, (road, pump) = self.demo("thistle-e62-road", "thistle-e62-pump")
        episodes = self.json("log", "episodes", job, "--log", road)
        pulls = [e for e in episodes if e["kind"] == "pull"]
        self.assertEqual(len(pulls), 1)
        self.assertEqual(set(pulls[0]), {"kind", "from_s", "to_s", "rpm_from", "rpm_to", "peak_load_kpa", "content"})
        table = pandas.read_csv(ROOT / "data/demo/logs/thistle-e62-road.csv")
        inside = table[(table.time_s >= pulls[0]["from_s"]) & (table.time_s <= pulls[0]["to_s"])]
        self.assertAlmostEqual(inside.map_kpa.max(), pulls[0]["peak_load_kpa"], places=3)
        self.assertAlmostEqual(inside.ethanol_percent.mean() / 100, pulls[0]["content"], places=4)
        self.assertTrue((inside.throttle_percent >= 80).all())
        findings = self.json("log", "findings", job, "--log", pump, code=1)
        by = {f["rule"]: f for f in findings}
        self.assertLessEqual({"lean", "rail_sag", "content_jump", "content_moved", "knock"}, set(by))
        lean, table = by["lean"], pandas.read_csv(ROOT / "data/demo/logs/thistle-e62-pump.csv")
        row = table[(table.time_s - lean["worst_s"]).abs() < 0.001].iloc[0]
        self.assertAlmostEqual(row["lambda"], lean["worst"], places=4)
        self.assertAlmostEqual(row.lambda_target + 0.03, lean["limit"], delta=0.01)
        self.assertIn("fuel supply", lean["causes"][0]["cause"])
        self.assertIn("rail pressure sags here", lean["causes"][0]["for"])
        # A limit of the job's own is what the rule goes by.
        self.run_cli("job", "set", job, "limits.watch.lean", "0.2")
        wide = {f["rule"]: f for f in self.json("log", "findings", job, "--log", pump, code=1)}
        self.assertNotEqual(wide.get("lean"), lean)
        self.run_cli("job", "set", job, "limits.watch.lean", "shipped")
        again = {f["rule"]: f for f in self.json("log", "findings", job, "--log", pump, code=1)}
        self.assertEqual(again["lean"], lean)
        quiet = self.imported("time,rpm,coolant (°C)\n" + "".join(f"{i / 10},{3000 + i},90\n" for i in range(50)), name="quiet.csv")
        answer = self.run_cli("log", "findings", self.job, "--log", quiet["id"], "--json", code=1)
        self.assertEqual(json.loads(answer.stdout), [])
        self.assertIn("not asked: lean", answer.stderr)  # and nobody calls that clean
        self.assertNotIn("not asked: coolant", answer.stderr)

    def test_a_channel_that_falls_silent_in_a_pull_is_said(self):
        job, (whole,) = self.demo("thistle-e62-pulls")
        before = self.run_cli("log", "findings", job, "--log", whole, "--json", code=1).stderr
        self.assertNotIn("is silent for a part of it", before)
        pull = next(e for e in self.json("log", "episodes", job, "--log", whole) if e["kind"] == "pull")
        table = pandas.read_csv(ROOT / "data/demo/logs/thistle-e62-pulls.csv", dtype=str)
        time = table.time_s.astype(float)
        table.loc[(time > pull["to_s"] - 2) & (time < pull["to_s"]), "lambda"] = ""
        deaf = self.json("log", "import", job, self.file(table.to_csv(index=False), "deaf.csv"))["id"]
        said = self.run_cli("log", "findings", job, "--log", deaf, "--json", code=1).stderr.splitlines()
        said = [line for line in said if line not in before.splitlines()]
        self.assertEqual(len(said), 1, said)
        self.assertRegex(said[0], r"^not asked: lean in the pull from [\d.]+ to [\d.]+ s \(lambda is silent for a part of it\)$")
        self.assertAlmostEqual(float(said[0].split()[7]), pull["from_s"], places=2)
        # The exit code says the same: good is what was asked all through, and quiet.
        table = pandas.read_csv(ROOT / "data/demo/logs/thistle-e62-pulls.csv", dtype=str)
        time = table.time_s.astype(float)
        calm = table[(time > 2) & (time < pull["from_s"] - 1)]
        for name, gone, code in (("calm", [], 0), ("poor", ["oil_kpa"], 1)):
            text = calm.drop(columns=gone).to_csv(index=False)
            log = self.json("log", "import", job, self.file(text, f"{name}.csv"))["id"]
            answer = self.run_cli("log", "findings", job, "--log", log, "--json", code=code)
            self.assertEqual((json.loads(answer.stdout), "not asked: oil" in answer.stderr), ([], code == 1))

    def test_tables_that_are_gone_are_not_judged(self):
        job, (road,) = self.demo("thistle-e62-road")
        before = self.run_cli("log", "findings", job, "--log", road, "--json", code=1)
        self.assertNotIn("spark_off", before.stderr)
        self.run_cli("table", "edit", job, "spark.base", "--expression", "+5")
        self.run_cli("table", "edit", job, "spark.top", "--expression", "+5")
        # The calibration that it ran with is kept with the log …
        after = self.run_cli("log", "findings", job, "--log", road, "--json", code=1)
        self.assertEqual((after.stdout, after.stderr), (before.stdout, before.stderr))
        self.run_cli("job", "remove", job, "revisions", "Strong fuel")  # the demo has kept it under this name
        # … and once nobody knows it any more, nobody asks what it would say.
        after = self.run_cli("log", "findings", job, "--log", road, "--json", code=1)
        self.assertIn("not asked: spark_off", after.stderr)
        self.assertNotIn("spark_off", {f["rule"] for f in json.loads(after.stdout)})

    def test_cleaning_against_pandas(self):
        job, (log,) = self.demo("thistle-e10-baseline")
        answer = self.json("log", "cleaning", job, "--log", log)
        table = pandas.read_csv(ROOT / "data/demo/logs/thistle-e10-baseline.csv")
        by = {f["filter"]: f for f in answer["filters"]}
        self.assertEqual(answer["samples"], len(table))
        kept = table
        for name, takes in (("running", kept.rpm < 400), ("coolant", kept.coolant_c < 70)):
            self.assertEqual((by[name]["before"], by[name]["taken"]), (len(kept), int(takes.sum())), name)
            kept = kept[~takes]
            table = kept
        self.assertEqual(by["coolant"]["limits"], {"clean.coolant": 70})
        for a, b in zip(answer["filters"], answer["filters"][1:]):
            self.assertEqual(a["before"] - a["taken"], b["before"])
        last = answer["filters"][-1]
        self.assertEqual(last["before"] - last["taken"], answer["left"])
        self.assertGreater(by["fuel_cut"]["taken"], 0)

    def test_content_of_a_log(self):
        job, (moving, still) = self.demo("thistle-pour-to-e41", "thistle-e62-road")
        answer = self.json("log", "content", job, "--log", moving, code=1)
        self.assertEqual((answer["settled"], answer["usable"], answer["stated"]), (False, False, False))
        table = pandas.read_csv(ROOT / "data/demo/logs/thistle-pour-to-e41.csv")
        running = table[table.rpm > 300].ethanol_percent / 100
        self.assertAlmostEqual(answer["least"], running.min(), delta=0.005)
        self.assertAlmostEqual(answer["most"], running.max(), delta=0.005)
        # The fastest minute of the log, by a straight second way: half a minute against the next.
        halves = [table[(table.time_s >= t) & (table.time_s < t + 30)].ethanol_percent.mean() for t in range(0, 121)]
        pace = max(abs(b - a) * 2 for a, b in zip(halves, halves[30:])) / 100
        self.assertAlmostEqual(answer["moved_per_minute"], pace, delta=0.25 * pace)
        self.assertFalse(all(s["settled"] for s in answer["stretches"]))
        self.assertAlmostEqual(sum(s["to_s"] - s["from_s"] for s in answer["stretches"]), answer["stretches"][-1]["to_s"] - answer["stretches"][0]["from_s"], delta=0.2 * len(answer["stretches"]))
        self.assertEqual(self.json("log", "state", job, "--log", moving, "--content", "0.41")["content_basis"], "stated")
        told = json.loads(self.run_cli("log", "content", job, "--log", moving, "--json", code=1).stdout)
        self.assertEqual((told["usable"], told["stated"], told["content"]), (True, True, 0.41))
        self.assertEqual(self.json("log", "state", job, "--log", moving)["content_basis"], "channel")
        answer = json.loads(self.run_cli("log", "content", job, "--log", still, "--json", code=1).stdout)
        self.assertTrue(answer["usable"])  # and the tank knows of no such fuel: that is the finding
        self.assertFalse(all(b["agrees"] for b in answer["beside"]))

    def test_an_episode_along_an_axis(self):
        job, (log,) = self.demo("thistle-e62-road")
        episodes = self.json("log", "episodes", job, "--log", log)
        number = next(i for i, e in enumerate(episodes) if e["kind"] == "pull")
        table = pandas.read_csv(ROOT / "data/demo/logs/thistle-e62-road.csv")
        inside = table[(table.time_s >= episodes[number]["from_s"] - 1e-6) & (table.time_s <= episodes[number]["to_s"] + 1e-6)]
        answer = self.json("log", "along", job, "--log", log, "--episode", number + 1, "--role", "map", "--over", "rpm")
        self.assertEqual([p["rpm"] for p in answer["points"]], list(inside.rpm))
        for point, value in zip(answer["points"], inside.map_kpa):
            self.assertAlmostEqual(point["value"], value, places=3)
        metres = [p["distance_m"] for p in self.json("log", "along", job, "--log", log, "--episode", number + 1, "--over", "distance")["points"]]
        self.assertAlmostEqual(metres[-1], numpy.trapz(inside.speed_km_h / 3.6, inside.time_s), delta=0.01)
        self.refused("log", "along", job, "--log", log, "--episode", "999", words=["--episode", "999"])
        self.refused("log", "along", job, "--log", log, "--role", "nothing", words=["--role", "nothing"])
        self.refused("log", "along", job, "--log", log, "--over", "moon", words=["--over", "moon"])

    def test_visits_of_a_cell(self):
        job, (road, base) = self.demo("thistle-e62-road", "thistle-e10-baseline")
        cells = self.json("evidence", "coverage", job)
        rpm, load = sorted({c["rpm"] for c in cells}), sorted({c["load_kpa"] for c in cells})
        table = pandas.read_csv(ROOT / "data/demo/logs/thistle-e62-road.csv")
        most = table[(table.throttle_percent > 90)].iloc[10]
        answer = self.json("evidence", "visits", job, "--rpm", most.rpm, "--load-kpa", most.map_kpa)
        near = lambda axis, v: min(axis, key=lambda a: abs(a - v))  # noqa: E731
        self.assertEqual((answer["rpm"], answer["load_kpa"]), (near(rpm, most.rpm), near(load, most.map_kpa)))
        for log, name in ((road, "thistle-e62-road"), (base, "thistle-e10-baseline")):
            t = pandas.read_csv(ROOT / f"data/demo/logs/{name}.csv")
            there = sum(near(rpm, a) == answer["rpm"] and near(load, b) == answer["load_kpa"] for a, b in zip(t.rpm, t.map_kpa))
            self.assertEqual(sum(v["hits"] for v in answer["visits"] if v["log"] == log), there, name)
        self.assertTrue(any(v.get("episode") == "pull" for v in answer["visits"]))

    def test_a_channel_is_worked_out(self):
        suggested = json.loads(self.run_cli("log", "map", ROOT / "data/demo/logs/thistle-e62-road.csv").stdout)
        for column in suggested["columns"]:
            if column["role"] in ("lambda", "duty"):
                column["role"] = "none"
        suggested["columns"] += [{"name": "λ", "role": "lambda", "unit": "lambda", "formula": "[lambda] * 14.7 / 14.7"},
                                 {"name": "duty", "role": "duty", "unit": "fraction", "formula": "pulse_width * rpm / 120000"}]
        mapping = self.file(json.dumps(suggested), "map.json")
        answer = self.json("log", "import", self.job, ROOT / "data/demo/logs/thistle-e62-road.csv", "--map", mapping)
        table = pandas.read_csv(ROOT / "data/demo/logs/thistle-e62-road.csv")
        self.assertAlmostEqual(self.channel(answer, "lambda")["mean"], table["lambda"].mean(), places=5)
        duty = table.pulse_ms * table.rpm / 120000
        self.assertAlmostEqual(self.channel(answer, "duty")["max"], duty.max(), places=5)
        again = self.folder / "again.wwjob"
        self.run_cli("job", "export", self.job, self.folder / "a.json")
        self.run_cli("job", "import", again, self.folder / "a.json")  # what was worked out goes with it
        self.assertEqual(self.json("log", "info", again, "--log", answer["id"])["channels"], answer["channels"])
        suggested["columns"][-1]["formula"] = "pulse_width * rpn"
        self.refused("log", "import", self.job, ROOT / "data/demo/logs/thistle-e10-hot.csv", "--map",
                     self.file(json.dumps(suggested), "map.json"), words=["duty", "place 15", "rpn"])

    def test_the_verdict_heeds_logs(self):
        job, _ = self.demo("thistle-e78-pulls")
        asked = {c["id"] for c in self.json("verify", job, code=1)["checks"]}
        self.assertIn("spark.unproven", asked)
        self.run_cli("table", "edit", job, "spark.base", "--expression", "+0.1")
        self.assertNotIn("spark.unproven", {c["id"] for c in self.json("verify", job, code=1)["checks"]})

    def test_coverage_is_a_plain_count(self):
        job, ids = self.demo("thistle-e62-road", "thistle-e10-baseline")
        cells = self.json("evidence", "coverage", job)
        rpm, load = sorted({c["rpm"] for c in cells}), sorted({c["load_kpa"] for c in cells})
        bands = sorted({(c["content_from"], c["content_to"]) for c in cells})
        self.assertEqual((bands[0][0], bands[-1][1], len(cells)), (0, 1, len(rpm) * len(load) * len(bands)))
        self.assertTrue(all(a[1] == b[0] for a, b in zip(bands, bands[1:])))
        want = {}

        def shares(axis, v):
            v = min(max(v, axis[0]), axis[-1])
            for a, b in zip(axis, axis[1:]):
                if a <= v <= b:
                    return [(a, (b - v) / (b - a)), (b, (v - a) / (b - a))]

        for log in ("thistle-e62-road", "thistle-e10-baseline"):
            for row in pandas.read_csv(ROOT / f"data/demo/logs/{log}.csv").itertuples():
                if row.rpm < 400 or row.pulse_ms == 0:
                    continue
                band = next(b for b in bands if b[0] <= row.ethanol_percent / 100 < b[1])
                for x, wx in shares(rpm, row.rpm):
                    for y, wy in shares(load, row.map_kpa):
                        want[x, y, band] = want.get((x, y, band), 0) + wx * wy
        for c in cells:
            here = want.get((c["rpm"], c["load_kpa"], (c["content_from"], c["content_to"])), 0)
            self.assertAlmostEqual(c["hits"], here, delta=1e-3, msg=str(c))
            self.assertEqual(c["state"] == "never", c["hits"] < 5)
        states = {s: sum(c["state"] == s for c in cells) for s in ("never", "seen", "proven")}
        self.assertTrue(all(states.values()), states)
        self.assertEqual(len(self.json("evidence", "coverage", job, "--visited")), sum(c["hits"] > 0 for c in cells))
        # Of a calibration that has changed since, nothing is proven.
        self.run_cli("table", "edit", job, "spark.base", "--expression", "+1")
        changed = self.json("evidence", "coverage", job)
        self.assertEqual(sum(c["state"] == "proven" for c in changed), 0)
        self.assertEqual([c["hits"] for c in changed], [c["hits"] for c in cells])

    # MDF: against what the writer put there.

    def mdf(self, packing="plain", piece=0, width=0):
        w = mdf_writer.Writer()
        times = [i * 0.01 for i in range(300)]
        rows = b"".join(struct.pack("<dHhfB", t, 1000 + i, -40 + i, 0.5 + i / 1000, i % 3) + bytes([1 if i % 10 == 0 else 0])
                        for i, t in enumerate(times))
        fast = w.group([w.channel("t", 0, 64, 4, kind=2, sync=1, unit="s"), w.channel("rpm", 8, 16, 0, unit="rpm"),
                        w.channel("coolant temp", 10, 16, 2, unit="°C", conversion=w.conversion(1, [5, 0.5])),
                        w.channel("lambda", 12, 32, 4, flags=2, invalid=0),
                        w.channel("mode", 16, 8, 0, conversion=w.conversion(7, [0, 1, 2], [w.text(x) for x in ("idle", "run", "cut")] + [0]))],
                       0, 300, 17, 1)
        big = b"".join(struct.pack(">fI", i * 0.1, (i << 5) | 3) for i in range(30))
        slow = w.group([w.channel("time", 0, 32, 5, kind=2, sync=1), w.channel("oil pressure", 4, 20, 1, bit=5, unit="kPa"),
                        w.channel("ratio", 7, 5, 1, conversion=w.conversion(2, [0, 2, 1, 0, 0, 4]))], 0, 30, 8)
        groups = [w.data_group([fast], w.data(rows, packing, width or 18, piece)), w.data_group([slow], w.data(big))]
        return w.finish(groups), times

    def test_mdf_in_all_packings(self):
        ids = set()
        for packing, piece in (("plain", 0), ("plain", 1000), ("deflated", 0), ("deflated", 777), ("transposed", 0), ("transposed", 1001)):
            content, times = self.mdf(packing, piece)
            a = self.imported(content, name="log.mf4")
            ids.add(a["id"])
            self.assertEqual((a["rows"], a["warnings"]), (300, []))
            rows = self.exported(a["id"])
            fast = rows[rows["rpm"].notna()]
            numpy.testing.assert_array_equal(fast["time"], times)
            numpy.testing.assert_array_equal(fast["rpm"], numpy.arange(1000, 1300))
            numpy.testing.assert_allclose(fast["coolant temp"], 5 + 0.5 * (numpy.arange(300) - 40))
            expected = [numpy.nan if i % 10 == 0 else numpy.float32(0.5 + i / 1000) for i in range(300)]
            numpy.testing.assert_array_equal(fast["lambda"].astype(numpy.float32), numpy.float32(expected))
            self.assertEqual(list(fast["mode"])[:4], ["idle", "run", "cut", "idle"])
            slow = rows[rows["oil pressure"].notna()]
            numpy.testing.assert_allclose(slow["oil pressure"], numpy.arange(30) + AMBIENT, rtol=1e-6)
            numpy.testing.assert_allclose(slow["ratio"], (2 * 3 + 1) / 4)
            self.run_cli("log", "remove", self.job, "--log", a["id"])
        self.assertEqual(len(ids), 1)

    def test_mdf_unsorted_tables_and_counted_clocks(self):
        w = mdf_writer.Writer()
        one = w.group([w.channel("t", 0, 32, 4, kind=2, sync=1, unit="s"), w.channel("a", 4, 16, 3)], 7, 3, 6)
        two = w.group([w.channel("n", 0, 0, 0, kind=3, sync=1, unit="s", conversion=w.conversion(1, [10, 0.25])),
                       w.channel("b", 0, 8, 2, conversion=w.conversion(4, [-10, 0, 10, 100])),
                       w.channel("c", 0, 8, 2, conversion=w.conversion(5, [-10, 1, 10, 2])),
                       w.channel("d", 0, 8, 2, conversion=w.conversion(6, [-20, -1, 5, 0, 20, 6, 9])),
                       w.channel("s", 1, 24, 7), w.channel("z", 0, 8, 0, conversion=w.conversion(3))], 9, 4, 4)
        names = w.group([], 2, 1, 0, flags=1)
        stream = b""
        for i in range(4):
            if i < 3:
                stream += bytes([7]) + struct.pack("<f", i) + struct.pack(">h", -i)
            if i == 2:
                stream += bytes([2]) + struct.pack("<I", 5) + b"hello"
            stream += bytes([9]) + struct.pack("<b", -20 + 10 * i) + ("x%d" % i).encode() + b"\0"
        content = w.finish([w.data_group([one, two, names], w.data(stream, piece=9), 1)])
        a = self.imported(content, name="u.mf4")
        self.assertIn("'z' is left out: it has a conversion of type 3", a["warnings"][0])
        rows = self.exported(a["id"])
        two = rows[rows["b"].notna()]
        numpy.testing.assert_allclose(two["time"], [10, 10.25, 10.5, 10.75])
        numpy.testing.assert_allclose(two["b"], [0, 0, 50, 100])
        numpy.testing.assert_allclose(two["c"], [1, 1, 1, 2])
        numpy.testing.assert_allclose(two["d"], [5, 5, 6, 6])
        self.assertEqual(list(two["s"]), ["x0", "x1", "x2", "x3"])
        one = rows[rows["a"].notna()]
        numpy.testing.assert_allclose(one["a"], [0, -1, -2])

    def test_mdf_that_is_damaged(self):
        content, _ = self.mdf()
        path = self.file(content, "cut.mf4")
        for end in range(0, len(content), 31):
            path.write_bytes(content[:end])
            result = subprocess.run([CLI, "log", "import", self.job, path, "--json"], capture_output=True, text=True)
            self.assertEqual((result.returncode, len(result.stderr.splitlines())), (2, 1), (end, result.stderr))
        w = mdf_writer.Writer()  # the records last
        group = w.group([w.channel("t", 0, 64, 4, kind=2, sync=1), w.channel("a", 8, 16, 0)], 0, 300, 10)
        stream = w.data_group([group], 0)
        w.link(stream, 2, w.data(b"".join(struct.pack("<dH", i, i) for i in range(300))))
        path.write_bytes(w.finish([stream])[:-400])
        self.refused("log", "import", self.job, path, words=["rows before it can be read"])
        part = self.json("log", "import", self.job, path, "--partly")
        self.assertEqual(part["rows"], 260)
        self.assertEqual([c["max"] for c in part["channels"]], [259, 259])
        unknown = content.replace(b"##DT", b"##LD", 1)
        self.refused("log", "import", self.job, self.file(unknown, "u.mf4"), words=["'##LD'"])
        unfinished = b"UnFinMF " + content[8:]
        self.refused("log", "import", self.job, self.file(unfinished, "u.mf4"), words=["unfinished"])


if __name__ == "__main__":
    unittest.main()
