// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/run_csv.h"

#include "core/base/text.h"
#include "core/job/run_samples.h"

#include <algorithm>
#include <charconv>
#include <cmath>

namespace wheelwright {
namespace {

std::string_view trimmedText(std::string_view text) {
    const auto blank = [](char c) { return c == ' ' || c == '\t' || c == '\r'; };
    while (!text.empty() && blank(text.front()))
        text.remove_prefix(1);
    while (!text.empty() && blank(text.back()))
        text.remove_suffix(1);
    return text;
}

// What follows the sign of a remark; empty: it is none.
std::string_view behindSign(std::string_view line) {
    for (const std::string_view sign : {"#", "%", ";", "//"})
        if (line.starts_with(sign)) return trimmedText(line.substr(sign.size()));
    return {};
}

std::string keyFrom(std::string_view text) {
    std::string key;
    for (const char c : trimmedText(text))
        key += c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c == ' ' ? '_' : c;
    return key;
}

std::string quotedField(std::string text) {
    std::ranges::replace_if(
        text, [](char c) { return c == '\n' || c == '\r'; }, ' ');
    if (text.find_first_of(",\"") == std::string::npos) return text;
    std::string out = "\"";
    for (const char c : text)
        out += c == '"' ? std::string("\"\"") : std::string(1, c);
    return out + "\"";
}

std::string_view withoutMark(std::string_view text) {
    if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3); // of the order of bytes
    return text;
}

std::string_view nextLine(std::string_view &text) {
    const std::size_t end = std::min(text.find('\n'), text.size());
    const std::string_view line = text.substr(0, end);
    text.remove_prefix(std::min(end + 1, text.size()));
    return line;
}

void takeRemark(RunRemarks &to, std::string_view line) {
    const std::string_view remark = behindSign(trimmedText(line));
    const std::size_t sign = remark.find_first_of(":=");
    if (sign == std::string_view::npos || sign == 0) return;
    to.try_emplace(keyFrom(remark.substr(0, sign)), std::string(trimmedText(remark.substr(sign + 1))));
}

// The numbers of a line; not a number where a cell is none.
std::vector<double> numbersIn(std::string_view line) {
    std::vector<double> out;
    for (std::size_t at = 0; at <= line.size();) {
        const std::size_t end = std::min(line.find_first_of(",;\t", at), line.size());
        const std::string_view cell = trimmedText(line.substr(at, end - at));
        double v = std::nan("");
        const auto read = std::from_chars(cell.data(), cell.data() + cell.size(), v);
        out.push_back(read.ec == std::errc() && read.ptr == cell.data() + cell.size() ? v : std::nan(""));
        at = end + 1;
    }
    return out;
}

// Whether numbers go on where those before ended: the column that goes furthest, which is the speed or the
// time, leaps by no more than a tenth of its way. Others may be as rough as they are.
bool goesOn(std::string_view before, std::string_view after) {
    constexpr std::size_t looked = 64 << 10; // a text of many remarks is not read again for each
    if (before.size() > looked) {
        before.remove_prefix(before.size() - looked);
        nextLine(before);
    }
    std::vector<double> least, most, last;
    while (!before.empty()) {
        const std::vector<double> row = numbersIn(nextLine(before));
        if (row.empty() || !std::isfinite(row[0])) continue; // names
        if (least.size() != row.size()) least = most = row;
        for (std::size_t k = 0; k < row.size(); ++k) {
            least[k] = std::fmin(least[k], row[k]);
            most[k] = std::fmax(most[k], row[k]);
        }
        last = row;
    }
    std::vector<double> first;
    while (!after.empty() && (first.empty() || !std::isfinite(first[0])))
        first = numbersIn(nextLine(after));
    if (last.empty() || first.size() != last.size()) return false;
    std::size_t widest = 0;
    for (std::size_t k = 1; k < last.size(); ++k)
        if (most[k] - least[k] > most[widest] - least[widest]) widest = k;
    constexpr double leap = 0.1;
    return std::abs(first[widest] - last[widest]) <= leap * (most[widest] - least[widest]);
}

bool beginsWithNumber(std::string_view line) {
    return !line.empty() && std::string_view("0123456789+-.").find(line.front()) != std::string_view::npos;
}

// A remark in the middle of a pull begins no other.
void joinPulls(std::vector<RunPart> &parts) {
    for (std::size_t i = 1; i < parts.size();) {
        RunPart &before = parts[i - 1], &part = parts[i];
        if (!goesOn(before.text, part.text)) {
            ++i;
            continue;
        }
        std::string_view rest = part.text;
        while (!rest.empty() && !beginsWithNumber(trimmedText(rest.substr(0, rest.find('\n')))))
            nextLine(rest); // names that stand there already
        before.text.append(rest);
        before.remarks.merge(part.remarks);
        parts.erase(parts.begin() + static_cast<std::ptrdiff_t>(i));
    }
}

} // namespace

