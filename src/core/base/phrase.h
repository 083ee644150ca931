// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/unit.h"

#include <functional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace wheelwright {

/// A number and what it measures.
struct Measured {
    double value = 0;
    Dimension dimension = Dimension::none;
    int decimals = -1; ///< shown; −1: as many as make sense in the unit
};
/// As `decimals`: as many as it takes to read the same number back (formatExact).
constexpr int allDecimals = -2;

/// A whole sentence or title of the product where it is written, with the id that its translations go by.
struct PhraseText {
    std::string_view id{}; ///< "pour.sheet.tank": the same id is the same text
    std::string_view text{};

    constexpr PhraseText() = default;
    constexpr explicit PhraseText(std::string_view ofText, std::string_view words)
        : id(ofText), text(words) {}
    constexpr bool empty() const { return text.empty(); }
    bool operator==(const PhraseText &) const = default;
};

/// A sentence with numbers in it: "{0}" in the text stands for values[0], "{a}" for words[0], "{A}" for
/// phrases[0]; ⟨ and ⟩ hold what matters most in it. Core speaks in phrases so that the same finding can be
/// shown in any unit, and the text translated, without computing anything again. Texts are marked where they
/// are written: what is not does not compile.
struct Phrase {
    Phrase() = default;
    Phrase(PhraseText sentence, std::vector<Measured> numbers = {}, std::vector<std::string> names = {},
           std::vector<Phrase> inner = {})
        : text(sentence.text), id(sentence.id), values(std::move(numbers)), words(std::move(names)),
          phrases(std::move(inner)) {}

    bool empty() const { return text.empty(); }

    std::string_view text{};
    std::string_view id{}; ///< of the text, for translators
    std::vector<Measured> values{};
    std::vector<std::string> words{}; ///< names that nobody translates: of fuels, of contents
    std::vector<Phrase> phrases{};    ///< titles inside of it, each translated by itself
};

/// What somebody typed, said as it is.
Phrase verbatim(std::string words);
/// A plain number, to the tenth digit that counts: what a limit or a wrong entry is told by.
Measured exact(double v);
Phrase exactly(double v);
/// "8 to 25 ms": what is expected of a number.
Phrase fromTo(double least, double most);
Phrase fromTo(double least, double most, std::string unit);
/// Sentences one after the other; empty ones are left out.
Phrase together(const std::vector<Phrase> &sentences);
/// Parts of a sentence with semicolons between.
Phrase listed(const std::vector<Phrase> &parts);

/// Marks a sentence for translators: their tools read this like Qt's QT_TRANSLATE_NOOP, with the id as its
/// context (tools/translations). Both are literals, and the sentence is whole.
#define MARKED(id, text) (::wheelwright::PhraseText(id, text))

/// How phrases are shown to somebody: the units, and the text in the language that was chosen.
struct Wording {
    UnitChoice units{};
    std::function<std::string(std::string_view id, std::string_view text)> translate{}; ///< none: as written

    std::string of(const Phrase &phrase) const;

    /// The same in pieces: what stands between ⟨ and ⟩ in the text is what matters in it.
    struct Piece {
        std::string text;
        bool matters = false;
    };
    std::vector<Piece> piecesOf(const Phrase &phrase) const;
};

/// The sentence with its numbers and words put in. A mark without a value stays as it is.
std::string format(const Phrase &phrase, const UnitChoice &choice = {});

/// Contents are spoken of as E85 (ethanol) or M50 (methanol).
std::string contentName(double content, bool methanol);

} // namespace wheelwright
