// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/spark_delivery.h"

#include "core/job/describe.h"

namespace wheelwright {
namespace {
using D = Dimension;
}

Chapter sparkDeliveryChapter() {
    Chapter c;
    c.fields = {
        guarded("base timing moves all spark",
                scalar(
                    "spark.base_timing_checked", "Base timing checked",
                    [](auto &j) -> auto & { return j.sparkDelivery.baseTimingChecked; },
                    "By a timing light, after the last mechanical work.")),
        guarded("base timing moves all spark",
                number(
                    "spark.base_timing_error_deg", "Base timing error", D::sparkAngle, -20, 20,
                    [](auto &j) -> auto & { return j.sparkDelivery.baseTimingErrorDeg; },
                    "Delivered less commanded, by a timing light.")),
        held(number(
            "spark.fallback_usual", "Fallback share, usual", D::ratio, 0, 1,
            [](auto &j) -> auto & { return j.sparkDelivery.fallbackUsual; },
            "Share of the main table: 100 % on a clean fuel.")),
        held(number(
            "spark.fallback_worst", "Fallback share, worst", D::ratio, 0, 1,
            [](auto &j) -> auto & { return j.sparkDelivery.fallbackWorst; },
            "How far a knocking fuel pulls it.")),
        held(number(
            "spark.knock_retard_worst_deg", "Knock retard, most", D::sparkAngle, 0, 30,
            [](auto &j) -> auto & { return j.sparkDelivery.knockRetardWorstDeg; },
            "The most that knock control takes.")),
        held(number(
            "spark.coolant_cold_c", "Coolant, cold", D::temperature, -40, 150,
            [](auto &j) -> auto & { return j.sparkDelivery.coolantColdC; }, "Coldest under load.")),
        held(number(
            "spark.coolant_usual_c", "Coolant, usual", D::temperature, -40, 150,
            [](auto &j) -> auto & { return j.sparkDelivery.coolantUsualC; }, "On a usual pull.")),
        held(number(
            "spark.coolant_hot_c", "Coolant, hot", D::temperature, -40, 150,
            [](auto &j) -> auto & { return j.sparkDelivery.coolantHotC; }, "Hottest under load.")),
        held(number(
            "spark.intake_hot_c", "Intake air, hot", D::temperature, -40, 200,
            [](auto &j) -> auto & { return j.sparkDelivery.intakeHotC; }, "Hottest in the manifold.")),
        guarded("knock control may have been turned off",
                scalar(
                    "spark.knock_control", "Knock control on",
                    [](auto &j) -> auto & { return j.sparkDelivery.knockControl; },
                    "Left on unless it hears something else.")),
    };
    c.same = [](const Job &a, const Job &b) { return a.sparkDelivery == b.sparkDelivery; };
    return c;
}

} // namespace wheelwright
