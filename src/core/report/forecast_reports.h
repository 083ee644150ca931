// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ladder/ladder_forecast.h"
#include "core/report/worked_report.h"

namespace wheelwright {

/// Where the injectors come to their caution, with its ±, in one sentence.
Sentence crossingWords(const DutyCrossing &crossing);

/// What a rung will show, each with its ± and how it comes about.
WorkedReport rungForecastReport(const RungForecast &forecast, std::size_t rungs);

/// Where the next rungs end up: sentences, a table, and duty over content as a chart.
WorkedReport forecastReport(const Ladder &ladder, const LadderForecast &forecast, double dutyCaution);

} // namespace wheelwright
