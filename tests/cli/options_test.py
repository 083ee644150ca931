# SPDX-License-Identifier: GPL-3.0-or-later
"""Every option of every subcommand: it matters, it is refused where it does not, and rubbish is refused always.

The options are those that --help names, so that a new one without a line here fails.
"""
import json
import pathlib
import re
import shutil
import subprocess
import sys
import tempfile
import unittest

CLI = sys.argv.pop(1)
ROOT = pathlib.Path(__file__).resolve().parents[2]

JOB = "{job}"
TANK = "--capacity-l 60 --volume-l 20 --ethanol 0.5"
PILLS = "--pump-l-min 32 --main-mm 2.79 --high-speed-mm 1.5 --high-speed-opens-kpa 300 --port-mm 1 --port-opens-kpa 200"
# Subcommand, what it is called with, and another value of each option that must show in the answer. A list: what
# else must change with it.
CASES = [
    ("fuel", "--ethanol 0.5", {"--ethanol": "0.6", "--methanol": "0.1", "--reference-ethanol": "0.3"}),
    ("blend", f"{JOB} --content 0.5 --rpm 4000 --load-kpa 150", {"--content": "0.6", "--rpm": "4300", "--load-kpa": "160"}),
    ("table edit", f"{JOB} spark --content 0.5 --expression +1 --dry-run",
     {"--content": ["spark.base"], "--expression": "+0", "--rpm": "3000,4000", "--y": "100,150", "--where": "> 30"}),
    ("table state", f"{JOB} spark.base --dry-run", {"--rpm": "3000,4000", "--y": "100,150", "--where": "> 30"}),
    ("job new", "{new} --estimate",
     {"--name": "N", "--displacement-l": "1.1", "--cylinders": "3", "--rev-limit-rpm": "8000", "--torque-peak-rpm": "3900", "--boost-kpa": "40", "--charging": "blower", "--alcohol": "methanol",
      "--base-content": "0.2", "--top-content": "0.7", "--injector-cc-min": "700", "--compression": "11"}),
    ("tank plan", f"{TANK} --target-ethanol 0.3 --shelf 0,0.85",
     {"--capacity-l": "34", "--volume-l": "21", "--ethanol": "0.6", "--target-ethanol": "0.4", "--level-l": "50", "--shelf": "0.1,0.85",
      "--methanol": "0.1", "--shelf-methanol": "0,0.1", "--price-per-l": "1,2", "--available-l": "5,5", "--can-l": "5,0", "--volume-sigma-l": "1", "--ethanol-sigma": "0.02",
      "--shelf-sigma": "0.02,0.02", "--pour-sigma": "0.02", "--reserve-l": "25"}),
    ("tank plan", f"{JOB} --target-ethanol 0.3", {"--target-ethanol": "0.4", "--level-l": "50"}),
    ("tank sheet", f"{JOB} --target-ethanol 0.3", {"--target-ethanol": "0.4", "--level-l": "50", "--today": "2026-09-09", "--html": ""}),
    ("report", f"{JOB} flow.injectors", {"--content": "0.8", "--workings": "", "--html": ""}),
    ("report", f"{JOB} fuel.shelf", {"--today": "2026-09-09"}),
    ("tank pour", f"{TANK} --add-l 10",
     {"--capacity-l": "25", "--volume-l": "21", "--ethanol": "0.6", "--methanol": "0.1", "--add-l": "11", "--add-ethanol": "0.3", "--add-methanol": "0.1",
      "--volume-sigma-l": "1", "--ethanol-sigma": "0.02", "--add-sigma-l": "0.5", "--add-ethanol-sigma": "0.02"}),
    ("tank flush", f"{TANK} --fill-ethanol 0.85 --target-ethanol 0.8 --rest-l 10",
     {"--capacity-l": "40", "--volume-l": "8", "--ethanol": "0.1", "--fill-ethanol": "0.9", "--target-ethanol": "0.849", "--rest-l": "5", "--within": "0.001"}),
    ("tank settle", "--before 0.1 --after 0.6 --line-l 0.5 --line-flow-l-min 0.25 --surge-l 2 --surge-flow-l-min 0.5 --rail-l 0.2",
     {"--before": "0.2", "--after": "0.7", "--line-l": "0.6", "--line-flow-l-min": "0.3", "--surge-l": "3", "--surge-flow-l-min": "0.6",
      "--sensor-place": "return", "--rail-l": "0.3", "--within": "0.05", "--return-l": ["0.4", "--sensor-place", "return"],
      "--use-l-min": ["0.1", "--sensor-place", "return"]}),
    ("tank settle", f"{JOB} --before 0.1 --after 0.6", {"--cruise": "", "--before": "0.2", "--after": "0.7", "--within": "0.05"}),
    ("tube", "--water 10 --fuel 100 --layer 73",
     {"--water": "11", "--fuel": "90", "--layer": "70", "--reading": "1", "--contraction": "0.03", "--contraction-sigma": "0.02"}),
    ("sensor", "--hz 100 --pulse-ms 3", {"--hz": "110", "--pulse-ms": "3.1"}),
    ("afr", "--afr 11 --ethanol 0.3", {"--afr": "11.2", "--scale": "14.1", "--true-scale": "", "--ethanol": "0.4", "--methanol": "0.1", "--lambda": [0.8, "-", "--afr"]}),
    ("compare", "--ethanol 0.1,0.85 --l-per-100km 12 --l-per-hour 80 --price-per-l 1,2",
     {"--ethanol": "0.1,0.8", "--methanol": "0,0.05", "--price-per-l": "1,3", "--reference-ethanol": "0.2", "--capacity-l": "50", "--l-per-100km": "13",
      "--l-per-hour": "90", "--use-ethanol": "0.3"}),
    ("compare", JOB, {"--today": "2026-09-09"}),
    ("shelf", JOB, {"--today": "2026-09-09"}),
    ("what-if", f"{JOB} --add-l 30 --add-ethanol 0.1 --volume-l 20 --ethanol 0.5",
     {"--add-l": "20", "--add-ethanol": "0.2", "--add-methanol": "0.1", "--volume-l": "25", "--ethanol": "0.6", "--methanol": "0.1"}),
    ("injector", "--flow-cc-min 500 --dead-time-ms 1 --pulse-ms 9 --rpm 6000 --linear-min-ms 9.5 --bsfc-g-kwh 300 --injectors 4 --measured 500,510,490",
     {"--flow-cc-min": "600", "--rated-pressure-kpa": ["320", "--differential-kpa", "300"], "--differential-kpa": "350", "--dead-time-ms": "1.1", "--pulse-ms": "9.6",
      "--rpm": "6100", "--batch": "", "--linear-min-ms": "8.5", "--test-fluid-kg-m3": "800", "--fuel-density-kg-m3": "760", "--injectors": "5", "--duty": "0.8",
      "--bsfc-g-kwh": "320", "--measured": "500,520,490", "--needs": "1,1.03,1", "--dead-times": ["12:1.2,14:0.8", "-", "--dead-time-ms"],
      "--battery-v": ["12.5", "--dead-times", "12:1.2,14:0.8", "-", "--dead-time-ms"]}),
    ("pump", "--points 300:5,400:4 --pressure-kpa 350 --demand-l-min 3 --commanded-kpa 300 --measured-kpa 290",
     {"--points": "300:5,400:4.2", "--pressure-kpa": "360", "--count": "2", "--demand-l-min": "3.1", "--margin": "0.1", "--sensor-needs-l-min": "2",
      "--commanded-kpa": "310", "--measured-kpa": "280"}),
    ("pump", JOB, {"--content": "0.7"}),
    ("frontier", JOB, {"--points": "5"}),
    ("spray", "--air-g-s 300 --lambda 0.82 --spray-cc-min 500 --rated-pressure-kpa 700 --pressure-kpa 700",
     {"--air-g-s": "310", "--lambda": "0.83", "--ethanol": "0.4", "--main-methanol": "0.1", "--spray-cc-min": "510", "--rated-pressure-kpa": "650",
      "--pressure-kpa": "650", "--methanol": "0.6"}),
    ("convert", f"{JOB} --school window_set --contents 0.1,0.85",
     {"--school": "stack", "--contents": "0.1,0.5,0.85", "--tolerance": "0.05", "--apply": "", "--meaning": ["true_ve", "-", "--school", "-", "--contents"],
      "--load-axis": ["air_mass", "-", "--school", "-", "--contents"], "--boost-axis": ["gear", "-", "--school", "-", "--contents"]}),
    ("bake", f"{JOB} --contents 0.1,0.85", {"--contents": "0.1,0.7", "--tolerance": "0.05", "--folder": "{folder}/baked"}),
    ("budget", f"{JOB} --content 0.5 --rpm 5000 --load-kpa 180", {"--content": "0.6", "--rpm": "5300", "--load-kpa": "190"}),
    ("regrid", f"{JOB} spark.base --rpm 1000,3000", {"--rpm": "1000,4000", "--y": "50,150", "--apply": ""}),
    ("injector-change", f"{JOB} --flow-cc-min 1600 --dead-time-ms 0.9",
     {"--flow-cc-min": "1500", "--dead-time-ms": "1", "--rated-pressure-kpa": "350", "--linear-min-ms": "4", "--test-fluid-kg-m3": "800", "--apply": ""}),
    ("boost", f"{JOB} --content 0.85", {"--content": "0.2", "--gear": "3"}),
    ("spray-cells", JOB, {"--content": "0.6"}),
    ("pills", PILLS + " --displacement-l 7 --pump-rpm 8000 --density-ratio 1.1 --rpm 7000",
     {"--pump-l-min": "33", "--pump-rpm": "8100", "--rpm": "7100", "--wear": "0.05", "--nozzles": "7", "--nozzle-mm": "1.1", "--nozzle-place": "ports", "--main-mm": "2.8",
      "--main-opens-kpa": "600", "--high-speed-mm": "1.6", "--high-speed-opens-kpa": "600", "--port-mm": "1.1", "--port-opens-kpa": "600",
      "--discharge-nozzles": "0.7", "--discharge-jets": "0.7", "--density-kg-m3": "780", "--displacement-l": "7.2", "--ve": "0.9", "--manifold-kpa": "150",
      "--intake-c": "70", "--stoich-afr": "6.6", "--step-mm": "0.1", "--count": "3", "--density-ratio": "1.2"}),
    ("pills", "{moorhen}", {"--count": "3", "--density-ratio": "1.2"}),
    ("air", "--temperature-c 20 --height-m 100", {"--temperature-c": "21", "--height-m": "110", "--humidity": "0.5", "--pressure-kpa": ["99", "-", "--height-m"]}),
    ("diff", "{job} {demo}", {"--guarded": None}),
    ("spark estimate", f"{JOB} --content 0.6 --rpm 3700 --load-kpa 210",
     {"--content": "0.7", "--rpm": "3900", "--load-kpa": "200", "--lambda": "0.75", "--intake-c": "60", "--compression": "10", "--spark-deg": "12"}),
    ("spark estimate", "--ivc-kpa 180 --ivc-k 340 --octane 95 --rpm 4000 --spark-deg 20",
     {"--ivc-kpa": "190", "--ivc-k": "350", "--octane": "99", "--rpm": "5000", "--spark-deg": "15", "--compression": "10", "--rod-ratio": "4", "--ivc-deg": "-140", "--evo-deg": "120",
      "--cylinder-l": "0.6", "--delay-deg": "13", "--burn-deg": "60", "--heat-kj-kg": "2400"}),
    ("spark estimate", JOB, {"--contents": "0.3", "--apply": ""}),
    ("spark worth", f"{JOB} --content 0.6 --rpm 3700 --load-kpa 210",
     {"--content": "0.7", "--rpm": "3900", "--load-kpa": "200", "--lambda": "0.75", "--intake-c": "60", "--compression": "10"}),
    ("spark shape", JOB, {"--apply": ""}),
    ("run type", f"{JOB} --points 3000:200,4000:220",
     {"--content": "0.6", "--mode": "loaded", "--standard": "din", "--pressure-kpa": ["98", "--temperature-c", "21", "--humidity", "0.4"],
      "--temperature-c": ["21", "--pressure-kpa", "98", "--humidity", "0.4"], "--humidity": ["0.4", "--pressure-kpa", "98", "--temperature-c", "21"],
      "--fuel": "Blend", "--dyno": "Roller", "--brake": "0.2", "--gear": "4", "--smoothed-rpm": "100", "--order": "7",
      "--start-intake-c": "41", "--start-coolant-c": "88", "--start-oil-c": "95", "--day": "2026-05-10", "--hardware": "cooler", "--cam": "high",
      "--change": "plugs", "--note": "calm", "--points": "3000:200,4000:230", "--of": "power_kw"}),
    ("run import", f"{JOB} {{root}}/data/demo/runs/thistle-01-e10-baseline.csv",
     {"--content": "0.6", "--mode": "loaded", "--standard": "din", "--pressure-kpa": ["98", "--temperature-c", "21", "--humidity", "0.4"],
      "--temperature-c": ["21", "--pressure-kpa", "98", "--humidity", "0.4"], "--humidity": ["0.4", "--pressure-kpa", "98", "--temperature-c", "21"],
      "--fuel": "Blend", "--dyno": "Roller", "--brake": "0.2", "--gear": "4", "--smoothed-rpm": "100", "--order": "7",
      "--start-intake-c": "41", "--start-coolant-c": "88", "--start-oil-c": "95", "--day": "2026-05-10", "--hardware": "cooler", "--cam": "high",
      "--change": "plugs", "--note": "calm", "--column": "torque=power_kw:nm"}),
    ("run correct", "--pressure-kpa 99 --temperature-c 30 --humidity 0.5", {"--pressure-kpa": "98", "--temperature-c": "31", "--humidity": "0.6"}),
    ("run compare", f"{JOB} --a 1 2 --b 3 4",
     {"--smooth-rpm": "500", "--standard": "std", "--no-drift": "", "--from-rpm": "3000", "--to-rpm": "6000", "--step-rpm": "100",
      "--at-rpm": "5000"}),
    ("run scatter", f"{JOB} --runs 1 2 3",
     {"--smooth-rpm": "500", "--standard": "std", "--no-drift": "", "--from-rpm": "3000", "--to-rpm": "6000", "--step-rpm": "100", "--gain-kw": "5"}),
    ("run contents", f"{JOB} --runs 1 2 3 4", {"--smooth-rpm": "500", "--standard": "std", "--no-drift": ""}),
    ("run worth", f"{JOB} --a 1 2 --b 3 4", {"--smooth-rpm": "500", "--standard": "std", "--no-drift": ""}),
    ("run cam", f"{JOB} --low 1 2 --high 3 4", {"--smooth-rpm": "500", "--standard": "std", "--no-drift": ""}),
    ("run sweep", f"{JOB} --runs 1 2 3 4 --rpm 5000", {"--smooth-rpm": "500", "--standard": "std", "--over": "boost", "--rpm": "4000"}),
    ("run list", JOB, {}),
    ("ladder plan", JOB, {"--today": "2026-09-09"}),
    ("run remove", f"{JOB} 1", {}),
    ("verify", JOB, {}),
    ("tank opinions", JOB, {}),
    ("job info", JOB, {}),
]
# Where one case cannot show them all, or where the answer is a file: these are tested in cli_test.py.
ELSEWHERE = {"job get": set(), "job set": set(), "job add": set(), "job remove": set(), "tank event": set(), "shelf add": set(),
             "shelf edit": set(), "revision keep": {"--note", "--sent"}, "revision list": set(), "revision restore": set(), "revision line": set(), "revision compare": set(), "revision rename": set(), "revision note": set(),
             "revision mark-sent": set(), "revision mark-returned": set(), "revision release": set(), "revision remove": set(), "handover write": {"--today", "--paper", "--page"}, "handover check": set(), "handover show": {"--today", "--level-l"}, "sheet show": set(), "sheet inspect": {"--wrong", "--note"}, "sheet confirm": set(), "sheet fit": set(), "sheet remove": set(), "table export": {"--csv", "--content"}, "table import": {"--csv", "--content"}, "job export": {"--file", "--salvage"},
             "job import": {"--file"}, "job new": {"--estimate"}, "job cautions": set(), "table edit": {"--dry-run"}, "table state": {"--dry-run"}, "log map": set(), "log list": set(), "log info": {"--log"}, "log remove": {"--log"},
             "log export": {"--log", "--csv"}, "log episodes": {"--log"}, "log delay": {"--log", "--keep"}, "log content": {"--log"}, "log state": {"--log", "--content"}, "log cleaning": {"--log"},
             "log along": {"--log", "--episode", "--role", "--over"}, "evidence visits": {"--rpm", "--load-kpa"}, "evidence coverage": {"--visited"},
             "evidence fuel": {"--log", "--damping", "--clamp", "--min-hits", "--delay-ms", "--apply", "--content", "--neighbours", "--region", "--nearest"},
             "evidence joint": {"--log", "--damping", "--clamp", "--min-hits", "--delay-ms", "--apply", "--equations"}, "evidence boost": {"--log", "--content", "--apply"}, "evidence proof": {"--log", "--delay-ms"}, "evidence knock": {"--log", "--content", "--min-hits", "--learned", "--apply"}, "evidence ceilings": {"--log", "--content", "--intake-c", "--apply"}, "evidence taken": {"--log"}, "evidence learning": {"--log"}, "evidence sweep": {"--log", "--points", "--content", "--apply"},
             "log findings": {"--log"}, "run from-log": set("--log --pull --content --mode --standard --pressure-kpa --temperature-c --humidity --fuel --revision --dyno --brake --gear --smoothed-rpm --order --start-intake-c --start-coolant-c --start-oil-c --day --hardware --cam --change --note".split()), "run export": {"--csv"}, "run type": {"--revision"}, "run import": {"--revision"}, "run compare": {"--a", "--b"}, "run scatter": {"--runs"}, "run contents": {"--runs"}, "run worth": {"--a", "--b"}, "run cam": {"--low", "--high", "--log"}, "run sweep": {"--runs"},
             "run shape": {"--runs"}, "run dynos": {"--smooth-rpm", "--standard"}, "run road": {"--log", "--pull", "--back", "--apply"}, "run coast": {"--log", "--from-s", "--to-s", "--apply"}, "live map": set(), "live record": set("--bus --map --seconds --hz --channels --content --revision --note".split()), "live recover": {"--channels", "--content"}, "train list": set(), "train run": {"--script", "--answer", "--hints"}, "live decode": {"--map", "--csv", "--hz"}, "bundle out": {"--folder", "--today", "--rung", "--name", "--note"}, "bundle back": {"--folder", "--today", "--revision", "--content"}, "ladder status": {"--today"}, "ladder forecast": {"--today"}, "ladder pass": {"--today", "--by-hand"}, "ladder look": {"--note"}, "ladder set": set(), "ladder do": {"--today"}, "ladder replan": {"--today", "--volume-l", "--content"},
             "log import": {"--map", "--revision", "--content", "--note", "--partly", "--threads"}}
