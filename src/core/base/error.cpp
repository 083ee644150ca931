// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"

#include "core/base/text.h"

namespace wheelwright {
namespace {

std::string clean(std::string_view text) {
    std::string out;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t length = utf8SequenceAt(text, at);
        const auto first = static_cast<unsigned char>(text[at]);
        if (length == 0)
            out += '?';
        else if (length == 1 && (first < 0x20 || first == 0x7F))
            out += ' ';
        else
            out.append(text, at, length);
        at += length == 0 ? 1 : length;
    }
    return out;
}

bool inside(const std::string &text, std::size_t at) {
    return at < text.size() && (static_cast<unsigned char>(text[at]) & 0xC0) == 0x80;
}

} // namespace

std::string echoed(std::string_view text, std::size_t most) {
    // Megabytes are not cleaned to be thrown away.
    if (text.size() > 4 * most)
        return echoed(std::string(text.substr(0, most)) + std::string(text.substr(text.size() - most)), most);
    std::string out = clean(text);
    if (out.size() <= most) return out;
    // Both ends tell: of a path the file, of a list the first words.
    std::size_t head = most / 2, tail = out.size() - (most - most / 2);
    while (inside(out, head))
        --head;
    while (inside(out, tail))
        ++tail;
    return out.substr(0, head) + "…" + out.substr(tail);
}

namespace {

constexpr std::size_t mostWhere = 110, mostExpected = 200, mostFound = 160;

Phrase sentence(const std::string &where, const Phrase &expected, const Phrase &found) {
    return {MARKED("error.input", "{a}: expected {A}, found {B}"), {}, {where}, {expected, found}};
}

Phrase bounded(Phrase p, std::size_t most) {
    for (std::string &word : p.words)
        word = echoed(word, most);
    return p;
}

} // namespace

InputError::InputError(const std::string &where, const Phrase &expected, const Phrase &found)
    : std::runtime_error(
          format(sentence(echoed(where, mostWhere), verbatim(echoed(format(expected), mostExpected)),
                          verbatim(echoed(format(found), mostFound))))),
      m_where(echoed(where, mostWhere)), m_expected(bounded(expected, mostExpected)),
      m_found(bounded(found, mostFound)) {}

InputError::InputError(const std::string &where, const Phrase &expected, const std::string &found)
    : InputError(where, expected, verbatim(found)) {}

Phrase InputError::words() const {
    return wordsAt(m_where);
}

Phrase InputError::wordsAt(const std::string &where) const {
    return sentence(where, m_expected, m_found);
}

} // namespace wheelwright
