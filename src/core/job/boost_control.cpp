// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/boost_control.h"

#include "core/job/describe.h"

namespace wheelwright {
namespace {
using D = Dimension;
}

Chapter boostControlChapter() {
    const auto boostPoints = listOf<BoostPoint>([](auto &j) -> auto & { return j.boost.points; });
    Chapter c;
    c.fields = {
        number(
            "boost.spring_kpa", "Wastegate spring", D::pressureGauge, 0, 400,
            [](auto &j) -> auto & { return j.boost.springKpa; },
            "Measured: the advertised figure is often wrong. 0: not known."),
        guarded("the overboost cut",
                number(
                    "boost.cut_kpa", "Overboost cut", D::pressure, 0, 1000,
                    [](auto &j) -> auto & { return j.boost.cutKpa; }, "0: none is set.")),
    };
    c.lists = {
        boostPoints.list(
            "boost.points", "Boost by solenoid duty", 500,
            {boostPoints.number("duty", "Duty", D::ratio, 0, 1, &BoostPoint::duty, "Of the solenoid."),
             boostPoints.number("boost_kpa", "Boost", D::pressureGauge, -100, 800, &BoostPoint::boostKpa,
                                "That came of it, settled."),
             boostPoints.unstated("gear", "Gear", D::none, 0, 12, &BoostPoint::gear, "0: not stated."),
             boostPoints.number("content", "Content", D::content, 0, 1, &BoostPoint::content,
                                "Of the fuel then."),
             boostPoints.field("note", "Note", &BoostPoint::note, "Log, weather.")}),
    };
    c.same = [](const Job &a, const Job &b) { return a.boost == b.boost; };
    return c;
}

} // namespace wheelwright
