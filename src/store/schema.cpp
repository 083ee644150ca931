// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/schema.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <array>

namespace wheelwright {
namespace {

// Numbered invariants of the file, kept by JobStore:
//  1. Every change of the job is one transaction, and every transaction leaves a job that passes validate().
//  2. The path of a field, curve, table or limit is the one of core/job/job_schema.h; of a table of a record
//  the
//     one of core/job/named_tables.h.
//  3. A table has a row in breakpoint for each point of both axes and a row in cell for each pair of them.
//  4. A record is named by its id, which ascends in the order of the list and stays while the record is
//  there.
//     A scalar without a row has its default.
//  5. action holds one row for each confirmed action, oldest first.
//  6. digest holds one row for each chapter (store/job_rows.h), written in the same transaction as its rows.
//  7. A row of sample_chunk never changes. A log of the job whose samples are here has rows of log_part from
//  0
//     on for each of its series, and each of them names a chunk that is there.
constexpr const char *schemaSql = R"sql(
CREATE TABLE job_info (key TEXT PRIMARY KEY, value NOT NULL) WITHOUT ROWID;
CREATE TABLE field (path TEXT PRIMARY KEY, value NOT NULL) WITHOUT ROWID;
CREATE TABLE limit_override (id TEXT PRIMARY KEY, value REAL NOT NULL) WITHOUT ROWID;
CREATE TABLE curve_point (
    path TEXT NOT NULL, idx INTEGER NOT NULL, x REAL NOT NULL, y REAL NOT NULL,
    PRIMARY KEY (path, idx)) WITHOUT ROWID;
CREATE TABLE breakpoint (
    path TEXT NOT NULL, axis TEXT NOT NULL CHECK (axis IN ('x', 'y')), idx INTEGER NOT NULL, value REAL NOT NULL,
    PRIMARY KEY (path, axis, idx)) WITHOUT ROWID;
CREATE TABLE cell (
    path TEXT NOT NULL, y INTEGER NOT NULL, x INTEGER NOT NULL, value REAL NOT NULL, origin TEXT,
    PRIMARY KEY (path, y, x)) WITHOUT ROWID;
CREATE TABLE record (
    path TEXT NOT NULL, idx INTEGER NOT NULL, key TEXT NOT NULL, value NOT NULL,
    PRIMARY KEY (path, idx, key)) WITHOUT ROWID;
CREATE TABLE action (id INTEGER PRIMARY KEY, at TEXT NOT NULL, what TEXT NOT NULL);
CREATE TABLE digest (chapter TEXT PRIMARY KEY, value BLOB NOT NULL) WITHOUT ROWID;
CREATE TABLE sample_chunk (
    id INTEGER PRIMARY KEY, hash BLOB NOT NULL UNIQUE, levels BLOB NOT NULL, packed BLOB NOT NULL);
CREATE TABLE log_part (
    log TEXT NOT NULL, series INTEGER NOT NULL, seq INTEGER NOT NULL, samples INTEGER NOT NULL, chunk BLOB NOT NULL,
    PRIMARY KEY (log, series, seq)) WITHOUT ROWID;
)sql";

} // namespace

void createSchema(SQLite::Database &db) {
    db.exec(schemaSql);
}

