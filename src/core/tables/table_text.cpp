// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tables/table_text.h"

#include "core/base/error.h"
#include "core/base/text.h"

#include <charconv>

namespace wheelwright {
namespace {

void append(std::string &to, const char *name, const std::vector<double> &numbers) {
    to += name;
    for (const double v : numbers)
        to += ' ' + exactNumber(v);
}

// The numbers after a name, up to a semicolon or the end.
std::vector<double> part(std::string_view &text, std::string_view name, std::string_view where) {
    const std::string place = std::string(where) + " " + std::string(name);
    if (!text.starts_with(name))
        throw InputError(
            place,
            Phrase{MARKED("expected.name_and_numbers", "'{a}' and its numbers"), {}, {std::string(name)}},
            "'" + std::string(text.substr(0, 20)) + "'");
    text.remove_prefix(name.size());
    std::vector<double> numbers;
    while (!text.empty() && text.front() != ';') {
        if (text.front() == ' ') {
            text.remove_prefix(1);
            continue;
        }
        double v = 0;
        const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), v);
        if (error != std::errc{})
            throw InputError(place, MARKED("expected.a_number", "a number"),
                             "'" + std::string(text.substr(0, 20)) + "'");
        text.remove_prefix(static_cast<std::size_t>(end - text.data()));
        numbers.push_back(v);
    }
    while (!text.empty() && (text.front() == ';' || text.front() == ' '))
        text.remove_prefix(1);
    return numbers;
}

} // namespace

std::string tableToText(const Table2D &table) {
    std::string text;
    append(text, "x", table.x().points());
    append(text, "; y", table.y().points());
    append(text, "; cells", table.cells());
    return text;
}

Table2D tableFromText(std::string_view text, std::string_view where) {
    const std::string place(where);
    Axis x(part(text, "x", where), place + " x"), y(part(text, "y", where), place + " y");
    std::vector<double> cells = part(text, "cells", where);
    if (!text.empty())
        throw InputError(place, MARKED("expected.nothing_after_the_cells", "nothing after the cells"),
                         "'" + std::string(text.substr(0, 20)) + "'");
    return Table2D(std::move(x), std::move(y), std::move(cells), place);
}

} // namespace wheelwright
