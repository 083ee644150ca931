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
        guarded(MARKED("guarded.base_timing_moves_all_spark", "base timing moves all spark"),
                scalar(
                    MARKED("spark.base_timing_checked", "Base timing checked"),
                    [](auto &j) -> auto & { return j.sparkDelivery.baseTimingChecked; },
                    MARKED("spark.base_timing_checked.help",
                           "By a timing light, after the last mechanical work."))),
        guarded(
            MARKED("guarded.base_timing_moves_all_spark", "base timing moves all spark"),
            number(
                MARKED("spark.base_timing_error_deg", "Base timing error"), D::sparkAngle, -20, 20,
                [](auto &j) -> auto & { return j.sparkDelivery.baseTimingErrorDeg; },
                MARKED("spark.base_timing_error_deg.help", "Delivered less commanded, by a timing light."))),
        held(number(
            MARKED("spark.fallback_usual", "Fallback share, usual"), D::ratio, 0, 1,
            [](auto &j) -> auto & { return j.sparkDelivery.fallbackUsual; },
            MARKED("spark.fallback_usual.help", "Share of the main table: 100 % on a clean fuel."))),
        held(number(
            MARKED("spark.fallback_worst", "Fallback share, worst"), D::ratio, 0, 1,
            [](auto &j) -> auto & { return j.sparkDelivery.fallbackWorst; },
            MARKED("spark.fallback_worst.help", "How far a knocking fuel pulls it."))),
        held(number(
            MARKED("spark.knock_retard_worst_deg", "Knock retard, most"), D::sparkAngle, 0, 30,
            [](auto &j) -> auto & { return j.sparkDelivery.knockRetardWorstDeg; },
            MARKED("spark.knock_retard_worst_deg.help", "The most that knock control takes."))),
        held(number(
            MARKED("spark.coolant_cold_c", "Coolant, cold"), D::temperature, -40, 150,
            [](auto &j) -> auto & { return j.sparkDelivery.coolantColdC; },
            MARKED("spark.coolant_cold_c.help", "Coldest under load."))),
        held(number(
            MARKED("spark.coolant_usual_c", "Coolant, usual"), D::temperature, -40, 150,
            [](auto &j) -> auto & { return j.sparkDelivery.coolantUsualC; },
            MARKED("spark.coolant_usual_c.help", "On a usual pull."))),
        held(number(
            MARKED("spark.coolant_hot_c", "Coolant, hot"), D::temperature, -40, 150,
            [](auto &j) -> auto & { return j.sparkDelivery.coolantHotC; },
            MARKED("spark.coolant_hot_c.help", "Hottest under load."))),
        held(number(
            MARKED("spark.intake_hot_c", "Intake air, hot"), D::temperature, -40, 200,
            [](auto &j) -> auto & { return j.sparkDelivery.intakeHotC; },
            MARKED("spark.intake_hot_c.help", "Hottest in the manifold."))),
        guarded(
            MARKED("guarded.knock_control_may_have_been_turned", "knock control may have been turned off"),
            scalar(
                MARKED("spark.knock_control", "Knock control on"),
                [](auto &j) -> auto & { return j.sparkDelivery.knockControl; },
                MARKED("spark.knock_control.help", "Left on unless it hears something else."))),
    };
    c.same = [](const Job &a, const Job &b) { return a.sparkDelivery == b.sparkDelivery; };
    return c;
}

} // namespace wheelwright
