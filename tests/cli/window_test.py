# SPDX-License-Identifier: GPL-3.0-or-later
"""What the window's program is asked for on the command line, and how it refuses. Run with the program's path."""
import os
import pathlib
import struct
import subprocess
import sys
import tempfile
import unittest

PROGRAM = os.path.abspath(sys.argv.pop(1))


class Window(unittest.TestCase):
    def setUp(self):
        temporary = tempfile.TemporaryDirectory()
        self.addCleanup(temporary.cleanup)
        self.folder = pathlib.Path(temporary.name)

    def start(self, *arguments):
        home = {"HOME": str(self.folder), "XDG_CONFIG_HOME": str(self.folder), "TMPDIR": str(self.folder), "QT_QPA_PLATFORM": "offscreen"}
        return subprocess.run([PROGRAM, *map(str, arguments)], env=os.environ | home, capture_output=True, text=True, timeout=120)

    def test_what_it_cannot_do_is_one_line(self):
        pictures = self.folder / "pictures"
        for arguments, expected, found in ((["--size", "10"], "1280x800", "10"), (["--size", "0x800"], "1280x800", "0x800"),
                                           (["--text-size", "500"], "80 to 200", "500"), (["--text-size", "big"], "80 to 200", "big"),
                                           (["--language", "xx"], "en, de or es", "xx"),
                                           ([self.folder / "none.wwjob"], "a job file", "no file of that name")):
            said = self.start("--render", pictures, *arguments)
            self.assertEqual((said.returncode, said.stdout), (2, ""), said)
            line, = [w for w in said.stderr.splitlines() if w.startswith("wheelwright: ")]
            self.assertIn(expected, line)
            self.assertIn(found, line)
        self.assertFalse(pictures.exists())

    def test_a_place_is_drawn_as_large_as_was_asked(self):
        said = self.start("--demo", "--render", self.folder / "out", "--size", "1100x720", "--at", "fuel/measure")
        self.assertEqual(said.returncode, 0, said.stderr)
        drawn = list((self.folder / "out").iterdir())
        self.assertEqual([p.name for p in drawn], ["fuel-measure.png"])
        self.assertEqual(struct.unpack(">II", drawn[0].read_bytes()[16:24]), (1100, 720))  # of a PNG's first chunk


if __name__ == "__main__":
    unittest.main()
