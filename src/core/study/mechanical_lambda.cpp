// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/mechanical_lambda.h"

#include "core/base/limits.h"

namespace wheelwright {
double mechanicalContent(const Job &job) {
    return job.alcohol == Alcohol::methanol ? 1 : job.calibration.topContent;
}

MechanicalEngine mechanicalEngineAt(const Job &job, double rpm) {
    const Blend fuel = blendAt(job, mechanicalContent(job));
    return {job.engine.displacementL,
            job.mechanical.ve,
            job.mechanical.manifoldKpa.at(rpm),
            job.mechanical.intakeC,
            blendModelOf(job).properties(fuel).stoichiometricAfr,
            job.conditions.ambientKpa};
}

MixturePoint mixtureOfJob(const Job &job, double rpm) {
    return mixtureAt(job.mechanical.injection, mechanicalEngineAt(job, rpm), rpm);
}

std::vector<MixturePoint> mixtureOverSpeed(const Job &job, std::size_t points) {
    std::vector<MixturePoint> curve;
    constexpr double lowest = 0.25; // of the rev limit: under it the barrel valve meters
    for (std::size_t i = 0; i < points; ++i) {
        const double share = lowest + (1 - lowest) * static_cast<double>(i) / static_cast<double>(points - 1);
        curve.push_back(mixtureOfJob(job, share * job.engine.revLimitRpm));
    }
    return curve;
}

std::vector<PillStep> pillsOfJob(const Job &job, int count) {
    const double rpm = job.mechanical.judgedRpm;
    return pillTable(job.mechanical.injection, mechanicalEngineAt(job, rpm), rpm, job.mechanical.pillStepMm,
                     count);
}

std::vector<PillCombination> pillChartOfJob(const Job &job, int count) {
    const double rpm = job.mechanical.judgedRpm;
    return pillChart(job.mechanical.injection, mechanicalEngineAt(job, rpm), rpm, job.mechanical.pillStepMm,
                     count);
}

WeatherAdvice adviseForWeather(const Job &job) {
    const auto density = [](const Weather &w) {
        return dryAirDensityKgM3(w.pressureKpa, w.temperatureC, w.humidity);
    };
    WeatherAdvice a;
    a.densityThen = density(job.mechanical.then);
    a.densityNow = density(job.mechanical.now);
    const double rpm = job.mechanical.judgedRpm;
    a.pillMm = pillForDensity(job.mechanical.injection, rpm, a.densityNow / a.densityThen,
                              backPressureKpa(job.mechanical.injection, mechanicalEngineAt(job, rpm)));
    return a;
}

std::vector<PassFinding> readPasses(const Job &job) {
    std::vector<PassFinding> out;
    const auto &passes = job.mechanical.passes;
    int richInARow = 0;
    for (std::size_t i = 0; i < passes.size(); ++i) {
        const PassRecord &p = passes[i];
        const Measured exhaust{p.exhaustC, Dimension::temperature};
        if (p.exhaustC > 0 && p.exhaustC < passFarRichC)
            out.push_back({i,
                           {MARKED("pass.far_rich",
                                   "Exhaust {0}, far under {1}: too rich. One pill larger, and again."),
                            {exhaust, {passWantedC, Dimension::temperature}}}});
        else if (p.exhaustC > passHotC)
            out.push_back(
                {i,
                 {MARKED(
                      "pass.hot",
                      "Exhaust {0}, over the usual {1}: stop leaning, read the plugs before the next pass."),
                  {exhaust, {passWantedC, Dimension::temperature}}}});
        richInARow = p.exhaustC > 0 && p.exhaustC < passFarRichC ? richInARow + 1 : 0;
        if (richInARow >= 3)
            out.push_back({i, MARKED("pass.three_rich", "Three rich passes in a row: methanol is in the oil. "
                                                        "Change it, and watch its pressure.")});
        if (p.hardStart)
            out.push_back(
                {i, MARKED("pass.hard_start",
                           "Hard to start: the bottom end is lean. No larger main pill; lean only the top, "
                           "by a high-speed "
                           "bypass or the pump spring.")});
        // Leaner makes more until the bottom end is lean: then another step is the wrong advice.
        if (!p.hardStart && i > 0 && p.power > 0 && passes[i - 1].power > 0 &&
            p.pillMm > passes[i - 1].pillMm)
            out.push_back({i, p.power > passes[i - 1].power
                                  ? Phrase{MARKED("mechanical_lambda.read_passes.says",
                                                  "Leaner made more: there may be another step in it."),
                                           {}}
                                  : Phrase{MARKED("mechanical_lambda.read_passes.says.leaner_made",
                                                  "Leaner made no more: go back one pill."),
                                           {}}});
    }
    return out;
}

} // namespace wheelwright
