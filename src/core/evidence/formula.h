// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Works a channel out from others: numbers, + − * /, brackets, min( , ), max( , ) and abs( ). A name in
/// square brackets is a column as its file has it, [Inj PW]; a word is the channel of that role in the unit
/// of the product, rpm, pulse_width. What is missing stays missing.
class Formula {
  public:
    struct Name {
        std::string text;
        bool column = false; ///< in square brackets; else the key of a role
        bool operator==(const Name &) const = default;
    };

    /// Throws InputError naming the place for what is no formula.
    explicit Formula(std::string_view text);
    /// In the order in which they first stand; values are handed in in this order.
    const std::vector<Name> &names() const { return m_names; }
    double operator()(std::span<const double> values) const;

  private:
    enum class Op : unsigned char {
        number,
        name,
        add,
        subtract,
        multiply,
        divide,
        negate,
        least,
        most,
        size
    };
    struct Step {
        Op op;
        double number = 0;     ///< of a number
        std::size_t index = 0; ///< of a name
    };
    class Reader;

    std::vector<Name> m_names;
    std::vector<Step> m_steps; ///< operands before what is done with them
    std::size_t m_depth = 0;   ///< operands that wait at a time
};

} // namespace wheelwright
