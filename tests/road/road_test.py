#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""The whole road on engines that nobody has seen: from intake data to the top of the ladder, by the command line alone.

    tests/road/road_test.py CLI PRACTICE [--engines N] [--first SEED] [--verbose]

So far: turbocharged engines with a content sensor, up to where the tuner is stuck or done. A table a line an engine; exit code 1 where one was
destroyed or the tuner was stuck.
"""
import argparse
import pathlib
import random
import sys
import tempfile

from rig import Car, Product, Refused
from tuner import Stuck, Tuner

FUELS = ({"name": "Pump", "kind": "pump", "ethanol": 0.1, "price_per_l": 1.9}, {"name": "Strong", "kind": "high_ethanol", "ethanol": 0.85, "price_per_l": 1.3})


def intake(product, seed):
    """What an owner can say of his engine: its data sheets, and what the tank holds."""
    chance = random.Random(seed)
    litres = round(chance.uniform(1.6, 2.8), 1)
    flow = round(430 * litres / 2, -1) * 2  # enough for the strong fuel at the boost wanted
    boost = round(chance.uniform(80, 130))
    product("job", "new", after=("--estimate", "--name", f"Engine {seed}", "--displacement-l", litres, "--cylinders", 4, "--rev-limit-rpm", 7000,
                                 "--boost-kpa", boost, "--compression", round(chance.uniform(8.8, 9.8), 1), "--injector-cc-min", flow))
    for path, value in {"fuel_system.rated_ethanol": 1, "spark.knock_control": "true", "supply.returns": "true", "boost.spring_kpa": 60,
                        "tank.idle_flow_l_min": 1.5, "tank.cruise_flow_l_min": 1.5, "tank.idle_use_l_min": 0.04, "tank.cruise_use_l_min": 0.2,
                        "tank.return_l": 0.3}.items():
        product("job", "set", after=(path, value))
    for fuel in FUELS:
        product("job", "add", after=("fuel.shelf", *(f"{k}={v}" for k, v in fuel.items()), "in_plans=true"))
    product("tank", "event", after=("kind=level", "litres=30"))
    product("tank", "event", after=("kind=content", "ethanol=0.1", "content_sigma=0.01"))


def drive(arguments, seed, folder):
    product = Product(arguments.cli, folder / "engine.wwjob")
    intake(product, seed)
    car = Car(arguments.practice, folder / "engine.wwjob", seed, folder, 60, 30, 0.1)
    tuner = Tuner(product, car, 7000, print if arguments.verbose else lambda words: None)
    try:
        ended = tuner.climb()
    except (Stuck, Refused) as why:
        ended = f"stuck: {why}"
    return tuner, ended


def main():
    options = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    options.add_argument("cli")
    options.add_argument("practice")
    options.add_argument("--engines", type=int, default=2)
    options.add_argument("--first", type=int, default=1)
    options.add_argument("--verbose", action="store_true")
    arguments = options.parse_args()
    bad = 0
    print("engine  rungs  pulls  corrections  litres  money  worn  ended")
    for seed in range(arguments.first, arguments.first + arguments.engines):
        with tempfile.TemporaryDirectory() as folder:
            tuner, ended = drive(arguments, seed, pathlib.Path(folder))
        car = tuner.car
        print(f"{seed:6d}  {len(tuner.proven):5d}  {car.pulls:5d}  {tuner.corrections:11d}  {tuner.poured_l:6.0f}  {tuner.spent:5.0f}  {max(car.worn.values(), default=0):4.2f}  {ended}", flush=True)
        bad += ended != "up"
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main())
