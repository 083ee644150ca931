// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <span>
#include <string_view>

namespace wheelwright {

/// What a tuner asks of a calibration. The checks answer it between them.
enum class QuestionId { mixture, knock, boost, fuelSupply, sensor, coldStart, settings };

struct Question {
    QuestionId id;
    std::string_view name; ///< stable: "fuel_supply"
    PhraseText title;      ///< "Fuel supply"
    PhraseText help;       ///< one sentence
    bool beside;           ///< of the day, not of the fuel: no content waits for it
};
std::span<const Question> allQuestions();
const Question &definitionOf(QuestionId id);

/// How far an answer, or a check, can be relied on; from the best to the worst. The whole is never better
/// than its weakest part.
enum class CheckState {
    proven,    ///< by logs where the engine can go
    held,      ///< the model holds its limits
    caution,   ///< inside the limit, and near it
    notJudged, ///< something is missing, or nobody has stated the numbers
    failing
};
std::string_view stateName(CheckState state); ///< stable: "not_judged"
PhraseText stateWord(CheckState state);       ///< "not judged"

} // namespace wheelwright
