// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/school_definition.h"

#include "core/base/error.h"
#include "core/job/job_schema.h"

#include <array>

namespace wheelwright {
namespace {

constexpr std::array schools{
    SchoolDefinition{
        School::twoTables, "two_tables", "A", MARKED("school.two_tables", "Two tables"),
        MARKED("school.two_tables.help", "T = (1 − w) · base + w · top, each quantity with its own curve."),
        false},
    SchoolDefinition{
        School::baseAndAdder, "base_adder", "B", MARKED("school.base_adder", "Base and adder"),
        MARKED("school.base_adder.help", "T = base + s · Δ, the adder calibrated at the top content."),
        false},
    SchoolDefinition{
        School::fuelModel, "fuel_model", "C", MARKED("school.fuel_model", "Fuel model"),
        MARKED("school.fuel_model.help", "One true VE table times c(E), a few per cent learned from logs."),
        false},
    SchoolDefinition{School::windowSet, "window_set", "D",
                     MARKED("school.window_set", "A file for each window"),
                     MARKED("school.window_set.help",
                            "Separate calibrations, each for the contents of its window; no sensor needed."),
                     true},
    SchoolDefinition{School::stack, "stack", "E", MARKED("school.stack", "A stack of tables"),
                     MARKED("school.stack.help", "Tables at several contents, linear between them."), true},
};

} // namespace

std::span<const SchoolDefinition> allSchools() {
    return schools;
}

const SchoolDefinition &definitionOf(School school) {
    return schools[static_cast<std::size_t>(school)];
}

void validateSchool(const Job &job) {
    const Calibration &c = job.calibration;
    const std::size_t least = c.school == School::stack ? 2 : c.school == School::windowSet ? 1 : 0;
    if (c.levels.size() < least)
        throw InputError("calibration.levels",
                         Phrase{MARKED("expected.levels", "{a} or more for the school '{A}'"),
                                {},
                                {std::to_string(least)},
                                {definitionOf(c.school).title}},
                         std::to_string(c.levels.size()));
    for (std::size_t i = 0; i < c.levels.size(); ++i) {
        const ContentLevel &l = c.levels[i];
        const std::string where = "calibration.levels " + std::to_string(i + 1);
        constexpr double apart = 0.005;
        if (i > 0 && l.content - c.levels[i - 1].content < apart)
            throw InputError(
                where + " content",
                MARKED("expected.least_0_005_more_than", "at least 0.005 more than the level before"),
                exactly(l.content));
        if (!(l.windowLow <= l.content && l.content <= l.windowHigh))
            throw InputError(
                where + " window",
                Phrase{MARKED("expected.window", "one that holds its content {0}"), {exact(l.content)}},
                fromTo(l.windowLow, l.windowHigh));
        for (CalibratedQuantity q : allQuantities) {
            TableField f = tableIn(job, q, false);
            f.path = where + " " + std::string(quantityId(q));
            validate(f, l.of(q));
        }
    }
    if (c.school == School::fuelModel && c.fuelMeaning != FuelMeaning::trueVe)
        throw InputError(
            "calibration.fuel_meaning",
            MARKED("expected.true_ve_which_fuel_model", "true_ve, which the fuel model is made for"),
            MARKED("found.another_meaning", "another meaning"));
}

} // namespace wheelwright
