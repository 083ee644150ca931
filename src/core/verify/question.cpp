// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/question.h"

#include <array>

namespace wheelwright {
namespace {

constexpr std::array questions{
    Question{QuestionId::mixture, "mixture", MARKED("question.mixture", "Mixture"),
             MARKED("question.mixture.help", "Is λ where it was asked for, and was the right λ asked for?"),
             false},
    Question{QuestionId::knock, "knock", MARKED("question.knock", "Knock"),
             MARKED("question.knock.help", "Is the delivered spark under what each fuel stands?"), false},
    Question{QuestionId::boost, "boost", MARKED("question.boost", "Boost"),
             MARKED("question.boost.help",
                    "Do engine, spring, sensor and cut agree with the boost that is asked for?"),
             false},
    Question{QuestionId::fuelSupply, "fuel_supply", MARKED("question.fuel_supply", "Fuel supply"),
             MARKED("question.fuel_supply.help", "Can injectors and pumps deliver it?"), false},
    Question{QuestionId::sensor, "sensor", MARKED("question.sensor", "Sensor and fallback"),
             MARKED("question.sensor.help", "What happens when the content is read wrongly, or not at all?"),
             false},
    Question{QuestionId::coldStart, "cold_start", MARKED("question.cold_start", "Cold start"),
             MARKED("question.cold_start.help", "Does it get the fuel to start on every content?"), true},
    Question{QuestionId::settings, "settings", MARKED("question.settings", "Guarded settings"),
             MARKED("question.settings.help", "Is what came back from the controller what was sent?"), true},
};

struct StateWords {
    std::string_view name;
    PhraseText word;
};
constexpr std::array states{StateWords{"proven", MARKED("state.proven", "proven")},
                            StateWords{"held", MARKED("state.held", "held")},
                            StateWords{"caution", MARKED("state.caution", "caution")},
                            StateWords{"not_judged", MARKED("state.not_judged", "not judged")},
                            StateWords{"fails", MARKED("state.fails", "fails")}};

} // namespace

std::span<const Question> allQuestions() {
    return questions;
}

const Question &definitionOf(QuestionId id) {
    return questions[static_cast<std::size_t>(id)];
}

std::string_view stateName(CheckState state) {
    return states[static_cast<std::size_t>(state)].name;
}

PhraseText stateWord(CheckState state) {
    return states[static_cast<std::size_t>(state)].word;
}

} // namespace wheelwright
