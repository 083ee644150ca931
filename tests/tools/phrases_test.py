# SPDX-License-Identifier: GPL-3.0-or-later
"""Sentences that are marked for translators: literals with an id of their own, found by the translators' tool."""
import pathlib
import re
import shutil
import subprocess
import tempfile
import unittest
import xml.etree.ElementTree

ROOT = pathlib.Path(__file__).resolve().parents[2]
LITERALS = r'"(?:[^"\\]|\\.)*"(?:\s*"(?:[^"\\]|\\.)*")*'
MARKED = re.compile(r"\bMARKED\(\s*(.*?)\)", re.S)
ARGUMENTS = re.compile(rf'MARKED\(\s*({LITERALS})\s*,\s*({LITERALS})\s*\)', re.S)


def joined(literals):
    return "".join(re.findall(r'"((?:[^"\\]|\\.)*)"', literals))


def marked():
    """(file, id, text) of every marked sentence of the sources."""
    for path in sorted((ROOT / "src").rglob("*.cpp")) + sorted((ROOT / "src").rglob("*.h")):
        source = path.read_text(encoding="utf-8")
        if path.name == "phrase.h":
            continue
        for found in ARGUMENTS.finditer(source):
            yield path, joined(found[1]), joined(found[2])


class Phrases(unittest.TestCase):
    def test_both_arguments_are_literals(self):
        for path in sorted((ROOT / "src").rglob("*.cpp")):
            source = path.read_text(encoding="utf-8")
            self.assertEqual(len(re.findall(r"\bMARKED\(", source)), len(ARGUMENTS.findall(source)), path)

    def test_an_id_is_one_text(self):
        texts = {}
        for path, phrase, text in marked():
            self.assertEqual(texts.setdefault(phrase, text), text, f"{path}: {phrase}")
            self.assertRegex(phrase, r"^[a-z0-9_]+(\.[a-z0-9_]+)*$")
        self.assertGreater(len(texts), 20)

    def test_no_text_stands_in_pieces(self):
        """What is put together of pieces cannot be translated: a phrase has places for what goes into it."""
        for path in sorted((ROOT / "src").rglob("*.cpp")):
            source = path.read_text(encoding="utf-8")
            for found in ARGUMENTS.finditer(source):
                around = source[: found.start()].rstrip()[-1:] + source[found.end() :].lstrip()[:1]
                self.assertNotIn("+", around, f"{path}: {joined(found[1])}")

    def test_places_are_numbered_without_gaps(self):
        for path, phrase, text in marked():
            for kind in ("[0-9]+", "[a-z]", "[A-Z]"):
                places = sorted(set(re.findall(rf"\{{({kind})\}}", text)))
                first = {"[0-9]+": "0", "[a-z]": "a", "[A-Z]": "A"}[kind]
                self.assertEqual(places, [chr(ord(first) + i) for i in range(len(places))], f"{path}: {phrase}")
            self.assertEqual(text.count("⟨"), text.count("⟩"), phrase)

    def test_the_tool_of_translators_finds_them_all(self):
        with tempfile.TemporaryDirectory() as folder:
            target = pathlib.Path(folder) / "core.ts"
            run = subprocess.run([ROOT / "tools" / "translations", target], capture_output=True, text=True)
            self.assertEqual(run.returncode, 0, run.stderr)
            found = {}
            for context in xml.etree.ElementTree.parse(target).getroot().iter("context"):
                for message in context.iter("message"):
                    found.setdefault(context.find("name").text, []).append(message.find("source").text)
        for path, phrase, text in marked():
            self.assertIn(text, found.get(phrase, []), f"{path}: {phrase}")


if __name__ == "__main__":
    unittest.main()
