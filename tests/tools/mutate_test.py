# SPDX-License-Identifier: GPL-3.0-or-later
"""The list of faults is of this tree: each stands where it says, and one whose place is gone is named."""
import pathlib
import subprocess
import sys
import tempfile
import unittest

ROOT = pathlib.Path(__file__).resolve().parents[2]


def check(*args):
    return subprocess.run([sys.executable, ROOT / "tools/mutate", *args, "--check"], capture_output=True, text=True)


class Faults(unittest.TestCase):
    def test_each_stands_in_the_tree(self):
        found = check()
        self.assertEqual((found.returncode, found.stderr), (0, ""))

    def test_one_whose_place_is_gone_is_named(self):
        with tempfile.NamedTemporaryFile("w", suffix=".txt") as odd:
            odd.write("@ src/core/fuel/blend.cpp\n- nobody ever wrote this\n+ true\n@ src/core/nowhere.cpp\n- a\n+ b\n")
            odd.flush()
            found = check(odd.name)
        self.assertEqual(found.returncode, 2)
        self.assertIn("fault 1: src/core/fuel/blend.cpp does not hold 'nobody ever wrote this'", found.stderr)
        self.assertIn("fault 2: src/core/nowhere.cpp does not hold 'a'", found.stderr)


if __name__ == "__main__":
    unittest.main()
