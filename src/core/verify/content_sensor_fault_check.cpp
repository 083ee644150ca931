// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/fuel_delivery.h"
#include "core/study/school.h"
#include "core/verify/check.h"
#include "core/verify/spark_delivered.h"

#include <algorithm>
#include <array>
#include <vector>

namespace wheelwright {
namespace {

struct Fault {
    PhraseText aspect;
    double content; ///< that the controller then works with
};

// What the controller works with when the sensor reads `reading` at a content: it falls back when it takes
// the reading for a fault. Holding the last content is right until the next fill.
double believed(const ContentSensing &c, double content, double reading) {
    if (reading >= c.plausibleLeast && reading <= c.plausibleMost) return reading;
    return c.onFault == SensorFaultRule::fixedContent ? c.faultContent : content;
}

std::vector<Fault> faultsAt(const Job &job, const ContentSensing &settings, double content) {
    constexpr double lost = -1; // no signal at all: never plausible
    std::vector<Fault> faults{
        {MARKED("content.sensor_fault.aspect.lost", "signal lost"), believed(settings, content, lost)},
        {MARKED("content.sensor_fault.aspect.zero", "reads 0 %"), believed(settings, content, 0)},
        {MARKED("content.sensor_fault.aspect.full", "reads 100 %"), believed(settings, content, 1)},
        {MARKED("content.sensor_fault.aspect.high", "reads 10 % high"),
         believed(settings, content, std::min(1.0, content + 0.1))},
        {MARKED("content.sensor_fault.aspect.low", "reads 10 % low"),
         believed(settings, content, std::max(0.0, content - 0.1))}};
    // Stuck at what was in the tank before a fill, at worst from the other calibrated content.
    if (!settings.comparedAfterFill)
        for (const double before : {job.calibration.baseContent, job.calibration.topContent})
            faults.push_back(
                {MARKED("content.sensor_fault.aspect.stuck", "stuck"), believed(settings, content, before)});
    return faults;
}

const ContentSlice &sliceAt(const Evaluation &e, double content) {
    const auto slices = e.slices();
    const auto after = std::ranges::lower_bound(slices, content, {}, &ContentSlice::content);
    if (after == slices.end()) return slices.back();
    if (after == slices.begin()) return *after;
    return content - (after - 1)->content < after->content - content ? *(after - 1) : *after;
}

constexpr PhraseText sparkOf(bool ceilingKnown) {
    return ceilingKnown
               ? MARKED("content.sensor_fault.ceiling", "spark against the ceiling of the fuel in the tank")
               : MARKED("content.sensor_fault.one_degree", "spark against a degree over what that fuel gets");
}

// Every fault of one content, at the breakpoints from the surrounding air upwards and where reach ends. The
// engine goes where the believed content takes it: boost follows the sensor too.
class FaultJudge {
  public:
    explicit FaultJudge(const Evaluation &e)
        : m_e(e), m_delivered(e), m_ceilings(e), m_lean(limitOf(e.job(), "content.fault.lean")) {
        for (const std::size_t y : e.loadBreakpoints())
            if (e.load()[y] >= e.job().conditions.ambientKpa) m_loads.push_back(y);
        for (const ContentSlice &s : e.slices())
            m_demands.emplace_back(e.job(), s.content, e.job().conditions.intakeUsualC);
    }

    WorstPlace worst(const ContentSlice &s, const ContentSensing &settings) const {
        WorstFinder worst(m_e, s, 1);
        for (const Fault &f : faultsAt(m_e.job(), settings, s.content)) {
            const ContentSlice &other = sliceAt(m_e, f.content);
            if (&other == &s) continue; // believed rightly
            const Pair pair{s,
                            other,
                            demandOf(s),
                            demandOf(other),
                            m_ceilings.saidAt(s.content),
                            m_ceilings.known() ? m_ceilings.at(s.content) : BlendedPoints()};
            for (const std::size_t x : m_e.rpmBreakpoints())
                for (const std::size_t y : m_loads)
                    if (y < other.reachable[x]) consider(worst, pair, m_e.gridPoint(x, y), f);
            for (const EdgeOfReach &edge : other.edges)
                if (edge.loadKpa >= m_e.job().conditions.ambientKpa)
                    consider(worst, pair, m_e.edgePoint(edge), f);
        }
        return worst.place();
    }

  private:
    struct Pair {
        const ContentSlice &right, &wrong;
        const InjectorDemand &needs, &gives;
        bool said;             ///< whether its ceiling counts
        BlendedPoints ceiling; ///< of the fuel in the tank
    };

