# SPDX-License-Identifier: GPL-3.0-or-later
"""The help in every language is the help: the same pages, links, keys and rows, and the words that the window shows."""
import pathlib
import re
import unittest
import xml.etree.ElementTree as ET

ROOT = pathlib.Path(__file__).resolve().parents[2]
HELP = ROOT / "data/help"
CATALOGUES = {file.stem.split("_")[1]: file for file in sorted((ROOT / "data/i18n").glob("wheelwright_*.ts"))}
PAGES = sorted(file.stem for file in HELP.glob("*.md"))
# What is not in the window under that very name, or under another form of it.
FREE = {"Nothing", "held", "judged", "and", "Held", "AFR", "Test tube", "Duty", "Correction", "How", "arithmetic", "Print", "next"}


def page(name, language=""):
    return (HELP / language / f"{name}.md").read_text(encoding="utf-8")


def pairs():
    for language in CATALOGUES:
        for name in PAGES:
            yield language, name, page(name), page(name, language)


def links(text):
    return sorted(re.findall(r"\]\(([^)]+)\)", text))


def code(text):
    """What is typed as it stands: commands, values, file names. Keys have names of their own in every language."""
    return sorted(" ".join(typed.split()) for typed in re.findall(r"`([^`]+)`", text)) + re.findall(r"^    \S.*$", text, re.M)


def outline(text):
    """Depth of each heading, and how many rows and points stand under it."""
    found = []
    for line in text.splitlines():
        if line.startswith("#"):
            found.append([len(line) - len(line.lstrip("#")), 0, 0, 0])
        elif line.startswith("|"):
            found[-1][1] += 1
        elif re.match(r"(-|\d\.) ", line):
            found[-1][2] += 1
        elif line and not found[-1][3]:
            found[-1][3] = 1
    return found


def emphasised(text):
    prose = re.sub(r"`[^`]*`", "", text)
    prose = re.sub(r"^\|.*$", "", prose, flags=re.M)
    for m in re.finditer(r"\*\*([^*]+)\*\*|(?<!\*)\*([^*]+)\*(?!\*)", prose):
        yield re.sub(r"\s+", " ", m.group(1) or m.group(2)).strip(" .:")


def shown_as(catalogue):
    """Every way in which the window says a word, in small letters and without marks of a shortcut."""
    said = {}
    for m in ET.parse(catalogue).iter("message"):
        source, target = ((m.findtext(tag) or "").replace("&", "").rstrip("….:").lower() for tag in ("source", "translation"))
        said.setdefault(source, set()).add(target)
    return said


def says(text, way):
    """Whether a text has those words in that order; a word may be bent at its end."""
    bent = [re.escape(word[:max(4, len(word) - 2)]) + r"\w*" if word.isalpha() else re.escape(word) for word in way.split()]
    return re.search(r"\b" * way[:1].isalpha() + r"[\s…]*".join(bent), text) is not None


class HelpPages(unittest.TestCase):
    maxDiff = None

    def test_every_language_has_every_page(self):
        self.assertGreaterEqual(len(CATALOGUES), 2)
        self.assertGreaterEqual(len(PAGES), 20)
        resources = (ROOT / "src/ui/resources.qrc").read_text(encoding="utf-8")
        for language in CATALOGUES:
            theirs = sorted(file.stem for file in (HELP / language).glob("*.md"))
            self.assertEqual(theirs, sorted(PAGES + ["sources"]))  # the list of sources has a foreword of its own there
            for name in theirs:
                self.assertIn(f'<file alias="{language}/{name}.md">', resources)

    def test_links_and_pictures_are_the_same(self):
        for language, name, ours, theirs in pairs():
            self.assertEqual(links(theirs), links(ours), f"{language}/{name}")

    def test_what_is_typed_is_the_same(self):
        for language, name, ours, theirs in pairs():
            self.assertEqual(code(theirs), code(ours), f"{language}/{name}")

    def test_headings_rows_and_points_are_the_same(self):
        for language, name, ours, theirs in pairs():
            self.assertEqual(outline(theirs), outline(ours), f"{language}/{name}")

    def test_no_sentence_was_left_in_english(self):
        for language, name, ours, theirs in pairs():
            known = {line.strip() for line in ours.splitlines() if len(line.split()) > 3 and not line.startswith("    ")}
            self.assertEqual([line for line in theirs.splitlines() if line.strip() in known], [], f"{language}/{name}")

    def test_a_word_of_the_window_is_said_as_the_window_says_it(self):
        """A name in bold or italics that the window shows in English stands in the translation as the window shows it there."""
        held, missing = 0, []
        for language, catalogue in CATALOGUES.items():
            said = shown_as(catalogue)
            for name in PAGES:
                if name == "formulas":
                    continue
                theirs = re.sub(r"\s+", " ", page(name, language)).lower()
                for word in emphasised(page(name)):
                    if word in FREE or word.lower() not in said:
                        continue
                    held += 1
                    ways = said[word.lower()]
                    if not any(says(theirs, way) for way in ways):
                        missing.append(f"{language}/{name}: '{word}' is '{' or '.join(sorted(ways))}' in the window")
        self.assertEqual(missing, [])
        self.assertGreaterEqual(held, 150)

    def test_numbers_are_the_same(self):
        """Every number of a page stands in its translation, with the mark of its language."""
        for language, name, ours, theirs in pairs():
            if name == "formulas":
                continue
            strip = lambda text: re.sub(r"`[^`]*`|\]\([^)]*\)|\bPos1\b", "", text)
            numbers = lambda text: sorted(n.replace(",", ".") for n in re.findall(r"\d+(?:[.,]\d+)?", strip(text)))
            self.assertEqual(numbers(theirs), numbers(ours), f"{language}/{name}")


if __name__ == "__main__":
    unittest.main()