FLAGS = {"--help", "--json", "--language"}  # its words: surroundings_test
RUBBISH = ("nan", "inf", "-inf", "x", "", "1e309", "1,x", "--", "1e-400x")


class Options(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.folder = pathlib.Path(tempfile.mkdtemp())
        cls.job, cls.new, cls.sound = cls.folder / "a.wwjob", cls.folder / "n.wwjob", {}
        document = json.loads((ROOT / "data/demo/thistle.json").read_text())
        document["fuel"]["shelf"][3]["opened"] = "2026-04-18"
        document["aux"].update(fitted=True, flow_cc_min=500)
        (cls.folder / "demo.json").write_text(json.dumps(document))
        subprocess.run([CLI, "job", "import", cls.job, cls.folder / "demo.json"], check=True, capture_output=True)
        subprocess.run([CLI, "job", "import", cls.folder / "m.wwjob", ROOT / "data/demo/moorhen.json"], check=True, capture_output=True)
        for n in ("01-e10-baseline", "02-e10-baseline", "04-e41-pulls", "05-e41-pulls"):
            subprocess.run([CLI, "run", "import", cls.job, ROOT / f"data/demo/runs/thistle-{n}.csv"], check=True, capture_output=True)
        cls.bytes = cls.job.read_bytes()

    @classmethod
    def tearDownClass(cls):
        shutil.rmtree(cls.folder)

    def setUp(self):
        self.job.write_bytes(self.bytes)

    def words(self, text):
        return text.format(job=self.job, new=self.new, folder=self.folder, moorhen=self.folder / "m.wwjob", root=ROOT, demo=self.folder / "demo.json").split()

    def run_cli(self, sub, arguments):
        self.new.unlink(missing_ok=True)
        r = subprocess.run([CLI, *sub.split(), *map(str, arguments), "--json"], capture_output=True, text=True, stdin=subprocess.DEVNULL)
        self.assertIn(r.returncode, (0, 1, 2), (sub, arguments, r.stderr))
        if r.returncode == 2:
            self.assertEqual((r.stdout, len(r.stderr.strip().splitlines())), ("", 1), (sub, arguments, r.stderr))
        answer = r.stdout
        if sub == "job new" and r.returncode == 0:
            answer = subprocess.run([CLI, "job", "export", self.new], capture_output=True, text=True, check=True).stdout
        if self.job.read_bytes() != self.bytes:
            answer += subprocess.run([CLI, "job", "export", self.job], capture_output=True, text=True, check=True).stdout
            self.job.write_bytes(self.bytes)
        return r.returncode, answer, r.stderr

    def subcommands(self, *prefix):
        text = subprocess.run([CLI, *prefix, "--help"], capture_output=True, text=True, check=True).stdout
        found = re.findall(r"^  ([a-z][\w-]*) ", text.split("Subcommands:")[1], re.M) if "Subcommands:" in text else []
        return [name for sub in found for name in (self.subcommands(*prefix, sub) or [" ".join((*prefix, sub))])]

    def options(self, sub):
        text = subprocess.run([CLI, *sub.split(), "--help"], capture_output=True, text=True, check=True).stdout
        return {o for o in re.findall(r"^  (?:[\w-]+,)?(--[\w-]+)", text, re.M)} - FLAGS

    def test_every_option_of_every_subcommand_is_known_here(self):
        subs = self.subcommands()
        self.assertGreater(len(subs), 30)
        for sub in subs:
            tested = set(ELSEWHERE.get(sub, ()))
            for name, base, other in CASES:
                if name == sub:
                    tested |= set(other)
            self.assertEqual(self.options(sub) - tested, set(), sub)
            self.assertTrue(sub in ELSEWHERE or any(sub == name for name, *_ in CASES), sub)

    @staticmethod
    def changed(base, option, value):
        """The arguments with the option at that value, and what must go with it; after "-" an option that must go."""
        value = list(value) if isinstance(value, list) else [value]
        words, gone, set_to = list(base), [], {}
        values = iter(value[1:])
        if option.startswith("--") and value[0] not in ("", None):
            set_to[option] = value[0]
        elif option.startswith("--"):
            set_to[option] = None
        for v in values:
            if v == "-":
                gone.append(next(values))
            else:
                set_to[v] = next(values)
        if option == "--content" and value == ["spark.base"]:  # a table by itself in place of the blend
            gone, set_to, words = ["--content"], {}, ["spark.base" if w == "spark" else w for w in words]
        for o in [*gone, *set_to]:
            if o in words:
                at = words.index(o)
                del words[at:at + (1 if set_to.get(o, 0) is None else 2)]
        for o, v in set_to.items():
            words += [o] if v is None else [f"{o}={v}"]
        return words

    def test_every_option_matters(self):
        for sub, base, other in CASES:
            base = self.words(base)
            code, plain, error = self.run_cli(sub, base)
            self.assertNotEqual(code, 2, (sub, error))
            for option, value in other.items():
                if isinstance(value, str):
                    value = value.format(folder=self.folder)
                arguments = self.changed(base, option, value)
                code, answer, error = self.run_cli(sub, arguments)
                refused = code == 2 and option in ("--capacity-l",)  # a tank too small for the pour is refused
                with self.subTest(sub=sub, option=option):
                    self.assertTrue(code != 2 or refused, (sub, arguments, error))
                with self.subTest(sub=sub, option=option):
                    if value is not None:
                        self.assertNotEqual(answer, plain, f"{sub}: {option} does not matter: {arguments}")

    def test_rubbish_is_refused_by_name(self):
        for sub, base, other in CASES:
            base = self.words(base)
            help_text = subprocess.run([CLI, *sub.split(), "--help"], capture_output=True, text=True).stdout
            numbers = re.findall(r"^  (?:[\w-]+,)?(--[\w-]+) FLOAT", help_text, re.M)
            for option in numbers:
                if option not in other:
                    continue
                value = other[option] if isinstance(other[option], list) else [other[option]]
                for rubbish in RUBBISH[len(option) % 3::3]:
                    code, _, error = self.run_cli(sub, self.changed(base, option, [rubbish, *value[1:]] if rubbish else ["" + rubbish, *value[1:]])
                                                  if rubbish else [*self.changed(base, option, value)[:-1], f"{option}="])
                    with self.subTest(sub=sub, option=option, rubbish=rubbish):
                        self.assertEqual(code, 2)
                        self.assertIn(option, error)
                        self.assertLess(len(error), 400)

    def test_both_ends_of_a_range_belong_to_it(self):
        for argument, ends, beyond in (("--ethanol", ("0", "1"), ("-0.0001", "1.0001")), ("--reference-ethanol", ("0", "1"), ("-0.1", "1.1"))):
            for value in ends:
                self.assertEqual(self.run_cli("fuel", ["--ethanol", "0.5", f"{argument}={value}"] if argument != "--ethanol" else [f"--ethanol={value}"])[0], 0)
            for value in beyond:
                self.assertEqual(self.run_cli("fuel", [f"{argument}={value}"])[0], 2)
        self.assertEqual(self.run_cli("frontier", [self.job, "--points", "2.5"])[0], 2)
        self.assertEqual(self.run_cli("frontier", [self.job, "--points", "1"])[0], 2)

    def test_options_that_count_for_nothing_are_refused(self):
        for sub, arguments, option in (
                ("tank plan", [self.job, "--target-ethanol", "0.3"], ["--pour-sigma", "0.02"]),
                ("tank pour", [self.job, "--add-l", "1"], ["--volume-sigma-l", "1"]),
                ("tank flush", [self.job, "--fill-ethanol", "0.85", "--target-ethanol", "0.8", "--rest-l", "5"], ["--ethanol", "0.3"]),
                ("tank settle", [self.job, "--before", "0.1", "--after", "0.2"], ["--line-l", "1"]),
                ("tank settle", ["--before", "0.1", "--after", "0.2", "--line-flow-l-min", "1"], ["--cruise"]),
                ("pump", ["--points", "300:5", "--pressure-kpa", "300"], ["--content", "0.5"]),
                ("pump", [self.job], ["--count", "2"]),
                ("pump", ["--commanded-kpa", "300", "--measured-kpa", "290"], ["--count", "2"]),
                ("injector", ["--flow-cc-min", "500"], ["--rpm", "6000"]),
                ("injector", ["--flow-cc-min", "500"], ["--batch"]),
                ("injector", ["--flow-cc-min", "500"], ["--battery-v", "12"]),
                ("injector", ["--flow-cc-min", "500"], ["--duty", "0.8"]),
                ("injector", ["--flow-cc-min", "500"], ["--needs", "1,1"]),
                ("injector", ["--measured", "500,510"], ["--pulse-ms", "3"]),
                ("pills", [self.folder / "m.wwjob"], ["--nozzle-mm", "1"]),
                ("pills", ["--pump-l-min", "32", "--main-mm", "2.8"], ["--ve", "0.9"]),
                ("compare", ["--ethanol", "0.1"], ["--today", "2001-02-03"]),
                ("compare", [self.job], ["--capacity-l", "50"]),
                ("what-if", [self.job, "--add-l", "5"], ["--ethanol", "0.4"]),
                ("convert", [self.job, "--school", "base_adder"], ["--contents", "0.1,0.2"]),
                ("convert", [self.job, "--school", "stack", "--contents", "0.1,0.8"], ["--tolerance", "0.05"]),
                ("afr", ["--afr", "11", "--true-scale"], ["--scale", "14.1"]),
                ("spray", ["--air-g-s", "300", "--lambda", "0.8", "--spray-cc-min", "500"], ["--rated-pressure-kpa", "700"]),
                ("job new", [self.new], ["--boost-kpa", "50"])):
            self.assertNotEqual(self.run_cli(sub, arguments)[0], 2, (sub, arguments))
            code, _, error = self.run_cli(sub, [*arguments, *option])
            self.assertEqual(code, 2, (sub, option))
            self.assertTrue(option[0] in error or sub in error or "--pressure-kpa" in error, error)

    def test_what_they_change_is_what_they_say(self):
        answer = json.loads(self.run_cli("injector", ["--flow-cc-min", "500", "--pulse-ms", "9", "--dead-time-ms", "1", "--rpm", "6000", "--batch"])[1])
        self.assertAlmostEqual(answer["duty"], 2 * 9 * 6000 / 120000, places=12)  # two pulses in a cycle of two turns
        windows = [[(f["window_low"], f["window_high"]) for f in json.loads(self.run_cli("bake", [self.job, "--contents", "0.1,0.7", "--tolerance", t])[1])["files"]]
                   for t in ("0.02", "0.05")]
        for narrow, wide in zip(*windows):
            self.assertGreater(wide[1] - wide[0], narrow[1] - narrow[0])

    def test_pills_too_rich_or_too_lean_are_findings(self):
        document = json.loads((ROOT / "data/demo/moorhen.json").read_text())
        for main_mm, too in ((0.3, "rich"), (6, "lean")):
            document["mechanical"]["main_mm"] = main_mm
            for jet in ("high_speed_mm", "port_mm"):
                document["mechanical"][jet] = 0
            (self.folder / "p.json").write_text(json.dumps(document))
            code, answer, _ = self.run_cli("pills", [self.folder / "p.json"])
            lambdas = [p["lambda"] for p in json.loads(answer)["over_speed"]]
            self.assertTrue(max(lambdas) < 0.93 if too == "rich" else min(lambdas) > 0.51, (too, lambdas))  # off on one side only
            self.assertEqual(code, 1, too)

    def test_a_flat_job_holds_what_was_said(self):
        said = {"--displacement-l": ("1.8", "engine.displacement_l", 1.8), "--cylinders": ("3", "engine.cylinders", 3),
                "--rev-limit-rpm": ("8200", "engine.rev_limit_rpm", 8200), "--base-content": ("0.2", "calibration.base_content", 0.2),
                "--top-content": ("0.7", "calibration.top_content", 0.7), "--injector-cc-min": ("777", "injectors.flow_cc_min", 777)}
        subprocess.run([CLI, "job", "new", self.new, "--alcohol", "methanol", *(w for o, (v, *_) in said.items() for w in (o, v))], check=True, capture_output=True)
        info = json.loads(subprocess.run([CLI, "job", "info", self.new, "--json"], capture_output=True, text=True, check=True).stdout)
        for _, path, value in said.values():
            self.assertEqual(info[path], value, path)
        self.assertEqual(info["fuel.alcohol"], "methanol")
        self.new.unlink()
        subprocess.run([CLI, "job", "new", self.new], check=True, capture_output=True)
        plain = json.loads(subprocess.run([CLI, "job", "info", self.new, "--json"], capture_output=True, text=True, check=True).stdout)
        self.assertEqual(plain["injectors.flow_cc_min"], 440)  # the default of the field, not of the estimate


if __name__ == "__main__":
    unittest.main()
