// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

namespace wheelwright {
namespace {

GateAnswer answerCameDown(const RungEvidence &e) {
    GateAnswer a;
    a.remedy = GateRemedy::pull;
    a.toPass =
        MARKED("gate.came_down.to_pass",
               "With the base fuel in and settled, log the same pull, cruise and idle "
               "as at the top, on the calibration of now; where that of the top was another, keep both as "
               "revisions.");
    if (!e.facts.wayDown) {
        a.said = {MARKED("gate.came_down.none", "Not to be said: {A}."), {}, {}, {e.facts.wayDownTrouble}};
        return a;
    }
    const FuelChangeProof &proof = *e.facts.wayDown;
    for (const std::string &id : {proof.fromLog, proof.toLog}) {
        const LogInfo *info = logById(e.job(), id);
        a.used.push_back({GateUse::Kind::log, id, info ? info->name : id});
    }
    // What comes down is what the car goes out with.
    const LogInfo *low = logById(e.job(), proof.fromLog);
    if (proof.twoCalibrations && !(low && low->calibration == e.calibration)) {
        a.said =
            MARKED("gate.came_down.older", "Since the log near the base fuel the calibration has changed.");
        return a;
    }
    Phrase moved;
    std::size_t judged = 0;
    for (const FuelMove &m : proof.moves) {
        if (m.verdict == MoveVerdict::off) {
            a.verdict = GateVerdict::failed;
            a.said = {MARKED("gate.came_down.off",
                             "{A} did not come down as the tables say: {0} where {1} were expected."),
                      {{m.measured, m.dimension}, {m.expected, m.dimension}},
                      {},
                      {m.title}};
            a.toPass = MARKED("gate.came_down.find", "Find out what holds it up before anybody drives it.");
            a.remedy = GateRemedy::findCause;
            return a;
        }
        if (m.verdict != MoveVerdict::asExpected) continue;
        ++judged;
        moved = moved.empty() ? Phrase(m.title)
                              : Phrase{MARKED("gate.watch.and", "{A}; {B}"), {}, {}, {moved, m.title}};
    }
    if (!proof.holds()) { // fuel and spark must be among what is known to have come down
        a.said =
            judged == 0
                ? Phrase(MARKED("gate.came_down.unsure", "The two logs do not say it of fuel and spark."))
                : Phrase{MARKED("gate.came_down.partly",
                                "Came down as expected: {A}. Not known of fuel and spark both."),
                         {},
                         {},
                         {moved}};
        return a;
    }
    a.verdict = GateVerdict::passed;
    a.said = {proof.twoCalibrations
                  ? MARKED("gate.came_down.two",
                           "Came down as the tables say, each log by the calibration that it "
                           "ran with: {A}.")
                  : MARKED("gate.came_down.held", "Came down as the tables say: {A}."),
              {},
              {},
              {moved}};
    a.toPass = {};
    a.remedy = GateRemedy::none;
    return a;
}

} // namespace

const Gate &cameDownGate() {
    static const Gate gate{
        "came_down",
        MARKED("gate.came_down", "All came down"),
        MARKED("gate.came_down.question", "Did fuel, spark, boost and spray come down on their own?"),
        {RungKind::wayDown},
        answerCameDown};
    return gate;
}

} // namespace wheelwright
