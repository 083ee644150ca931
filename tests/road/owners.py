# SPDX-License-Identifier: GPL-3.0-or-later
"""What owners say of their engines: data sheets, what stands on the shelf, what the tank holds. Three kinds of engine."""
import random
from dataclasses import dataclass, field

PUMP = {"name": "Pump", "kind": "pump", "ethanol": 0.1, "price_per_l": 1.9}
STRONG = {"name": "Strong", "kind": "high_ethanol", "ethanol": 0.85, "price_per_l": 1.3}


@dataclass
class Owner:
    kind: str
    rev_limit_rpm: int = 7000
    sensor: bool = True
    alcohol: str = "ethanol"
    search: int = 12  # rounds of the search for spark
    capacity_l: float = 60
    litres: float = 30
    content: float = 0.1
    sheet: dict = field(default_factory=dict)  # what data sheets say, once somebody asks


def turbo(product, seed):
    """Turbocharged, with a content sensor: two tables, blended."""
    owner, chance = Owner("turbo"), random.Random(seed)
    litres = round(chance.uniform(1.6, 2.8), 1)
    flow = round(430 * litres / 2, -1) * 2  # enough for the strong fuel at the boost wanted
    product("job", "new", after=("--estimate", "--name", f"Engine {seed}", "--displacement-l", litres, "--cylinders", 4, "--rev-limit-rpm", owner.rev_limit_rpm,
                                 "--boost-kpa", round(chance.uniform(80, 130)), "--compression", round(chance.uniform(8.8, 9.8), 1), "--injector-cc-min", flow))
    state(product, {"fuel_system.rated_ethanol": 1, "spark.knock_control": "true", "supply.returns": "true", "boost.spring_kpa": 60, "fuel_system.content_sensor": "true",
                    "limits.watch.intake_rise": 32})  # its cooler is not what this is about
    for content in (0.4, 0.6):
        product("job", "add", after=("ladder.contents", f"content={content}"))
    tank(product, owner, (PUMP, STRONG))
    sheets(product, owner, 1.72 * litres)
    owner.sheet |= {"content_sensor.on_fault": "hold", "content_sensor.plausible_least": 0.01, "content_sensor.plausible_most": 0.99,
                    "content_sensor.compared_after_fill": "true", "content_sensor.slew_per_s": 0.02}
    return owner


def sheets(product, owner, injectors_l_min):
    """Pumps half again as large as all injectors; sensors and parts that stand more than is wanted of them."""
    for pressure, share in ((300, 1.7), (400, 1.6), (700, 1.4)):
        product("job", "add", after=("supply.pump_points", "pump=Pair", "voltage_v=13.5", f"pressure_kpa={pressure}", f"flow_l_min={share * injectors_l_min:.2f}"))
    product("job", "add", after=("supply.pumps", "pump=Pair", "count=1"))
    product("job", "set", after=("engine.boost_limit_kpa", "0 %: 260 kPa; 100 %: 330 kPa"))  # forged, he says
    owner.sheet |= {"engine.map_sensor_max_kpa": 400, "injectors.linear_min_ms": 1.1}


def state(product, values):
    for path, value in values.items():
        product("job", "set", after=(path, value))


def tank(product, owner, fuels):
    state(product, {"tank.capacity_l": owner.capacity_l, "tank.idle_flow_l_min": 1.5, "tank.cruise_flow_l_min": 1.5, "tank.idle_use_l_min": 0.04, "tank.cruise_use_l_min": 0.2,
                    "tank.return_l": 0.3, "tank.line_l": 0.5})
    for fuel in fuels:
        product("job", "add", after=("fuel.shelf", *(f"{k}={v}" for k, v in fuel.items()), "in_plans=true"))
    product("tank", "event", after=("kind=level", f"litres={owner.litres}"))
    product("tank", "event", after=("kind=content", f"{owner.alcohol}={owner.content}", "content_sigma=0.01"))


def files(product, seed):
    """Supercharged, without a content sensor: three files, each for a window of contents."""
    owner, chance = Owner("files", rev_limit_rpm=6500, sensor=False), random.Random(seed)
    litres = round(chance.uniform(2.4, 3.4), 1)
    product("job", "new", after=("--estimate", "--name", f"Engine {seed}", "--charging", "blower", "--displacement-l", litres, "--cylinders", 6,
                                 "--rev-limit-rpm", owner.rev_limit_rpm, "--boost-kpa", round(chance.uniform(45, 70)),
                                 "--compression", round(chance.uniform(8.6, 9.4), 1), "--injector-cc-min", round(230 * litres, -1)))
    product("convert", after=("--school", "window_set", "--contents", "0.1,0.5,0.85", "--apply"))
    state(product, {"fuel_system.rated_ethanol": 1, "spark.knock_control": "true", "supply.returns": "true", "fuel_system.content_sensor": "false"})
    product("job", "add", after=("ladder.contents", "content=0.5"))
    state(product, {"limits.ladder.way_down": 0.04, "tank.reserve_l": 2, "ladder.drain_can_l": 2})  # no sensor: back to what the file is for
    tank(product, owner, (PUMP, STRONG))
    sheets(product, owner, 6 * 0.23 * litres)
    return owner


METHANOL = {"name": "Methanol", "kind": "methanol", "methanol": 1, "price_per_l": 2.1}


def mechanical(product, seed):
    """Supercharged, methanol, mechanical injection: pills, and no controller."""
    owner, chance = Owner("mechanical", rev_limit_rpm=7500, sensor=False, alcohol="methanol", content=1.0), random.Random(seed)
    litres = round(chance.uniform(5.5, 7.5), 1)
    product("job", "new", after=("--estimate", "--name", f"Engine {seed}", "--charging", "blower", "--alcohol", "methanol", "--displacement-l", litres, "--cylinders", 8,
                                 "--rev-limit-rpm", owner.rev_limit_rpm, "--compression", round(chance.uniform(7.8, 8.4), 1)))
    state(product, {"engine.fuel_control": "mechanical", "fuel_system.rated_methanol": 1, "fuel_system.content_sensor": "false",
                    "mechanical.pump_l_min": round(4.1 * litres, 1), "mechanical.pump_rpm": owner.rev_limit_rpm, "mechanical.pump_wear": 0.03,
                    "mechanical.nozzles": 8, "mechanical.nozzle_mm": round(1.07 * (litres / 7) ** 0.5, 2), "mechanical.nozzle_place": "ports",
                    "mechanical.main_mm": round(2.3 * (litres / 7) ** 0.5, 2), "mechanical.ve": 1.02, "mechanical.intake_c": 62, "mechanical.judged_rpm": 7000,
                    "mechanical.manifold_kpa": "2000 rpm: 150 kPa; 4000 rpm: 185 kPa; 6000 rpm: 210 kPa; 7500 rpm: 225 kPa"})
    tank(product, owner, (METHANOL,))
    return owner


KINDS = {"turbo": turbo, "files": files, "mechanical": mechanical}
