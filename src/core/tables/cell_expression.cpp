// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tables/cell_expression.h"

#include "core/base/error.h"

#include <charconv>
#include <cmath>

namespace wheelwright {
namespace {

using Operation = CellExpression::Operation;

double plainNumber(std::string_view text, PhraseText expected) {
    std::string s(text);
    for (char &c : s)
        if (c == ',') c = '.';
    double v = 0;
    const auto [end, problem] = std::from_chars(s.data(), s.data() + s.size(), v);
    if (problem != std::errc{} || end != s.data() + s.size() || !std::isfinite(v))
        throw InputError("entry", expected, s.empty() ? "nothing" : "'" + s + "'");
    return v;
}

} // namespace

CellExpression parseCellExpression(std::string_view text, Dimension dimension, const UnitChoice &units) {
    std::string_view t = text;
    while (!t.empty() && t.front() == ' ')
        t.remove_prefix(1);
    if (t.empty())
        throw InputError("entry", MARKED("expected.14_2_2_1_03", "=14, +2, -2, *1.03 or a number"),
                         MARKED("found.nothing", "nothing"));
    const char first = t.front();
    if (first == '*') {
        std::string_view factor = t.substr(1);
        // "*3%" would be read as a factor of 3 by some and of 1.03 by others.
        return {Operation::multiply,
                plainNumber(factor, MARKED("expected.a_factor_as_in_1_03", "a factor, as in *1.03"))};
    }
    const std::string_view rest = first == '=' || first == '+' || first == '-' ? t.substr(1) : t;
    if (first == '+' || first == '-') {
        // A difference has no zero point: 2 psi more is the same above vacuum and above ambient.
        const double there = parse(rest, dimension, units, "entry");
        const double origin =
            parse("0" + std::string(rest.substr(unitStart(rest))), dimension, units, "entry");
        return {Operation::add, first == '-' ? origin - there : there - origin};
    }
    return {Operation::set, parse(rest, dimension, units, "entry")};
}

std::size_t unitStart(std::string_view text) {
    const std::size_t at = text.find_first_not_of("0123456789.,+-eE ");
    return at == std::string_view::npos ? text.size() : at;
}

} // namespace wheelwright
