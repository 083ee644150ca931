# SPDX-License-Identifier: GPL-3.0-or-later
"""Runs on the command line: what comes in, what is said, and how it ends."""
import math
import random
import unittest

from command_line import ROOT, CommandLineTest

K = 60000 / (2 * math.pi)


def curve(rpm):
    """N·m of a made-up engine."""
    return 260 - (rpm - 4600) ** 2 * 1.3e-5


class Runs(CommandLineTest):
    def setUp(self):
        super().setUp()
        self.cli("job", "import", self.job, ROOT / "data/demo/thistle.json")  # which says nothing of today's air

    def file(self, name, gain=0.0, noise=0.0, seed=1, head="rpm,torque_nm,power_kw", factor=1.0):
        chance = random.Random(seed)
        shift = chance.gauss(0, noise) if noise else 0.0
        rows = []
        for rpm in range(2500, 7001, 50):
            kw = (curve(rpm) * rpm / K + gain + shift) * factor
            rows.append(f"{rpm},{kw * K / rpm:.4f},{kw:.4f}")
        path = self.folder / name
        path.write_text("\n".join([head, *rows]) + "\n")
        return path

    def test_a_file_comes_in_as_measured(self):
        peak = max(range(2500, 7001, 50), key=lambda n: curve(n) * n)
        run, = self.json("run", "import", self.job, self.file("a.csv"), "--content", 0.1, "--mode", "inertia")
        self.assertEqual((run["id"], run["rows"], run["rpm_from"], run["rpm_to"]), (1, 91, 2500, 7000))
        self.assertEqual(run["peak_kw_rpm"], peak)
        self.assertAlmostEqual(run["peak_kw"], curve(peak) * peak / K, delta=1e-3)
        self.assertEqual(run["peak_nm_rpm"], 4600)
        self.assertAlmostEqual(run["peak_nm"], 260, delta=1e-3)
        self.assertEqual((run["mode"], run["content"], run["standard"], run["air"]), ("inertia", 0.1, "not_said", "none"))
        two = self.folder / "two.csv"
        lines = self.file("b.csv").read_text().splitlines()
        two.write_text("\n".join([*lines, *lines[:0:-1]]) + "\n")  # up, and down again
        up, down = self.json("run", "import", self.job, two)
        self.assertEqual([(r["id"], r["direction"]) for r in (up, down)], [(2, "up"), (3, "down")])
        self.assertEqual([r["id"] for r in self.json("run", "list", self.job)], [1, 2, 3])
        self.cli("run", "remove", self.job, 2)
        self.assertEqual([r["id"] for r in self.json("run", "list", self.job)], [1, 3])
        self.assertIn("'2'", self.cli("run", "remove", self.job, 1, 2, code=2))
        self.assertEqual(len(self.json("run", "list", self.job)), 2)  # one that is not there: none goes

    def test_a_run_goes_out_and_comes_back(self):
        self.cli("run", "import", self.job, ROOT / "data/demo/runs/thistle-03-e10-hot.csv", "--hardware", "small cooler")
        self.cli("run", "export", self.job, 1, "--csv", self.folder / "out.csv")
        self.cli("run", "import", self.job, self.folder / "out.csv")
        a, b = self.json("run", "list", self.job)
        for key in set(a) - {"id", "name", "order"}:
            self.assertEqual(a[key], b[key], key)
        self.assertEqual(self.cli("run", "export", self.job, 1, "--csv", "-").splitlines()[1:], self.cli("run", "export", self.job, 2, "--csv", "-").splitlines()[1:])

    def test_files_that_say_too_little_are_refused(self):
        bare = self.folder / "bare.csv"
        bare.write_text("".join(f"{rpm},{curve(rpm):.1f}\n" for rpm in range(2500, 7001, 50)))
        self.assertIn("torque or power", self.cli("run", "import", self.job, bare, code=2))
        run, = self.json("run", "import", self.job, bare, "--column", "torque=2:nm")
        self.assertAlmostEqual(run["peak_nm"], 260, delta=0.1)
        self.assertIn("such as kW or hp", self.cli("run", "import", self.job, bare, "--column", "power=2", code=2))
        self.assertIn("--column", self.cli("run", "import", self.job, bare, "--column", "power", code=2))
        self.assertIn("all three", self.cli("run", "import", self.job, bare, "--column", "torque=2:nm", "--pressure-kpa", 99, code=2))
        self.assertIn("inertia, loaded, road", self.cli("run", "import", self.job, bare, "--column", "torque=2:nm", "--mode", "fast", code=2))
        self.assertIn("j1349", self.cli("run", "import", self.job, bare, "--column", "torque=2:nm", "--standard", "sae", code=2))
        self.assertEqual(len(self.json("run", "list", self.job)), 1)

    def test_todays_air_is_the_jobs(self):
        self.cli("run", "import", self.job, self.file("a.csv"))
        for path, value in (("mechanical.now_kpa", 98), ("mechanical.now_c", 31), ("mechanical.now_humidity", 0.4)):
            self.cli("job", "set", self.job, path, value)
        second, = self.json("run", "import", self.job, self.file("b.csv"))
        third, = self.json("run", "import", self.job, self.file("c.csv"), "--pressure-kpa", 99)
        self.assertEqual([r["air"] for r in self.json("run", "list", self.job)], ["none", "job", "stated"])
        self.assertEqual([second[k] for k in ("pressure_kpa", "temperature_c", "humidity")], [98, 31, 0.4])
        self.assertEqual([third[k] for k in ("pressure_kpa", "temperature_c", "humidity")], [99, 31, 0.4])

    def test_typed_points_and_a_logs_pull_are_runs(self):
        run, = self.json("run", "type", self.job, "--points", "3000:200,4000:240,5000:250", "--content", 0.85)
        self.assertEqual((run["rows"], run["peak_nm"], run["peak_nm_rpm"]), (3, 250, 5000))
        self.assertAlmostEqual(run["peak_kw"], 250 * 5000 / K, delta=1e-6)
        log = self.folder / "log.csv"
        lines = ["time_s,rpm,throttle_percent,map_kpa,torque_nm,ethanol_percent"]
        lines += [f"{i / 20},{2500 if i < 40 else 2500 + (i - 40) * 20},{10 if i < 40 else 100},{40 if i < 40 else 180},{20 if i < 40 else 220},62" for i in range(240)]
        log.write_text("\n".join(lines) + "\n")
        self.cli("log", "import", self.job, log)
        run, = self.json("run", "from-log", self.job, "--log", "log.csv", "--mode", "inertia")
        self.assertAlmostEqual(run["content"], 0.62, delta=1e-6)
        self.assertAlmostEqual(run["peak_nm"], 220, delta=1e-6)
        self.assertGreater(run["rpm_to"], 6000)

    def test_correction(self):
        # Handbook chapter 7, computed there.
        out = self.json("run", "correct", "--pressure-kpa", 100, "--temperature-c", 35, "--humidity", 0.6, code=1)  # STD is outside of what is allowed
        for key, value in {"none": 1, "j1349": 1.0491, "iso1585": 1.0501, "std": 1.0833, "din": 1.0386}.items():
            self.assertAlmostEqual(out[key], value, delta=5.1e-5)
        out = self.json("run", "correct", "--pressure-kpa", 101.325, "--temperature-c", 15, "--humidity", 0)
        for key, value in {"none": 1, "j1349": 0.9534, "iso1585": 0.9528, "std": 0.9990, "din": 0.9912}.items():
            self.assertAlmostEqual(out[key], value, delta=5.1e-5)
        self.assertIn("--humidity", self.cli("run", "correct", "--pressure-kpa", 100, "--temperature-c", 35, "--humidity", 60, code=2))
        self.assertIn("--humidity", self.cli("run", "correct", "--pressure-kpa", 100, "--temperature-c", 35, code=2))

    def take(self, gains, content, noise=0.0, first=0, **more):
        for k, gain in enumerate(gains):
            self.cli("run", "import", self.job, self.file(f"r{first + k}.csv", gain, noise, first + k), "--content", content, "--mode", "inertia",
                     "--standard", "none", *[x for option, value in more.items() for x in (f"--{option}".replace("_", "-"), value)])

    def test_a_gain_with_its_interval(self):
        air = dict(pressure_kpa=99, temperature_c=25, humidity=0)  # where J1349 is 1
        self.take((0.5, -0.3, -0.2), 0.1, **air)
        self.take((20.1, 19.4, 20.5), 0.85, first=3, **air)
        out = self.json("run", "compare", self.job, "--a", 1, 2, 3, "--b", 4, 5, 6)
        # By hand: the slope within both sets, the rest of both, t of 3 degrees of freedom from a table.
        a, b = (0.5, -0.3, -0.2), (20.1, 19.4, 20.5)
        mean_a, mean_b = sum(a) / 3, sum(b) / 3
        slope = (a[2] - a[0] + b[2] - b[0]) / 4
        rest = sum((v - m - slope * (i - 1)) ** 2 for s, m in ((a, mean_a), (b, mean_b)) for i, v in enumerate(s))
        self.assertAlmostEqual(out["average_gain_kw"], mean_b - mean_a - 3 * slope, delta=1e-3)
        self.assertAlmostEqual(out["half_width_kw"], 3.182446 * math.sqrt(rest / 3 * (2 / 3 + 9 / 4)), delta=2e-3)
        self.assertTrue(out["distinguishable"] and out["judged"] and out["one_cause"])
        self.assertEqual([d["what"] for d in out["differences"]], ["content"])
        self.assertEqual((out["differences"][0]["a_value"], out["differences"][0]["b_value"]), (0.1, 0.85))
        self.assertEqual({g["rpm"] for g in out["gain_kw"]}, set(range(2500, 7001, 50)))
        for g in out["gain_kw"]:
            self.assertAlmostEqual(g["mean"], out["average_gain_kw"], delta=1e-2)
        same = self.json("run", "compare", self.job, "--a", 1, 2, 3, "--b", 4, 5, 6, "--standard", "j1349")
        self.assertAlmostEqual(same["average_gain_kw"], out["average_gain_kw"], delta=1e-9)
        welch = self.json("run", "compare", self.job, "--a", 1, 2, 3, "--b", 4, 5, 6, "--no-drift", "--smooth-rpm", 0, "--from-rpm", 3000, "--to-rpm", 5000, "--step-rpm", 500, "--at-rpm", 4100)
        self.assertEqual([g["rpm"] for g in welch["gain_kw"]], [3000, 3500, 4000, 4500, 5000])
        self.assertAlmostEqual(welch["average_gain_kw"], mean_b - mean_a, delta=1e-3)
        self.assertEqual((welch["scatter_from"], welch["at"]["rpm"]), ("welch", 4100))
        one = self.json("run", "compare", self.job, "--a", 1, "--b", 4, code=0)  # the others say what runs scatter by
        self.assertEqual(one["scatter_from"], "controls")
        self.assertIn("once", self.cli("run", "compare", self.job, "--a", 1, "--b", 1, code=2))
        self.assertIn("1, 2, 3, 4, 5, 6", self.cli("run", "compare", self.job, "--a", 1, "--b", 7, code=2))

    def test_nothing_is_called_nothing(self):
        self.take((0,) * 3, 0.1, noise=1.0)
        self.take((0,) * 3, 0.1, noise=1.0, first=3)
        out = self.json("run", "compare", self.job, "--a", 1, 2, 3, "--b", 4, 5, 6, code=1)
        self.assertFalse(out["distinguishable"])
        self.assertIn("not distinguishable", out["answer"])
        self.assertEqual((out["differences"], out["one_cause"]), ([], True))

    def test_what_nobody_can_judge_is_not_judged(self):
        self.take((0,), 0.1)
        self.take((25,), 0.85, first=1)
        out = self.json("run", "compare", self.job, "--a", 1, "--b", 2, code=1)
        self.assertEqual((out["judged"], out["half_width_kw"], out["distinguishable"]), (False, None, False))
        self.assertAlmostEqual(out["average_gain_kw"], 25, delta=1e-3)
        self.assertIn("Not judged", out["answer"])
        self.assertIn("run 1", self.cli("run", "compare", self.job, "--a", 1, "--b", 2, "--standard", "j1349", code=2))

    def test_standards_are_worked_out_again(self):
        air = ("--pressure-kpa", 97, "--temperature-c", 33, "--humidity", 0.5)
        factors = self.json("run", "correct", *air, code=1)
        for k, standard in enumerate(("none", "j1349", "std")):
            self.cli("run", "import", self.job, self.file(f"{standard}.csv", factor=factors[standard]), "--standard", standard, *air, "--mode", "inertia")
        out = self.json("run", "compare", self.job, "--a", 1, "--b", 2, 3, code=1)
        self.assertAlmostEqual(out["average_gain_kw"], 0, delta=1e-3)
        self.assertTrue(any("worked out again" in s for s in out["said"]))

    def test_scatter(self):
        self.take((0.5, -0.5, -0.5, 0.5), 0.1)
        out = self.json("run", "scatter", self.job, "--gain-kw", 2)
        self.assertEqual(out["sets"], [[1, 2, 3, 4]])
        self.assertAlmostEqual(out["sigma_kw"], math.sqrt(0.5), delta=1e-4)  # mean and slope out of four
        self.assertAlmostEqual(out["drift_kw_per_run"], 0, delta=1e-4)
        self.assertEqual(out["runs_needed"], 4)  # SciPy's noncentral t: 0.71 of two
        # Of a gain so many times the scatter, a drift that is taken out as well asks for as many runs or more.
        def needed(times, *how):
            sigma = self.json("run", "scatter", self.job, *how)["sigma_kw"]
            return self.json("run", "scatter", self.job, "--gain-kw", times * sigma, *how)["runs_needed"]
        both = [(needed(times), needed(times, "--no-drift")) for times in (1.6, 2, 2.4, 2.8, 3.2, 4)]
        self.assertTrue(all(drift >= plain for drift, plain in both) and any(drift > plain for drift, plain in both), both)
        self.take((9,), 0.85, first=4)
        named = self.json("run", "scatter", self.job, "--runs", 1, 2)
        self.assertEqual(named["sets"], [[1, 2]])
        alone = self.json("run", "scatter", self.job, "--runs", 5, code=1)
        self.assertEqual((alone["judged"], alone["sigma_kw"]), (False, None))

    def lanes(self, name, torque, **lanes):
        path = self.folder / name
        rows = [",".join([str(n), f"{torque(n):.4f}", *[f"{of(n):.4f}" for of in lanes.values()]]) for n in range(2500, 7001, 25)]
        path.write_text("\n".join([",".join(["rpm", "torque_nm", *lanes]), *rows]) + "\n")
        self.cli("run", "import", self.job, path, "--mode", "inertia", "--standard", "none", "--content", 0.5)

    def test_cams_cross(self):
        for k, off in enumerate((1, -1)):
            self.lanes(f"low{k}.csv", lambda n, off=off: 250 - (n - 5230) * 0.02 + off)
        for k, off in enumerate((1, -1)):
            self.lanes(f"high{k}.csv", lambda n, off=off: 250 + (n - 5230) * 0.01 + off)
        out = self.json("run", "cam", self.job, "--low", 1, 2, "--high", 3, 4, "--no-drift")
        half = 4.302653 * math.sqrt(2) / 0.03  # two means of two; t of 2 from a table
        self.assertAlmostEqual(out["crossing_rpm"], 5230, delta=1)
        self.assertAlmostEqual(out["high_rpm"], 5230 + half, delta=1)
        self.assertAlmostEqual(out["switch_down_rpm"], 5230 - half, delta=1)
        self.assertTrue(out["judged"])
        self.assertIsNone(self.json("run", "cam", self.job, "--low", 1, "--high", 3, code=1)["high_rpm"])

    def test_cams_that_differ_in_more_are_said(self):
        for k, off in enumerate((1, -1)):
            self.lanes(f"low{k}.csv", lambda n, off=off: 250 - (n - 5230) * 0.02 + off)
        for k, off in enumerate((1, -1)):
            self.lanes(f"high{k}.csv", lambda n, off=off: 250 + (n - 5230) * 0.01 + off)
        self.json("run", "cam", self.job, "--low", 1, 2, "--high", 3, 4, "--no-drift")
        self.cli("job", "set", self.job, "runs.runs[3].hardware", "open pipe")
        out = self.json("run", "cam", self.job, "--low", 1, 2, "--high", 3, 4, "--no-drift", code=1)
        self.assertTrue(any("hardware" in s for s in out["said"]), out["said"])

    def test_parts_of_a_file_have_their_own_remarks(self):
        body = "\n".join(self.file("a.csv").read_text().splitlines()[1:])
        many = self.folder / "many.csv"
        many.write_text(f"# mode: loaded\n# note: first\nrpm,torque_nm,power_kw\n{body}\n# change: plugs\n{body}\n# mode: inertia\n{body}\n")
        runs = self.json("run", "import", self.job, many)
        self.assertEqual([r["mode"] for r in runs], ["loaded", "loaded", "inertia"])
        self.assertEqual([r["note"] for r in runs], ["first", "", ""])

    def test_sweep_finds_the_best(self):
        for x in (11, 14, 17, 20, 23):
            self.lanes(f"s{x}.csv", lambda n, x=x: (200 - 0.15 * (x - 17) ** 2) * K / n, spark_deg=lambda n, x=x: x)
        for x in (11, 14, 17, 20, 23):
            self.lanes(f"b{x}.csv", lambda n, x=x: (200 - 0.15 * (x - 17) ** 2) * K / n, map_kpa=lambda n, x=x: 10 * x)
        out = self.json("run", "sweep", self.job, "--runs", 1, 2, 3, 4, 5, "--rpm", 5000)
        self.assertAlmostEqual(out["best_deg"], 17, delta=0.02)
        self.assertEqual(out["also_differs"], [])
        self.assertAlmostEqual(self.json("run", "sweep", self.job, "--runs", 6, 7, 8, 9, 10, "--rpm", 5000, "--over", "boost")["best_kpa"], 170, delta=0.2)
        for k in (1, 3, 5):  # another exhaust on every other run: it may be that
            self.cli("job", "set", self.job, f"runs.runs[{k}].hardware", "open pipe")
        self.assertEqual(self.json("run", "sweep", self.job, "--runs", 1, 2, 3, 4, 5, "--rpm", 5000, code=1)["also_differs"], ["hardware"])
        self.assertTrue(self.json("run", "sweep", self.job, "--runs", 1, 2, 3, "--rpm", 5000, code=1)["still_rising"])
        self.assertIn("run 1", self.cli("run", "sweep", self.job, "--runs", 1, 2, 3, "--rpm", 9000, code=2))
        self.assertIn("lambda", self.cli("run", "sweep", self.job, "--runs", 1, "--rpm", 5000, "--over", "boots", code=2))

    def test_boost_has_a_shape(self):
        self.lanes("flat.csv", curve, map_kpa=lambda n: 100 + 100 * min(1, (n - 2500) / 1000))
        self.lanes("creep.csv", curve, map_kpa=lambda n: 100 + 100 * min(1, (n - 2500) / 1000) + max(0, n - 4000) * 0.01)
        flat, creep = self.json("run", "shape", self.job, code=1)
        self.assertEqual(flat["said"], ["no spike, sag, creep or wave"])
        self.assertIn("creep", creep["said"][0])
        self.assertEqual(self.json("run", "shape", self.job, "--runs", 1)[0]["id"], 1)

    def test_contents_are_a_ladder_and_cost_money(self):
        self.take((0.5, -0.5), 0.1)
        self.take((20.5, 19.5), 0.85, first=2)
        out = self.json("run", "contents", self.job, "--no-drift")
        self.assertEqual([r["runs"] for r in out["rungs"]], [[1, 2], [3, 4]])
        self.assertAlmostEqual(out["rungs"][0]["next_gain_kw"], 20, delta=1e-3)
        self.assertAlmostEqual(out["rungs"][0]["kw_per_percent"], 20 / 75, delta=1e-4)
        self.assertAlmostEqual(out["rungs"][0]["next_half_width_kw"], 4.302653 * math.sqrt(0.5), delta=1e-3)
        self.assertIsNone(out["sweet_spot_content"])
        worth = self.json("run", "worth", self.job, "--a", 1, 2, "--b", 3, 4, "--no-drift")
        self.assertEqual(worth["worth"][0]["what"], "content")
        self.assertAlmostEqual(worth["worth"][0]["kw_per_unit"], 20 / 75, delta=1e-4)
        self.assertAlmostEqual(worth["money"]["per_kw"], worth["money"]["more_per_tank"] / worth["average_gain_kw"], delta=1e-9)

    def test_dynos_have_a_factor(self):
        for k, (dyno, factor) in enumerate((("Left", 1.01), ("Left", 0.99), ("Right", 1.0605), ("Right", 1.0395))):
            self.cli("run", "import", self.job, self.file(f"d{k}.csv", factor=factor), "--dyno", dyno, "--mode", "inertia", "--content", 0.1)
        factor, = self.json("run", "dynos", self.job)["factors"]
        self.assertEqual((factor["from"], factor["to"], factor["runs"]), ("Left", "Right", 4))
        self.assertAlmostEqual(factor["factor"], 1.05, delta=1e-5)
        self.assertGreater(factor["half_width"], 0.02)

    def test_the_road_is_an_estimate(self):
        self.cli("log", "import", self.job, ROOT / "data/demo/logs/thistle-e62-road.csv")
        out = self.json("run", "road", self.job, "--log", "thistle-e62-road.csv", "--pull", 1)
        self.assertTrue(out["estimate"] and not out["both_ways"])
        self.assertGreater(out["half_width_share"], 0.03)
        self.assertEqual(self.json("run", "list", self.job), [])
        self.assertEqual(self.json("run", "road", self.job, "--log", "thistle-e62-road.csv", "--pull", 1, "--apply")["id"], 1)
        road = self.json("run", "list", self.job)[0]
        self.assertEqual(road["mode"], "road")
        self.assertAlmostEqual(road["known_within"], out["half_width_share"], delta=1e-9)
        self.cli("run", "import", self.job, self.file("a.csv"), "--content", 0.62, "--mode", "inertia")
        self.assertIn("road", self.cli("run", "compare", self.job, "--a", 1, "--b", 2, code=2))
        self.assertIn("--pull", self.cli("run", "road", self.job, "--log", "thistle-e62-road.csv", "--pull", 9, code=2))

    def test_rolling_out_tells_the_losses(self):
        v, rows = 40.0, ["time_s,rpm,speed_km_h,map_kpa,throttle_percent"]
        for i in range(60000):
            if i % 50 == 0:
                rows.append(f"{i / 1000},900,{v * 3.6:.4f},35,0")
            v -= (0.5 * 1.2 * 0.7 * v * v + 0.013 * 1300 * 9.80665) / 1340 * 0.001
        log = self.folder / "coast.csv"
        log.write_text("\n".join(rows) + "\n")
        self.cli("log", "import", self.job, log)
        out = self.json("run", "coast", self.job, "--log", "coast.csv", "--from-s", 0, "--to-s", 59, "--apply")
        self.assertAlmostEqual(out["rolling"], 0.013, delta=2e-4)
        self.assertAlmostEqual(out["drag_area_m2"], 0.7, delta=5e-3)
        self.assertAlmostEqual(self.json("job", "get", self.job, "vehicle.rolling")["value"], out["rolling"], delta=1e-6)
        self.assertIn("slows down", self.cli("run", "coast", self.job, "--log", "coast.csv", "--from-s", 0, "--to-s", 1, code=2))

    def test_a_thousand_runs(self):
        two = self.folder / "many.csv"
        lines = self.file("b.csv").read_text().splitlines()
        two.write_text("\n".join([lines[0], *(lines[1:] * 200)]) + "\n")
        self.assertEqual(len(self.json("run", "import", self.job, two)), 200)
        self.assertEqual(len(self.json("run", "list", self.job)), 200)


if __name__ == "__main__":
    unittest.main()
