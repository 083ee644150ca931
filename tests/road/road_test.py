#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""The whole road on engines that nobody has seen: from intake data to the hand-over, by the command line alone.

    tests/road/road_test.py CLI PRACTICE [--kind KIND] [--engines N] [--first SEED] [--verbose]
"""
import argparse
import pathlib
import sys
import tempfile
import traceback

import owners
import truth
from rig import Car, Product, Refused
from tuner import Stuck, Tuner


def drive(arguments, kind, seed, folder):
    product = Product(arguments.cli, folder / "engine.wwjob")
    owner = owners.KINDS[kind](product, seed)
    car = Car(arguments.practice, folder / "engine.wwjob", seed, folder, owner.capacity_l, owner.litres, owner.content)
    tuner = Tuner(product, car, owner, lambda words: print(words, flush=True) if arguments.verbose else None)
    try:
        ended = tuner.climb()
        tuner.finish()
    except (Stuck, Refused) as why:
        ended = f"stuck: {why}"
    verdict, told = truth.opened(tuner)
    return tuner, ended, verdict, told


def show(told):
    for t in told:
        (lean, lean_rms), (late, late_rms) = truth.mean_rms(t["lambda"]), truth.mean_rms(t["spark"])
        over = sum(w for v, w in t["spark"] if v > 0) / max(1, sum(w for _, w in t["spark"]))
        near = sum(w for v, w in t["spark"] if abs(v) <= 1.5) / max(1, sum(w for _, w in t["spark"]))
        print(f"    E{100 * t['content']:.0f} {'driven' if t['driven'] else 'never '}: λ {100 * lean:+.2f} % (rms {100 * lean_rms:.2f}), spark {late:+.1f}° (rms {late_rms:.1f}, {100 * near:.0f} % within 1.5, {100 * over:.0f} % over), "
              f"boost {t['boost_off_kpa'] or 0:+.1f} kPa, retard {t['retard_deg']:.1f}, duty {t['duty']:.2f}, said {t['said']}, false {t['false_held']}{' DESTROYED' if t['destroyed'] else ''}")


def main():
    options = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    options.add_argument("cli")
    options.add_argument("practice")
    options.add_argument("--kind", default="turbo")
    options.add_argument("--engines", type=int, default=2)
    options.add_argument("--first", type=int, default=1)
    options.add_argument("--keep", type=pathlib.Path)
    options.add_argument("--verbose", action="store_true")
    arguments = options.parse_args()
    bad = 0
    for seed in range(arguments.first, arguments.first + arguments.engines):
        with tempfile.TemporaryDirectory() as scratch:
            folder = arguments.keep / f"{arguments.kind}-{seed}" if arguments.keep else pathlib.Path(scratch)
            folder.mkdir(parents=True, exist_ok=True)
            tuner, ended, verdict, told = drive(arguments, arguments.kind, seed, folder)
        if arguments.verbose:
            show(told)
            print('   ', verdict['verdict'])
        car = tuner.car
        print(f"{seed:6d}  {len(tuner.proven):5d}  {car.pulls:5d}  {tuner.corrections:11d}  {tuner.poured_l:6.0f}  {tuner.spent:5.0f}  {max(car.worn.values(), default=0):4.2f}  {ended}", flush=True)
        bad += ended != "all"
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main())
