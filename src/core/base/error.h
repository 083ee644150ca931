// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <stdexcept>
#include <string>
#include <string_view>

namespace wheelwright {

/// Text that came from outside, fit to be repeated in a sentence: one line, without control characters or
/// broken UTF-8, and with '…' in its middle where it has more than `most` bytes.
std::string echoed(std::string_view text, std::size_t most);

/// Input that cannot be used. Says where it was found, what was expected there and what was found instead, in
/// one line of bounded length. The one exception type that core, store, formats and devices throw for what a
/// user can put right.
class InputError : public std::runtime_error {
  public:
    InputError(const std::string &where, const std::string &expected, const std::string &found);

    const std::string &where() const { return m_where; }
    const std::string &expected() const { return m_expected; }
    const std::string &found() const { return m_found; }

  private:
    struct Echoed {
        std::string where, expected, found;
    };
    explicit InputError(Echoed words);
    std::string m_where;
    std::string m_expected;
    std::string m_found;
};

} // namespace wheelwright
