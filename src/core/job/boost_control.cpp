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
        zeroIs(MARKED("zero.not_measured", "not measured"),
               number(
                   MARKED("boost.spring_kpa", "Wastegate spring"), D::pressureGauge, 0, 400,
                   [](auto &j) -> auto & { return j.boost.springKpa; },
                   MARKED("boost.spring_kpa.help",
                          "Measured: the advertised figure is often wrong. 0: not known."))),
        guarded(
            MARKED("guarded.overboost_cut", "the overboost cut"),
            zeroIs(MARKED("zero.none", "none"), number(
                                                    MARKED("boost.cut_kpa", "Overboost cut"), D::pressure, 0,
                                                    1000, [](auto &j) -> auto & { return j.boost.cutKpa; },
                                                    MARKED("boost.cut_kpa.help", "0: none is set.")))),
    };
    c.lists = {
        boostPoints.list(
            MARKED("boost.points", "Boost by solenoid duty"), 500,
            {boostPoints.number(MARKED("boost.points.duty", "Duty"), D::ratio, 0, 1, &BoostPoint::duty,
                                MARKED("boost.points.duty.help", "Of the solenoid.")),
             boostPoints.number(MARKED("boost.points.boost_kpa", "Boost"), D::pressureGauge, -100, 800,
                                &BoostPoint::boostKpa,
                                MARKED("boost.points.boost_kpa.help", "That came of it, settled.")),
             boostPoints.unstated(MARKED("boost.points.gear", "Gear"), D::none, 0, 12, &BoostPoint::gear,
                                  MARKED("boost.points.gear.help", "0: not stated.")),
             boostPoints.number(MARKED("boost.points.content", "Content"), D::content, 0, 1,
                                &BoostPoint::content,
                                MARKED("boost.points.content.help", "Of the fuel then.")),
             boostPoints.field(MARKED("boost.points.note", "Note"), &BoostPoint::note,
                               MARKED("boost.points.note.help", "Log, weather."))}),
    };
    c.same = [](const Job &a, const Job &b) { return a.boost == b.boost; };
    return c;
}

} // namespace wheelwright
