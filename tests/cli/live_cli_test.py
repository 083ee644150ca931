# SPDX-License-Identifier: GPL-3.0-or-later
"""Frames of a CAN bus on the command line: traces by another hand (python3-can), numbers by another (python3-canmatrix)."""
import contextlib
import json
import random
import signal
import sqlite3
import struct
import subprocess
import sys
import time
import unittest
from csv import DictReader

import can
import canmatrix.formats

PRACTICE = sys.argv.pop(1)

from command_line import CLI, ROOT, CommandLineTest  # noqa: E402  (what is left is the program's path)

DESCRIPTION = """VERSION ""
BU_: ECU DASH
BO_ 1536 Engine: 8 ECU
 SG_ Rpm : 0|16@1+ (0.25,0) [0|16383] "rpm" DASH
 SG_ Map : 23|16@0+ (0.1,-5) [0|400] "kPa" DASH
 SG_ Spark : 32|8@1- (0.5,0) [-64|63] "deg" DASH
 SG_ Retard : 46|11@0- (0.125,0) [-128|127] "deg" DASH
BO_ 2147485184 Fuel: 8 ECU
 SG_ Page M : 7|3@0+ (1,0) [0|7] "" DASH
 SG_ Lambda m0 : 8|15@1+ (0.001,0) [0|40] "" DASH
 SG_ Duty m1 : 12|21@1+ (0.01,0) [0|30000] "%" DASH
 SG_ Ethanol m2 : 39|32@0+ (1,0) [0|100] "%" DASH
SIG_VALTYPE_ 2147485184 Ethanol : 1;
"""


