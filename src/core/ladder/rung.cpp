// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/rung.h"

#include <algorithm>
#include <array>

namespace wheelwright {
namespace {

struct KindWords {
    std::string_view key;
    PhraseText title;
    bool pulls;
};

const KindWords &wordsOf(RungKind kind) {
    static constexpr std::array words{
        KindWords{"preflight", MARKED("rung.preflight", "Before the first start"), false},
        KindWords{"pass", MARKED("rung.pass", "Passes"), false},
        KindWords{"base_boost", MARKED("rung.base_boost", "Boost on the base fuel"), true},
        KindWords{"content", MARKED("rung.content", "Content"), true},
        KindWords{"top_boost", MARKED("rung.top_boost", "Boost at the top content"), true},
        KindWords{"way_down", MARKED("rung.way_down", "The way down"), true},
        KindWords{"road", MARKED("rung.road", "The road"), false},
        KindWords{"hand_over", MARKED("rung.hand_over", "Hand-over"), false},
    };
    return words[static_cast<std::size_t>(kind)];
}

} // namespace

std::string_view rungKindKey(RungKind kind) {
    return wordsOf(kind).key;
}

PhraseText rungKindTitle(RungKind kind) {
    return wordsOf(kind).title;
}

bool hasPulls(RungKind kind) {
    return wordsOf(kind).pulls;
}

std::string_view rungStateKey(RungState state) {
    constexpr std::array<std::string_view, 5> keys{"passed", "next", "later", "not_needed", "out_of_reach"};
    return keys[static_cast<std::size_t>(state)];
}

PhraseText rungStateWord(RungState state) {
    constexpr std::array words{MARKED("rung.state.passed", "passed"), MARKED("rung.state.next", "next"),
                               MARKED("rung.state.later", "later"),
                               MARKED("rung.state.not_needed", "not needed"),
                               MARKED("rung.state.out_of_reach", "out of reach")};
    return words[static_cast<std::size_t>(state)];
}

const Rung *Ladder::next() const {
    const auto at = std::ranges::find(rungs, RungState::next, &Rung::state);
    return at == rungs.end() ? nullptr : &*at;
}

const Rung *Ladder::byId(std::string_view id) const {
    const auto at = std::ranges::find(rungs, id, &Rung::id);
    return at == rungs.end() ? nullptr : &*at;
}

} // namespace wheelwright
