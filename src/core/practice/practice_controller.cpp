// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/practice/practice_controller.h"

#include "core/flow/injector.h"
#include "core/fuel/content_measurement.h"
#include "core/job/school_definition.h"
#include "core/study/extra_tables.h"
#include "core/study/load_axis.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr double msPerMinute = 60000, mm3PerCc = 1000;

double holding(double v, double least, double most) {
    return std::clamp(v, least, most);
}

} // namespace

PracticeController::PracticeController(std::shared_ptr<const Study> study) {
    setStudy(std::move(study));
    m_fallbackShare = m_study->job().sparkDelivery.fallbackUsual;
    m_content = m_study->job().calibration.baseContent;
}

void PracticeController::setStudy(std::shared_ptr<const Study> study) {
    m_study = std::move(study);
    m_boostGroups = boostGroups(m_study->job());
    m_rail.emplace(m_study->job());
    m_demand.reset();
}

void PracticeController::load(double content) {
    m_content = content;
    m_demand.reset();
}

// The sensor's frequency as the job takes it; what it does not believe is a fault, and it does then what the
// job says.
void PracticeController::followContent(const Sensed &sensed, double seconds) {
    const Job &job = m_study->job();
    if (!followsSensor(job) || !job.fuelSystem.contentSensor) return;
    const ContentSensing &rule = job.contentSensing;
    constexpr double faultHz = 180, zeroHz = 50, hzForAll = 100, playHz = 5; // common practice: sources.md
    const double read = (sensed.contentHz - zeroHz) / hzForAll;
    const bool signal = sensed.contentHz >= zeroHz - playHz && sensed.contentHz < faultHz;
    const double held = holding(read, 0, 1);
    double target = held;
    if (!signal || held < rule.plausibleLeast || held > rule.plausibleMost)
        target = rule.onFault == SensorFaultRule::fixedContent ? rule.faultContent : m_content;
    const FuelSupply &supply = job.supply;
    const bool freezes = supply.freezeLoadKpa > 0 && supply.freezeRpm > 0;
    if (freezes && sensed.mapKpa >= supply.freezeLoadKpa && sensed.rpm >= supply.freezeRpm) return;
    const double most = rule.slewPerS > 0 ? rule.slewPerS * seconds : 1;
    m_content += holding(target - m_content, -most, most);
}

const InjectorDemand &PracticeController::demand(double intakeC) {
    constexpr double sameContent = 5e-4, sameK = 0.25;
    if (!m_demand || std::abs(m_demand->content - m_content) > sameContent ||
        std::abs(m_demand->intakeC - intakeC) > sameK)
        m_demand.emplace(Demand{m_content, intakeC, InjectorDemand(m_study->job(), m_content, intakeC)});
    return m_demand->demand;
}

double PracticeController::fuelPulse(const Sensed &s, double tableFuel, double lambda, double seconds) {
    const Job &job = m_study->job();
    const EnginePoint at{s.rpm, s.mapKpa};
    double mm3 = demand(s.intakeC).mm3(tableFuel, at, lambda);
    using enum TableKind;
    mm3 *= 1 + extraAt(job, fuelIntake, s.intakeC);
    mm3 *= 1 + extraAt(job, fuelCoolant, s.coolantC);
    mm3 *= 1 + extraAt(job, fuelTemperature, s.fuelC);
    mm3 *= 1 + extraAt(job, fuelContent, m_content);
    constexpr double afterStartS = 20, quickTipInS = 0.3;
    if (s.sinceStartS < afterStartS)
        mm3 *= 1 + extraAt(job, afterStart, s.coolantC, m_content) * (1 - s.sinceStartS / afterStartS);
    // What a rising throttle asks for dies away by itself.
    const double rate = std::max(0.0, (s.throttlePercent - m_lastThrottle) / seconds);
    m_lastThrottle = s.throttlePercent;
    m_enrichment = std::max(extraInUse(job, acceleration) ? extraAt(job, acceleration, rate, m_content) : 0,
                            m_enrichment * (1 - seconds / quickTipInS));
    mm3 *= 1 + m_enrichment;
    const Injectors &inj = job.injectors;
    const double across = m_rail->acrossKpa(at);
    const double flow = injectorFlowOn(job, across, m_study->fuelAt(m_content).densityKgM3); // cc/min
    if (!(flow > 0)) return 0;
    const double dead =
        inj.deadTimes.empty() ? inj.deadTimeMs : deadTimeMs(inj.deadTimes, s.batteryV, across);
    return mm3 / (inj.batch ? 2 : 1) / (flow * mm3PerCc / msPerMinute) + dead;
}

// Retard by strength at once, given back slowly; each knock also takes a little of the share of the main
// table. Common practice.
void PracticeController::feelKnock(double knock, double seconds) {
    const SparkDelivery &d = m_study->job().sparkDelivery;
    constexpr double heard = 0.05, stepDeg = 1, byStrengthDeg = 3, mostDeg = 10, backDegPerS = 0.7,
                     shareByKnock = 0.01, shareBackPerS = 0.002;
    if (d.knockControl && knock > heard) {
        m_retardDeg = std::min(mostDeg, m_retardDeg + stepDeg + byStrengthDeg * knock);
        m_fallbackShare =
            std::max(std::min(d.fallbackUsual, d.fallbackWorst), m_fallbackShare - shareByKnock);
    }
    m_retardDeg = std::max(0.0, m_retardDeg - backDegPerS * seconds);
    m_fallbackShare = std::min(d.fallbackUsual, m_fallbackShare + shareBackPerS * seconds);
}

