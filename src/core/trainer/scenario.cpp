// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trainer/scenario.h"

#include "core/base/error.h"

#include <array>

namespace wheelwright {

#define WHEELWRIGHT_SCENARIO(name) const Scenario &name##Scenario();
#include "core/trainer/all_scenarios.def"
#undef WHEELWRIGHT_SCENARIO

std::span<const Scenario *const> allScenarios() {
    static const std::array all{
#define WHEELWRIGHT_SCENARIO(name) &name##Scenario(),
#include "core/trainer/all_scenarios.def"
#undef WHEELWRIGHT_SCENARIO
    };
    return all;
}

namespace {

template <class List, class Id>
[[noreturn]] void refuseUnknown(const List &list, Id idOf, std::string_view found, const std::string &where) {
    std::string known;
    for (const auto &one : list)
        known += (known.empty() ? "" : ", ") + std::string(idOf(one));
    throw InputError(where, Phrase{MARKED("expected.one_of", "one of {a}"), {}, {known}},
                     "'" + std::string(found) + "'");
}

} // namespace

const Scenario &scenarioById(std::string_view id, const std::string &where) {
    for (const Scenario *s : allScenarios())
        if (s->id == id) return *s;
    refuseUnknown(
        allScenarios(), [](const Scenario *s) { return s->id; }, id, where);
}

std::span<const TrainingCause> trainingCauses() {
    static const std::vector<TrainingCause> causes = [] {
        std::vector<TrainingCause> out{
            {"not_settled",
             MARKED("cause.not_settled", "The content in the rail is not yet that of the tank")},
            {"correction_twice", MARKED("cause.correction_twice", "The content is corrected for twice")},
            {"tables", MARKED("cause.tables_off", "The tables are simply off here")},
            {"nothing", MARKED("cause.nothing", "Nothing is wrong")}};
        for (const Fault &f : allFaults())
            out.push_back({f.name, f.title});
        return out;
    }();
    return causes;
}

const TrainingCause &causeById(std::string_view id, const std::string &where) {
    for (const TrainingCause &c : trainingCauses())
        if (c.id == id) return c;
    refuseUnknown(
        trainingCauses(), [](const TrainingCause &c) { return c.id; }, id, where);
}

} // namespace wheelwright
