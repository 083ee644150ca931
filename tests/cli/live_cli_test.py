# SPDX-License-Identifier: GPL-3.0-or-later
"""Frames of a CAN bus on the command line: traces by another hand (python3-can), numbers by another (python3-canmatrix)."""
import json
import pathlib
import random
import struct
import subprocess
import sys
import tempfile
import unittest

import can
import canmatrix.formats

CLI = sys.argv.pop(1)

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


class Live(unittest.TestCase):
    def setUp(self):
        self.temporary = tempfile.TemporaryDirectory()
        self.folder = pathlib.Path(self.temporary.name)
        self.dbc = self.folder / "a.dbc"
        self.dbc.write_text(DESCRIPTION)

    def tearDown(self):
        self.temporary.cleanup()

    def cli(self, *arguments, code=0):
        r = subprocess.run([CLI, *map(str, arguments)], capture_output=True, text=True)
        self.assertEqual(r.returncode, code, (arguments, r.stdout[-300:], r.stderr))
        if code == 2:
            self.assertEqual((r.stdout, len(r.stderr.strip().splitlines())), ("", 1), r.stderr)
        return r.stdout if code != 2 else r.stderr

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


if __name__ == "__main__":
    unittest.main()
