# SPDX-License-Identifier: GPL-3.0-or-later
"""What a package is made of: one version, completions of every word, and files that desktops can read."""
import pathlib
import re
import subprocess
import sys
import tempfile
import unittest
import xml.etree.ElementTree as xml

CLI, PRACTICE = sys.argv[1:3]
del sys.argv[1:3]
ROOT = pathlib.Path(__file__).resolve().parents[2]
DESKTOP = ROOT / "data/desktop"
ID = "local.wheelwright.Wheelwright"


def said(*command, to=None):
    return subprocess.run(command, capture_output=True, text=True, check=True, input=to).stdout


class Package(unittest.TestCase):
    def test_the_version_stands_in_one_place(self):
        newest = re.search(r"^## ([0-9.]+) \(\d{4}-\d\d-\d\d\)$", (ROOT / "CHANGELOG.md").read_text(), re.M).group(1)
        for program in (CLI, PRACTICE):
            self.assertEqual(said(program, "--version").split()[-1], newest)
        number = re.compile(rf"(?<![\d.]){re.escape(newest)}(?![\d.])")
        listed = said("git", "-C", str(ROOT), "ls-files", "CMakeLists.txt", "src", "packaging", "debian", "data/help", "data/desktop", "tools").split()
        elsewhere = [f for f in listed if f.endswith((".cpp", ".h", ".txt", ".md", ".in", ".py")) and f not in ("packages.txt",)
                     and "ersion" in (text := (ROOT / f).read_text(errors="ignore")) and any(number.search(line) and "ersion" in line for line in text.splitlines())]
        # A comment may show what one looks like.
        self.assertEqual([f for f in elsewhere if f != "src/core/base/version.h"], [])

    def test_completion_knows_every_subcommand_and_option(self):
        """By --help itself, in depth; each word is completed from its first letters, as a shell would."""
        for program, name in ((CLI, "wheelwright-cli"), (PRACTICE, "wheelwright-practice")):
            script = said(program, "--bash-completion")
            function = "_" + name.replace("-", "_")
            asked = []

            def walk(path):
                help_text = said(program, *path, "--help")
                after = help_text.split("Subcommands:\n")[1] if "Subcommands:\n" in help_text else ""
                subcommands = re.findall(r"^  ([a-z][a-z-]*)(?: |$)", after, re.M)
                options = re.findall(r"^  (?:-\w,)?(--[a-z][a-z0-9-]*)", help_text, re.M)
                for word in subcommands + options:
                    asked.append((path, word))
                for sub in subcommands:
                    walk([*path, sub])

            walk([])
            self.assertGreater(len(asked), 10)
            lines = [script]
            for path, word in asked:
                words = " ".join(f"'{w}'" for w in [name, *path, word])
                lines.append(f"COMP_WORDS=({words}); COMP_CWORD={len(path) + 1}; {function}; printf '%s\\n' \"${{COMPREPLY[*]}}\"")
            answers = said("bash", to="\n".join(lines) + "\n").splitlines()
            self.assertEqual(len(answers), len(asked))
            for (path, word), answer in zip(asked, answers):
                self.assertIn(word, answer.split(), (name, path))

    def test_completion_knows_the_words_of_an_option(self):
        script = said(CLI, "--bash-completion")

        def completed(*words):
            line = " ".join(f"'{w}'" for w in ("wheelwright-cli", *words))
            return said("bash", "-c", f'{script}\nCOMP_WORDS=({line}); COMP_CWORD={len(words)}; _wheelwright_cli; echo "${{COMPREPLY[*]}}"').split()

        self.assertEqual(completed("handover", "write", "--paper", ""), ["a4", "letter"])
        self.assertEqual(completed("handover", "write", "a.wwjob", "--paper", "l"), ["letter"])
        self.assertEqual(completed("handover", "write", "--today", ""), [])  # no word is known: files, by the shell
        self.assertEqual(completed("handover", "write", "--today", "write", "--pap"), ["--paper"])  # a value is no subcommand
        self.assertEqual(completed("handover", "write", "--json", "--pap"), ["--paper"])  # a flag takes none
        self.assertEqual(completed("hando"), ["handover"])

    def test_desktops_know_the_job_file(self):
        """The magic is the application id that job files are written with; names agree between the files."""
        mime = xml.parse(DESKTOP / "wheelwright.xml").getroot()
        ns = {"m": "http://www.freedesktop.org/standards/shared-mime-info"}
        kind = mime.find("m:mime-type", ns)
        self.assertEqual(kind.find("m:glob", ns).get("pattern"), "*.wwjob")
        outer = kind.find("m:magic/m:match", ns)
        inner = outer.find("m:match", ns)
        with tempfile.TemporaryDirectory() as folder:
            job = pathlib.Path(folder) / "a.wwjob"
            said(CLI, "job", "import", str(job), str(ROOT / "data/demo/bramble.json"))
            data = job.read_bytes()
        self.assertTrue(data.startswith(outer.get("value").replace("\\0", "\0").encode()))
        at = int(inner.get("offset"))
        self.assertEqual(data[at:at + 4], inner.get("value").encode())
        entry = dict(line.split("=", 1) for line in (DESKTOP / f"{ID}.desktop").read_text().splitlines() if "=" in line)
        self.assertEqual(entry["MimeType"].rstrip(";"), kind.get("type"))
        self.assertIn("%f", entry["Exec"])
        info = (DESKTOP / f"{ID}.metainfo.xml.in").read_text()
        for part in (f"<id>{ID}</id>", f"{ID}.desktop</launchable>", f"<mediatype>{kind.get('type')}</mediatype>"):
            self.assertIn(part, info)

    def test_every_package_that_is_built_with_is_listed(self):
        control = (ROOT / "debian/control").read_text()
        built = control.split("Build-Depends:")[1].split("\n\n")[0]
        listed = {line.strip() for line in (ROOT / "packages.txt").read_text().splitlines() if line and not line.startswith("#")}
        for name in re.findall(r"[a-z][a-z0-9+.-]+", re.sub(r"\(.*?\)", "", built)):
            if name != "debhelper-compat":
                self.assertIn(name, listed)


if __name__ == "__main__":
    unittest.main()
