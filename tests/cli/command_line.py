# SPDX-License-Identifier: GPL-3.0-or-later
"""What tests of the command line share: a folder of their own, the program, and how it has to answer.

The program's path is the first argument that is left when this is read.
"""
import json
import pathlib
import subprocess
import sys
import tempfile
import unittest

CLI = sys.argv.pop(1)
ROOT = pathlib.Path(__file__).resolve().parents[2]


class CommandLineTest(unittest.TestCase):
    def setUp(self):
        temporary = tempfile.TemporaryDirectory()
        self.addCleanup(temporary.cleanup)
        self.folder = pathlib.Path(temporary.name)
        self.job = self.folder / "a.wwjob"

    def run_cli(self, *arguments, code=0):
        """How it ended. None as code: good or with findings. What is refused is one line on stderr and no more."""
        result = subprocess.run([CLI, *map(str, arguments)], capture_output=True, text=True, timeout=300)
        self.assertIn(result.returncode, (0, 1) if code is None else (code,), (arguments, result.stdout[-500:], result.stderr[-500:]))
        if code == 2:
            self.assertEqual((result.stdout, len(result.stderr.strip().splitlines())), ("", 1), result.stderr)
        return result

    def cli(self, *arguments, code=0):
        """What it said: its output, or the line with which it refused."""
        result = self.run_cli(*arguments, code=code)
        return result.stderr if code == 2 else result.stdout

    def json(self, *arguments, code=0):
        return json.loads(self.run_cli(*arguments, "--json", code=code).stdout)

    def refused(self, *arguments, words=()):
        error = self.cli(*arguments, code=2)
        for word in words:
            self.assertIn(word, error)
        return error