class Live(CommandLineTest):
    def setUp(self):
        super().setUp()
        self.dbc = self.folder / "a.dbc"
        self.dbc.write_text(DESCRIPTION)

    def frames(self, count):
        chance = random.Random(5)
        for i in range(count):
            fuel = chance.random() < 0.5
            data = bytearray(chance.randbytes(8))
            if fuel:
                page = chance.randrange(3)
                data[0] = (data[0] & 0x1F) | page << 5
                if page == 2:
                    data[4:8] = struct.pack(">f", chance.uniform(0, 100))
            yield can.Message(timestamp=1000 + i * 0.01, arbitration_id=1536, is_extended_id=fuel, data=data)

    def test_decodes_as_others_do(self):
        """Within what doubles hold: both work with the same scales."""
        matrix = canmatrix.formats.loads_flat(DESCRIPTION, import_type="dbc")
        frames = list(self.frames(400))
        said = {}
        for f in frames:
            frame = matrix.frame_by_id(canmatrix.ArbitrationId(f.arbitration_id, extended=f.is_extended_id))
            for name, s in frame.decode(bytes(f.data)).items():
                said.setdefault(name, []).append(float(s.phys_value))
        for writer, name, kind in ((can.ASCWriter, "a.asc", "asc"), (can.CanutilsLogWriter, "a.log", "candump")):
            trace = self.folder / name
            with writer(str(trace)) as out:
                for f in frames:
                    out.on_message_received(f)
                out.on_message_received(can.Message(timestamp=1010, arbitration_id=5, is_extended_id=False, data=b"\x01"))
                out.on_message_received(can.Message(timestamp=1010, arbitration_id=5, is_extended_id=False, is_remote_frame=True))
            found = json.loads(self.cli("live", "decode", trace, "--map", self.dbc, "--json"))
            self.assertEqual((found["format"], found["frames"], found["known"], found["unknown"]), (kind, 401, 400, 1))
            channels = {c["name"]: c for c in found["channels"]}
            self.assertEqual(set(channels), set(said))
            for name, values in said.items():
                c = channels[name]
                self.assertEqual(c["count"], len(values), name)
                for key, value in (("least", min(values)), ("most", max(values)), ("last", values[-1])):
                    self.assertAlmostEqual(c[key], value, delta=1e-9 * max(1, abs(value)), msg=f"{name} {key}")

    def test_rows_are_a_log(self):
        trace = self.folder / "a.log"
        lines = []
        for i in range(300):  # a second of 100 frames a second, rising by 10 rpm each
            lines.append(f"({5 + i * 0.01:.6f}) can0 600#{struct.pack('<H', (2000 + 10 * i) * 4).hex()}0BE800000000")
        trace.write_text("\n".join(lines) + "\n")
        rows = self.cli("live", "decode", trace, "--map", self.dbc, "--csv", "-", "--hz", 50).splitlines()
        self.assertEqual(rows[0].split(",")[:3], ["time [s]", '"Rpm [rpm]"', '"Map [kPa]"'])
        first, last = rows[1].split(","), rows[-1].split(",")
        self.assertEqual((float(first[0]), float(first[1]), float(first[2])), (0, 2000, 299.8))
        self.assertEqual(first[5:], [""] * 4)  # frames that never came say nothing
        self.assertAlmostEqual(float(last[0]), 3, 6)
        self.assertEqual(float(last[1]), 2000 + 10 * 299)
        job, csv = self.folder / "a.wwjob", self.folder / "rows.csv"
        self.cli("live", "decode", trace, "--map", self.dbc, "--csv", csv, "--hz", 50)
        self.cli("job", "new", job)
        taken = json.loads(self.cli("log", "import", job, csv, "--content", "0.3", "--json"))
        self.assertEqual({c["name"]: c["role"] for c in taken["channels"]}["Rpm"], "rpm")

    def test_maps(self):
        made = self.cli("live", "map", self.dbc)
        own = self.folder / "map.json"
        own.write_text(made)
        self.assertEqual(self.cli("live", "map", own), made)
        engine = json.loads(made)["messages"][0]
        self.assertEqual((engine["id"], engine["bytes"], len(engine["signals"])), (1536, 8, 4))

    def test_refuses(self):
        trace = self.folder / "a.log"
        trace.write_text("(1.0) can0 7E8#0102\n")
        self.assertIn('"known": 0', self.cli("live", "decode", trace, "--map", self.dbc, "--json", code=1))
        self.assertIn("--csv beside it", self.cli("live", "decode", trace, "--map", self.dbc, "--hz", 5, code=2))
        self.assertIn("a.log file: expected a description", self.cli("live", "decode", trace, "--map", trace, code=2))
        trace.write_text("(1.0) can0 7E8#010\n")
        self.assertIn("line 1: expected pairs of hexadecimal digits", self.cli("live", "decode", trace, "--map", self.dbc, code=2))
        (self.folder / "bad.json").write_text('{"format": "wheelwright-can-map"}')
        self.assertIn("bad.json CAN map.version", self.cli("live", "map", self.folder / "bad.json", code=2))
        self.cli("live", "map", self.folder / "none.dbc", code=2)

    # From here on an engine at the other end.

    def engine(self, *arguments, script=None):
        """A practice engine on a bus, and which bus it is."""
        words = [PRACTICE, "run", ROOT / "data/demo/thistle.json", "--bus", "virtual:0", "--seed", "3", *arguments]
        if script:
            (self.folder / "script.json").write_text(json.dumps(script))
            words += ["--script", self.folder / "script.json"]
        engine = subprocess.Popen(list(map(str, words)), stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
        self.addCleanup(lambda: (engine.kill(), engine.wait(), engine.stdin.close(), engine.stdout.close()))
        return engine, json.loads(engine.stdout.readline())["bus"]

    def on_the_bus(self):
        """Job and map of a recording."""
        job, own = self.folder / "a.wwjob", self.folder / "engine.json"
        if not job.exists():
            self.cli("job", "import", ROOT / "data/demo/thistle.json", job)
        own.write_text(subprocess.run([PRACTICE, "map"], capture_output=True, text=True, check=True).stdout)
        return job, own

    def record(self, bus, *arguments, code=0, seconds=2):
        job, own = self.on_the_bus()
        said = self.cli("live", "record", job, "--bus", bus, "--map", own, "--seconds", seconds, *arguments, *([] if code == 2 else ["--json"]), code=code)
        return said if code == 2 else json.loads(said)

    def test_records_an_engine(self):
        """What is recorded is what the engine wrote into its own log, at the times at which it did."""
        script = {"ethanol": 0.3, "steps": [{"do": "hold", "rpm": 3000, "load_kpa": 70, "seconds": 1.5}, {"do": "hold", "rpm": 3500, "load_kpa": 80, "seconds": 3}]}  # for who is slow to listen
        engine, bus = self.engine("--log", self.folder / "own.csv", "--lead-s", "1.5", script=script)
        taken = self.record(bus, "--hz", "50", "--note", "by the bus", "--content", "0.3", seconds=4)
        self.assertEqual((taken["dropped"], taken["unknown"], taken["bus_losses"], taken["silent_at_the_end"]), (0, 0, 0, False))
        said = engine.stdout.read()
        self.assertEqual(engine.wait(), 0)
        self.assertEqual([json.loads(line).get("did") for line in said.splitlines()], ["hold", "hold", None])
        job, csv = self.folder / "a.wwjob", self.folder / "back.csv"
        log = json.loads(self.cli("log", "list", job, "--json"))["logs"][0]
        self.assertEqual((log["note"], log["content"], log["content_basis"]), ("by the bus", 0.3, "stated"))
        self.assertAlmostEqual(log["span_s"], log["rows"] / 50, delta=0.021)
        self.cli("log", "export", job, "--log", taken["id"], "--csv", csv)
        rows = list(DictReader(csv.read_text().splitlines()))[1:]  # behind the line of units
        own = list(DictReader((self.folder / "own.csv").read_text().splitlines()))
        column = lambda name: next(k for k in rows[0] if k.lower().startswith(name))  # noqa: E731
        rpm = [float(r[column("rpm")]) for r in rows if r[column("rpm")]]
        theirs = [float(r["rpm"]) for r in own]
        # From where it leaves idle on both go the same way, within half a second: machines are busy.
        first = lambda values, over: next(i for i, v in enumerate(values) if v > over)  # noqa: E731
        here, there = first(rpm, 1500), first(theirs, 1500)
        for k in range(60):
            around = theirs[max(0, there + 2 * k - 50):there + 2 * k + 51]
            self.assertTrue(min(around) - 0.3 <= rpm[here + k] <= max(around) + 0.3, (k, rpm[here + k], around))
        for name, key in (("spark", "spark_deg"), ("intake", "intake_c"), ("lambda", "lambda")):
            values = [float(r[column(name)]) for r in rows if r[column(name)]]
            numbers = [float(r[key]) for r in own]
            self.assertTrue(min(numbers) - 0.06 <= min(values) and max(values) <= max(numbers) + 0.06, name)

    def test_obeys_line_by_line(self):
        engine, _ = self.engine("--envelope", self.folder / "truth.json")
        for line in ('{"do": "hold", "rpm": 2500, "load_kpa": 60, "seconds": 60}', "bogus", "lift", '{"do": "pour", "litres": 900, "fuel": "Pump premium"}', '{"do": "pull", "mode": "loaded", "to_rpm": 3500}', "load", "end"):
            engine.stdin.write(line + "\n")
            engine.stdin.flush()
            time.sleep(0.6 if line != "lift" else 0.2)
        said = [json.loads(line) for line in engine.stdout.read().splitlines()]
        self.assertEqual(engine.wait(), 0)
        words = [(next(iter(s)), s[next(iter(s))]) for s in said]
        self.assertEqual([w for w in words if w[0] != "result"][:4], [("refused", "bogus"), ("did", "lift"), ("did", "hold"), ("refused", "pour")])
        self.assertIn("did", words[4])
        self.assertIn("litres", next(s["why"] for s in said if s.get("refused") == "pour"))
        self.assertLess(said[-1]["result"]["seconds"], 20)
        self.assertIn("seed", (self.folder / "truth.json").read_text())

    def test_ends_with_who_told_it(self):
        engine, _ = self.engine()
        engine.stdin.close()
        self.assertEqual(engine.wait(timeout=5), 0)

    def test_a_destroyed_engine_says_so(self):
        drawn = json.loads(subprocess.run([PRACTICE, "draw", ROOT / "data/demo/thistle.json"], capture_output=True, text=True, check=True).stdout)
        drawn["stands"].update(peak_kpa=3000, peak_s=0.05)
        (self.folder / "e.json").write_text(json.dumps(drawn))
        words = [PRACTICE, "run", ROOT / "data/demo/thistle.json", "--bus", "virtual:0", "--engine", self.folder / "e.json", "--lead-s", "0", "--script", self.folder / "s.json"]
        (self.folder / "s.json").write_text(json.dumps({"ethanol": 0.1, "steps": [{"do": "pull", "mode": "loaded"}]}))
        r = subprocess.run(list(map(str, words)), capture_output=True, text=True, timeout=60, stdin=subprocess.DEVNULL)
        self.assertEqual(r.returncode, 3, (r.stdout[-300:], r.stderr))
        self.assertIn('{"destroyed":"', r.stdout)

    def test_a_killed_recording_loses_less_than_a_second(self):
        engine, bus = self.engine()
        job, own = self.on_the_bus()
        before = job.read_bytes()
        recorder = subprocess.Popen([CLI, "live", "record", job, "--bus", bus, "--map", own, "--seconds", "60"], stdout=subprocess.DEVNULL)
        while self.kept_pieces(job) < 1:
            time.sleep(0.02)
        began = time.monotonic()  # a piece of 0.4 s is there
        time.sleep(3)
        recorder.send_signal(signal.SIGKILL)
        lived = 0.4 + time.monotonic() - began
        recorder.wait()
        self.assertEqual(json.loads(self.cli("log", "list", job, "--json"))["logs"], [])
        self.cli("job", "export", job, "--file", self.folder / "whole.json")  # it is a sound job meanwhile
        taken = json.loads(self.cli("live", "recover", job, "--json"))["recovered"]
        self.assertEqual(len(taken), 1)
        self.assertGreater(taken[0]["span_s"], lived - 1)
        self.assertLess(taken[0]["span_s"], lived + 1)
        log = json.loads(self.cli("log", "list", job, "--json"))["logs"]
        self.assertEqual([x["id"] for x in log], [taken[0]["id"]])
        self.assertEqual(json.loads(self.cli("live", "recover", job, "--json")), {"recovered": [], "empty": []})
        self.assertNotEqual(before, job.read_bytes())

    @staticmethod
    def kept_pieces(job):
        with contextlib.closing(sqlite3.connect(f"file:{job}?mode=ro", uri=True)) as file:
            try:
                return file.execute("SELECT count(*) FROM recording WHERE seq > 0").fetchone()[0]
            except sqlite3.OperationalError:  # none yet, or it is being written
                return 0

    def test_an_interrupted_recording_is_whole(self):
        engine, bus = self.engine()
        job, own = self.on_the_bus()
        recorder = subprocess.Popen([CLI, "live", "record", job, "--bus", bus, "--map", own, "--seconds", "60", "--json"], stdout=subprocess.PIPE, text=True)
        time.sleep(2)
        recorder.send_signal(signal.SIGINT)
        said = json.loads(recorder.communicate()[0])
        self.assertEqual(recorder.returncode, 0)
        self.assertGreater(said["span_s"], 0.5)

    def test_a_dead_engine_is_said(self):
        engine, bus = self.engine()
        recorder_began = time.monotonic()
        job, own = self.on_the_bus()
        recorder = subprocess.Popen([CLI, "live", "record", job, "--bus", bus, "--map", own, "--seconds", "5", "--json"], stdout=subprocess.PIPE, text=True)
        time.sleep(2)
        engine.kill()
        said = json.loads(recorder.communicate()[0])
        self.assertEqual((recorder.returncode, said["silent_at_the_end"], said["bus_losses"]), (1, True, 1), said)
        self.assertLess(said["last_loss_s"], time.monotonic() - recorder_began)
        # And what was silent is missing rather than held to the end.
        speed = next(c for c in said["channels"] if c["role"] == "rpm")
        self.assertLess(speed["samples"], said["rows"])

    def test_nobody_there(self):
        self.assertIn("expected frames of a bus, found none in", self.record("virtual:1", code=2, seconds=0.5))
        self.assertIn("socketcan:nothere0 does not answer", self.record("socketcan:nothere0", code=2, seconds=0.8))
        self.assertIn("expected a bus: virtual:PORT of this machine", self.record("virtual:10.0.0.1:5", code=2))
        job, own = self.on_the_bus()
        self.assertEqual(json.loads(self.cli("live", "recover", job, "--json")), {"recovered": [], "empty": []})
        engine, bus = self.engine()
        own.write_text(json.dumps({"format": "wheelwright-can-map", "version": 1, "messages": [{"id": 5, "name": "other", "bytes": 8, "signals": [{"name": "rpm", "start_bit": 0, "bits": 8, "order": "little"}]}]}))
        error = self.cli("live", "record", job, "--bus", bus, "--map", own, "--seconds", 1, code=2)
        self.assertIn("expected frames that the map knows, found none of", error)
        self.assertIn("expected a revision of this job", self.cli("live", "record", job, "--bus", bus, "--map", own, "--revision", "nope", code=2))

    def test_the_bus_refuses(self):
        for words, said in (((), "neither"), (("--bus", "virtual:x"), "expected a bus"), (("--bus", "socketcan:can0"), "virtual bus of this machine"), (("--bus", "virtual:0", "--log", "-"), "found -")):
            r = subprocess.run([PRACTICE, "run", ROOT / "data/demo/thistle.json", *words], capture_output=True, text=True, stdin=subprocess.DEVNULL)
            self.assertEqual((r.returncode, r.stdout, len(r.stderr.strip().splitlines())), (2, "", 1), words)
            self.assertIn(said, r.stderr)


if __name__ == "__main__":
    unittest.main()
