// SPDX-License-Identifier: GPL-3.0-or-later
// The engine itself, what meters its fuel and lights it, and what the job is called.
#include "core/intake/part.h"

namespace wheelwright {
namespace {

Part cylindersPart() {
    return {
        .id = "cylinders",
        .title = MARKED("part.cylinders", "Cylinders"),
        .help = MARKED("part.cylinders.help", "What it breathes, how far it turns, what it stands."),
        .figures = {{"engine.displacement_l", MARKED("part.cylinders.size", "{A}")},
                    {"engine.compression_ratio", MARKED("part.cylinders.ratio", "{A} : 1")},
                    {"engine.rev_limit_rpm", MARKED("part.cylinders.limit", "to {A}")}},
        .fields = {"engine.displacement_l", "engine.cylinders", "engine.compression_ratio",
                   "engine.rod_ratio", "engine.rev_limit_rpm", "engine.boost_limit_kpa",
                   "spark.coolant_cold_c", "spark.coolant_usual_c", "spark.coolant_hot_c"},
        .lists = {"engine.cylinder_needs"},
        .inspections = {{"mechanical_timing", MARKED("inspection.mechanical_timing", "Mechanical timing"),
                         MARKED("inspection.mechanical_timing.help",
                                "Cam against crank by its marks; belt or chain tight. A tooth off looks like "
                                "a bad table.")},
                        {"cylinders_seal", MARKED("inspection.cylinders_seal", "Compression or leak-down"),
                         MARKED("inspection.cylinders_seal.help", "All cylinders alike, warm.")},
                        {"coolant", MARKED("inspection.coolant", "Coolant"),
                         MARKED("inspection.coolant.help", "Full, clean, under pressure without loss.")},
                        {"oil", MARKED("inspection.oil", "Oil"),
                         MARKED(
                             "inspection.oil.help",
                             "Level, look and smell; alcohol goes into it: changed after the first fills.")}},
        .checks = {"boost.limit"},
    };
}

Part ignitionPart() {
    return {
        .id = "ignition",
        .title = MARKED("part.ignition", "Ignition"),
        .help =
            MARKED("part.ignition.help", "What stands between the commanded spark and the delivered one."),
        .figures = {{"spark.base_timing_error_deg", MARKED("part.ignition.error", "base off by {A}")},
                    {"spark.knock_control", MARKED("part.ignition.knock", "knock control: {A}")}},
        .fields = {"spark.base_timing_checked", "spark.base_timing_error_deg", "spark.fallback_usual",
                   "spark.fallback_worst", "spark.knock_retard_worst_deg", "spark.knock_control",
                   "evidence.spark_school"},
        .inspections = {{"base_timing", MARKED("inspection.base_timing", "Base timing by a light"),
                         MARKED("inspection.base_timing.help",
                                "Within 1° of true top dead centre, with the timing locked."),
                         "spark.base_timing_checked"},
                        {"plugs_gap", MARKED("inspection.plugs_gap", "Plugs and gap"),
                         MARKED("inspection.plugs_gap.help",
                                "Heat range for the fuel and the boost, read, gapped; colder on alcohol with "
                                "boost.")}},
        .checks = {"base.timing", "spark.fallback"},
        .belongs = [](const Job &j) { return j.control == FuelControl::controller; },
    };
}

Part plugsPart() {
    return {
        .id = "plugs",
        .title = MARKED("part.plugs", "Plugs"),
        .help =
            MARKED("part.plugs.help", "Read after each pass: with mechanical injection they are the gauge."),
        .inspections = {{"plugs_read", MARKED("inspection.plugs_read", "Plugs and gap, fixed timing"),
                         MARKED("inspection.plugs_read.help",
                                "Heat range, colour and gap of each; the timing by a light.")}},
        .belongs = [](const Job &j) { return j.control == FuelControl::mechanical; },
    };
}

Part controllerPart() {
    return {
        .id = "controller",
        .title = MARKED("part.controller", "Controller"),
        .help = MARKED("part.controller.help", "How the alcohol content enters the tables."),
        .figures = {{"calibration.school", MARKED("part.controller.school", "{A}")},
                    {"calibration.top_content", MARKED("part.controller.top", "top {A}")}},
        .fields = {"engine.fuel_control", "calibration.school", "calibration.load_axis",
                   "calibration.boost_axis", "calibration.fuel_meaning", "calibration.pulse_pressure_kpa",
                   "calibration.fuel_reference_content", "calibration.base_content",
                   "calibration.top_content", "calibration.outside", "calibration.fuel.weight_shape",
                   "calibration.fuel.weight_points", "calibration.spark.weight_shape",
                   "calibration.spark.weight_points", "calibration.boost.weight_shape",
                   "calibration.boost.weight_points", "calibration.lambda.weight_shape",
                   "calibration.lambda.weight_points", "calibration.learned_fuel_correction"},
        .inspections = {{"file_read_back", MARKED("inspection.file_read_back", "File read back and compared"),
                         MARKED("inspection.file_read_back.help",
                                "Rev limit, boost, sensors and base timing are those that were sent.")}},
        .checks = {"guard.settings"},
        .fitted = [](const Job &j) { return j.control == FuelControl::controller; },
        .add = [](Job &j) { j.control = FuelControl::controller; },
        .remove = [](Job &j) { j.control = FuelControl::mechanical; },
    };
}

Part paperPart() {
    return {
        .id = "paper",
        .title = MARKED("part.paper", "This job"),
        .help = MARKED("part.paper.help", "What it is called, and anything worth remembering."),
        .figures = {},
        .fields = {"name", "notes"},
    };
}

} // namespace

std::vector<Part> engineParts() {
    return {cylindersPart(), ignitionPart(), plugsPart(), controllerPart(), paperPart()};
}

} // namespace wheelwright
