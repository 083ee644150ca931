// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/practice_log.h"

#include "core/evidence/log_intake.h"
#include "formats/practice_json.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace wheelwright::testing {
namespace {

using R = ChannelRole;

} // namespace

R roleOfPractice(std::string_view key) {
    constexpr std::array<std::pair<std::string_view, R>, 22> all{{{"rpm", R::rpm},
                                                                  {"map_kpa", R::map},
                                                                  {"throttle_percent", R::throttle},
                                                                  {"lambda", R::lambda},
                                                                  {"lambda_target", R::lambdaTarget},
                                                                  {"spark_deg", R::spark},
                                                                  {"knock_retard_deg", R::knockRetard},
                                                                  {"ethanol_percent", R::ethanol},
                                                                  {"fuel_c", R::fuelTemp},
                                                                  {"intake_c", R::intakeTemp},
                                                                  {"coolant_c", R::coolantTemp},
                                                                  {"pulse_ms", R::pulseWidth},
                                                                  {"duty_percent", R::duty},
                                                                  {"rail_kpa", R::railPressure},
                                                                  {"oil_kpa", R::oilPressure},
                                                                  {"battery_v", R::battery},
                                                                  {"exhaust_c", R::exhaustTemp},
                                                                  {"boost_target_kpa", R::boostTarget},
                                                                  {"solenoid_percent", R::solenoidDuty},
                                                                  {"speed_km_h", R::speed},
                                                                  {"gear", R::gear},
                                                                  {"spray_cc_min", R::sprayFlow}}};
    const auto at = std::ranges::find(all, key, &std::pair<std::string_view, R>::first);
    return at == all.end() ? R::none : at->second;
}

PracticeLog::PracticeLog(const Job &job, const HiddenEngine &engine, const PracticeScript &script, int every,
                         const std::vector<FaultSetting> &faults)
    : m_ambientKpa(job.conditions.ambientKpa) {
    int n = 0;
    m_result = runPractice(job, engine, faults, script, [&](const PracticeSample &s, const PracticeTruth &t) {
        if (n++ % every != 0) return;
        m_samples.push_back(s);
        m_truth.push_back(t);
    });
}

PracticeLog::PracticeLog(const Job &job, const HiddenEngine &engine, const std::string &script, int every,
                         const std::vector<FaultSetting> &faults)
    : PracticeLog(job, engine, scriptFromJson(script), every, faults) {}

namespace {

double valueOf(const PracticeSample &s, const PracticeChannel &c, double ambientKpa) {
    const R role = roleOfPractice(c.key);
    const double scale = std::pow(10, c.decimals);
    const bool percent = c.key.ends_with("_percent");
    const bool gauge = role == R::railPressure || role == R::oilPressure;
    return std::round(s.*c.member * scale) / scale * (percent ? 0.01 : 1) + (gauge ? ambientKpa : 0);
}

} // namespace

Job PracticeLog::in(Job job, const std::string &id, const std::string &added) const {
    LogIntake::Summary s;
    s.info.id = id;
    s.info.beginS = m_samples.front().timeS;
    s.info.endS = m_samples.back().timeS;
    s.info.rows = static_cast<double>(m_samples.size());
    LogChannel clock;
    clock.name = "t";
    clock.role = R::time;
    clock.kind = ChannelKind::clock;
    clock.samples = s.info.rows;
    s.channels.push_back(clock);
    for (const PracticeChannel &c : practiceChannels()) {
        LogChannel channel;
        channel.role = roleOfPractice(c.key);
        if (channel.role == R::none) continue;
        channel.name = c.key;
        channel.series = static_cast<double>(s.channels.size());
        channel.samples = s.info.rows;
        if (channel.role == R::ethanol) {
            for (const PracticeSample &row : m_samples)
                channel.mean += valueOf(row, c, m_ambientKpa) / s.info.rows;
            s.info.contentBasis = ContentBasis::channel;
            s.info.content = channel.mean;
        }
        s.channels.push_back(channel);
    }
    addLog(job, s, {id + ".csv", added, {}, {}, {}});
    return job;
}

std::shared_ptr<const LogReview> PracticeLog::review(const Job &job, const std::string &id) const {
    std::vector<const PracticeChannel *> channels;
    for (const PracticeChannel &c : practiceChannels())
        if (roleOfPractice(c.key) != R::none) channels.push_back(&c);
    return std::make_shared<const LogReview>(job, *logById(job, id), [&](std::size_t series) {
        std::vector<double> out;
        for (const PracticeSample &s : m_samples)
            out.push_back(series == 0 ? s.timeS : valueOf(s, *channels[series - 1], m_ambientKpa));
        return out;
    });
}

double hiddenKnockLimit(const Study &study, const HiddenEngine &e, const OperatingPoint &at, double lambda,
                        double intakeC) {
    const Job &job = study.job();
    CylinderShape shape;
    shape.compressionRatio = e.compressionRatio;
    shape.rodRatio = e.rodRatio;
    shape.displacementL = job.engine.displacementL / job.engine.cylinders;
    ChargeModel model;
    model.coolingShare = e.coolingShare;
    model.heatingK = e.heatingK;
    model.residualShare = e.residualShare;
    model.wallFactor = e.wallFactor;
    model.delayDeg = e.delayDeg;
    model.durationDeg = e.burnDeg;
    model.octaneShift = e.octaneShift;
    model.sensitivityAtBoost = e.sensitivityAtBoost;
    Breath b;
    Component gasoline = job.gasoline;
    gasoline.researchOctane += e.gasolineRonError;
    gasoline.motorOctane += e.gasolineRonError;
    b.fuel = BlendModel(gasoline, job.ethanol, job.methanol).properties(blendAt(job, at.content));
    b.rpm = at.rpm;
    b.manifoldKpa = at.loadKpa;
    b.intakeC = intakeC;
    constexpr double percent = 100, perK = 100;
    b.ve = e.ve.lookup(at.rpm, at.loadKpa).value / percent *
           (1 + e.veGainPer100K * (b.fuel.idealCoolingK - gasolineCoolingK) / perK);
    b.lambda = lambda * (1 + e.cylinderLambdaSpread);
    TrappedCharge hottest = trap(shape, model, b);
    const double before = hottest.charge.temperatureK;
    hottest.charge.temperatureK += e.hottestCylinderK;
    hottest.charge.pressureKpa *= hottest.charge.temperatureK / before;
    const KnockLimit limit = Cylinder(shape, 1).knockLimit(hottest.charge, hottest.burn, at.rpm);
    return (limit.kind == KnockLimit::Kind::never ? earliestSparkTried : limit.deg) - e.baseTimingErrorDeg;
}

} // namespace wheelwright::testing
