// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/job/job.h"

#include <span>
#include <string_view>
#include <vector>

namespace wheelwright {

/// What can hurt people, or an engine, where something is done. It is said in full once and kept small after
/// that. Source: common practice, safety data sheets of the fuels.
struct Caution {
    std::string_view id;       ///< "methanol"
    PhraseText title;          ///< kept small: a word or two
    PhraseText text;           ///< in full
    std::string_view stations; ///< where it is done: "fuel flow"
    bool (*applies)(const Job &job);
};

std::span<const Caution> allCautions();
/// Those of the job that belong to a station, the worst first.
std::vector<const Caution *> cautionsAt(const Job &job, std::string_view station);

/// The cautions about handling fuel, wherever it is spoken of.
constexpr PhraseText earthCaution() {
    return MARKED("shelf.caution.earth",
                  "Earth the containers, no ignition source, closed vessels. Follow the supplier's safety "
                  "data sheet and the local fire code.");
}
constexpr PhraseText methanolCaution() {
    return MARKED(
        "shelf.caution.methanol",
        "Methanol is poisonous by swallowing, breath and skin; a few tens of millilitres can blind or "
        "kill. Its flame is hard to see in daylight. Gloves, goggles, ventilation, locked child-safe "
        "storage; never siphon by mouth.");
}
constexpr PhraseText leadedCaution() {
    return MARKED(
        "shelf.caution.leaded",
        "Leaded fuel is restricted in many places: road rules and the rules of the series are yours "
        "to check.");
}

} // namespace wheelwright