RunRemarks runRemarks(const LogBytes &bytes) {
    constexpr std::size_t looked = 64 << 10;
    std::string head(looked, '\0');
    head.resize(bytes.read(0, head));
    RunRemarks out;
    std::string_view text = withoutMark(head);
    while (!text.empty())
        takeRemark(out, nextLine(text));
    return out;
}

std::vector<RunPart> runParts(const LogBytes &bytes) {
    constexpr std::uint64_t most = 32 << 20;
    if (bytes.size() > most) return {};
    std::string all(static_cast<std::size_t>(bytes.size()), '\0');
    all.resize(bytes.read(0, all));
    std::vector<RunPart> out;
    bool remarked = false; // the line before was a remark
    std::string head;      // names of the columns of the part before
    std::string_view text = withoutMark(all);
    while (!text.empty()) {
        const std::string_view line = nextLine(text), trimmed = trimmedText(line);
        if (trimmed.empty()) continue;
        if (!behindSign(trimmed).empty()) {
            if (!remarked) out.emplace_back();
            takeRemark(out.back().remarks, line);
            remarked = true;
            continue;
        }
        if (out.empty()) return {}; // numbers before any remark: they belong to all
        RunPart &part = out.back();
        if (remarked) {
            if (beginsWithNumber(trimmed))
                part.text = head;
            else
                head = std::string(line) + '\n';
        }
        remarked = false;
        part.text.append(line).append(1, '\n');
    }
    std::erase_if(out, [](const RunPart &p) { return p.text.empty(); });
    joinPulls(out);
    if (out.size() < 2) return {};
    for (std::size_t i = 1; i < out.size(); ++i)
        for (const char *key :
             {"dyno", "mode", "gear", "correction", "ambient_kpa", "ambient_c", "humidity", "source"})
            if (const auto at = out[i - 1].remarks.find(key); at != out[i - 1].remarks.end())
                out[i].remarks.insert(*at);
    return out;
}

std::string runToCsv(const Run &run) {
    std::string out;
    const auto say = [&](const char *key, std::string value) {
        std::ranges::replace_if(
            value, [](char c) { return c == '\n' || c == '\r'; }, ' ');
        if (!value.empty()) out += "# " + std::string(key) + ": " + value + "\n";
    };
    const auto sayNumber = [&](const char *key, double v, bool stated) {
        if (stated) say(key, exactNumber(v));
    };
    say("run", run.id);
    say("fuel", run.fuel);
    sayNumber("content_percent", run.content * 100, run.contentBasis == RunContentBasis::stated);
    say("dyno", run.dyno);
    if (run.mode != RunMode::notSaid) say("mode", std::string(keyOf(run.mode)));
    sayNumber("gear", run.gear, run.gear != 0);
    sayNumber("known_within_percent", run.knownWithin * 100, run.knownWithin != 0);
    sayNumber("smoothed_rpm", run.smoothedRpm, run.smoothedRpm != 0);
    if (run.origin == RunOrigin::practice) say("source", std::string(practiceSource));
    if (run.standard != CorrectionStandard::notSaid) say("correction", std::string(keyOf(run.standard)));
    const bool air = run.ambient != AmbientBasis::none;
    sayNumber("ambient_kpa", run.ambientKpa, air);
    sayNumber("ambient_c", run.ambientC, air);
    sayNumber("humidity", run.humidity, air);
    sayNumber("start_intake_c", run.startIntakeC, run.startIntakeC != 0);
    sayNumber("start_coolant_c", run.startCoolantC, run.startCoolantC != 0);
    sayNumber("start_oil_c", run.startOilC, run.startOilC != 0);
    for (const auto &[key, text] : {std::pair{"day", &run.day},
                                    {"hardware", &run.hardware},
                                    {"cam", &run.cam},
                                    {"change", &run.change},
                                    {"note", &run.note}})
        say(key, *text);
    const RunSamples samples = runSamplesFrom(run.samples.text(), "run " + run.id);
    for (std::size_t k = 0; k < samples.columns.size(); ++k) {
        const RunColumn &c = samples.columns[k];
        // A unit stands behind the name, unless the name holds it already.
        const std::string name = c.unit.empty() || c.name.find(c.unit) != std::string::npos
                                     ? c.name
                                     : c.name + " (" + c.unit + ")";
        out += (k > 0 ? "," : "") + quotedField(name);
    }
    out += '\n';
    for (std::size_t i = 0; i < samples.rows(); ++i)
        for (std::size_t k = 0; k < samples.columns.size(); ++k) {
            const double v = samples.columns[k].numbers[i];
            if (k > 0) out += ',';
            if (std::isfinite(v)) out += exactNumber(v);
            if (k + 1 == samples.columns.size()) out += '\n';
        }
    return out;
}

} // namespace wheelwright
