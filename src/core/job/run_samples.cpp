// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/run_samples.h"

#include "core/base/error.h"
#include "core/base/text.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <limits>

namespace wheelwright {
namespace {

[[noreturn]] void refuse(const std::string &where, std::size_t line, const Phrase &expected,
                         std::string_view found) {
    throw InputError(where + ", line " + std::to_string(line), expected, "'" + echoed(found, 60) + "'");
}

std::string oneLine(std::string text) {
    for (char &c : text)
        if (static_cast<unsigned char>(c) < 0x20) c = ' ';
    return text;
}

/// Takes what stands before the next tab off the front.
std::string_view nextPart(std::string_view &line) {
    const std::size_t tab = line.find('\t');
    const std::string_view part = line.substr(0, tab);
    line.remove_prefix(tab == std::string_view::npos ? line.size() : tab + 1);
    return part;
}

bool isNumber(std::string_view text, double &v) {
    const auto read = std::from_chars(text.data(), text.data() + text.size(), v);
    return read.ec == std::errc() && read.ptr == text.data() + text.size() && std::isfinite(v);
}

const Phrase &numberWanted() {
    static const Phrase phrase(MARKED("expected.a_number", "a number"));
    return phrase;
}

RunColumn columnFrom(std::string_view line, const std::string &where, std::size_t number) {
    const std::string_view whole = line;
    const ChannelRoleDefinition *role = roleByKey(nextPart(line));
    if (!role)
        refuse(where, number, MARKED("expected.run_column", "role, name, unit, scale and offset of a column"),
               whole);
    RunColumn c;
    c.role = role->role;
    c.name = nextPart(line);
    c.unit = nextPart(line);
    for (double *v : {&c.scale, &c.offset})
        if (!isNumber(nextPart(line), *v)) refuse(where, number, numberWanted(), whole);
    if (c.scale == 0 || !line.empty())
        refuse(where, number, MARKED("expected.run_column", "role, name, unit, scale and offset of a column"),
               whole);
    return c;
}

} // namespace

std::size_t RunSamples::place(ChannelRole role) const {
    return static_cast<std::size_t>(std::ranges::find(columns, role, &RunColumn::role) - columns.begin());
}

const RunColumn *RunSamples::of(ChannelRole role) const {
    const std::size_t at = place(role);
    return at == columns.size() ? nullptr : &columns[at];
}

std::string runSamplesText(const RunSamples &samples) {
    std::string out;
    for (const RunColumn &c : samples.columns) {
        out += std::string(definitionOf(c.role).key) + '\t' + oneLine(c.name) + '\t' + oneLine(c.unit) + '\t';
        out += exactNumber(c.scale) + '\t' + exactNumber(c.offset) + '\n';
    }
    out += '\n';
    for (std::size_t i = 0; i < samples.rows(); ++i)
        for (std::size_t k = 0; k < samples.columns.size(); ++k) {
            const double v = samples.columns[k].numbers[i];
            if (std::isfinite(v)) out += exactNumber(v);
            out += k + 1 < samples.columns.size() ? '\t' : '\n';
        }
    return out;
}

RunSamples runSamplesFrom(std::string_view text, const std::string &where) {
    RunSamples out;
    bool rows = false;
    for (std::size_t number = 1; !text.empty(); ++number) {
        const std::size_t end = std::min(text.find('\n'), text.size());
        std::string_view line = text.substr(0, end);
        text.remove_prefix(std::min(end + 1, text.size()));
        if (!rows) {
            rows = line.empty();
            if (rows) continue;
            if (out.columns.size() == mostRunColumns)
                refuse(where, number, MARKED("expected.fewer_columns", "at most 100 columns"), line);
            out.columns.push_back(columnFrom(line, where, number));
            continue;
        }
        if (out.rows() == mostRunRows)
            refuse(where, number, MARKED("expected.fewer_rows", "at most 200000 rows"), line);
        const std::string_view whole = line;
        if (static_cast<std::size_t>(std::ranges::count(line, '\t')) + 1 != out.columns.size())
            refuse(where, number, MARKED("expected.a_field_a_column", "a field for each column"), whole);
        for (RunColumn &c : out.columns) {
            double v = std::numeric_limits<double>::quiet_NaN();
            const std::string_view part = nextPart(line);
            if (!part.empty() && !isNumber(part, v)) refuse(where, number, numberWanted(), whole);
            c.numbers.push_back(v);
        }
    }
    return out;
}

} // namespace wheelwright
