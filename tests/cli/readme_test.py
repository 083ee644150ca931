# SPDX-License-Identifier: GPL-3.0-or-later
"""Every command of the README, the help and the docs, run as it stands there: none of them is refused."""
import os
import pathlib
import re
import shlex
import shutil
import subprocess
import sys
import tempfile
import unittest

CLI, PRACTICE = os.path.abspath(sys.argv.pop(1)), os.path.abspath(sys.argv.pop(1))
ROOT = pathlib.Path(__file__).resolve().parents[2]
PRACTICE_BUS = "virtual:41234"  # as the README names it

FRAMES = """VERSION ""
BU_: ECU DASH
BO_ 1536 Engine: 8 ECU
 SG_ Rpm : 0|16@1+ (0.25,0) [0|16383] "rpm" DASH
 SG_ Map : 23|16@0+ (0.1,-5) [0|400] "kPa" DASH
"""
DAY = """{"steps": [{"do": "warm_up", "seconds": 600}, {"do": "pull", "from_rpm": 3000, "to_rpm": 5500},
  {"do": "cruise", "from_rpm": 2500, "to_rpm": 5500, "from_kpa": 50, "to_kpa": 100, "seconds": 20}]}"""


def commands(file):
    """Indented lines that call the program, without what is said of them."""
    for line in file.read_text(encoding="utf-8").splitlines():
        if m := re.match(r"    (\$cli|wheelwright-cli|build/demo/src/apps/wheelwright-practice) (.*)", line):
            yield (PRACTICE if "practice" in m.group(1) else CLI), shlex.split(m.group(2), comments=True)


class Readme(unittest.TestCase):
    def setUp(self):
        self.temporary = tempfile.TemporaryDirectory()
        self.folder = pathlib.Path(self.temporary.name)
        (self.folder / "data").symlink_to(ROOT / "data")
        logs = self.folder / "data/demo/logs"
        shutil.copy(logs / "thistle-e78-pulls.csv", self.folder / "pull.csv")
        (self.folder / "day.json").write_text(DAY)
        self.run_it(PRACTICE, ["run", "data/demo/thistle.json", "--seed", "7", "--script", "day.json", "--log", "fast.csv", "--log-hz", "50"])
        (self.folder / "frames.dbc").write_text(FRAMES)
        (self.folder / "drive.log").write_text("".join(f"({5 + i / 100:.6f}) can0 600#401F0BE800000000\n" for i in range(300)))
        (self.folder / "script.json").write_text('{"steps": [{"do": "idle", "seconds": 2}]}')

    def tearDown(self):
        self.temporary.cleanup()

    def run_it(self, program, arguments, codes=(0, 1)):
        done = subprocess.run([program, *arguments], cwd=self.folder, capture_output=True, text=True)
        self.assertIn(done.returncode, codes, (arguments, done.stdout[-300:], done.stderr))
        if done.returncode == 0:
            self.assertEqual(done.stderr, "", arguments)
        return done.stdout

    def cli(self, *arguments):
        return self.run_it(CLI, list(map(str, arguments)))

    def whats_there(self):
        """What the reader of those lines has beside the demo: its logs and runs, a table of his own, another job."""
        shutil.copy(self.folder / "thistle.wwjob", self.folder / "other.wwjob")
        self.cli("table", "export", "thistle.wwjob", "spark.top", "--csv", "top.csv")
        for log in ["fast.csv", *sorted(p.name for p in (self.folder / "data/demo/logs").glob("thistle-*.csv"))]:
            if log != "thistle-e62-pump.csv":  # the README brings that one in itself
                self.cli("log", "import", "thistle.wwjob", log if log == "fast.csv" else f"data/demo/logs/{log}")

    def more_runs(self):
        for run in sorted((self.folder / "data/demo/runs").glob("thistle-*.csv"))[1:]:
            self.cli("run", "import", "thistle.wwjob", run.relative_to(self.folder))

    def test_the_readme(self):
        before = {("table", "import"): self.whats_there, ("run", "compare"): self.more_runs}
        ran = 0
        for program, arguments in commands(ROOT / "README.md"):
            for first, prepare in list(before.items()):
                if tuple(arguments[:2]) == first:
                    prepare()
                    del before[first]
            if PRACTICE_BUS in arguments:
                continue  # test_the_live_lines
            self.run_it(program, arguments)
            ran += 1
        self.assertGreaterEqual(ran, 65)
        self.assertEqual(before, {})
        # And each left what it says.
        for written in ("now.csv", "whole.json", "baked", "out/message.txt", "thistle.pdf", "rows.csv", "log.csv", "runs"):
            self.assertTrue((self.folder / written).exists(), written)

    def test_the_live_lines(self):
        """An engine at one end of the bus, the recorder at the other."""
        lines = [(p, a) for p, a in commands(ROOT / "README.md") if PRACTICE_BUS in a]
        self.assertEqual([p for p, _ in lines], [CLI, PRACTICE])
        self.cli("job", "import", "thistle.wwjob", "data/demo/thistle.json")
        (self.folder / "map.json").write_text(self.run_it(PRACTICE, ["map"]))
        recording = [*lines[0][1]]
        recording[recording.index("--seconds") + 1] = "2"
        with subprocess.Popen([PRACTICE, *lines[1][1]], cwd=self.folder, stdin=subprocess.PIPE, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True) as engine:
            try:
                said = self.run_it(CLI, recording)
                self.assertIn("rows", said)
            finally:
                engine.stdin.close()
                self.assertEqual((engine.wait(timeout=30), engine.stderr.read()), (0, ""))

    def test_help_and_docs(self):
        """Their own names of files, over the demo."""
        self.cli("job", "import", "thistle.wwjob", "data/demo/thistle.json")
        self.cli("job", "export", "thistle.wwjob", "thistle.json")
        shutil.move(self.folder / "thistle.wwjob", self.folder / "job.wwjob")
        self.cli("handover", "write", "job.wwjob", "hand-over.pdf")
        ran = 0
        pages = [*sorted((ROOT / "data/help").rglob("*.md")), *sorted((ROOT / "docs").rglob("*.md"))]
        for page in pages:
            for program, arguments in commands(page):
                self.run_it(program, arguments)
                ran += 1
        self.assertGreaterEqual(ran, 5)


if __name__ == "__main__":
    unittest.main()
