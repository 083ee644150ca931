// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

#include "core/ladder/preflight.h"

namespace wheelwright {
namespace {

GateAnswer answerLookedOver(const RungEvidence &e) {
    GateAnswer a;
    Phrase missing;
    std::size_t done = 0;
    for (const PreflightItem &item : allPreflightItems()) {
        if (const RungLook *look = e.look(item.id)) {
            ++done;
            a.used.push_back({GateUse::Kind::look, std::string(item.id), look->at});
            continue;
        }
        missing = missing.empty()
                      ? Phrase(item.title)
                      : Phrase{MARKED("gate.watch.and", "{A}; {B}"), {}, {}, {missing, item.title}};
    }
    const Measured of{static_cast<double>(allPreflightItems().size()), Dimension::count};
    if (missing.empty()) {
        a.verdict = GateVerdict::passed;
        a.said = {MARKED("gate.looked_over.held", "All {0} items have been looked at."), {of}};
        return a;
    }
    a.said = {MARKED("gate.looked_over.missing", "{0} of {1} looked at. Missing: {A}."),
              {{static_cast<double>(done), Dimension::count}, of},
              {},
              {missing}};
    a.toPass = MARKED("gate.looked_over.to_pass", "Look at what is missing, and say so.");
    a.remedy = GateRemedy::lookAt;
    return a;
}

} // namespace

const Gate &lookedOverGate() {
    static const Gate gate{
        "looked_over",
        MARKED("gate.looked_over", "Looked over"),
        MARKED("gate.looked_over.question", "Has everything been looked at before the first start?"),
        {RungKind::preflight},
        answerLookedOver,
        true};
    return gate;
}

} // namespace wheelwright
