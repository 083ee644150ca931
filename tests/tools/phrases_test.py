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
        found = {}
        for name, message in messages(extracted()):
            found.setdefault(name, []).append(message.find("source").text)
        for path, phrase, text in marked():
            self.assertIn(text, found.get(phrase, []), f"{path}: {phrase}")


def extracted():
    """What translators will find, of the sources as they are."""
    with tempfile.TemporaryDirectory() as folder:
        target = pathlib.Path(folder) / "all.ts"
        run = subprocess.run([ROOT / "tools" / "translations", target], capture_output=True, text=True)
        # A warning is a sentence that would be looked for under another name than it is translated under.
        assert (run.returncode, run.stderr) == (0, ""), run.stderr
        return xml.etree.ElementTree.parse(target)


def messages(document):
    for context in document.getroot().iter("context"):
        for message in context.iter("message"):
            yield context.find("name").text, message


class Translations(unittest.TestCase):
    """Each language has every sentence, whole, with the same places in it."""

    PLACES = re.compile(r"\{[0-9a-zA-Z]\}|%L?\d|%n|[⟨⟩]")

    @classmethod
    def setUpClass(cls):
        cls.sources = {(name, m.find("source").text) for name, m in messages(extracted())}
        cls.languages = {p.stem.split("_")[1]: list(messages(xml.etree.ElementTree.parse(p))) for p in sorted((ROOT / "data/i18n").glob("*.ts"))}

    def forms(self, message):
        translation = message.find("translation")
        return [f.text or "" for f in translation] if message.get("numerus") == "yes" else [translation.text or ""]

    def test_german_and_spanish_are_there_and_whole(self):
        self.assertEqual(set(self.languages), {"de", "es"})
        for language, found in self.languages.items():
            self.assertEqual({(name, m.find("source").text) for name, m in found}, self.sources, language)
            for name, m in found:
                self.assertNotIn("type", m.find("translation").attrib, (language, name, m.find("source").text))
                self.assertTrue(all(self.forms(m)), (language, name))

    def test_places_accelerators_and_ends_are_kept(self):
        for language, found in self.languages.items():
            for name, m in found:
                source = m.find("source").text
                for text in self.forms(m):
                    where = (language, name, source, text)
                    self.assertEqual(sorted(self.PLACES.findall(source)), sorted(self.PLACES.findall(text)), where)
                    self.assertEqual(source.count("\n"), text.count("\n"), where)
                    self.assertEqual(len(re.findall(r"&\w", source)) > 0, len(re.findall(r"&\w", text)) > 0, where)
                    self.assertEqual((source[:1].isspace(), source[-1:].isspace()), (text[:1].isspace(), text[-1:].isspace()), where)
                    for end in "…:?":
                        self.assertEqual(source.rstrip().endswith(end), text.rstrip().endswith(end), where)

    def test_no_sentence_is_left_in_english(self):
        """What reads the same in both has words that are the same in both, or none: formulas, names, units."""
        english = re.compile(r"\b(the|and|of|is|are|not|with|which|from|what|this|that|when|where|by)\b")
        title = re.compile(r"The determination of vehicle drag contributions from coast-down tests|Fundamentals of Vehicle Dynamics"
                           r"|(above|below)|job export --salvage")
        for language, found in self.languages.items():
            for name, m in found:
                for text in self.forms(m):
                    self.assertNotRegex(title.sub("", text), english, (language, name))

    def test_words_of_the_trade_are_the_same_everywhere(self):
        """As docs/glossary.md has them: a word that stands for another thing there is not used for this one."""
        rows = [[c.strip() for c in line.strip("|").split("|")] for line in (ROOT / "docs/glossary.md").read_text().splitlines() if line.startswith("| `")]
        self.assertGreater(len(rows), 30)
        columns = {"de": 1, "es": 2}
        for language, found in self.languages.items():
            for row in rows:
                word, wanted = row[0].strip("`"), row[columns[language]]
                stems = [w.strip().lower() for w in wanted.split(",")]
                spoken = [(name, m) for name, m in found if re.search(rf"\b{word}s?\b", m.find("source").text, re.I)]
                self.assertTrue(spoken, word)
                kept = sum(any(stem in text.lower() for stem in stems) for _, m in spoken for text in self.forms(m)[:1])
                self.assertGreaterEqual(kept / len(spoken), 0.75, (language, word, wanted, kept, len(spoken)))


if __name__ == "__main__":
    unittest.main()
