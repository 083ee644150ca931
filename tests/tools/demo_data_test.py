#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""The logs and runs of the demo jobs are what the practice engine makes, byte by byte, however it was built.

Usage: demo_data_test.py <wheelwright-practice>
"""
import pathlib
import subprocess
import sys
import tempfile
import unittest

ROOT = pathlib.Path(__file__).resolve().parents[2]
PRACTICE = sys.argv[1]


class DemoData(unittest.TestCase):
    def test_it_comes_from_the_practice_engine(self):
        with tempfile.TemporaryDirectory() as folder:
            subprocess.run([sys.executable, ROOT / "tools/demo_data", PRACTICE, folder], check=True, capture_output=True)
            for kind, least in (("logs", 14), ("runs", 18)):
                made = {p.name: p.read_bytes() for p in (pathlib.Path(folder) / kind).iterdir()}
                kept = {p.name: p.read_bytes() for p in (ROOT / "data/demo" / kind).iterdir()}
                self.assertGreaterEqual(len(kept), least)
                self.assertEqual(sorted(made), sorted(kept))
                for name, data in kept.items():
                    self.assertTrue(made[name] == data, f"{kind}/{name} is another: run tools/demo_data")

    def test_it_is_the_day_that_it_says(self):
        runs = sorted(p.name for p in (ROOT / "data/demo/runs").glob("thistle-*.csv"))
        self.assertEqual(len(runs), 12)
        logs = {p.stem for p in (ROOT / "data/demo/logs").glob("thistle-*.csv")}
        self.assertEqual(len(logs), 8)
        text = {name: (ROOT / "data/demo/runs" / name).read_text() for name in runs}
        self.assertEqual(sum("# mode: road\n" in t for t in text.values()), 1)
        self.assertEqual(sum("# note: control" in t for t in text.values()), 3)
        self.assertLess(sum(p.stat().st_size for p in (ROOT / "data/demo").rglob("*.csv")), 2_000_000)


if __name__ == "__main__":
    unittest.main(argv=sys.argv[:1])
