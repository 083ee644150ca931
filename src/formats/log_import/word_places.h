// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// The different texts of a column of words: its samples are places among them.
class WordPlaces {
  public:
    static constexpr std::size_t most = 4096;   ///< different texts
    static constexpr std::size_t longest = 200; ///< bytes of each

    /// Not a number where there are too many.
    double place(std::string_view text);
    std::size_t dropped() const { return m_dropped; }
    std::vector<std::string> texts() const { return m_texts; }

  private:
    std::vector<std::string> m_texts;
    std::map<std::string, std::size_t, std::less<>> m_places;
    std::size_t m_dropped = 0;
};

} // namespace wheelwright
