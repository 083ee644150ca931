// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/extra_tables.h"
#include "core/study/fuel_delivery.h"
#include "core/study/school.h"
#include "core/study/spark_budget.h"
#include "core/tables/table_kind.h"
#include "core/verify/check.h"
#include "core/verify/spark_delivered.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <vector>

namespace wheelwright {
namespace {

struct Fault {
    PhraseText aspect;
    double content; ///< that the controller then works with
};

// What the controller works with when the sensor reads `reading` at a content: it falls back when it takes
// the reading for a fault. Holding the last content is right until the next fill.
double believed(const Job &job, double content, double reading) {
    const ContentSensing &c = job.contentSensing;
    if (reading >= c.plausibleLeast && reading <= c.plausibleMost) return reading;
    return c.onFault == SensorFaultRule::fixedContent ? c.faultContent : content;
}

std::vector<Fault> faultsAt(const Job &job, double content) {
    constexpr double lost = -1; // no signal at all: never plausible
    std::vector<Fault> faults{
        {MARKED("content.sensor_fault.aspect.lost", "signal lost"), believed(job, content, lost)},
        {MARKED("content.sensor_fault.aspect.zero", "reads 0 %"), believed(job, content, 0)},
        {MARKED("content.sensor_fault.aspect.full", "reads 100 %"), believed(job, content, 1)},
        {MARKED("content.sensor_fault.aspect.high", "reads 10 % high"),
         believed(job, content, std::min(1.0, content + 0.1))},
        {MARKED("content.sensor_fault.aspect.low", "reads 10 % low"),
         believed(job, content, std::max(0.0, content - 0.1))}};
    // Stuck at what was in the tank before a fill, at worst from the other calibrated content.
    if (!job.contentSensing.comparedAfterFill)
        for (const double before : {job.calibration.baseContent, job.calibration.topContent})
            faults.push_back(
                {MARKED("content.sensor_fault.aspect.stuck", "stuck"), believed(job, content, before)});
    return faults;
}

const ContentSlice &sliceAt(const Evaluation &e, double content) {
    const auto slices = e.slices();
    const auto after = std::ranges::lower_bound(slices, content, {}, &ContentSlice::content);
    if (after == slices.end()) return slices.back();
    if (after == slices.begin()) return *after;
    return content - (after - 1)->content < after->content - content ? *(after - 1) : *after;
}

// Fuel given at the points where it matters: breakpoints from the surrounding air upwards.
struct Given {
    std::vector<double> mm3, spark;
};

// The most spark that a fault may bring: what the fuel in the tank stands, where somebody has said it; else
// no more than a degree over what that fuel gets.
struct SparkLimit {
    explicit SparkLimit(const Job &job)
        : known(extraInUse(job, TableKind::sparkCeiling) != nullptr), m_job(job) {}
    double at(double content, double loadKpa, double rightDeg) const {
        constexpr double withoutCeiling = 1;
        return known ? extraAt(m_job, TableKind::sparkCeiling, content, loadKpa) : rightDeg + withoutCeiling;
    }
    bool known;

  private:
    const Job &m_job;
};

constexpr PhraseText sparkOf(bool ceilingKnown) {
    return ceilingKnown
               ? MARKED("content.sensor_fault.ceiling", "spark against the ceiling of the fuel in the tank")
               : MARKED("content.sensor_fault.one_degree", "spark against a degree over what that fuel gets");
}

class FaultJudge {
  public:
    explicit FaultJudge(const Evaluation &e) : m_e(e) {
        for (const std::size_t y : e.loadBreakpoints())
            if (e.load()[y] >= e.job().conditions.ambientKpa) m_loads.push_back(y);
        if (m_loads.empty()) m_loads.push_back(e.load().size() - 1);
    }
    const std::vector<std::size_t> &loads() const { return m_loads; }

    // In the order of breakpoints of speed, then loads().
    const Given &at(const ContentSlice &s) {
        const auto known = m_given.find(s.content);
        if (known != m_given.end()) return known->second;
        const InjectorDemand demand(m_e.job(), s.content, m_e.job().conditions.intakeUsualC);
        Given g;
        for (const std::size_t x : m_e.rpmBreakpoints())
            for (const std::size_t y : m_loads) {
                const std::size_t i = m_e.index(x, y);
                g.mm3.push_back(demand.mm3(s.fuel[i], m_e.load()[y], s.lambda[i]));
                g.spark.push_back(s.spark[i]);
            }
        return m_given.emplace(s.content, std::move(g)).first->second;
    }