double PracticeController::spark(const Sensed &s, double asked) {
    const Job &job = m_study->job();
    using enum TableKind;
    double deg = asked;
    if (const ExtraTable *fallback = extraInUse(job, sparkFallback))
        deg += (1 - m_fallbackShare) * std::min(0.0, fallback->table.lookup(s.rpm, s.mapKpa).value - asked);
    deg += extraAt(job, sparkIntake, s.intakeC, s.mapKpa);
    deg += extraAt(job, sparkCoolant, s.coolantC);
    if (extraInUse(job, sparkCylinder)) // one spark stands for all
        for (int i = 1; i <= static_cast<int>(job.engine.cylinders); ++i)
            deg += extraAt(job, sparkCylinder, i) / job.engine.cylinders;
    constexpr double withoutSprayDeg = 8;
    if (s.sprayLost && job.aux.failSafe == SprayFailSafe::sparkRetard) deg -= withoutSprayDeg;
    deg += extraAt(job, sparkFuel, s.fuelC);
    return deg - m_retardDeg;
}

double PracticeController::solenoid(const Sensed &s, double targetKpa, double seconds) {
    const Job &job = m_study->job();
    const double ambient = job.conditions.ambientKpa, gauge = targetKpa - ambient;
    if (m_heldDuty) return *m_heldDuty;
    constexpr double boostedKpa = 5;
    if (gauge <= boostedKpa || job.engine.charging != Charging::turbo) return 0;
    if (m_cutS > 0) { // too much boost: what the trim had learned was wrong
        m_boostTrim = 0;
        return 0;
    }
    double duty;
    if (const ExtraTable *table = extraInUse(job, TableKind::solenoidDuty)) {
        duty = table->table.lookup(s.rpm, targetKpa).value;
    } else if (const BoostGroup *group = boostGroupFor(m_boostGroups, 0, m_content)) {
        duty = dutyFor(*group->fit, gauge);
    } else {
        constexpr double kpaForAll = 100; // a guess to begin from; the slow trim finds the rest
        duty = (gauge - job.boost.springKpa) / kpaForAll;
    }
    // A slow trim, only where boost is nearly there: it must not wind up while the turbine spins up.
    const double error = targetKpa - s.mapKpa;
    constexpr double nearKpa = 40, dutyPerKpaS = 0.006, mostTrim = 0.25;
    if (std::abs(error) < nearKpa)
        m_boostTrim = holding(m_boostTrim + dutyPerKpaS * error * seconds, -mostTrim, mostTrim);
    return holding(duty + m_boostTrim, 0, 1);
}

// Rev limit and overboost cut, each with a little play, so that they do not flutter.
bool PracticeController::cuts(const Sensed &s) {
    const Job &job = m_study->job();
    constexpr double speedPlay = 60, cutS = 0.3;
    const double limit = extraInUse(job, TableKind::revLimit) ? extraAt(job, TableKind::revLimit, m_content)
                                                              : job.engine.revLimitRpm;
    m_speedCut = s.rpm > (m_speedCut ? limit - speedPlay : limit);
    const double cut = extraInUse(job, TableKind::boostCut) ? extraAt(job, TableKind::boostCut, m_content)
                                                            : job.boost.cutKpa;
    if (cut > 0 && s.mapKpa > cut) m_cutS = cutS;
    constexpr double closedPercent = 1, overrunRpm = 1600;
    const bool overrun = s.throttlePercent < closedPercent && s.rpm > overrunRpm;
    return m_speedCut || m_cutS > 0 || overrun;
}

Commanded PracticeController::step(const Sensed &s, double seconds) {
    followContent(s, seconds);
    feelKnock(s.knock, seconds);
    m_cutS = std::max(0.0, m_cutS - seconds);
    const Job &job = m_study->job();
    const auto ends = m_study->ends(m_content);
    const double y = axisOfLoad(job, s.mapKpa);
    const auto looked = [&](CalibratedQuantity q, double down) {
        return ends[static_cast<std::size_t>(q)].at(s.rpm, down);
    };
    Commanded c;
    c.content = m_content;
    c.lambdaTarget = looked(CalibratedQuantity::lambda, y);
    c.boostTargetKpa = looked(CalibratedQuantity::boost,
                              job.calibration.boostAxis == BoostAxis::gear ? s.gear : s.throttlePercent);
    c.boostTargetKpa += s.targetOffsetKpa;
    // Without its spray it goes back to what the spring alone holds.
    if (s.sprayLost && job.aux.failSafe == SprayFailSafe::boostCut)
        c.boostTargetKpa = std::min(c.boostTargetKpa, job.conditions.ambientKpa + job.boost.springKpa);
    c.solenoidDuty = solenoid(s, c.boostTargetKpa, seconds);
    c.fuelCut = cuts(s);
    c.pulseMs = fuelPulse(s, looked(CalibratedQuantity::fuel, y), c.lambdaTarget, seconds);
    if (c.fuelCut) c.pulseMs = 0;
    c.knockRetardDeg = m_retardDeg;
    c.sparkDeg = spark(s, looked(CalibratedQuantity::spark, y));
    return c;
}

} // namespace wheelwright
