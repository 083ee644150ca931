# SPDX-License-Identifier: GPL-3.0-or-later
"""The examples for scripts do what they say: each is run as it stands, and answers what its file of outputs holds."""
import os
import pathlib
import subprocess
import sys
import tempfile
import unittest

CLI = os.path.abspath(sys.argv.pop(1))
ROOT = pathlib.Path(__file__).resolve().parents[2]
EXAMPLES = sorted(p for p in (ROOT / "examples").iterdir() if p.suffix in (".sh", ".py"))


def run(example, **more):
    environment = {**os.environ, "WHEELWRIGHT_CLI": CLI, "WHEELWRIGHT_DEMO": str(ROOT / "data/demo"), "LC_ALL": "C.UTF-8", **more}
    with tempfile.TemporaryDirectory() as folder:
        return subprocess.run([example, folder], capture_output=True, text=True, env=environment)


class Examples(unittest.TestCase):
    def test_each_answers_what_is_written_beside_it(self):
        self.assertGreaterEqual(len(EXAMPLES), 5)
        for example in EXAMPLES:
            with self.subTest(example=example.name):
                done = run(example)
                self.assertEqual((done.returncode, done.stderr), (0, ""), done.stderr)
                expected = ROOT / "examples/output" / (example.stem + ".txt")
                if os.environ.get("WHEELWRIGHT_WRITE_EXAMPLES"):  # after a change that was meant
                    expected.write_text(done.stdout)
                self.assertEqual(done.stdout, expected.read_text())

    def test_outputs_belong_to_examples(self):
        self.assertEqual({p.stem for p in (ROOT / "examples/output").iterdir()}, {p.stem for p in EXAMPLES})

    def test_each_says_what_it_is_for(self):
        for example in EXAMPLES:
            text = example.read_text()
            self.assertIn(f"examples/{example.name} [folder to work in]", text)
            self.assertTrue(os.access(example, os.X_OK), example.name)

    def test_a_job_that_is_not_there_ends_them(self):
        """No example goes on as if nothing had happened."""
        for example in EXAMPLES:
            with self.subTest(example=example.name):
                self.assertNotEqual(run(example, WHEELWRIGHT_DEMO="/nowhere").returncode, 0)


if __name__ == "__main__":
    unittest.main()
