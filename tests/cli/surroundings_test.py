# SPDX-License-Identifier: GPL-3.0-or-later
"""Files and answers are the same whatever language the machine speaks; pages speak the language they are asked for.

The locale is made here, from the definitions of the C library's package: a machine need not have it installed.
"""
import json
import os
import pathlib
import re
import subprocess
import sys
import tempfile
import unittest

CLI = os.path.abspath(sys.argv.pop(1))
ROOT = pathlib.Path(__file__).resolve().parents[2]
DEMO = ROOT / "data/demo"


def still(text):
    """Without the moment at which something was brought in."""
    return re.sub(rb"\d{4}-\d\d-\d\dT\d\d:\d\d:\d\dZ", b"then", text)


class Surroundings(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.temporary = tempfile.TemporaryDirectory()
        cls.path = pathlib.Path(cls.temporary.name)
        subprocess.run(["localedef", "-i", "de_DE", "-f", "UTF-8", "--no-archive", cls.path / "de_DE.UTF-8"], check=True, capture_output=True)
        cls.german = {**os.environ, "LOCPATH": str(cls.path), "LC_ALL": "de_DE.UTF-8", "LANG": "de_DE.UTF-8"}
        cls.plain = {**os.environ, "LC_ALL": "C.UTF-8"}

    @classmethod
    def tearDownClass(cls):
        cls.temporary.cleanup()

    def run_cli(self, environment, *arguments, codes=(0,)):
        done = subprocess.run([CLI, *map(str, arguments)], capture_output=True, env=environment)
        self.assertIn(done.returncode, codes, (arguments, done.stderr))
        return done.stdout

    def test_the_locale_is_one_with_a_comma(self):
        """Or nothing below would show anything."""
        words = "import locale; locale.setlocale(locale.LC_ALL, ''); print(locale.format_string('%.1f', 1.5))"
        said = subprocess.run([sys.executable, "-c", words], capture_output=True, text=True, env=self.german)
        self.assertEqual(said.stdout.strip(), "1,5", said.stderr)

    def test_the_time_that_is_written_can_be_stated(self):
        stated = {**self.plain, "WHEELWRIGHT_NOW": "2026-05-16T12:00:00Z"}
        job = self.path / "stated.wwjob"
        self.run_cli(stated, "job", "import", job, DEMO / "thistle.json")
        self.run_cli(stated, "revision", "keep", job, "As it was")
        kept = json.loads(self.run_cli(self.plain, "revision", "list", job, "--json"))
        self.assertEqual([r["at"] for r in kept["revisions"] if r["name"] == "As it was"], ["2026-05-16T12:00:00Z"])
        for wrong in ("", "noon", "2026-05-16", "2026-5-16T12:00:00Z", "2026-02-31T12:00:00Z", "2026-05-16T12:00:00", "2026-05-16T12:00:00Z "):
            done = subprocess.run([CLI, "revision", "keep", job, "Another"], capture_output=True, env={**self.plain, "WHEELWRIGHT_NOW": wrong})
            self.assertEqual((done.returncode, done.stderr.count(b"\n")), (2, 1), wrong)
            self.assertIn(b"WHEELWRIGHT_NOW: expected a time such as 2026-05-16T12:00:00Z", done.stderr)

    def test_files_and_answers_are_the_same(self):
        made = []
        for name, environment in (("german", self.german), ("plain", self.plain)):
            folder = self.path / name
            folder.mkdir()
            job = folder / "a.wwjob"

            def run(*arguments, codes=(0,)):
                return self.run_cli(environment, *arguments, codes=codes)

            run("job", "import", job, DEMO / "thistle.json")
            run("log", "import", job, DEMO / "logs/thistle-e62-pulls.csv")
            run("run", "import", job, DEMO / "runs/thistle-01-e10-baseline.csv")
            answers = [run(*words, codes=(0, 1)) for words in (
                ("verify", job, "--json"), ("verify", job), ("tank", "plan", job, "--target-ethanol", "0.6"),
                ("tank", "sheet", job, "--target-ethanol", "0.6", "--html"), ("ladder", "plan", job), ("evidence", "coverage", job), ("run", "list", job),
                ("blend", job, "--content", "0.4", "--rpm", "2500", "--load-kpa", "120.5"), ("report", job, "verdict", "--html"),
                ("handover", "show", job, "--json", "--today", "2026-11-28"))]
            files = {"job": "a.json", "table": "spark.csv", "pages": "h.html"}
            run("job", "export", job, folder / files["job"])
            run("table", "export", job, "spark.base", "--csv", folder / files["table"])
            run("handover", "write", job, folder / files["pages"], "--today", "2026-11-28", codes=(0, 1))
            made.append((answers, {kind: (folder / file).read_bytes() for kind, file in files.items()}))
        for german, plain in zip(made[0][0], made[1][0]):
            self.assertEqual(still(german), still(plain))
        german, plain = made[0][1], made[1][1]
        self.assertEqual(german["table"], plain["table"])
        self.assertIn(b"<svg", plain["pages"])  # whose coordinates have a point
        self.assertEqual(german["pages"], plain["pages"])
        self.assertEqual(json.loads(still(german["job"])), json.loads(still(plain["job"])))

    def test_what_is_typed_has_a_point_everywhere(self):
        for environment in (self.german, self.plain):
            said = json.loads(self.run_cli(environment, "fuel", "--ethanol", "0.85", "--json"))
            self.assertAlmostEqual(said["ethanol"], 0.85)

    def test_a_page_speaks_the_language_it_is_asked_for(self):
        job = self.path / "pages.wwjob"
        self.run_cli(self.plain, "job", "import", job, DEMO / "thistle.json")
        said = {}
        for language in ("en", "de", "es"):
            said[language] = self.run_cli(self.plain, "handover", "write", job, "-", "--page", "owner", "--today", "2026-11-28",
                                          "--language", language, codes=(0, 1)).decode()
        self.assertEqual(said["en"], self.run_cli(self.plain, "handover", "write", job, "-", "--page", "owner", "--today", "2026-11-28", codes=(0, 1)).decode())
        for language, word, litres in (("en", "Fuel", "3.0 min"), ("de", "Kraftstoff", "3,0 min"), ("es", "ombustible", "3,0 min")):
            self.assertIn(word, said[language])
            self.assertIn(litres, said[language])
        self.assertIn("1/min", self.run_cli(self.plain, "report", job, "verdict", "--language", "de", codes=(0, 1)).decode())
        for name in ("report", "tank sheet", "ladder plan", "sheet show"):
            arguments = {"report": ["report", job, "verdict"], "tank sheet": ["tank", "sheet", job, "--target-ethanol", "0.6"], "ladder plan": ["ladder", "plan", job],
                         "sheet show": ["sheet", "show", job]}[name]
            english, german = (self.run_cli(self.plain, *arguments, "--language", code, codes=(0, 1)) for code in ("en", "de"))
            self.assertNotEqual(english, german, name)
        # The message for somebody far away is a page too.
        for language, word in (("en", "Read it back"), ("de", "Zurücklesen"), ("es", "Releer")):
            folder = self.path / f"out-{language}"
            said = json.loads(self.run_cli(self.plain, "bundle", "out", job, "--folder", folder, "--today", "2026-11-28", "--language", language, "--json"))
            self.assertIn(word, said["message"])
            self.assertEqual((folder / "message.txt").read_text(encoding="utf-8"), said["message"] + "\n")
            self.assertIn(word, (folder / "message.txt").read_text(encoding="utf-8"))
        refused = subprocess.run([CLI, "report", job, "verdict", "--language", "xx"], capture_output=True, text=True)
        self.assertEqual((refused.returncode, refused.stdout, len(refused.stderr.splitlines())), (2, "", 1))


if __name__ == "__main__":
    unittest.main()
