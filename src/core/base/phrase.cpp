// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/phrase.h"

#include "core/base/text.h"

#include <charconv>
#include <cmath>

namespace wheelwright {
namespace {

// What stands for a mark's inside: a number of digits, or one letter; false when there is none.
bool putIn(std::string_view mark, const Phrase &p, const Wording &wording, std::string &out) {
    const auto letter = [&](char first, std::size_t count) {
        const bool one = mark.size() == 1 && mark[0] >= first && mark[0] < first + 26;
        return one && static_cast<std::size_t>(mark[0] - first) < count;
    };
    if (letter('a', p.words.size())) {
        out += p.words[static_cast<std::size_t>(mark[0] - 'a')];
        return true;
    }
    if (letter('A', p.phrases.size())) {
        out += wording.of(p.phrases[static_cast<std::size_t>(mark[0] - 'A')]);
        return true;
    }
    std::size_t number = 0;
    const auto [end, error] = std::from_chars(mark.data(), mark.data() + mark.size(), number);
    if (error != std::errc{} || end != mark.data() + mark.size() || number >= p.values.size()) return false;
    const Measured &v = p.values[number];
    if (v.decimals == allDecimals) {
        out += v.dimension == Dimension::none ? generalNumber(v.value, 10, wording.units.decimalPoint)
                                              : formatExact(v.value, v.dimension, wording.units);
        return true;
    }
    const int decimals = v.decimals >= 0 ? v.decimals : shownDecimals(v.dimension, wording.units);
    out += formatWith(v.value, v.dimension, wording.units, decimals);
    return true;
}

} // namespace

Phrase verbatim(std::string words) {
    return {PhraseText{"", "{a}"}, {}, {std::move(words)}};
}

Measured exact(double v) {
    return {v, Dimension::none, allDecimals};
}

Phrase exactly(double v) {
    return {PhraseText{"", "{0}"}, {exact(v)}};
}

Phrase fromTo(double least, double most) {
    return {MARKED("expected.between", "{0} to {1}"), {exact(least), exact(most)}};
}

Phrase fromTo(double least, double most, std::string unit) {
    return {MARKED("expected.between_in", "{0} to {1} {a}"), {exact(least), exact(most)}, {std::move(unit)}};
}

// In one go from left to right: what is put in is not looked at again, whatever a fuel is called.
std::vector<Wording::Piece> Wording::piecesOf(const Phrase &p) const {
    constexpr std::string_view open = "⟨", close = "⟩";
    const std::string text = translate && !p.id.empty() ? translate(p.id, p.text) : std::string(p.text);
    std::vector<Piece> pieces{{}};
    const auto turn = [&](bool matters) {
        if (!pieces.back().text.empty()) pieces.emplace_back();
        pieces.back().matters = matters;
    };
    std::string_view rest = text;
    while (!rest.empty()) {
        if (rest.starts_with(open) || rest.starts_with(close)) {
            turn(rest.starts_with(open));
            rest.remove_prefix(open.size());
            continue;
        }
        const std::size_t end = rest.find('}');
        if (rest.front() == '{' && end != std::string_view::npos &&
            putIn(rest.substr(1, end - 1), p, *this, pieces.back().text)) {
            rest.remove_prefix(end + 1);
            continue;
        }
        pieces.back().text += rest.front();
        rest.remove_prefix(1);
    }
    return pieces;
}

std::string Wording::of(const Phrase &p) const {
    std::string out;
    for (const Piece &piece : piecesOf(p))
        out += piece.text;
    return out;
}

namespace {
// Two and two, since a phrase has a text with places for each.
Phrase folded(const std::vector<Phrase> &parts, PhraseText two) {
    Phrase all;
    for (const Phrase &p : parts)
        if (!p.empty()) all = all.empty() ? p : Phrase{two, {}, {}, {std::move(all), p}};
    return all;
}
} // namespace

Phrase together(const std::vector<Phrase> &sentences) {
    return folded(sentences, MARKED("phrase.together", "{A} {B}"));
}

Phrase listed(const std::vector<Phrase> &parts) {
    return folded(parts, MARKED("phrase.listed", "{A}; {B}"));
}

std::string format(const Phrase &phrase, const UnitChoice &choice) {
    return Wording{choice}.of(phrase);
}

std::string contentName(double content, bool methanol) {
    return (methanol ? "M" : "E") + std::to_string(std::lround(content * 100));
}

} // namespace wheelwright
