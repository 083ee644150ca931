// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/practice_csv.h"

#include "core/base/error.h"
#include "core/runs/run_intake.h"

#include <algorithm>
#include <charconv>

namespace wheelwright {
namespace {

void append(std::string &to, double v, int decimals) {
    char text[40];
    const auto [end, problem] =
        std::to_chars(text, text + sizeof text, v, std::chars_format::fixed, decimals);
    const std::string_view written(text, problem == std::errc{} ? static_cast<std::size_t>(end - text) : 0);
    // No zero with a sign.
    const bool zero = written.starts_with('-') && written.find_first_not_of("-0.") == std::string_view::npos;
    to += zero ? written.substr(1) : written;
}

template <class Columns>
std::string header(const Columns &columns) {
    std::string line;
    for (const auto &c : columns)
        line += (line.empty() ? "" : ",") + std::string(c.key);
    return line + "\n";
}

template <class Columns, class Row>
void appendNumbers(std::string &to, const Columns &columns, const Row &row) {
    bool first = true;
    for (const auto &c : columns) {
        if (!first) to += ',';
        first = false;
        append(to, row.*c.member, c.decimals);
    }
}

} // namespace

std::string practiceLogHeader(bool dyno) {
    std::string line = header(practiceChannels());
    if (dyno) line.insert(line.size() - 1, ",dyno_torque_nm,dyno_map_kpa");
    return line;
}

void appendPracticeRow(std::string &to, const PracticeSample &sample, const PracticeTruth *dyno) {
    appendNumbers(to, practiceChannels(), sample);
    if (dyno)
        for (const double v : {dyno->dynoTorqueNm, dyno->mapKpa}) {
            to += ',';
            append(to, v, 1);
        }
    to += '\n';
}

std::vector<PracticeSample> practiceLogFrom(std::string_view text) {
    const auto line = [&text] {
        const std::size_t end = std::min(text.find('\n'), text.size());
        const std::string_view out = text.substr(0, end);
        text.remove_prefix(std::min(end + 1, text.size()));
        return out;
    };
    std::string head(line());
    if (head + "\n" != practiceLogHeader())
        throw InputError("line 1", MARKED("expected.practice_log", "the log of a practice engine"),
                         MARKED("found.something_else", "something else"));
    std::vector<PracticeSample> out;
    for (std::size_t number = 2; !text.empty(); ++number) {
        std::string_view rest = line();
        PracticeSample &s = out.emplace_back();
        for (const PracticeChannel &c : practiceChannels()) {
            const auto [end, problem] = std::from_chars(rest.data(), rest.data() + rest.size(), s.*c.member);
            if (problem != std::errc{})
                throw InputError(
                    "line " + std::to_string(number),
                    Phrase{MARKED("expected.a_number_for", "a number for {a}"), {}, {std::string(c.key)}},
                    "'" + echoed(std::string(rest), 20) + "'");
            rest.remove_prefix(std::min(static_cast<std::size_t>(end - rest.data()) + 1, rest.size()));
        }
    }
    return out;
}

std::string dynoRunCsv(const DynoRun &run) {
    std::string out;
    const auto say = [&](const char *key, const std::string &value) {
        out += "# " + std::string(key) + ": " + value + "\n";
    };
    const auto number = [](double v, int decimals) {
        std::string text;
        append(text, v, decimals);
        return text;
    };
    say("run", std::to_string(run.number));
    say("source", std::string(practiceSource));
    if (!run.note.empty()) {
        std::string oneLine = run.note;
        for (char &c : oneLine)
            if (c == '\n' || c == '\r') c = ' ';
        say("note", oneLine);
    }
    say("mode", std::string(dynoModeIds()[static_cast<std::size_t>(run.mode) - 1]));
    say("gear", number(run.gear, 0));
    say("start_s", number(run.startS, 2));
    say("ambient_kpa", number(run.ambientKpa, 2));
    say("ambient_c", number(run.ambientC, 1));
    say("humidity", number(run.humidity, 3));
    say("start_intake_c", number(run.startIntakeC, 1));
    say("start_coolant_c", number(run.startCoolantC, 1));
    say("start_ethanol_percent", number(run.startContentPercent, 1));
    say("correction", "none");
    say("smoothing", "none");
    out += header(dynoColumns());
    for (const DynoRow &row : run.rows) {
        appendNumbers(out, dynoColumns(), row);
        out += '\n';
    }
    return out;
}

} // namespace wheelwright
