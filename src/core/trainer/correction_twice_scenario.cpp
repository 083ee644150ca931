// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trainer/scenario.h"

#include <cmath>

namespace wheelwright {
namespace {

// The top table as if the need of the content had been put in once more.
void prepareCorrectionTwice(Job &job) {
    constexpr double twice = 1.2;
    Table2D &top = job.calibration.of(CalibratedQuantity::fuel).top;
    for (std::size_t y = 0; y < top.y().size(); ++y)
        for (std::size_t x = 0; x < top.x().size(); ++x)
            top.setCell({x, y}, top.cell(x, y) * twice);
}

std::optional<double> signCorrectionTwice(const Examined &e) {
    constexpr double rich = -0.06, lightKpa = 40, air = 100;
    const double changeS = e.firstChangeS();
    const auto light = e.lambdaError(lightKpa, air, 0, changeS > 0 ? changeS : 1e9);
    return light && light->value < rich ? std::optional(light->atS) : std::nullopt;
}

bool reachedCorrectionTwice(const Examined &e) {
    constexpr double within = 0.04, fromKpa = 120, toKpa = 400;
    const Episode *last = e.lastPull();
    if (!last || e.lastChangeS() == 0 || last->beginS < e.lastChangeS()) return false;
    const auto loaded = e.lambdaError(fromKpa, toKpa, last->beginS);
    return loaded && std::abs(loaded->value) <= within;
}

} // namespace

const Scenario &correctionTwiceScenario() {
    static const Scenario scenario{
        .id = "correction_twice",
        .title = MARKED("scenario.correction_twice.title", "Far too rich on alcohol"),
        .goal = MARKED("scenario.correction_twice.goal",
                       "With pump fuel all is well; at this content it is far too rich. Put it right and "
                       "prove it with one full pull."),
        .hints = {MARKED("scenario.correction_twice.hint1",
                         "Is it as rich at light load as in a pull? Does it depend on speed?"),
                  MARKED(
                      "scenario.correction_twice.hint2",
                      "By how much is it rich, and how much more fuel does this content need than the base?"),
                  MARKED("scenario.correction_twice.hint3",
                         "Something corrects for the content that the table already knows.")},
        .seed = 13,
        .ethanol = 0.7,
        .prepare = prepareCorrectionTwice,
        .cause = "correction_twice",
        .temptation = "wideband_scale",
        .confirm = "corrections",
        .parMinutes = 40,
        .signWords = MARKED(
            "scenario.correction_twice.sign",
            "λ is under its target by the same share at every load, and only with alcohol in the tank."),
        .signS = signCorrectionTwice,
        .goalWords = MARKED("scenario.correction_twice.reached",
                            "A full pull after the change with λ within 0.04 of its target at load"),
        .reached = reachedCorrectionTwice,
        .lesson = MARKED(
            "scenario.correction_twice.lesson",
            "A table that was made for the content and a correction that knows it, too, make the fuel twice. "
            "Take one of them out; do not lean the cells by hand until it fits at one content."),
        .tells = "corrections",
        .told =
            MARKED("scenario.correction_twice.told", "the table of the top content has the need of alcohol "
                                                     "in it, and a correction by content adds it again")};
    return scenario;
}

} // namespace wheelwright