    const InjectorDemand &demandOf(const ContentSlice &s) const {
        return m_demands[static_cast<std::size_t>(&s - m_e.slices().data())];
    }

    void consider(WorstFinder &worst, const Pair &pair, const auto &p, const Fault &f) const {
        const EnginePoint at{p.rpm, p.loadKpa};
        const double needed = pair.needs.mm3(p.of(pair.right.fuel), at, p.of(pair.right.lambda));
        const double given = pair.gives.mm3(p.of(pair.wrong.fuel), at, p.of(pair.wrong.lambda));
        const double leaner = needed / given - 1;
        worst.consider((m_lean - leaner) / std::max(m_lean, 0.01), p.rpmIndex, p.loadKpa, leaner, m_lean,
                       f.aspect);
        const double asked = p.of(pair.wrong.spark);
        // The most that a fault may bring: what the fuel in the tank stands, where somebody has said it; else
        // no more than a degree over what that fuel gets.
        constexpr double withoutCeiling = 1;
        const bool known = pair.said && m_ceilings.asked(p.loadKpa);
        const double spark = known ? m_delivered.at(p, asked) : asked;
        const double most = known ? p.of(pair.ceiling) : p.of(pair.right.spark) + withoutCeiling;
        worst.consider(most - spark, p.rpmIndex, p.loadKpa, spark, most, f.aspect, Dimension::sparkAngle);
    }

    const Evaluation &m_e;
    BestDelivered m_delivered;
    SparkCeilings m_ceilings;
    double m_lean;
    std::vector<std::size_t> m_loads;
    std::vector<InjectorDemand> m_demands; ///< by slice
};

// Settings of the controller that make a fault harmless, from what costs least.
struct Setting {
    PhraseText words;
    void (*set)(ContentSensing &);
};
constexpr double leastBelieved = 0.01, mostBelieved = 0.99;
constexpr std::array settings{
    Setting{MARKED("content.sensor_fault.set.hold", "the last good content on a fault"),
            [](ContentSensing &c) { c.onFault = SensorFaultRule::holdLast; }},
    Setting{MARKED("content.sensor_fault.set.plausible",
                   "the last good content on a fault, and readings outside 1 to 99 % taken for one"),
            [](ContentSensing &c) {
                c.onFault = SensorFaultRule::holdLast;
                c.plausibleLeast = leastBelieved;
                c.plausibleMost = mostBelieved;
            }},
    Setting{
        MARKED("content.sensor_fault.set.compared",
               "the last good content on a fault, readings outside 1 to 99 % taken for one, and the reading "
               "compared after every fill"),
        [](ContentSensing &c) {
            c.onFault = SensorFaultRule::holdLast;
            c.plausibleLeast = leastBelieved;
            c.plausibleMost = mostBelieved;
            c.comparedAfterFill = true;
        }}};

// Which setting would clear this content, or what else would.
Phrase changeFor(const Evaluation &e, const WorstPlace &p) {
    const FaultJudge judge(e);
    const ContentSlice &slice = sliceAt(e, p.content);
    for (const Setting &s : settings) {
        ContentSensing other = e.job().contentSensing;
        s.set(other);
        if (judge.worst(slice, other).margin >= 0)
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
    const FaultJudge judge(e);
    CheckOutcome out;
    for (const ContentSlice &s : e.slices())
        out.byContent.push_back(judge.worst(s, e.job().contentSensing));
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
                         {sparkOf(SparkCeilings(e).saidAt(p.content))}}
                : Phrase(MARKED("content.sensor_fault.formula",
                                "leaner = fuel needed for the content in the tank / fuel given for the one "
                                "believed − 1"));
    x.substituted = {MARKED("content.sensor_fault.numbers", "{0} against {1} at {2}"),
                     {{p.value, own}, {p.limit, own}, {p.content, Dimension::content}}};
    for (const Fault &f : faultsAt(job, job.contentSensing, p.content)) {
        const BlendedPoint wrong = blendedPoint(e.study(), {f.content, p.rpm, p.loadKpa});
        const BlendedPoint right = blendedPoint(e.study(), {p.content, p.rpm, p.loadKpa});
        const double usual = job.conditions.intakeUsualC;
        const EnginePoint at{p.rpm, p.loadKpa};
        const double needed = InjectorDemand(job, p.content, usual).mm3(right.fuel, at, right.lambda);
        const double given = InjectorDemand(job, f.content, usual).mm3(wrong.fuel, at, wrong.lambda);
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
