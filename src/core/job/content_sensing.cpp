// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/content_sensing.h"

#include "core/job/describe.h"

namespace wheelwright {
namespace {
using D = Dimension;
}

Chapter contentSensingChapter() {
    Chapter c;
    c.fields = {
        guarded("what happens when the sensor fails",
                choice(
                    "content_sensor.on_fault", "On a fault", {"not_stated", "fixed", "hold"},
                    {"Not stated", "A fixed content", "The last content"},
                    [](auto &j) -> auto & { return j.contentSensing.onFault; },
                    "What the controller takes when the sensor fails.")),
        guarded("what happens when the sensor fails",
                number(
                    "content_sensor.fault_content", "Fault content", D::content, 0, 1,
                    [](auto &j) -> auto & { return j.contentSensing.faultContent; },
                    "That it falls back to.")),
        guarded("what happens when the sensor fails",
                number(
                    "content_sensor.slew_per_s", "Follows a second", D::content, 0, 1,
                    [](auto &j) -> auto & { return j.contentSensing.slewPerS; },
                    "Most that its content changes in a second. 0: at once.")),
        guarded("what happens when the sensor fails",
                number(
                    "content_sensor.plausible_least", "Lowest plausible", D::content, 0, 1,
                    [](auto &j) -> auto & { return j.contentSensing.plausibleLeast; },
                    "The controller takes readings under it for a fault. 0: it believes them all.")),
        guarded("what happens when the sensor fails",
                number(
                    "content_sensor.plausible_most", "Highest plausible", D::content, 0, 1,
                    [](auto &j) -> auto & { return j.contentSensing.plausibleMost; },
                    "The controller takes readings over it for a fault. 100 %: it believes them all.")),
        guarded("what happens when the sensor fails",
                scalar(
                    "content_sensor.compared_after_fill", "Compared after every fill",
                    [](auto &j) -> auto & { return j.contentSensing.comparedAfterFill; },
                    "With a tube or the tank's arithmetic, before any load: a stuck sensor is seen then.")),
    };
    c.same = [](const Job &a, const Job &b) { return a.contentSensing == b.contentSensing; };
    return c;
}

} // namespace wheelwright
