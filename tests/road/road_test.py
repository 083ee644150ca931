#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""The whole road on engines that nobody has seen: from intake data to the hand-over, by the command line alone; beside it the old way.

    tests/road/road_test.py CLI PRACTICE [--kind KIND] [--engines N] [--first SEED] [--old-way] [--write FILE] [--verbose]

Exit code 1 where an engine was destroyed, a verdict said 'held' of what does not hold, or the product left the tuner without a next step; 0 where every way
ended well, or by a part that came to its end.
"""
import argparse
import concurrent.futures
import pathlib
import sys
import tempfile

import owners
import truth
from old_way import OldWay
from rig import Car, Product, Refused
from tuner import Ended, Stuck, Tuner

ENGINES = {"turbo": 7, "files": 7, "mechanical": 6}


def drive(asked):
    """One engine, one way. What became of it."""
    arguments, kind, seed, old_way = asked
    with tempfile.TemporaryDirectory() as scratch:
        scratch = pathlib.Path(scratch)
        folder = arguments.keep / f"{kind}-{seed}{'-old' if old_way else ''}" if arguments.keep else scratch
        folder.mkdir(parents=True, exist_ok=True)
        product = Product(arguments.cli, folder / "engine.wwjob")
        owner = owners.KINDS[kind](product, seed)
        car = Car(arguments.practice, folder / "engine.wwjob", seed, folder, owner.capacity_l, owner.litres, owner.content)
        tuner = (OldWay if old_way else Tuner)(product, car, owner, lambda words: print(words, flush=True) if arguments.verbose else None)
        try:
            try:
                ended = tuner.climb()
            except Ended as why:
                ended = str(why)
            tuner.finish()
        except (Stuck, Refused) as why:
            ended = f"stuck: {why}"
        row = {"kind": kind, "seed": seed, "old_way": old_way, "ended": ended, "pulls": car.pulls, "litres": tuner.poured_l, "burned_l": car.burned_l,
               "money": tuner.spent, "corrections": tuner.corrections, "worn": max(car.worn.values(), default=0), "destroyed": car.destroyed, "found": tuner.found,
               "proven": tuner.proven, "told": [], "verdict": ""}
        if not car.destroyed and tuner.logs:
            verdict, row["told"] = truth.opened(tuner)
            row["verdict"] = verdict["verdict"]
        row["took"] = product.took | {"engine": car.took}
        return row


def numbers(row):
    """Over all contents: λ and spark at driven and never driven ones, boost, and what was said wrongly."""
    out = {}
    for name, driven in (("driven", True), ("never", False)):
        of = [t for t in row["told"] if t["driven"] == driven]
        out["lambda_" + name] = truth.weighted([p for t in of for p in t["lambda"]])[1]
        out["spark_" + name] = truth.weighted([p for t in of for p in t["spark"]])[1]
        out["worst_" + name] = max((abs(truth.weighted(t["lambda"])[0]) for t in of if t["lambda"]), default=None)
    spark = [p for t in row["told"] for p in t["spark"]]
    out["spark"] = truth.weighted(spark)[0]
    out["spark_within"] = truth.share(spark, lambda v: abs(v) <= 1.5)
    out["spark_over"] = truth.share(spark, lambda v: v > 1.5)
    off = [abs(t["boost_off_kpa"]) for t in row["told"] if t["boost_off_kpa"] is not None]
    out["boost"] = max(off, default=None)
    out["false_held"] = sum(len(t["false_held"]) for t in row["told"])
    out["wrecks"] = [t["content"] for t in row["told"] if t["destroyed"]]
    return out


def text(value, pattern="{:.1f}", scale=1):
    return "–" if value is None else pattern.format(scale * value)


def line(row):
    n = numbers(row)
    how = f"destroyed by {row['destroyed']}" if row["destroyed"] else row["ended"]
    return (f"| {row['kind']} | {row['seed']} | {row['pulls']} | {row['litres']:.0f} | {row['money']:.0f} | {row['worn']:.2f} | {text(n['lambda_driven'], scale=100)} | {text(n['lambda_never'], scale=100)} | "
            f"{text(n['worst_never'], scale=100)} | {text(n['spark'], '{:+.1f}')} | {text(n['spark_driven'])} | {text(n['spark_never'])} | {text(n['spark_within'], '{:.0f}', 100)} | {text(n['spark_over'], '{:.0f}', 100)} | {text(n['boost'])} | {n['false_held']} | {len(row['found'])} | {how[:160]} |")


HEAD = ("| kind | seed | pulls | litres | money | worn | λ driven, % | λ between, % | worst content, % | spark, ° | spark driven, ° | spark between, ° | within 1.5°, % | over by 1.5°, % | boost off, kPa | false held | faults found | how it ended |\n"
        "|---|---|---|---|---|---|---|---|---|---|---|---|---|---|---|---|---|---|")


def show(row):
    for t in row["told"]:
        lean, late = truth.weighted(t["lambda"])[0], truth.weighted(t["spark"])[0]
        print(f"    {100 * t['content']:.0f} {'driven' if t['driven'] else 'never '}: λ {text(lean, '{:+.2f}', 100)} %, spark {text(late, '{:+.1f}')}°, boost {text(t['boost_off_kpa'], '{:+.1f}')} kPa, retard {t['retard_deg']:.1f}, "
              f"duty {t['duty']:.2f}, light {text(max((v for v, _ in t.get('light_lambda', [])), default=None), '{:+.1f}', 100)} %, said {t['said']}, false {t['false_held']}{' DESTROYED' if t['destroyed'] else ''}")
    print("   ", row["verdict"][:400])
    print("   ", {k: round(v, 1) for k, v in sorted(row["took"].items(), key=lambda i: -i[1])[:9]})


def main():
    options = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    options.add_argument("cli")
    options.add_argument("practice")
    options.add_argument("--kind", choices=owners.KINDS)
    options.add_argument("--engines", type=int, help="of each kind; without it twenty of all")
    options.add_argument("--first", type=int, default=1)
    options.add_argument("--old-way", action="store_true", help="the baseline beside it")
    options.add_argument("--jobs", type=int, default=2)
    options.add_argument("--keep", type=pathlib.Path)
    options.add_argument("--write", type=pathlib.Path)
    options.add_argument("--verbose", action="store_true")
    arguments = options.parse_args()
    kinds = [arguments.kind] if arguments.kind else list(owners.KINDS)
    asked = [(arguments, kind, seed, old) for kind in kinds for seed in range(arguments.first, arguments.first + (arguments.engines or ENGINES[kind]))
             for old in ((False, True) if arguments.old_way else (False,))]
    print(HEAD, flush=True)
    rows = []
    with concurrent.futures.ProcessPoolExecutor(arguments.jobs) as pool:
        for row in pool.map(drive, asked):
            rows.append(row)
            print(("old way " if row["old_way"] else "") + line(row), flush=True)
            if arguments.verbose:
                show(row)
    if arguments.write:
        parts = []
        for title, old in (("With the product", False), ("The old way", True)):
            of = [line(r) for r in rows if r["old_way"] == old]
            if of:
                parts.append(f"## {title}\n\n{HEAD}\n" + "\n".join(of) + "\n")
        before = arguments.write.read_text().split("## With the product")[0] if arguments.write.exists() else ""
        arguments.write.write_text(before + "\n".join(parts))
    mine = [r for r in rows if not r["old_way"]]
    return 1 if any(r["destroyed"] or numbers(r)["false_held"] or r["ended"].startswith("stuck") for r in mine) else 0


if __name__ == "__main__":
    sys.exit(main())
