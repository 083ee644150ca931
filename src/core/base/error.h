// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <stdexcept>
#include <string>
#include <string_view>

namespace wheelwright {

/// Text that came from outside, fit to be repeated in a sentence: one line, without control characters or
/// broken UTF-8, and with '…' in its middle where it has more than `most` bytes.
std::string echoed(std::string_view text, std::size_t most);

/// Input that cannot be used. Says where it was found, what was expected there and what was found instead:
/// what() in one line of bounded length in English, words() as a phrase. The one exception type that core,
/// store, formats and devices throw for what a user can put right.
class InputError : public std::runtime_error {
  public:
    InputError(const std::string &where, const Phrase &expected, const Phrase &found);
    /// What was found as it was typed or read.
    InputError(const std::string &where, const Phrase &expected, const std::string &found);

    const std::string &where() const { return m_where; }
    const Phrase &expected() const { return m_expected; }
    const Phrase &found() const { return m_found; }

    Phrase words() const;
    Phrase wordsAt(const std::string &where) const; ///< the same with another name of the place

  private:
    std::string m_where;
    Phrase m_expected;
    Phrase m_found;
};

} // namespace wheelwright
