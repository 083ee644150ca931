// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/witnesses.h"

#include <algorithm>
#include <limits>

namespace wheelwright::witnesses {
namespace {

using R = ChannelRole;
using Answer = std::optional<bool>;

// Common practice, as all thresholds here.
constexpr double sag = 0.05, fullDuty = 0.95, leanBy = 0.03, hotIntakeK = 15, hotCoolantC = 100,
                 movedContent = 0.02;

// The largest of a stretch; not a number where there is none.
template <class Value>
double largest(const BrokenStretch &s, Value value) {
    double most = std::numeric_limits<double>::quiet_NaN();
    for (std::size_t i = s.from; i <= s.to; ++i)
        if (const double v = value(i); v == v && !(v <= most)) most = v;
    return most;
}

// Mean of λ over its target in a stretch: its worst moment may be a passing one.
double meanError(const WatchedLog &log, const BrokenStretch &s) {
    double sum = 0, count = 0;
    for (std::size_t i = s.from; i <= s.to; ++i)
        if (const double error = log.at(R::lambda, i) - log.lambdaTarget(i); error == error) {
            sum += error;
            ++count;
        }
    return sum / count;
}

// Mean of λ over its target where the engine runs steadily at light load.
std::optional<double> lightError(const WatchedLog &log) {
    double sum = 0;
    std::size_t count = 0;
    constexpr double settledS = 2, leastSamples = 20;
    for (std::size_t i = 0; i < log.trace().size(); ++i) {
        const double error = log.at(R::lambda, i) - log.lambdaTarget(i);
        if (!(log.at(R::map, i) < log.ambientKpa() * 0.8) || log.sinceCutS(i) < settledS || log.inTipIn(i) ||
            error != error)
            continue;
        sum += error;
        ++count;
    }
    if (static_cast<double>(count) < leastSamples) return std::nullopt;
    return sum / static_cast<double>(count);
}

Answer answer(double v, bool yes) {
    return v == v ? Answer(yes) : std::nullopt;
}

} // namespace

const Witness railSags{
    MARKED("witness.rail.for", "rail pressure sags here"),
    MARKED("witness.rail.against", "rail pressure holds"), [](const WatchedLog &log, const BrokenStretch &s) {
        const double most = largest(s, [&](std::size_t i) { return 1 - log.railShare(i); });
        return answer(most, most > sag);
    }};

const Witness injectorsFull{MARKED("witness.duty.for", "the injectors are at their end"),
                            MARKED("witness.duty.against", "the injectors have room"),
                            [](const WatchedLog &log, const BrokenStretch &s) {
                                const double most =
                                    largest(s, [&](std::size_t i) { return log.at(R::duty, i); });
                                return answer(most, most >= fullDuty);
                            }};

const Witness sprayStops{MARKED("witness.spray.for", "the spray has stopped although it ran before"),
                         MARKED("witness.spray.against", "the spray runs, or there is none"),
                         [](const WatchedLog &log, const BrokenStretch &s) -> Answer {
                             const BrokenStretch before{0, s.to, 0, 0, 0};
                             const double here = log.at(R::sprayFlow, s.worst);
                             const double most =
                                 largest(before, [&](std::size_t i) { return log.at(R::sprayFlow, i); });
                             return answer(here, most > 0 && here < most / 4);
                         }};

const Witness leanEverywhere{MARKED("witness.everywhere.for", "λ is as far off at light load"),
                             MARKED("witness.everywhere.against", "λ is right at light load"),
                             [](const WatchedLog &log, const BrokenStretch &s) -> Answer {
                                 const auto light = lightError(log);
                                 const double here = meanError(log, s);
                                 if (!light || here != here) return std::nullopt;
                                 return *light > here / 2;
                             }};

const Witness leanAtLowFlow{MARKED("witness.low_flow.for", "λ is leaner at light load than here"),
                            MARKED("witness.low_flow.against", "λ is no leaner at light load"),
                            [](const WatchedLog &log, const BrokenStretch &s) -> Answer {
                                const auto light = lightError(log);
                                const double here = meanError(log, s);
                                if (!light || here != here) return std::nullopt;
                                return *light > here + leanBy / 2;
                            }};

const Witness contentMoves{
    MARKED("witness.content.for", "the content is moving"),
    MARKED("witness.content.against", "the content stands still"),
    [](const WatchedLog &log, const BrokenStretch &s) -> Answer {
        if (!log.trace().has(R::ethanol)) return std::nullopt;
        constexpr double aroundS = 5;
        double least = 1, most = 0;
        for (std::size_t i = log.trace().indexAt(log.trace().timeS(s.from) - aroundS);
             i < log.trace().size() && log.trace().timeS(i) <= log.trace().timeS(s.to) + aroundS; ++i)
            if (const double c = log.at(R::ethanol, i); c == c) {
                least = std::min(least, c);
                most = std::max(most, c);
            }
        if (most < least) return std::nullopt; // nothing was read around here
        return most - least > movedContent;
    }};

const Witness hotIntake{MARKED("witness.intake.for", "the intake air is hotter than usual"),
                        MARKED("witness.intake.against", "the intake air is as usual"),
                        [](const WatchedLog &log, const BrokenStretch &s) {
                            const double c = log.at(R::intakeTemp, s.worst);
                            return answer(c, c > log.job().conditions.intakeUsualC + hotIntakeK);
                        }};

const Witness hotCoolant{MARKED("witness.coolant.for", "the coolant is hot"),
                         MARKED("witness.coolant.against", "the coolant is not hot"),
                         [](const WatchedLog &log, const BrokenStretch &s) {
                             const double c = log.at(R::coolantTemp, s.worst);
                             return answer(c, c > hotCoolantC);
                         }};

const Witness opensFast{MARKED("witness.tip_in.for", "the throttle has just opened fast"),
                        MARKED("witness.tip_in.against", "the throttle is steady"),
                        [](const WatchedLog &log, const BrokenStretch &s) -> Answer {
                            return answer(log.at(R::throttle, s.worst), log.inTipIn(s.worst));
                        }};

const Witness lambdaLean{MARKED("witness.lean.for", "λ is leaner than its target here"),
                         MARKED("witness.lean.against", "λ is on its target"),
                         [](const WatchedLog &log, const BrokenStretch &s) {
                             const double error = log.at(R::lambda, s.worst) - log.lambdaTarget(s.worst);
                             return answer(error, error > leanBy);
                         }};

const Witness sparkOverTables{MARKED("witness.spark.for", "spark is over what the tables say"),
                              MARKED("witness.spark.against", "spark is what the tables say"),
                              [](const WatchedLog &log, const BrokenStretch &s) {
                                  const double over = log.at(R::spark, s.worst) -
                                                      log.tableAt(CalibratedQuantity::spark, s.worst);
                                  return answer(over, over > 1);
                              }};

const Witness solenoidHigh{MARKED("witness.solenoid.for", "the solenoid asks for much"),
                           MARKED("witness.solenoid.against", "the solenoid asks for little"),
                           [](const WatchedLog &log, const BrokenStretch &s) {
                               constexpr double much = 0.6;
                               const double duty = log.at(R::solenoidDuty, s.worst);
                               return answer(duty, duty > much);
                           }};

const Witness highFlow{MARKED("witness.flow.for", "it comes with the highest fuel flow of the log"),
                       MARKED("witness.flow.against", "the fuel flow is far from its highest"),
                       [](const WatchedLog &log, const BrokenStretch &s) {
                           const BrokenStretch all{0, log.trace().size() - 1, 0, 0, 0};
                           const double most =
                               largest(all, [&](std::size_t i) { return log.at(R::duty, i); });
                           const double here = largest(s, [&](std::size_t i) { return log.at(R::duty, i); });
                           return answer(here / most, here > 0.8 * most);
                       }};

const Witness oneSidedSpeed{MARKED("witness.rpm.for", "it comes at high engine speed"),
                            MARKED("witness.rpm.against", "the engine turns slowly"),
                            [](const WatchedLog &log, const BrokenStretch &s) {
                                const double rpm = log.at(R::rpm, s.worst);
                                return answer(rpm, rpm > 0.7 * log.job().engine.revLimitRpm);
                            }};

const Witness lowVoltage{MARKED("witness.battery.for", "the battery is low"),
                         MARKED("witness.battery.against", "the battery is right"),
                         [](const WatchedLog &log, const BrokenStretch &s) {
                             const double v = log.at(R::battery, s.worst);
                             return answer(v, v < log.limit("watch.battery"));
                         }};

} // namespace wheelwright::witnesses
