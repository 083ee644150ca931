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
        guarded(
            MARKED("guarded.what_happens_when_sensor_fails", "what happens when the sensor fails"),
            choice(
                MARKED("content_sensor.on_fault", "On a fault"), {"not_stated", "fixed", "hold"},
                {MARKED("content_sensor.on_fault.not_stated", "Not stated"),
                 MARKED("content_sensor.on_fault.fixed", "A fixed content"),
                 MARKED("content_sensor.on_fault.hold", "The last content")},
                [](auto &j) -> auto & { return j.contentSensing.onFault; },
                MARKED("content_sensor.on_fault.help", "What the controller takes when the sensor fails."))),
        guarded(MARKED("guarded.what_happens_when_sensor_fails", "what happens when the sensor fails"),
                number(
                    MARKED("content_sensor.fault_content", "Fault content"), D::content, 0, 1,
                    [](auto &j) -> auto & { return j.contentSensing.faultContent; },
                    MARKED("content_sensor.fault_content.help", "That it falls back to."))),
        guarded(MARKED("guarded.what_happens_when_sensor_fails", "what happens when the sensor fails"),
                zeroIs(MARKED("zero.slew", "at once"),
                       number(
                           MARKED("content_sensor.slew_per_s", "Follows a second"), D::contentDifference, 0,
                           1, [](auto &j) -> auto & { return j.contentSensing.slewPerS; },
                           MARKED("content_sensor.slew_per_s.help",
                                  "Most that its content changes in a second. 0: at once.")))),
        guarded(
            MARKED("guarded.what_happens_when_sensor_fails", "what happens when the sensor fails"),
            zeroIs(
                MARKED("zero.plausible", "believes all"),
                number(
                    MARKED("content_sensor.plausible_least", "Lowest plausible"), D::content, 0, 1,
                    [](auto &j) -> auto & { return j.contentSensing.plausibleLeast; },
                    MARKED("content_sensor.plausible_least.help",
                           "The controller takes readings under it for a fault. 0: it believes them all.")))),
        guarded(
            MARKED("guarded.what_happens_when_sensor_fails", "what happens when the sensor fails"),
            number(
                MARKED("content_sensor.plausible_most", "Highest plausible"), D::content, 0, 1,
                [](auto &j) -> auto & { return j.contentSensing.plausibleMost; },
                MARKED("content_sensor.plausible_most.help",
                       "The controller takes readings over it for a fault. 100 %: it believes them all."))),
        guarded(
            MARKED("guarded.what_happens_when_sensor_fails", "what happens when the sensor fails"),
            scalar(
                MARKED("content_sensor.compared_after_fill", "Compared after every fill"),
                [](auto &j) -> auto & { return j.contentSensing.comparedAfterFill; },
                MARKED(
                    "content_sensor.compared_after_fill.help",
                    "With a tube or the tank's arithmetic, before any load: a stuck sensor is seen then."))),
    };
    c.same = [](const Job &a, const Job &b) { return a.contentSensing == b.contentSensing; };
    return c;
}

} // namespace wheelwright
