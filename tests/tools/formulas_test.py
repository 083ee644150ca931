# SPDX-License-Identifier: GPL-3.0-or-later
"""The help page of formulas is as the sources have it, and has them all."""
import pathlib
import re
import subprocess
import sys
import unittest

ROOT = pathlib.Path(__file__).resolve().parents[2]
HELP = ROOT / "data/help"
PAGE = (HELP / "formulas.md").read_text(encoding="utf-8")
LANGUAGES = [file.stem.split("_")[1] for file in sorted((ROOT / "data/i18n").glob("wheelwright_*.ts"))]


class Formulas(unittest.TestCase):
    def test_it_is_as_it_would_be_written(self):
        done = subprocess.run([sys.executable, ROOT / "tools/make_formulas", "--check"], capture_output=True, text=True)
        self.assertEqual((done.returncode, done.stderr), (0, ""))

    def test_it_has_every_formula_of_a_working(self):
        """Counted another way: by the ids that formulas have."""
        plain = re.sub(r"\\([|*<])", r"\1", PAGE)
        missing, found = [], 0
        for path in sorted((ROOT / "src/core").rglob("*.cpp")):
            for m in re.finditer(r'MARKED\(\s*"(working\.[a-z_.0-9]+\.formula)",\s*((?:"(?:[^"\\]|\\.)*"\s*)+)\)', path.read_text(encoding="utf-8")):
                found += 1
                text = "".join(re.findall(r'"((?:[^"\\]|\\.)*)"', m.group(2))).replace('\\"', '"')
                words = re.sub(r"\{\w\}", "…", text).replace("⟨", "").replace("⟩", "").strip()
                if words not in plain:
                    missing.append(m.group(1))
        self.assertGreaterEqual(found, 60)
        self.assertEqual(missing, [])

    def test_each_line_says_where_it_comes_from_or_is_a_definition(self):
        lines = [line for line in PAGE.splitlines() if line.startswith("- ")]
        without = [line for line in lines if not line.endswith("*")]
        self.assertGreaterEqual(len(lines), 60)
        self.assertLessEqual(len(without), len(lines) // 6, without)

    def test_every_language_has_the_same_lines_in_its_own_words(self):
        lines = [line for line in PAGE.splitlines() if line.startswith("- ")]
        self.assertGreaterEqual(len(LANGUAGES), 2)
        for language in LANGUAGES:
            theirs = [line for line in (HELP / language / "formulas.md").read_text(encoding="utf-8").splitlines() if line.startswith("- ")]
            self.assertEqual(len(theirs), len(lines))
            for one, other in zip(lines, theirs):
                heading = re.match(r"- \*\*(.+?)\*\*: \S", other)
                self.assertTrue(heading, other)
                self.assertEqual(re.findall(r"\(\d{4}\)|SAE [\d-]+", one), re.findall(r"\(\d{4}\)|SAE [\d-]+", other))
            alike = [one for one, other in zip(lines, theirs) if one == other]
            self.assertEqual(alike, [])


if __name__ == "__main__":
    unittest.main()
