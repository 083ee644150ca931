// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/explanation.h"
#include "core/base/operating_point.h"
#include "core/study/boost_plan.h"
#include "core/study/headroom.h"
#include "core/study/mechanical_lambda.h"
#include "core/study/spray_map.h"

namespace wheelwright {

// The working of the numbers of the Flow station that are no check's. Each takes what the number was worked
// out from.

Explanation explainLimit(const Study &study, LimitingPart part, double content);
Explanation explainPower(const Job &job, const Frontier &frontier, std::size_t at);
Explanation explainDuty(const Study &study, const OperatingPoint &at);
Explanation explainReturn(const Job &job, const OperatingPoint &at, double returnLMin);
/// content: that the log was taken at, where the rail is commanded. Throws InputError where nothing is.
Explanation explainSag(const Study &study, double content);
Explanation explainAssignment(const Job &job, const InjectorAssignment &assignment, std::size_t cylinder);
Explanation explainBoostFit(const Job &job, const BoostGroup &group);
Explanation explainBoostStep(const Job &job, const BoostGroup &group, const BoostStep &step);
Explanation explainSprayCell(const Study &study, double content, const SprayCell &cell);
Explanation explainPill(const Job &job, double mainMm, double areaMm2, const MixturePoint &point,
                        double leanerBy);
Explanation explainWeather(const Job &job, const WeatherAdvice &advice);
Explanation explainPass(const Job &job, const PassFinding &finding);

} // namespace wheelwright
