# SPDX-License-Identifier: GPL-3.0-or-later
"""The hand-over on the command line: written, checked later, and its numbers."""
import re
import subprocess
import unittest

from command_line import CLI, ROOT, CommandLineTest


class Handovers(CommandLineTest):
    def setUp(self):
        super().setUp()
        self.cli("job", "import", self.job, ROOT / "data/demo/thistle.json")

    def write(self, name, *more):
        """The demo leaves questions open: its hand-over says so, and so does the exit code."""
        return self.json("handover", "write", self.job, self.folder / name, "--today", "2026-11-28", *more, code=1)

    def test_what_was_written_is_known_again(self):
        for name in ("a.pdf", "a.html"):
            made = self.write(name)
            self.assertFalse(made["answered"])
            found = self.json("handover", "check", self.folder / name, self.job)
            self.assertEqual((found["intact"], found["same_calibration"]), (True, True))
            self.assertEqual(found["calibration_of_document"], made["calibration"])
            # What is no calibration may change.
            self.cli("job", "set", self.job, "handover.call", "The workshop")
            self.cli("handover", "check", self.folder / name, self.job)
            # One letter of the file.
            data = bytearray((self.folder / name).read_bytes())
            data[len(data) // 3] ^= 1
            (self.folder / "changed").write_bytes(data)
            self.assertFalse(self.json("handover", "check", self.folder / "changed", self.job, code=1)["intact"])
        # Another calibration.
        self.cli("table", "edit", self.job, "spark.base", "--expression", "=12", "--rpm", "2500,2500", "--y", "100,100")
        found = self.json("handover", "check", self.folder / "a.pdf", self.job, code=1)
        self.assertEqual((found["intact"], found["same_calibration"]), (True, False))
        self.assertNotEqual(found["calibration_of_job"], found["calibration_of_document"])

    def test_what_cannot_be_used_is_refused(self):
        self.assertIn(".pdf or .html", self.cli("handover", "write", self.job, self.folder / "a.txt", code=2))
        self.assertFalse((self.folder / "a.txt").exists())
        self.assertIn("--paper", self.cli("handover", "write", self.job, self.folder / "a.pdf", "--paper", "a5", code=2))
        self.assertIn("--today", self.cli("handover", "write", self.job, self.folder / "a.pdf", "--today", "soon", code=2))
        self.assertIn("no mark", self.cli("handover", "check", ROOT / "README.md", self.job, code=2))
        self.cli("handover", "check", self.folder / "none.pdf", self.job, code=2)
        self.cli("handover", "write", self.job, self.folder / "nowhere/a.pdf", code=2)
        self.assertIn("level", self.cli("handover", "show", self.job, "--level-l", "499", code=2))

    def test_both_forms_say_the_same(self):
        self.write("a.pdf")
        self.write("a.html")
        plain = self.cli("handover", "write", self.job, "-", "--today", "2026-11-28", code=1)
        pdf = subprocess.run(["pdftotext", "-layout", self.folder / "a.pdf", "-"], capture_output=True, text=True, check=True).stdout
        html = re.sub(r"<svg.*?</svg>", " ", (self.folder / "a.html").read_text(), flags=re.S)
        html = re.sub(r"<[^>]+>", " ", html.split("<body>")[1]).replace("&amp;", "&").replace("&lt;", "<").replace("&gt;", ">").replace("&quot;", '"')

        def numbers(text):
            return set(re.findall(r"(?<![\d.])-?\d+\.\d+(?![\d.])", text))

        # A chart is its numbers in plain text, and drawn in the others.
        told = numbers("\n".join(line for line in plain.splitlines() if line.count(";") < 3))
        self.assertGreater(len(told), 200)
        self.assertEqual(told - numbers(html), set())
        self.assertEqual(told - numbers(pdf), set())

    def test_an_owner_gets_one_page(self):
        """Whatever engine, on either paper: the owner's page, and the card, are one each."""
        for demo in ("thistle", "moorhen", "bramble"):
            job = self.folder / f"{demo}-page.wwjob"
            self.cli("job", "import", job, ROOT / f"data/demo/{demo}.json")
            for paper in ("a4", "letter"):
                for page in ("owner", "card"):
                    with self.subTest(demo=demo, paper=paper, page=page):
                        file = self.folder / "page.pdf"
                        subprocess.run([CLI, "handover", "write", job, file, "--page", page, "--paper", paper, "--today", "2026-11-28"], capture_output=True)
                        info = subprocess.run(["pdfinfo", file], capture_output=True, text=True, check=True).stdout
                        self.assertIn("Pages:           1\n", info)

    def test_photos_by_choice(self):
        """A grey picture of 8 × 8, as a portable bitmap; chosen by its path, looked for beside the job."""
        (self.folder / "tube.ppm").write_bytes(b"P6 8 8 255\n" + bytes(8 * 8 * 3))
        self.write("a.html")
        self.assertNotIn("data:image", (self.folder / "a.html").read_text())
        self.cli("job", "set", self.job, "handover.photos", "tube.ppm\ngone.png")
        self.write("a.html")
        page = (self.folder / "a.html").read_text()
        self.assertEqual(page.count("data:image/jpeg"), 1)
        self.assertIn("not there, or no picture (gone.png)", page)
        self.write("a.pdf")
        listed = subprocess.run(["pdfimages", "-list", self.folder / "a.pdf"], capture_output=True, text=True, check=True).stdout
        self.assertEqual(len(listed.strip().splitlines()), 3)  # two lines of head
        self.assertTrue(self.json("handover", "check", self.folder / "a.pdf", self.job)["intact"])

    def test_letter_paper(self):
        self.write("a.pdf", "--paper", "letter")
        info = subprocess.run(["pdfinfo", self.folder / "a.pdf"], capture_output=True, text=True, check=True).stdout
        self.assertIn("612 x 792", info)

    def test_numbers_of_the_pump(self):
        """Balance of volumes: (level · before + litres · fuel) / (level + litres)."""
        shown = self.json("handover", "show", self.job, "--today", "2026-11-28", code=1)
        self.assertEqual(len(shown["pour"]), 2)
        content = {f["fuel"]: f["content"] for f in shown["fuels"]}
        for table in shown["pour"]:
            self.assertEqual(table["level_l"], self.json("job", "get", self.job, "tank.capacity_l")["value"] / 4)
            for before, row in zip(table["content_before"], table["content_after"]):
                for litres, after in zip(table["litres"], row):
                    expected = (table["level_l"] * before + litres * content[table["fuel"]]) / (table["level_l"] + litres)
                    self.assertAlmostEqual(after, expected, delta=1e-12)
        full = self.json("handover", "show", self.job, "--level-l", "30", code=1)["pour"][0]
        self.assertEqual(full["level_l"], 30)
        # The states are those of verify.
        verdict = self.json("verify", self.job, code=1)
        self.assertEqual(shown["answered"], False)
        self.assertEqual(shown["holds_ranges"], verdict["holds_ranges"])
        self.assertTrue({f["state"] for f in shown["fuels"]} <= {"proven", "held", "caution", "not_judged", "fails"})
        self.assertNotIn("Octane booster", content)  # an additive is no fuel

    def test_a_page_alone(self):
        owner = self.cli("handover", "write", self.job, "-", "--page", "owner", code=1)
        self.assertIn("What to watch", owner)
        self.assertNotIn("Rungs passed", owner)
        card = self.cli("handover", "write", self.job, "-", "--page", "card", code=1)
        self.assertIn("In it now", card)
        self.assertNotIn("What to watch", card)
        self.write("card.pdf", "--page", "card")
        self.assertEqual(subprocess.run(["pdfinfo", self.folder / "card.pdf"], capture_output=True, text=True, check=True).stdout.count("Pages:           1\n"), 1)
        self.assertTrue(self.json("handover", "check", self.folder / "card.pdf", self.job)["intact"])


if __name__ == "__main__":
    unittest.main()
