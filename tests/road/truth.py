# SPDX-License-Identifier: GPL-3.0-or-later
"""The envelope opened: what the engine does with the calibration that was handed over, at contents driven and never driven, and what was said of it."""
import csv

from tuner import light

LEAST_KPA = 100
NEVER_NEARER = 0.03  # to a content that was driven
CONTENTS = (0.10, 0.17, 0.25, 0.33, 0.42, 0.50, 0.55, 0.66, 0.75, 0.80, 0.85)
STEADY_ROWS = 200  # of light load: two seconds
LEAN, ROWS = 0.03, 20  # λ over its target by more in a cell with so many rows (a fifth of a second): not on target


def pull_at(car, owner, content):
    """A full pull on a settled tank of a content, beside the tuner's book-keeping and without wear."""
    kept = car.litres, car.content, dict(car.worn), car.destroyed, car.pulls, car.burned_l
    car.litres, car.content = 30, content
    log, _, said = car.drive([*light(5), {"do": "cool_down", "seconds": 240}, {"do": "idle", "seconds": 8}, {"do": "pull", "mode": "loaded", "to_rpm": round(0.97 * owner.rev_limit_rpm)}], more=("--cells",))
    car.litres, car.content, car.worn, car.destroyed, car.pulls, car.burned_l = kept
    rows = list(csv.DictReader(log.open()))
    full = [r for r in rows if float(r["throttle_percent"]) > 90 and float(r["rpm"]) > 0.6 * owner.rev_limit_rpm]
    boost = [float(r["map_kpa"]) - float(r["boost_target_kpa"]) for r in full if float(r["boost_target_kpa"]) > 0]
    return {"content": content, "cells": [c for c in said["cells"] if c["load_kpa"] >= LEAST_KPA], "light": [c for c in said["cells"] if 30 <= c["load_kpa"] < LEAST_KPA], "boost_off_kpa": sum(boost) / len(boost) if boost else None,
            "retard_deg": max(float(r["knock_retard_deg"]) for r in rows), "duty": max(float(r["duty_percent"]) for r in rows) / 100,
            "power_kw": said["runs"][-1]["peak_power_kw"], "destroyed": said["destroyed"]}


def cells_between(coverage):
    """By cell: from the lowest to the highest content at which logs have been in it."""
    out = {}
    for c in coverage:
        if c.get("clean_hits", 0) >= 5 and c["load_kpa"] >= LEAST_KPA:
            low, high = out.get((c["rpm"], c["load_kpa"]), (9, -9))
            out[c["rpm"], c["load_kpa"]] = min(low, c["content_from"]), max(high, c["content_to"])
    return out


def opened(tuner):
    """The verdict in words, and a record for each content."""
    car, owner, product = tuner.car, tuner.owner, tuner.product
    between = cells_between(product("evidence", "coverage"))
    verdict = product("verify")
    states = {q["id"]: {round(c["content"], 2): c["state"] for c in q["by_content"]} for q in verdict["questions"]}
    out = []
    for content in CONTENTS if owner.alcohol == "ethanol" else (1.0,):
        t = pull_at(car, owner, content)
        t["driven"] = any(abs(content - d) <= NEVER_NEARER for d in tuner.driven)
        t["said"] = {q: s.get(round(content, 2)) for q, s in states.items()}
        if owner.alcohol == "ethanol":
            of = {key: between.get(key, (9, -9)) for key in ((c["rpm"], c["load_kpa"]) for c in t["cells"])}
            cells = [c for c in t["cells"] if of[c["rpm"], c["load_kpa"]][0] - NEVER_NEARER <= content <= of[c["rpm"], c["load_kpa"]][1] + NEVER_NEARER]
            t["lambda"] = [(c["lambda"] / c["lambda_target"] - 1, c["rows"]) for c in cells]
            t["spark"] = [(c["spark_deg"] - min(max(c["spark_deg"], c["least_safe_deg"]), c["best_safe_deg"]), c["rows"]) for c in cells]
            t["light_lambda"] = [(c["lambda"] / c["lambda_target"] - 1, c["rows"]) for c in t["light"] if c["rows"] >= STEADY_ROWS]
            wrong = {"mixture": any(c["lambda"] / c["lambda_target"] - 1 > LEAN and c["rows"] >= ROWS for c in t["cells"]) or any(v > LEAN for v, _ in t["light_lambda"]),
                     "knock": any(c["spark_deg"] > c["knock_limit_deg"] and c["rows"] >= ROWS for c in t["cells"]), "fuel_supply": t["duty"] > 0.95}
        else:  # nobody commands λ: what the product says of the pill that is in
            pills = {round(p["rpm"]): p["lambda"] for p in product("pills").get("over_speed", [])}
            near = lambda rpm: pills[min(pills, key=lambda r: abs(r - rpm))]
            full = [c for c in t["cells"] if c["rpm"] >= 0.5 * owner.rev_limit_rpm]
            t["lambda"] = [(c["lambda"] / near(c["rpm"]) - 1, c["rows"]) for c in full] if pills else []
            t["leanest"] = max((c["lambda"] for c in full if c["rows"] >= ROWS), default=0)
            t["spark"] = []
            wrong = {"mixture": t["leanest"] > 0.95}
        t["false_held"] = [q for q, w in wrong.items() if (w or t["destroyed"]) and t["said"].get(q) in ("held", "proven")]
        out.append(t)
    return verdict, out


def weighted(pairs):
    """Of (value, weight): mean and root of the mean square."""
    weight = sum(w for _, w in pairs)
    return (sum(v * w for v, w in pairs) / weight, (sum(v * v * w for v, w in pairs) / weight) ** 0.5) if weight else (None, None)


def share(pairs, holds):
    weight = sum(w for _, w in pairs)
    return sum(w for v, w in pairs if holds(v)) / weight if weight else None
