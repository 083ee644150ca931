# SPDX-License-Identifier: GPL-3.0-or-later
"""The envelope opened: what the engine does with the calibration that was handed over, at contents driven and never driven, and what was said of it."""
import csv

LEAST_KPA = 100
NEVER_NEARER = 0.03  # of a content that was driven
CONTENTS = (0.10, 0.17, 0.25, 0.33, 0.42, 0.50, 0.55, 0.66, 0.75, 0.80, 0.85)


def of_content(car, owner, content, job=None):
    """A full pull at a content, settled, warm; not of the tuner's pulls, and without wear."""
    kept = car.litres, car.content, dict(car.worn), car.destroyed, car.pulls, car.burned_l
    car.litres, car.content = 30, content
    log, _, said = car.drive([{"do": "idle", "seconds": 5}, {"do": "pull", "mode": "loaded", "to_rpm": round(0.97 * owner.rev_limit_rpm)}], more=("--cells",), job=job)
    car.litres, car.content, car.worn, car.destroyed, car.pulls, car.burned_l = kept
    rows = list(csv.DictReader(log.open()))
    full = [r for r in rows if float(r["throttle_percent"]) > 90 and float(r["rpm"]) > 0.6 * owner.rev_limit_rpm]
    boost = [float(r["map_kpa"]) - float(r["boost_target_kpa"]) for r in full if float(r["boost_target_kpa"]) > 0]
    cells = [c for c in said["cells"] if c["load_kpa"] >= LEAST_KPA]
    return {"content": content, "cells": cells, "boost_off_kpa": sum(boost) / len(boost) if boost else None,
            "retard_deg": max(float(r["knock_retard_deg"]) for r in rows), "duty": max(float(r["duty_percent"]) for r in rows) / 100,
            "damage": {k: v for k, v in said["damage"].items() if k != "oil_dilution"}, "destroyed": said["destroyed"]}


def mean_rms(pairs):
    """Of (value, weight): mean and root of the mean square."""
    weight = sum(w for _, w in pairs)
    return (sum(v * w for v, w in pairs) / weight, (sum(v * v * w for v, w in pairs) / weight) ** 0.5) if weight else (0, 0)


def opened(tuner):
    car, owner, product = tuner.car, tuner.owner, tuner.product
    seen = {(c["rpm"], c["load_kpa"]) for c in product("evidence", "coverage") if c["state"] != "never" and c["load_kpa"] >= LEAST_KPA}
    verdict = product("verify")
    states = {q["id"]: {round(c["content"], 2): c["state"] for c in q["by_content"]} for q in verdict["questions"]}
    out = []
    for content in CONTENTS:
        t = of_content(car, owner, content)
        t["driven"] = any(abs(content - d) <= NEVER_NEARER for d in tuner.driven)
        cells = [c for c in t["cells"] if (c["rpm"], c["load_kpa"]) in seen]
        t["lambda"] = [(c["lambda"] / c["lambda_target"] - 1, c["rows"]) for c in cells]
        t["spark"] = [(c["spark_deg"] - c["best_safe_deg"], c["rows"]) for c in cells]
        t["said"] = {q: s.get(round(content, 2)) for q, s in states.items()}
        wrong = {"mixture": any(c["lambda"] / c["lambda_target"] - 1 > 0.03 and c["rows"] >= 20 for c in t["cells"]),
                 "knock": any(c["spark_deg"] > c["knock_limit_deg"] and c["rows"] >= 20 for c in t["cells"]), "fuel_supply": t["duty"] > 0.95}
        t["false_held"] = [q for q, w in wrong.items() if w and t["said"].get(q) in ("held", "proven")]
        out.append(t)
    return verdict, out
