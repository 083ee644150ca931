# SPDX-License-Identifier: GPL-3.0-or-later
"""Job files through the command line, two processes at a time where it takes two: nothing lost, nothing believed."""
import fcntl
import json
import os
import pathlib
import random
import shutil
import signal
import sqlite3
import subprocess
import sys
import tempfile
import time
import unittest

CLI = sys.argv.pop(1)
ROOT = pathlib.Path(__file__).resolve().parents[2]
DEMO = ROOT / "data/demo/thistle.json"
EDIT = ["spark", "--content", "0.5", "--expression"]


class Store(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.shelf = pathlib.Path(tempfile.mkdtemp())
        subprocess.run([CLI, "job", "import", cls.shelf / "good.wwjob", DEMO], check=True, capture_output=True)
        cls.document = subprocess.run([CLI, "job", "export", cls.shelf / "good.wwjob"], check=True, capture_output=True, text=True).stdout

    @classmethod
    def tearDownClass(cls):
        shutil.rmtree(cls.shelf)

    def setUp(self):
        self.folder = pathlib.Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder)
        self.job = self.folder / "a.wwjob"
        shutil.copy(self.shelf / "good.wwjob", self.job)

    def run_cli(self, *arguments, code=None, **more):
        more.setdefault("stdin", subprocess.DEVNULL)
        r = subprocess.run([CLI, *map(str, arguments)], capture_output=True, text=True, errors="replace", timeout=60, **more)
        self.assertIn(r.returncode, (0, 1, 2), r.stderr)
        if r.returncode == 2:
            self.assertEqual((r.stdout, len(r.stderr.strip().splitlines())), ("", 1), r.stderr)
        if code is not None:
            self.assertEqual(r.returncode, code, r.stdout + r.stderr)
        return r

    def export(self, job=None):
        return self.run_cli("job", "export", job or self.job, code=0).stdout

    def spark(self, job=None):
        return json.loads(self.export(job))["calibration"]["spark"]["base"]["rows"]

    def edit(self, expression, job=None, **more):
        return self.run_cli("table", "edit", job or self.job, *EDIT, expression, **more)

    # a crash in the middle of a write

    def test_a_journal_left_behind_locks_nobody_out(self):
        if (pid := os.fork()) == 0:
            db = sqlite3.connect(self.job, isolation_level=None)
            db.execute("PRAGMA cache_size = 2")
            db.execute("BEGIN IMMEDIATE")
            db.execute("UPDATE cell SET value = value + 1")
            os.kill(os.getpid(), signal.SIGKILL)
        os.waitpid(pid, 0)
        journal = pathlib.Path(f"{self.job}-journal")
        self.assertGreater(journal.stat().st_size, 512)
        torn = (self.job.read_bytes(), journal.read_bytes())
        for arguments in (["job", "export", self.job], ["verify", self.job], ["job", "info", self.job], ["table", "export", self.job, "spark.base", "--csv", "-"],
                          ["tank", "opinions", self.job], ["table", "edit", self.job, "spark.base", "--expression", "+0.5"], ["job", "export", self.job, "--salvage"]):
            self.job.write_bytes(torn[0])
            journal.write_bytes(torn[1])
            r = self.run_cli(*arguments)
            self.assertLess(r.returncode, 2, r.stderr)
            if arguments[1] == "export" and arguments[0] == "job":
                self.assertEqual(r.stdout, self.document)

    def test_killed_at_any_moment(self):
        rng, now, kills, confirmed = random.Random(3), self.document, 0, 0
        copy = self.folder / "copy.wwjob"
        for round_ in range(40):
            value = round(rng.uniform(8, 30), 2)
            shutil.copy(self.job, copy)
            self.edit(f"={value}", copy, code=0)
            new = self.export(copy)
            p = subprocess.Popen([CLI, "table", "edit", self.job, *EDIT, f"={value}"], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
            time.sleep(rng.uniform(0.002, 0.12))
            p.kill()
            kills += p.wait() == -9
            got = self.export()
            self.assertIn(got, (now, new))
            if p.returncode == 0:
                confirmed += 1
                self.assertEqual(got, new, "a confirmed edit was lost")
            now = got
        self.assertGreater(kills, 5)

    def test_a_killed_import_blocks_no_name(self):
        rng, killed = random.Random(4), 0
        for _ in range(25):
            target = self.folder / "new.wwjob"
            p = subprocess.Popen([CLI, "job", "import", target, DEMO], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
            time.sleep(rng.uniform(0.005, 0.15))
            p.kill()
            killed += p.wait() == -9
            if not target.exists():
                self.run_cli("job", "import", target, DEMO, code=0)
            self.assertEqual(self.export(target), self.document)
            target.unlink()
            self.assertEqual({f.name for f in self.folder.iterdir()} - {"new.wwjob.lock"}, {"a.wwjob"})
        self.assertGreater(killed, 3)

    # two writers

    def test_a_slow_import_takes_no_edit_back(self):
        csv = self.folder / "s.csv"
        self.run_cli("table", "export", self.job, "spark.base", "--csv", csv, code=0)
        text = csv.read_text().replace(",11.5,", ",12.5,", 1)
        slow = subprocess.Popen([CLI, "table", "import", self.job, "spark.base", "--csv", "-"], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
        slow.stdin.write(text[:200])
        slow.stdin.flush()
        time.sleep(0.4)
        self.run_cli("table", "edit", self.job, "fuel.base", "--expression", "*1.05", code=0)  # it waits for nobody
        slow.communicate(text[200:])
        self.assertEqual(slow.returncode, 0)
        before, after = json.loads(self.document)["calibration"], json.loads(self.export())["calibration"]
        self.assertAlmostEqual(after["fuel"]["base"]["rows"][0][0] / before["fuel"]["base"]["rows"][0][0], 1.05, places=12)
        self.assertNotEqual(after["spark"]["base"], before["spark"]["base"])
        actions = json.loads(self.run_cli("job", "info", self.job, "--json", code=0).stdout)
        self.assertEqual(actions["actions"], 3)
        self.assertIn("Import", actions["last_action"]["what"])

    def test_edits_at_once_are_all_there(self):
        expected = self.spark()
        document = json.loads(self.document)["calibration"]["spark"]["base"]
        cells = [(x, y) for y in range(4) for x in range(6)]
        for at in range(0, len(cells), 3):
            running = []
            for k, (x, y) in enumerate(cells[at:at + 3], at):
                rpm, load = document["rpm"][x], document["load_kpa"][y]
                running.append((x, y, 5 + k / 10, subprocess.Popen([CLI, "table", "edit", self.job, "spark.base", "--expression", f"={5 + k / 10}", "--rpm", f"{rpm},{rpm}",
                                                                    "--y", f"{load},{load}"], stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True)))
            for x, y, value, p in running:
                error = p.communicate()[1]
                self.assertIn(p.returncode, (0, 2))
                if p.returncode == 0:
                    expected[y][x] = value
                else:
                    self.assertIn("another", error)
        self.assertEqual(self.spark(), expected)

    def test_whoever_holds_it_is_named(self):
        with open(f"{self.job}.lock", "w") as held:
            fcntl.flock(held, fcntl.LOCK_EX)
            self.assertIn("another window or command", self.edit("+1", code=2).stderr)
            os.symlink(self.job, self.folder / "link.wwjob")
            self.assertIn("another", self.edit("+1", self.folder / "link.wwjob", code=2).stderr)
            self.assertEqual(self.export(), self.document)  # readers are let in
        self.edit("+1", code=0)

    def test_a_hard_link_is_the_same_job(self):
        os.link(self.job, self.folder / "hard.wwjob")
        p = subprocess.Popen([sys.executable, "-c", f"""
import fcntl, struct, sys, time
f = open({str(self.job)!r}, 'r+b')
fcntl.fcntl(f, 37, struct.pack('hhqqi4x', fcntl.F_WRLCK, 0, 0x40001000, 1, 0))
print('held', flush=True); time.sleep(60)"""], stdout=subprocess.PIPE, text=True)
        try:
            self.assertEqual(p.stdout.readline().strip(), "held")
            for name in ("a.wwjob", "hard.wwjob"):
                self.assertIn("another", self.edit("+1", self.folder / name, code=2).stderr)
        finally:
            p.kill()
            p.wait()
            p.stdout.close()
        self.edit("+1", self.folder / "hard.wwjob", code=0)

    # odd files, exports

    def test_an_export_never_replaces_a_job(self):
        shutil.copy(self.job, self.folder / "b.wwjob")
        other = self.folder / "database"
        sqlite3.connect(other).execute("CREATE TABLE t (x)").connection.close()
        for target in (self.job, self.folder / "b.wwjob", self.folder / "new.wwjob", other):
            keep = target.read_bytes() if target.exists() else None
            for arguments in (["job", "export", self.job, target], ["table", "export", self.job, "spark.base", "--csv", target],
                              ["job", "export", self.job, target, "--salvage"]):
                self.assertIn("never replaces a job", self.run_cli(*arguments, code=2).stderr)
            self.assertEqual(target.read_bytes() if target.exists() else None, keep)
        self.assertEqual(self.export(), self.document)

    def test_only_regular_files_are_read(self):
        os.mkfifo(self.folder / "pipe")
        os.symlink("/dev/zero", self.folder / "zero.json")
        for name in ("pipe", "zero.json", ".", "none"):
            for arguments in (["verify", self.folder / name], ["job", "import", self.folder / "n.wwjob", self.folder / name],
                              ["table", "import", self.job, "spark.base", "--csv", self.folder / name], ["job", "export", self.folder / name, "--salvage"]):
                self.run_cli(*arguments, code=2)
        self.assertFalse((self.folder / "n.wwjob").exists())

    def test_a_document_from_standard_input(self):
        r = subprocess.run([CLI, "job", "import", self.folder / "n.wwjob", "-"], input=self.document, capture_output=True, text=True)
        self.assertEqual(r.returncode, 0, r.stderr)
        self.assertEqual(self.export(self.folder / "n.wwjob"), self.document)

    def test_documents_without_end(self):
        for text in ('{"format":' + "[" * 100000 + "]" * 100000 + "}", '{"format":"wheelwright-job","version":' + "[" * 100000 + "]" * 100000 + "}", "[" * 500000):
            (self.folder / "deep.json").write_text(text)
            self.assertIn("expected", self.run_cli("job", "import", self.folder / "n.wwjob", self.folder / "deep.json", code=2).stderr)
        for text, word in (("", "nothing"), ("\ufeff", "nothing"), (json.dumps({"format": "x" * 100000, "version": 1}), "xxx…xxx")):
            (self.folder / "odd.json").write_text(text)
            error = self.run_cli("verify", self.folder / "odd.json", code=2).stderr
            self.assertIn(word, error)
            self.assertLess(len(error), 300)
        for text, word in (('{"name": "M\xfcller"}'.encode("latin-1"), "UTF-8"), ('{"a": 1}'.encode("utf-16"), "UTF-16")):
            (self.folder / "odd.json").write_bytes(text)
            error = self.run_cli("verify", self.folder / "odd.json", code=2).stderr
            self.assertIn(word, error)
            self.assertNotIn("exception", error)

    def test_a_large_table_is_refused_without_holding_it(self):
        with open(self.folder / "large.csv", "w") as f:
            f.write("load,1000\n")
            for _ in range(400):
                f.write("5,1\n" * 10000)
        for command in ("import",):
            p = subprocess.Popen([CLI, "table", command, self.job, "spark.base", "--csv", self.folder / "large.csv"], stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True)
            error = p.stderr.read()
            _, status, usage = os.wait4(p.pid, 0)
            p.returncode = os.waitstatus_to_exitcode(status)
            p.stderr.close()
            self.assertEqual(p.returncode, 2)
            self.assertIn("at most 65 rows", error)
            self.assertLess(usage.ru_utime, 5)

    def test_a_job_without_history_does_not_crash(self):
        sqlite3.connect(self.job).executescript("DELETE FROM action")
        self.assertIn("action is not what its digest says", self.run_cli("job", "info", self.job, code=2).stderr)

    def test_salvage_of_a_cut_file(self):
        whole = self.job.read_bytes()
        for share in (0.35, 0.6, 0.9):
            self.job.write_bytes(whole[:int(len(whole) * share)])
            self.assertIn("--salvage", self.run_cli("verify", self.job, code=2).stderr)
            r = self.run_cli("job", "export", self.job, self.folder / "s.json", "--salvage", code=1)
            self.assertTrue(all(line.startswith("lost: ") and len(line) < 320 for line in r.stderr.strip().splitlines()), r.stderr)
            (self.folder / "s.wwjob").unlink(missing_ok=True)
            self.run_cli("job", "import", self.folder / "s.wwjob", self.folder / "s.json", code=0)  # what is left holds
        got = json.loads((self.folder / "s.json").read_text())
        titles = {"fuel": "Fuel", "spark": "Spark", "boost": "Boost target", "lambda": "Lambda target"}
        kept = 0
        for quantity, title in titles.items():
            for end in ("base", "top"):
                if f"lost: {title}, {end}:" not in r.stderr:
                    kept += 1
                    self.assertEqual(got["calibration"][quantity][end], json.loads(self.document)["calibration"][quantity][end])
        self.assertGreaterEqual(kept, 4)
        self.job.write_bytes(whole)
        r = self.run_cli("job", "export", self.job, "--salvage", code=0)
        self.assertEqual((r.stdout, r.stderr), (self.document, ""))

    # tables of something else

    def test_a_table_of_something_else(self):
        csv = self.folder / "t.csv"
        self.run_cli("table", "export", self.job, "lambda.base", "--csv", csv, code=0)
        self.assertIn("'lambda'", self.run_cli("table", "import", self.job, "spark.base", "--csv", csv, code=2).stderr)
        csv.write_text(csv.read_text().replace("lambda / load_kpa / rpm", "x", 1))
        r = self.run_cli("table", "import", self.job, "spark.base", "--csv", csv, "--json", code=1)
        self.assertIn("λ", json.loads(r.stdout)["doubtful"])
        self.run_cli("table", "import", self.job, "lambda.base", "--csv", csv, code=0)
        csv.write_text("load,1000,2000\n50,70,12\n")
        self.assertIn("-20 to 60", self.run_cli("table", "import", self.job, "spark.base", "--csv", csv, code=2).stderr)

    def test_an_edit_that_chose_nothing(self):
        r = self.run_cli("table", "edit", self.job, "spark.base", "--expression", "+1", "--where", "> 59", "--json", code=1)
        self.assertEqual((json.loads(r.stdout)["chosen_cells"], json.loads(r.stdout)["applied"]), (0, False))
        self.assertEqual(self.export(), self.document)
        r = self.run_cli("table", "edit", self.job, "spark.base", "--expression", "+0", "--json", code=0)
        self.assertEqual((json.loads(r.stdout)["changed_cells"], json.loads(r.stdout)["applied"]), (0, False))

    def test_migration_says_what_it_could_not_do(self):
        shutil.copy(ROOT / "tests/data/version-5.wwjob", self.job)
        os.mkdir(self.folder / "a.wwjob.v5")
        self.edit("+1", code=0)
        self.assertEqual((self.folder / "a.wwjob.v5-2").read_bytes(), (ROOT / "tests/data/version-5.wwjob").read_bytes())
        os.rmdir(self.folder / "a.wwjob.v5")

    def test_one_cell_beside_thousands_of_records(self):
        # A mark against growth by the square, not a timing: a blank job for each value read took 2.5 s of processor time.
        document = json.loads(self.document)
        document["tank"]["events"] = [{"at": "2001-02-03T04:05:06Z", "kind": ("pour", "burn")[i % 2], "litres": 1, "ethanol": 0.3 * (i % 2 == 0)} for i in range(10000)]
        (self.folder / "many.json").write_text(json.dumps(document))
        self.run_cli("job", "import", self.folder / "many.wwjob", self.folder / "many.json", code=0)

        def cost(job):
            best = 1e9
            for _ in range(3):
                before = os.times()
                self.edit("+0.1", job, code=0)
                after = os.times()
                best = min(best, after.children_user - before.children_user)
            return best
        few, many = cost(self.job), cost(self.folder / "many.wwjob")
        self.assertLess(many, max(20 * few, 3), (few, many))


if __name__ == "__main__":
    unittest.main()
