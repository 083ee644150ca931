// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/explanation.h"
#include "core/ladder/ladder_forecast.h"
#include "core/ladder/rung.h"

#include <cstddef>

namespace wheelwright {

/// The numbers that a rung is forecast with.
enum class ForecastNumber { duty, lambdaError, boost, solenoid, askedSpark, standsSpark, power };

/// How a number of a forecast comes about. evidence: rungs that the trends go by. Throws InputError for a
/// number that is not known.
Explanation explainForecast(const RungForecast &forecast, ForecastNumber which, std::size_t evidence);

/// The numbers that a rung is planned with.
enum class RungNumber { content, settles, fuel, spark, peak, cut, duty, pump, cost };

/// How a number of the plan comes about.
Explanation explainRung(const Rung &rung, RungNumber which);

/// The main pill of a pass: λ in the air of today, and what the exhaust will be.
Explanation explainPassLambda(const PassPlan &pass);
Explanation explainPassExhaust(const PassPlan &pass);

} // namespace wheelwright
