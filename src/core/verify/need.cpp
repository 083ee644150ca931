// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/need.h"

#include "core/base/error.h"
#include "core/job/revision.h"
#include "core/study/content_tables.h"
#include "core/study/extra_tables.h"
#include "core/study/study.h"
#include "core/verify/proven_spark.h"

#include <algorithm>
#include <array>
#include <limits>

namespace wheelwright {
namespace {

using Q = CalibratedQuantity;
constexpr double none = std::numeric_limits<double>::infinity();

bool has(const Job &job, TableKind kind) {
    return extraInUse(job, kind) != nullptr;
}

template <Q q>
bool stands(const Standing &standing, const ContentSlice &slice) {
    return !standing.guessed(q, slice);
}

// A table of the job that nobody has only estimated.
bool said(const Job &job, TableKind kind) {
    const ExtraTable *extra = extraInUse(job, kind);
    return extra && std::ranges::none_of(extra->table.origins(), guessed);
}

bool cutThere(const Job &job) {
    return job.boost.cutKpa > 0 || has(job, TableKind::boostCut);
}

// None of those that are there is only an estimate.
bool allSaid(const Job &job, std::initializer_list<TableKind> kinds) {
    return std::ranges::all_of(kinds, [&](TableKind kind) { return !has(job, kind) || said(job, kind); });
}

bool correctionsSaid(const Standing &standing, const ContentSlice &) {
    return allSaid(standing.job(),
                   {TableKind::sparkIntake, TableKind::sparkCoolant, TableKind::sparkCylinder});
}

bool startThere(const Job &job) {
    return has(job, TableKind::cranking) || has(job, TableKind::afterStart) || has(job, TableKind::prime);
}

bool startSaid(const Standing &standing, const ContentSlice &) {
    return allSaid(standing.job(), {TableKind::cranking, TableKind::afterStart, TableKind::prime});
}

bool heatThere(const Job &job) {
    return has(job, TableKind::sparkIntake) || has(job, TableKind::sparkCoolant);
}

bool pumpsThere(const Job &job) {
    return std::ranges::any_of(job.supply.pumps,
                               [](const FittedPump &p) { return p.count > 0 && !p.pump.empty(); });
}

bool sentThere(const Job &job) {
    const std::vector<Revision> &all = job.revisions;
    const auto last = std::find_if(all.rbegin(), all.rend(), [](const Revision &r) { return r.sent; });
    if (last == all.rend()) return false;
    try {
        restored(job, *last);
        return true;
    } catch (const InputError &) {
        return false; // what it holds cannot be read: nothing to compare with
    }
}

// Displacement and cylinders enter where the tables hold a filling; the rev limit everywhere.
bool engineSaid(const Standing &standing, const ContentSlice &) {
    const Job &job = standing.job();
    const bool filling = job.calibration.fuelMeaning == FuelMeaning::trueVe ||
                         job.calibration.fuelMeaning == FuelMeaning::contentReferencedVe;
    return standing.isStated("engine.rev_limit_rpm") &&
           (!filling ||
            (standing.isStated("engine.displacement_l") && standing.isStated("engine.cylinders")));
}

const std::array needs{
    Need{"ceilings", MARKED("need.ceilings", "nobody has said what spark this fuel stands"),
         MARKED("need.ceilings.find", "Say what spark each fuel stands, from pulls or knock"),
         "calibration.extras.spark_ceiling", [](const Job &j) { return has(j, TableKind::sparkCeiling); },
         [](const Standing &s, const ContentSlice &at) { return s.saidAt(TableKind::sparkCeiling, at); }},
    // Of a fuel with less alcohol than any that was looked at nobody knows what it stands: its octane is
    // lower.
    Need{
        "ceiling_reach",
        MARKED("need.ceiling_reach",
               "no ceiling was found on a fuel with as little alcohol, and its octane is lower"),
        MARKED("need.ceiling_reach.find", "Find the ceiling of the fuel with least alcohol"),
        "calibration.extras.spark_ceiling", nullptr,
        [](const Standing &s, const ContentSlice &at) { return s.reachesDown(TableKind::sparkCeiling, at); }},
    Need{"base_timing", MARKED("need.base_timing", "base timing was not checked"),
         MARKED("need.base_timing.find", "Check base timing with a light"), "spark.base_timing_checked",
         [](const Job &j) { return j.sparkDelivery.baseTimingChecked; }},
    Need{"spark_tables", MARKED("need.spark_tables", "the spark tables are estimates or defaults"),
         MARKED("need.spark_tables.find", "Put the spark tables of this engine in"), "calibration.spark",
         nullptr, stands<Q::spark>},
    Need{"fuel_tables", MARKED("need.fuel_tables", "the fuel tables are estimates or defaults"),
         MARKED("need.fuel_tables.find", "Put the fuel tables of this engine in"), "calibration.fuel",
         nullptr, stands<Q::fuel>},
    Need{"lambda_tables", MARKED("need.lambda_tables", "the lambda targets are estimates or defaults"),
         MARKED("need.lambda_tables.find", "Put the lambda targets of this engine in"), "calibration.lambda",
         nullptr, stands<Q::lambda>},
    Need{"boost_tables", MARKED("need.boost_tables", "the boost targets are estimates or defaults"),
         MARKED("need.boost_tables.find", "Put the boost targets of this engine in"), "calibration.boost",
         nullptr, stands<Q::boost>},
    Need{"engine", MARKED("need.engine", "displacement, cylinders or rev limit are not stated"),
         MARKED("need.engine.find", "State displacement, cylinders and rev limit"), "engine.displacement_l",
         nullptr, engineSaid},
    Need{"injectors", MARKED("need.injectors", "the injectors' flow is not stated"),
         MARKED("need.injectors.find", "State the injectors' flow"), "injectors.flow_cc_min", nullptr,
         [](const Standing &s, const ContentSlice &) { return s.isStated("injectors.flow_cc_min"); }},
    Need{"rail_table", MARKED("need.rail_table", "nobody has said what pressure the rail is driven to"),
         MARKED("need.rail_table.find", "Enter the rail pressures that the supply is driven to"),
         "calibration.extras.rail_pressure", nullptr,
         [](const Standing &s, const ContentSlice &at) { return s.saidInUse(TableKind::railPressure, at); }},
    Need{"pump_sheet", MARKED("need.pump_sheet", "the pumps have no data"),
         MARKED("need.pump_sheet.find", "Enter the pump's flow from its sheet"), "supply.pumps", pumpsThere},
    Need{"boost_limit", MARKED("need.boost_limit", "nobody has said what boost the engine stands"),
         MARKED("need.boost_limit.find", "Say what boost the engine stands"), "engine.boost_limit_kpa",
         nullptr,
         [](const Standing &s, const ContentSlice &) { return s.isStated("engine.boost_limit_kpa"); }},
    Need{"map_sensor", MARKED("need.map_sensor", "the MAP sensor's range is not stated"),
         MARKED("need.map_sensor.find", "State the MAP sensor's range"), "engine.map_sensor_max_kpa", nullptr,
         [](const Standing &s, const ContentSlice &) { return s.isStated("engine.map_sensor_max_kpa"); }},
    Need{"spring", MARKED("need.spring", "the spring has not been measured"),
         MARKED("need.spring.find", "Measure the wastegate spring"), "boost.spring_kpa",
         [](const Job &j) { return j.boost.springKpa > 0; }},
    Need{"cut", MARKED("need.cut", "no overboost cut is stated"),
         MARKED("need.cut.find", "State the overboost cut"), "boost.cut_kpa", cutThere,
         [](const Standing &s, const ContentSlice &) {
             return s.isStated("boost.cut_kpa") || said(s.job(), TableKind::boostCut);
         }},
    Need{"fault_rule", MARKED("need.fault_rule", "the job does not say what the controller does on a fault"),
         MARKED("need.fault_rule.find", "Say what the controller does when the content sensor fails"),
         "content_sensor.on_fault",
         [](const Job &j) { return j.contentSensing.onFault != SensorFaultRule::notStated; }},
    Need{"slew", MARKED("need.slew", "the job does not say how fast the content is followed"),
         MARKED("need.slew.find", "Say how fast the controller follows the content"),
         "content_sensor.slew_per_s", [](const Job &j) { return j.contentSensing.slewPerS > 0; }},
    Need{"mechanical", MARKED("need.mechanical", "pump, nozzles and main pill are not stated"),
         MARKED("need.mechanical.find", "State pump, nozzles and main pill"), "mechanical.pump_l_min",
         nullptr,
         [](const Standing &s, const ContentSlice &) {
             return s.isStated("mechanical.pump_l_min") && s.isStated("mechanical.nozzle_mm");
         }},
    Need{"nozzle_place",
         MARKED("need.nozzle_place", "nobody has said whether the nozzles spray against boost"),
         MARKED("need.nozzle_place.find", "Say where the nozzles spray"), "mechanical.nozzle_place", nullptr,
         [](const Standing &s, const ContentSlice &) { return s.isStated("mechanical.nozzle_place"); }},
    Need{"starting_tables", MARKED("need.starting_tables", "nobody has said what it starts on"),
         MARKED("need.starting_tables.find", "Enter cranking and after-start fuel"),
         "calibration.extras.cranking", startThere, startSaid},
    Need{"sent_revision", MARKED("need.sent_revision", "no revision that can be read was marked as sent"),
         MARKED("need.sent_revision.find", "Keep a revision and mark it as sent"), "revisions", sentThere},
    Need{"linear_minimum", MARKED("need.linear_minimum", "the injectors' linear minimum is not stated"),
         MARKED("need.linear_minimum.find", "State the injectors' linear minimum"), "injectors.linear_min_ms",
         [](const Job &j) { return j.injectors.linearMinMs > 0; }},
    Need{"fallback_table", MARKED("need.fallback_table", "the job has no fallback table"),
         MARKED("need.fallback_table.find", "Enter the fallback spark table"),
         "calibration.extras.spark_fallback", [](const Job &j) { return has(j, TableKind::sparkFallback); }},
    Need{"heat_corrections", MARKED("need.heat_corrections", "the job has no corrections by temperature"),
         MARKED("need.heat_corrections.find", "Enter the spark corrections by temperature"),
         "calibration.extras.spark_intake", heatThere, correctionsSaid},
    Need{"corrections", MARKED("need.corrections", "the job has no spark corrections"),
         MARKED("need.corrections.find", "Enter the spark corrections"), "calibration.extras.spark_intake",
         [](const Job &j) { return heatThere(j) || has(j, TableKind::sparkCylinder); }, correctionsSaid},
    Need{"no_sensor",
         MARKED("need.no_sensor", "no content sensor is fitted, and the calibration is no set of files"),
         MARKED("need.no_sensor.find", "Say how the controller learns of another fuel"),
         "fuel_system.content_sensor"},
    Need{"elsewhere", MARKED("need.elsewhere", "a job of mechanical injection holds neither spark nor boost"),
         MARKED("need.elsewhere.find", "Judge spark and boost where they are set: this job holds neither"),
         "engine.fuel_control"},
    Need{"best_spark", MARKED("need.best_spark", "nobody has said where spark is at its best"),
         MARKED("need.best_spark.find", "Find best spark with a sweep on the dyno"),
         "calibration.extras.spark_best", [](const Job &j) { return has(j, TableKind::sparkBest); },
         [](const Standing &s, const ContentSlice &at) { return s.saidAt(TableKind::sparkBest, at); }},
    Need{"proven_spark", MARKED("need.proven_spark", "no cell of the spark tables has been proven by a log"),
         MARKED("need.proven_spark.find", "Prove spark with logs, in steps, with cuts set"),
         "calibration.spark", anySparkFromLog,
         [](const Standing &s, const ContentSlice &at) { return s.provenNear(at); },
         [](const Proof &p) { return p.anyProven(); }},
};

} // namespace

Standing::Standing(const Evaluation &evaluation, const Proof &proof)
    : m_e(evaluation), m_proof(proof), m_ceilings(job(), TableKind::sparkCeiling),
      m_best(job(), TableKind::sparkBest) {
    for (const ContentSlice &slice : m_e.slices()) {
        double &highest = m_highest.emplace_back(0);
        for (const ReachAtSpeed &r : slice.reach)
            if (r.runs) highest = std::max(highest, r.highestKpa);
    }
    for (const Q q : {Q::fuel, Q::spark, Q::boost, Q::lambda})
        for (const Table2D *t : tablesOf(job(), q))
            m_leastGuess[t] = leastGuess(*t, q != Q::boost);
    for (const ExtraTable &extra : job().extras)
        if (definitionOf(extra.kind).atContent)
            m_leastGuess[&extra.table] = std::min(leastGuess(extra.table, true), lastSaid(extra));
        else if (extra.kind == TableKind::railPressure)
            m_leastGuess[&extra.table] = leastGuess(extra.table, true);
    for (const Statement &s : job().stated)
        if (!s.estimated) m_stated.insert(s.path);
}

// Past its last row nobody has said what a fuel stands, and it stands less there.
double Standing::lastSaid(const ExtraTable &extra) {
    return extra.kind == TableKind::sparkCeiling ? extra.table.y().last() : none;
}

// At speeds that the engine runs at, and one breakpoint over them, between which it looks up.
double Standing::leastGuess(const Table2D &t, bool load) const {
    if (t.origins().empty()) return none;
    for (std::size_t y = 0; y < t.y().size(); ++y)
        for (std::size_t x = 0; x < t.x().size(); ++x)
            if ((x == 0 || t.x()[x - 1] < job().engine.revLimitRpm) && wheelwright::guessed(t.origin({x, y})))
                return !load || y == 0 ? 0 : t.y()[y - 1];
    return none;
}

bool Standing::guessed(Q q, const ContentSlice &slice) const {
    const BlendEnds ends = m_e.study().ends(q, slice.content);
    return (ends.weight != 1 && guessReached(*ends.low, slice)) ||
           (ends.weight != 0 && guessReached(*ends.high, slice));
}

bool Standing::guessReached(const Table2D &t, const ContentSlice &slice) const {
    return m_leastGuess.at(&t) < highest(slice);
}

double Standing::highest(const ContentSlice &slice) const {
    return m_highest[static_cast<std::size_t>(&slice - m_e.slices().data())];
}

bool Standing::saidInUse(TableKind kind, const ContentSlice &slice) const {
    const ExtraTable *extra = extraInUse(job(), kind);
    return !extra || !guessReached(extra->table, slice);
}

bool Standing::saidAt(TableKind kind, const ContentSlice &slice) const {
    const ContentTables &tables = tablesOfKind(kind);
    if (tables.empty()) return false;
    // A sweep is for where it was made: over what the engine reaches it says nothing of it.
    if (kind == TableKind::sparkBest && tables.firstRow() > highest(slice)) return false;
    const ContentTables::Between between = tables.between(slice.content);
    const auto stands = [&](std::size_t level) {
        return std::ranges::none_of(tables.levels()[level].tables,
                                    [&](const ExtraTable *t) { return guessReached(t->table, slice); });
    };
    return stands(between.low) && (between.weight <= 0 || stands(between.high));
}

bool Standing::provenNear(const ContentSlice &slice) const {
    return std::ranges::any_of(provenLoads(m_e, m_proof, slice),
                               [](const std::optional<ProvenLoad> &p) { return p.has_value(); });
}

bool Standing::reachesDown(TableKind kind, const ContentSlice &slice) const {
    constexpr double sameContent = 1e-9;
    const ContentTables &tables = tablesOfKind(kind);
    return tables.empty() || tables.lowest() <= slice.content + sameContent; // none at all is another need
}

const std::vector<bool> &Standing::met(const Need &need) const {
    const auto known = m_met.find(&need);
    if (known != m_met.end()) return known->second;
    const auto slices = m_e.slices();
    const bool there = !need.there || need.there(job()) || (need.byLogs && need.byLogs(m_proof));
    std::vector<bool> met(slices.size(), there);
    for (std::size_t i = 0; i < slices.size() && need.stated; ++i)
        met[i] = met[i] && need.stated(*this, slices[i]);
    return m_met.emplace(&need, std::move(met)).first->second;
}

std::span<const Need> allNeeds() {
    return needs;
}

const Need &needById(std::string_view id) {
    const auto at = std::ranges::find(needs, id, &Need::id);
    if (at == needs.end())
        throw InputError("need", MARKED("expected.known_need", "a known need"), std::string(id));
    return *at;
}

bool boosted(const Job &job) {
    constexpr double more = 1.05;
    for (const Table2D *t : tablesOf(job, Q::boost))
        if (std::ranges::max(t->cells()) > job.conditions.ambientKpa * more) return true;
    return false;
}

} // namespace wheelwright
