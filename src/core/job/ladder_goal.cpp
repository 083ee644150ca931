// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/ladder_goal.h"

#include "core/job/describe.h"

namespace wheelwright {
namespace {

using D = Dimension;

constexpr std::size_t mostContents = 30, mostFuels = 8, mostPassed = 2000, mostLooks = 5000;

RecordList contentList() {
    const auto content = listOf<LadderContent>([](auto &j) -> auto & { return j.ladderContents; });
    return content.list(
        MARKED("ladder.contents", "Contents of the way up"), mostContents,
        {content.number(MARKED("ladder.contents.content", "Content"), D::content, 0, 1,
                        &LadderContent::content,
                        MARKED("ladder.contents.content.help",
                               "A rung each. Without any: 10, 25, 40, 50, 60, 70 % and the top."))});
}

RecordList fuelList() {
    const auto fuel = listOf<LadderFuel>([](auto &j) -> auto & { return j.ladderFuels; });
    return fuel.list(MARKED("ladder.fuels", "Fuels it must run on"), mostFuels,
                     {fuel.reference(MARKED("ladder.fuels.fuel", "Fuel"), &LadderFuel::fuel, "fuel.shelf",
                                     MARKED("ladder.fuels.fuel.help",
                                            "Each has its rung, whatever power has been reached."))});
}

RecordList passedList() {
    const auto pass = listOf<RungPass>([](auto &j) -> auto & { return j.ladderPassed; });
    return pass.list(
        MARKED("ladder.passed", "Rungs passed"), mostPassed,
        {pass.field(MARKED("ladder.passed.rung", "Rung"), &RungPass::rung,
                    MARKED("ladder.passed.rung.help", "Its id: content.25.")),
         pass.date(MARKED("ladder.passed.at", "When"), &RungPass::at,
                   MARKED("ladder.passed.at.help", "ISO 8601.")),
         pass.choice(
             MARKED("ladder.passed.by", "By"), {"evidence", "hand"},
             {MARKED("ladder.passed.by.evidence", "Evidence"), MARKED("ladder.passed.by.hand", "Hand")},
             &RungPass::by, MARKED("ladder.passed.by.help", "Who let it pass.")),
         pass.field(MARKED("ladder.passed.reason", "Reason"), &RungPass::reason,
                    MARKED("ladder.passed.reason.help", "Why by hand.")),
         pass.number(MARKED("ladder.passed.content", "Content"), D::content, 0, 1, &RungPass::content,
                     MARKED("ladder.passed.content.help", "As found.")),
         pass.unstated(MARKED("ladder.passed.boost_kpa", "Boost"), D::pressure, 0, 1000, &RungPass::boostKpa,
                       MARKED("ladder.passed.boost_kpa.help", "Absolute, the highest that was held.")),
         pass.unstated(MARKED("ladder.passed.power_kw", "Power"), D::power, 0, 10'000, &RungPass::powerKw,
                       MARKED("ladder.passed.power_kw.help", "At the wheels, the best run.")),
         pass.unstated(MARKED("ladder.passed.price", "Fuel cost"), D::money, 0, 1e9, &RungPass::price,
                       MARKED("ladder.passed.price.help", "What its plan poured.")),
         pass.field(MARKED("ladder.passed.calibration", "Calibration"), &RungPass::calibration,
                    MARKED("ladder.passed.calibration.help", "Fingerprint of the state that it ran with.")),
         pass.field(MARKED("ladder.passed.gates", "Gates"), &RungPass::gates,
                    MARKED("ladder.passed.gates.help", "What every gate said, a line each.")),
         pass.field(MARKED("ladder.passed.logs", "Logs"), &RungPass::logs,
                    MARKED("ladder.passed.logs.help", "What they used, an id a line."))});
}

RecordList lookList() {
    const auto look = listOf<RungLook>([](auto &j) -> auto & { return j.ladderLooks; });
    return look.list(MARKED("ladder.looks", "Looked at"), mostLooks,
                     {look.field(MARKED("ladder.looks.rung", "Rung"), &RungLook::rung,
                                 MARKED("ladder.looks.rung.help", "That it was looked at for.")),
                      look.field(MARKED("ladder.looks.gate", "What"), &RungLook::gate,
                                 MARKED("ladder.looks.gate.help", "Id of the gate: plugs.")),
                      look.date(MARKED("ladder.looks.at", "When"), &RungLook::at,
                                MARKED("ladder.looks.at.help", "ISO 8601.")),
                      look.field(MARKED("ladder.looks.note", "Seen"), &RungLook::note,
                                 MARKED("ladder.looks.note.help", "What was seen."))});
}

} // namespace

Chapter ladderChapter() {
    Chapter c;
    c.fields = {
        choice(
            MARKED("ladder.route", "Way up"), {"steps", "both_ends"},
            {MARKED("ladder.route.steps", "Step by step"),
             MARKED("ladder.route.both_ends", "Straight to both ends")},
            [](auto &j) -> auto & { return j.ladder.route; },
            MARKED("ladder.route.help",
                   "Step by step every content is known safe; both ends trust the curve between.")),
        zeroIs(MARKED("zero.goal.power", "all that is safe"),
               number(
                   MARKED("ladder.power_kw", "Power wanted"), D::power, 0, 5000,
                   [](auto &j) -> auto & { return j.ladder.powerKw; },
                   MARKED("ladder.power_kw.help", "At the wheels, as runs show it. Enough is enough: no more "
                                                  "is sought after it. 0: all that "
                                                  "the limits allow."))),
        zeroIs(MARKED("zero.goal.boost", "as its tables ask"),
               number(
                   MARKED("ladder.base_boost_kpa", "Boost wanted on the base fuel"), D::pressure, 0, 800,
                   [](auto &j) -> auto & { return j.ladder.baseBoostKpa; },
                   MARKED("ladder.base_boost_kpa.help", "Absolute. 0: what its boost tables ask for."))),
        zeroIs(MARKED("zero.goal.boost", "as its tables ask"),
               number(
                   MARKED("ladder.top_boost_kpa", "Boost wanted at the top content"), D::pressure, 0, 800,
                   [](auto &j) -> auto & { return j.ladder.topBoostKpa; },
                   MARKED("ladder.top_boost_kpa.help", "Absolute. 0: what its boost tables ask for."))),
        zeroIs(MARKED("zero.goal.content", "as the top tables"),
               number(
                   MARKED("ladder.top_content", "Top content"), D::content, 0, 1,
                   [](auto &j) -> auto & { return j.ladder.topContent; },
                   MARKED("ladder.top_content.help",
                          "0: what the top tables were calibrated at, or the strongest fuel of the shelf."))),
        zeroIs(MARKED("zero.not_stated", "not stated"),
               number(
                   MARKED("ladder.money", "Fuel may cost"), D::money, 0, 1e7,
                   [](auto &j) -> auto & { return j.ladder.money; },
                   MARKED("ladder.money.help", "All of the way. 0: not stated."))),
        wholeNumber(number(
            MARKED("ladder.pulls", "Clean pulls of a rung"), D::count, 1, 20,
            [](auto &j) -> auto & { return j.ladder.pulls; },
            MARKED("ladder.pulls.help", "Without knock, before the next rung. Common practice: 3."))),
        number(
            MARKED("ladder.drain_can_l", "Drained into cans of"), D::displacement, 0.5, 200,
            [](auto &j) -> auto & { return j.ladder.drainCanL; },
            MARKED("ladder.drain_can_l.help",
                   "What is drained fills whole cans of this size, but for the last when all is drained.")),
    };
    c.lists = {contentList(), fuelList(), passedList(), lookList()};
    c.same = [](const Job &a, const Job &b) {
        return a.ladder == b.ladder && a.ladderContents == b.ladderContents &&
               a.ladderFuels == b.ladderFuels && a.ladderPassed == b.ladderPassed &&
               a.ladderLooks == b.ladderLooks;
    };
    return c;
}

} // namespace wheelwright
