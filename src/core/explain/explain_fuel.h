// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/explanation.h"
#include "core/fuel/content_measurement.h"
#include "core/fuel/settling.h"
#include "core/study/content_opinions.h"
#include "core/study/fuel_comparison.h"
#include "core/study/pour_request.h"

namespace wheelwright {

// The working of every number of the Fuel station. Each takes what the number was worked out from.

Explanation explainTankLevel(const Job &job);
Explanation explainOpinion(const Job &job, const Opinion &opinion);
Explanation explainPlan(const PourPlan &plan, const PourRequest &request);
Explanation explainFlush(const FlushPlan &plan, const TankState &tank, double fillContent, double restL,
                         double capacityL, double target, double tolerance);
Explanation explainSettling(const FuelPath &path, double before, double after, bool atInjector);
Explanation explainTube(const TubeReading &reading);
Explanation explainSensor(double hertz, double pulseMs);
Explanation explainLambda(double lambda, double stoichiometry, const std::string &scaleName);
Explanation explainComparison(const ComparedFuel &fuel, const FuelColumn &column, const std::string &against);
Explanation explainEffect(const PourEffect &effect);

/// One cell of a pour table: contents are 0 to 1.
struct PouredContent {
    double levelL, before, litres, fuel, after;
};
Explanation explainPour(const PouredContent &poured);
/// What a fuel of the shelf holds, with twice its standard uncertainty.
Explanation explainFuelContent(const std::string &name, const Uncertain &content);

} // namespace wheelwright