  private:
    const Evaluation &m_e;
    std::vector<std::size_t> m_loads;
    std::map<double, Given> m_given;
};

// Settings of the controller that make a fault harmless, from what costs least.
struct Setting {
    PhraseText words;
    void (*set)(Job &);
};
constexpr std::array settings{
    Setting{MARKED("content.sensor_fault.set.hold", "the last good content on a fault"),
            [](Job &j) { j.contentSensing.onFault = SensorFaultRule::holdLast; }},
    Setting{MARKED("content.sensor_fault.set.plausible",
                   "the last good content on a fault, and readings outside 1 to 99 % taken for one"),
            [](Job &j) {
                j.contentSensing.onFault = SensorFaultRule::holdLast;
                j.contentSensing.plausibleLeast = 0.01;
                j.contentSensing.plausibleMost = 0.99;
            }},
    Setting{
        MARKED("content.sensor_fault.set.compared",
               "the last good content on a fault, readings outside 1 to 99 % taken for one, and the reading "
               "compared after every fill"),
        [](Job &j) {
            j.contentSensing.onFault = SensorFaultRule::holdLast;
            j.contentSensing.plausibleLeast = 0.01;
            j.contentSensing.plausibleMost = 0.99;
            j.contentSensing.comparedAfterFill = true;
        }}};

// Whether every fault is bearable at a place with other settings of the sensor.
bool bearable(const Evaluation &e, const Job &other, const WorstPlace &p) {
    const Job &job = e.job();
    const double usual = job.conditions.intakeUsualC;
    const BlendedPoint right = blendedPoint(e.study(), {p.content, p.rpm, p.loadKpa});
    const double needed = InjectorDemand(job, p.content, usual).mm3(right.fuel, p.loadKpa, right.lambda);
    const SparkLimit sparkLimit(job);
    for (const Fault &f : faultsAt(other, p.content)) {
        const BlendedPoint wrong = blendedPoint(e.study(), {f.content, p.rpm, p.loadKpa});
        const double given = InjectorDemand(job, f.content, usual).mm3(wrong.fuel, p.loadKpa, wrong.lambda);
        if (needed / given - 1 > limitOf(job, "content.fault.lean")) return false;
        double delivered = wrong.sparkDeg;
        if (sparkLimit.known) {
            const SparkBudget budget = sparkBudget(e.study(), {f.content, p.rpm, p.loadKpa});
            delivered = budget.bestDeg;
        }
        if (delivered > sparkLimit.at(p.content, p.loadKpa, right.sparkDeg)) return false;
    }
    return true;
}

// Which setting would clear the place, or what else would.
Phrase changeFor(const Evaluation &e, const WorstPlace &p) {
    for (const Setting &s : settings) {
        Job other = e.job();
        s.set(other);
        if (bearable(e, other, p))
            return {MARKED("content.sensor_fault.change.setting", "This would do: {A}."), {}, {}, {s.words}};
    }
    if (p.other)
        return {MARKED("content.sensor_fault.change.spark", "No setting of the controller clears it, since "
                                                            "such a reading is believed. {0} less spark for "
                                                            "the content read here would."),
                {{p.value - p.limit, Dimension::sparkAngle}}};
    return MARKED(
        "content.sensor_fault.change.fuel",
        "No setting of the controller clears it, since such a reading is believed: a sensor that is trusted "
        "less, by a slower following and a comparison after every fill, or richer tables.");
}

CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    const double lean = limitOf(job, "content.fault.lean");
    const SparkLimit sparkLimit(job);
    const std::vector<double> more = bestSparkCorrections(e);
    FaultJudge judge(e);
    CheckOutcome out;
    for (const ContentSlice &s : e.slices()) {
        WorstFinder worst(e, s, 1);
        const Given &right = judge.at(s);
        for (const Fault &f : faultsAt(job, s.content)) {
            const ContentSlice &other = sliceAt(e, f.content);
            if (&other == &s) continue; // believed rightly
            const Given &wrong = judge.at(other);
            std::size_t i = 0;
            for (const std::size_t x : e.rpmBreakpoints())
                for (const std::size_t y : judge.loads()) {
                    const std::size_t at = i++;
                    if (y >= s.reachable[x]) continue;
                    const double leaner = right.mm3[at] / wrong.mm3[at] - 1;
                    const double load = e.load()[y];
                    const double delivered = wrong.spark[at] + (sparkLimit.known ? more[y] : 0.0);
                    const double most = sparkLimit.at(s.content, load, right.spark[at]);
                    worst.consider((lean - leaner) / std::max(lean, 0.01), x, e.load()[y], leaner, lean,
                                   f.aspect);
                    worst.consider(most - delivered, x, load, delivered, most, f.aspect,
                                   Dimension::sparkAngle);
                }
        }
        out.byContent.push_back(worst.place());
    }
    return out;
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    Explanation x;
    x.title = {MARKED("content.sensor_fault.now", "Content sensor: {A}"), {}, {}, {p.aspect}};
    const bool bySpark = p.other.has_value();
    const Dimension own = p.other.value_or(Dimension::ratio);
    x.result = {p.value, own};
    x.formula =
        bySpark ? Phrase{MARKED("content.sensor_fault.formula.spark",
                                "spark blended for the content believed, corrections at best: {A}"),
                         {},
                         {},
                         {sparkOf(SparkLimit(job).known)}}
                : Phrase(MARKED("content.sensor_fault.formula",
                                "leaner = fuel needed for the content in the tank / fuel given for the one "
                                "believed − 1"));
    x.substituted = {MARKED("content.sensor_fault.numbers", "{0} against {1} at {2}"),
                     {{p.value, own}, {p.limit, own}, {p.content, Dimension::content}}};
    for (const Fault &f : faultsAt(job, p.content)) {
        const BlendedPoint wrong = blendedPoint(e.study(), {f.content, p.rpm, p.loadKpa});
        const BlendedPoint right = blendedPoint(e.study(), {p.content, p.rpm, p.loadKpa});
        const double usual = job.conditions.intakeUsualC;
        const double needed = InjectorDemand(job, p.content, usual).mm3(right.fuel, p.loadKpa, right.lambda);
        const double given = InjectorDemand(job, f.content, usual).mm3(wrong.fuel, p.loadKpa, wrong.lambda);
        x.inputs.push_back(
            {"Δλ",
             Phrase{MARKED("content.sensor_fault.from.leaner", "{A}: leaner by"), {}, {}, {f.aspect}},
             {needed / given - 1, Dimension::ratio},
             "content_sensor.on_fault"});
        x.inputs.push_back(
            {"Δα",
             Phrase{MARKED("content.sensor_fault.from.spark", "{A}: spark"), {}, {}, {f.aspect}},
             {wrong.sparkDeg - right.sparkDeg, Dimension::sparkAngle},
             "content_sensor.on_fault"});
    }
    x.inputs.push_back({"E_f",
                        MARKED("content.sensor_fault.from.falls_back", "falls back to"),
                        {job.contentSensing.faultContent, Dimension::content},
                        "content_sensor.fault_content"});
    x.inputs.push_back({"lim",
                        MARKED("content.sensor_fault.from.leaner_most", "leaner, most"),
                        {limitOf(job, "content.fault.lean"), Dimension::ratio},
                        "limit:content.fault.lean"});
    x.source = {MARKED("content.sensor_fault.source", "Blend of the job at both contents; limit: {A}"),
                {},
                {},
                {limitOrigin(job, "content.fault.lean")}};
    x.uncertainty = {
        MARKED("content.sensor_fault.uncertainty",
               "A stuck sensor is believed until somebody compares it with a tube or the tank after a fill."),
        {}};
    x.change = changeFor(e, p);
    return x;
}

} // namespace

const Check &contentSensorFaultCheck() {
    static const Check check{
        "content.sensor_fault",
        MARKED("content.sensor_fault.title", "Sensor fault"),
        MARKED("content.sensor_fault.named", "sensor fault"),
        QuestionId::sensor,
        MARKED("content.sensor_fault.question", "Are λ and spark bearable when the content sensor fails?"),
        Dimension::ratio,
        {"content.fault.lean"},
        CalibratedQuantity::fuel,
        0,
        MARKED("content.sensor_fault.help",
               "A full mark is no leaner and no more spark; an empty one the limit of either."),
        run,
        explain,
        {"fault_rule", "fuel_tables", "spark_tables"},
        true,
        followsSensor};
    return check;
}

} // namespace wheelwright