std::span<const Migration> allMigrations() {
    static const std::array migrations{
        // 2: shelf and tank history as records, and the tank itself.
        Migration{1, R"sql(
CREATE TABLE record (
    path TEXT NOT NULL, idx INTEGER NOT NULL, key TEXT NOT NULL, value NOT NULL,
    PRIMARY KEY (path, idx, key)) WITHOUT ROWID;
INSERT INTO field (path, value) VALUES
    ('tank.capacity_l', 60.0), ('tank.reserve_l', 8.0), ('tank.line_l', 0.5), ('tank.surge_l', 0.0),
    ('tank.surge_flow_l_min', 0.0), ('tank.idle_flow_l_min', 0.05), ('tank.cruise_flow_l_min', 0.2);
UPDATE job_info SET value = 2 WHERE key = 'min_reader_version';
)sql"},
        // 3: components that can be edited, what the fuel system stands, consumption, the sensor's place, and
        // uncertainties in shelf and history.
        Migration{2, R"sql(
INSERT INTO field (path, value) VALUES
    ('tank.rail_l', 0.0), ('tank.return_l', 0.0), ('tank.sensor_place', 'feed'), ('tank.idle_use_l_min', 0.0),
    ('tank.cruise_use_l_min', 0.0), ('fuel_system.content_sensor', 1), ('fuel_system.catalyst', 0),
    ('fuel_system.rated_ethanol', 0.1), ('fuel_system.rated_methanol', 0.0), ('use.l_per_100km', 0.0),
    ('use.l_per_hour', 0.0), ('use.content', 0.1),
    ('fuel.ethanol.name', 'Ethanol'), ('fuel.ethanol.density_kg_m3', 789.0),
    ('fuel.ethanol.stoich_afr', 9.0), ('fuel.ethanol.lhv_mj_kg', 26.9),
    ('fuel.ethanol.latent_heat_kj_kg', 918.0), ('fuel.ethanol.ron', 108.6), ('fuel.ethanol.mon', 89.7),
    ('fuel.ethanol.molar_mass_g_mol', 46.07),
    ('fuel.ethanol.origin', 'AFR and LHV: Heywood (1988) table D.4. Latent heat: NIST enthalpy of vaporisation. Octane: Anderson et al., SAE 2010-01-2137. From memory'),
    ('fuel.methanol.name', 'Methanol'), ('fuel.methanol.density_kg_m3', 792.0),
    ('fuel.methanol.stoich_afr', 6.47), ('fuel.methanol.lhv_mj_kg', 20.0),
    ('fuel.methanol.latent_heat_kj_kg', 1168.0), ('fuel.methanol.ron', 108.7), ('fuel.methanol.mon', 88.6),
    ('fuel.methanol.molar_mass_g_mol', 32.04),
    ('fuel.methanol.origin', 'AFR and LHV: Heywood (1988) table D.4. Latent heat: NIST enthalpy of vaporisation. Octane: Anderson et al., SAE 2010-01-2137. From memory');
INSERT INTO record (path, idx, key, value)
    SELECT path, idx, 'kind', 'pump' FROM record WHERE path = 'fuel.shelf' AND key = 'name'
    UNION ALL SELECT path, idx, 'hydrocarbon', '' FROM record WHERE path = 'fuel.shelf' AND key = 'name'
    UNION ALL SELECT path, idx, 'content_sigma', 0.0 FROM record WHERE path = 'fuel.shelf' AND key = 'name'
    UNION ALL SELECT path, idx, 'in_plans', 1 FROM record WHERE path = 'fuel.shelf' AND key = 'name'
    UNION ALL SELECT path, idx, 'treat_rate', 0.0 FROM record WHERE path = 'fuel.shelf' AND key = 'name'
    UNION ALL SELECT path, idx, 'treated_ron', 0.0 FROM record WHERE path = 'fuel.shelf' AND key = 'name'
    UNION ALL SELECT path, idx, 'litres_sigma', 0.0 FROM record WHERE path = 'tank.events' AND key = 'kind'
    UNION ALL SELECT path, idx, 'content_sigma', 0.0 FROM record WHERE path = 'tank.events' AND key = 'kind'
    UNION ALL SELECT path, idx, 'hydrocarbon', '' FROM record WHERE path = 'tank.events' AND key = 'kind';
UPDATE job_info SET value = 3 WHERE key = 'min_reader_version';
)sql"},
        // 4: pumps, boost control, auxiliary and mechanical injection, and what injectors' data sheets say.
        Migration{3, R"sql(
INSERT INTO field (path, value) VALUES
    ('aux.fail_safe', 'none'), ('aux.fitted', 0), ('aux.flow_cc_min', 0.0), ('aux.full_kpa', 150.0),
    ('aux.methanol', 1.0), ('aux.place', 'after_compressor'), ('aux.pressure_kpa', 700.0),
    ('aux.rated_pressure_kpa', 700.0), ('aux.start_kpa', 150.0), ('aux.trimmed', 1), ('boost.cut_kpa', 0.0),
    ('boost.spring_kpa', 0.0), ('engine.fuel_control', 'controller'), ('injectors.batch', 0),
    ('injectors.battery_v', 13.5), ('injectors.linear_min_ms', 0.0), ('injectors.test_fluid_kg_m3', 0.0),
    ('mechanical.density_kg_m3', 792.0), ('mechanical.discharge_jets', 0.8), ('mechanical.discharge_nozzles',
    0.8), ('mechanical.high_speed_mm', 0.0), ('mechanical.high_speed_opens_kpa', 0.0),
    ('mechanical.intake_c', 60.0), ('mechanical.judged_rpm', 7500.0), ('mechanical.main_mm', 0.0),
    ('mechanical.main_opens_kpa', 0.0), ('mechanical.nozzle_mm', 1.07), ('mechanical.nozzles', 8.0),
    ('mechanical.pill_step_mm', 0.127), ('mechanical.port_mm', 0.0), ('mechanical.port_opens_kpa', 0.0),
    ('mechanical.pump_l_min', 32.0), ('mechanical.pump_rpm', 8000.0), ('mechanical.pump_wear', 0.0),
    ('mechanical.ve', 1.0), ('supply.freeze_load_kpa', 0.0), ('supply.freeze_rpm', 0.0), ('supply.margin',
    0.07), ('supply.returns', 1), ('supply.sensor_return_l_min', 0.3), ('supply.volts', 13.5);
INSERT INTO curve_point (path, idx, x, y) VALUES ('mechanical.manifold_kpa', 0, 0.0, 200.0);
UPDATE job_info SET value = 4 WHERE key = 'min_reader_version';
)sql"},
        // 5: pulse widths and fuel mass, schools, what stands between commanded and delivered spark, the
        // weather of
        // mechanical injection. Levels, other tables, revisions, marks and origins begin as no records at
        // all.
        Migration{4, R"sql(
INSERT INTO field (path, value) VALUES
    ('calibration.pulse_pressure_kpa', 0.0), ('calibration.school', 'two_tables'),
    ('spark.base_timing_error_deg', 0.0), ('spark.fallback_usual', 1.0), ('spark.fallback_worst', 1.0),
    ('spark.knock_retard_worst_deg', 0.0), ('spark.coolant_cold_c', 70.0), ('spark.coolant_usual_c', 90.0),
    ('spark.coolant_hot_c', 105.0), ('spark.intake_hot_c', 60.0), ('spark.knock_control', 1),
    ('content_sensor.on_fault', 'not_stated'), ('spark.base_timing_checked', 0), ('content_sensor.fault_content', 0.0),
    ('content_sensor.slew_per_s', 0.0), ('supply.commanded_kpa', 0.0), ('supply.measured_kpa', 0.0),
    ('mechanical.then_kpa', 101.325), ('mechanical.then_c', 20.0),
    ('mechanical.then_humidity', 0.5), ('mechanical.now_kpa', 101.325), ('mechanical.now_c', 20.0),
    ('mechanical.now_humidity', 0.5);
UPDATE job_info SET value = 5 WHERE key = 'min_reader_version';
)sql"},
        // 6: load by air mass or throttle, boost by gear, and which readings of the content sensor are
        // believed.
        Migration{5, R"sql(
INSERT INTO field (path, value) VALUES
    ('calibration.load_axis', 'manifold_pressure'), ('calibration.boost_axis', 'throttle'),
    ('content_sensor.plausible_least', 0.0), ('content_sensor.plausible_most', 1.0),
    ('content_sensor.compared_after_fill', 0);
INSERT INTO curve_point (path, idx, x, y) VALUES
    ('engine.throttle_kpa', 0, 0.0, 30.0), ('engine.throttle_kpa', 1, 100.0, 100.0);
UPDATE job_info SET value = 6 WHERE key = 'min_reader_version';
)sql"},
        // 7: digests; JobStore fills them in once the job has been read. An older program would not keep
        // them.
        Migration{6, R"sql(
CREATE TABLE digest (chapter TEXT PRIMARY KEY, value BLOB NOT NULL) WITHOUT ROWID;
UPDATE job_info SET value = 7 WHERE key = 'min_reader_version';
)sql"},
        // 8: where a number comes from beside it, tables of records as rows, digests as sums of rows;
        // JobStore
        // moves what stood elsewhere.
        Migration{7, R"sql(
ALTER TABLE cell ADD COLUMN origin TEXT;
UPDATE job_info SET value = 8 WHERE key = 'min_reader_version';
)sql"},
        // 9: what somebody has stated, beside what is a default or an estimate; JobStore takes it from what
        // differs.
        Migration{8, R"sql(
UPDATE job_info SET value = 9 WHERE key = 'min_reader_version';
)sql"},
        // 10: a commanded rail pressure; spark ceilings over engine speed and load, one for each content:
        // JobStore spreads those over content.
        Migration{9, R"sql(
INSERT INTO curve_point (path, idx, x, y) VALUES ('injectors.rail_by_load_kpa', 0, 0.0, 0.0);
UPDATE job_info SET value = 10 WHERE key = 'min_reader_version';
)sql"},
        // 11: what an estimate of spark and the practice engine need of the engine.
        Migration{10, R"sql(
INSERT INTO field (path, value) VALUES
    ('engine.compression_ratio', 9.5), ('engine.rod_ratio', 3.2), ('engine.fuel_place', 'port'),
    ('engine.charging', 'turbo');
UPDATE job_info SET value = 11 WHERE key = 'min_reader_version';
)sql"},
        // 12: logs. What the job knows of them begins as no records at all.
        Migration{11, R"sql(
CREATE TABLE sample_chunk (
    id INTEGER PRIMARY KEY, hash BLOB NOT NULL UNIQUE, levels BLOB NOT NULL, packed BLOB NOT NULL);
CREATE TABLE log_part (
    log TEXT NOT NULL, series INTEGER NOT NULL, seq INTEGER NOT NULL, samples INTEGER NOT NULL, chunk BLOB NOT NULL,
    PRIMARY KEY (log, series, seq)) WITHOUT ROWID;
UPDATE job_info SET value = 12 WHERE key = 'min_reader_version';
)sql"},
        // 13: how spark is sought. Corrections from logs and the search itself begin as no records at all.
        Migration{12, R"sql(
INSERT INTO field (path, value) VALUES ('evidence.spark_school', 'road');
UPDATE job_info SET value = 13 WHERE key = 'min_reader_version';
)sql"},
        // 14: the dyno's own sensor and port injection among what channels measure, and tables of the latter:
        // nothing is moved, but an older program does not know these words.
        Migration{13, R"sql(
UPDATE job_info SET value = 14 WHERE key = 'min_reader_version';
)sql"},
        // 15: runs, and the car that runs on the road are judged by.
        Migration{14, R"sql(
INSERT INTO field (path, value) VALUES
    ('vehicle.mass_kg', 1300.0), ('vehicle.drag_area_m2', 0.7), ('vehicle.rolling', 0.013), ('vehicle.tyre_m', 1.95),
    ('vehicle.final_drive', 3.9), ('vehicle.rotating_kg', 40.0);
UPDATE job_info SET value = 15 WHERE key = 'min_reader_version';
)sql"},
        // 16: to what the numbers of a run are known, and channels of the air outside. Nothing is moved: of
        // older
        // runs nobody has said it, but an older program does not know these words.
        Migration{15, R"sql(
UPDATE job_info SET value = 16 WHERE key = 'min_reader_version';
)sql"},
        // 17: the goal of a change of fuel, and the rungs that were passed on the way.
        Migration{16, R"sql(
INSERT INTO field (path, value) VALUES
    ('ladder.route', 'steps'), ('ladder.power_kw', 0.0), ('ladder.base_boost_kpa', 0.0), ('ladder.top_boost_kpa', 0.0),
    ('ladder.top_content', 0.0), ('ladder.money', 0.0), ('ladder.pulls', 3.0), ('ladder.drain_can_l', 10.0);
UPDATE job_info SET value = 17 WHERE key = 'min_reader_version';
)sql"},
        // 18: what cools the charge, inspections, and where a revision comes from. Nobody has said any of it.
        Migration{17, R"sql(
INSERT INTO field (path, value) VALUES ('engine.charge_cooler', 'not_stated');
UPDATE job_info SET value = 18 WHERE key = 'min_reader_version';
)sql"},
    };
    return migrations;
}

} // namespace wheelwright
