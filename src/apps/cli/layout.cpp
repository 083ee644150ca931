// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/layout.h"

#include "core/base/text.h"

#include <algorithm>
#include <vector>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;
constexpr std::size_t widest = 100;    // columns of a terminal that are read without turning the head
constexpr std::size_t widestCell = 48; // of a table; longer words go under it

// Code points, which is what is seen: units and signs are more than a byte.
std::size_t seen(const std::string &text) {
    return static_cast<std::size_t>(
        std::ranges::count_if(text, [](char c) { return (static_cast<unsigned char>(c) & 0xC0U) != 0x80U; }));
}

std::string padded(std::string text, std::size_t width, bool right = false) {
    const std::size_t length = seen(text);
    const std::string space(width > length ? width - length : 0, ' ');
    return right ? space + text : text + space;
}

std::string number(double v) {
    constexpr int digits = 6; // more than any sensor has
    return generalNumber(v, digits);
}

std::string scalar(const Json &v) {
    if (v.is_string()) return v.get<std::string>();
    if (v.is_boolean()) return v.get<bool>() ? "yes" : "no";
    if (v.is_number_float()) return number(v.get<double>());
    if (v.is_null()) return "-";
    return v.dump();
}

bool isScalar(const Json &v) {
    return !v.is_structured();
}

// Lines of at most so many columns, broken between words.
std::vector<std::string> wrapped(const std::string &text, std::size_t width) {
    std::vector<std::string> lines(1);
    for (std::size_t from = 0; from < text.size();) {
        const std::size_t end = std::min(text.find_first_of(" \n", from), text.size());
        const std::string word = text.substr(from, end - from);
        if (!lines.back().empty() && seen(lines.back()) + 1 + seen(word) > width)
            lines.push_back(word);
        else
            lines.back() += (lines.back().empty() ? "" : " ") + word;
        if (end < text.size() && text[end] == '\n') lines.emplace_back();
        from = end + 1;
    }
    return lines;
}

// "0–0.09 not_judged, 0.1–0.29 held": a list of places, of each the same one thing.
bool isRanges(const Json &list) {
    return list.is_array() && !list.empty() && std::ranges::all_of(list, [](const Json &row) {
               return row.is_object() && row.size() == 2 && row.begin()->is_number() &&
                      std::next(row.begin()).key() == "state";
           });
}

std::string ranges(const Json &list) {
    std::string out;
    for (std::size_t i = 0; i < list.size();) {
        const Json &state = *std::next(list[i].begin());
        std::size_t end = i;
        while (end + 1 < list.size() && *std::next(list[end + 1].begin()) == state)
            ++end;
        out += (out.empty() ? "" : ", ") + scalar(*list[i].begin()) +
               (end > i ? "–" + scalar(*list[end].begin()) : "") + " " + scalar(state);
        i = end + 1;
    }
    return out;
}

std::string joined(const Json &list) {
    std::string out;
    for (const Json &v : list)
        out += (out.empty() ? "" : ", ") + (v.is_array() && std::ranges::all_of(v, isScalar)
                                                ? "[" + joined(v) + "]"
                                            : isScalar(v) ? scalar(v)
                                                          : v.dump());
    return out;
}

// Of a record inside a table: what it says, without its keys where it is short.
std::string inOneLine(const Json &v) {
    if (isScalar(v)) return scalar(v);
    if (isRanges(v)) return ranges(v);
    if (v.is_array()) {
        std::string out;
        for (const Json &e : v)
            out += (out.empty() ? "" : ", ") + inOneLine(e);
        return out;
    }
    std::string out;
    for (const auto &[key, value] : v.items())
        out += (out.empty() ? "" : ", ") + key + " " + inOneLine(value);
    return out;
}

bool isTable(const Json &list) {
    return list.is_array() && !list.empty() &&
           std::ranges::all_of(list, [](const Json &row) { return row.is_object(); });
}

// Texts of more than a few words each.
bool isSentences(const Json &list) {
    constexpr std::size_t fewWords = 30;
    return list.is_array() && std::ranges::all_of(list, [](const Json &v) { return v.is_string(); }) &&
           std::ranges::any_of(list, [](const Json &v) { return v.get<std::string>().size() > fewWords; });
}

// Under each row what is too long for a column.
void addTable(std::string &out, const Json &list, std::size_t indent) {
    std::vector<std::string> keys;
    for (const Json &row : list)
        for (const auto &[key, v] : row.items())
            if (std::ranges::find(keys, key) == keys.end()) keys.push_back(key);
    const auto cell = [](const Json &row, const std::string &key) {
        return row.contains(key) ? inOneLine(row.at(key)) : std::string();
    };
    std::vector<std::string> columns, under;
    std::vector<std::size_t> widths;
    std::vector<bool> numbers;
    std::size_t width = indent;
    for (const std::string &key : keys) {
        std::size_t most = seen(key);
        bool numeric = true;
        for (const Json &row : list) {
            most = std::max(most, seen(cell(row, key)));
            numeric = numeric && (!row.contains(key) || row.at(key).is_number());
        }
        if (most > widestCell || width + most + 2 > widest) {
            under.push_back(key);
            continue;
        }
        width += most + 2;
        columns.push_back(key);
        widths.push_back(most);
        numbers.push_back(numeric);
    }
    const std::string margin(indent, ' ');
    const auto line = [&](auto textOf) {
        std::string text = margin;
        for (std::size_t c = 0; c < columns.size(); ++c)
            text += (c > 0 ? "  " : "") + padded(textOf(columns[c]), widths[c], numbers[c]);
        text.erase(text.find_last_not_of(' ') + 1);
        out += text + '\n';
    };
    if (!columns.empty()) line([](const std::string &key) { return key; });
    for (const Json &row : list) {
        if (!columns.empty()) line([&](const std::string &key) { return cell(row, key); });
        for (const std::string &key : under) {
            constexpr std::size_t deeper = 4;
            if (row.contains(key) && isTable(row.at(key)) && !isRanges(row.at(key))) {
                out += margin + std::string(deeper, ' ') + key + '\n';
                addTable(out, row.at(key), indent + deeper + 2);
                continue;
            }
            const std::string text = cell(row, key);
            if (text.empty()) continue;
            const std::vector<std::string> lines =
                wrapped(key + ": " + text, widest > indent + deeper ? widest - indent - deeper : widest);
            for (const std::string &l : lines)
                out += margin + std::string(deeper, ' ') + l + '\n';
        }
    }
}

void add(std::string &out, const Json &object, std::size_t indent) {
    // Side by side where the eye takes it in at once; a long list is read line by line.
    constexpr std::size_t atOnce = 20;
    std::size_t width = 0;
    for (const auto &[key, v] : object.items())
        if (isScalar(v) && object.size() <= atOnce) width = std::max(width, seen(key));
    const std::string margin(indent, ' ');
    for (const auto &[key, v] : object.items()) {
        if (isTable(v) && !isRanges(v)) {
            out += margin + key + '\n';
            addTable(out, v, indent + 2);
            continue;
        }
        if (v.is_object() && !v.empty()) {
            out += margin + key + '\n';
            add(out, v, indent + 2);
            continue;
        }
        if (isSentences(v)) {
            out += margin + key + '\n';
            for (const Json &sentence : v)
                for (const std::string &line : wrapped(scalar(sentence), widest - indent - 2))
                    out += margin + "  " + line + '\n';
            continue;
        }
        const std::string text = isScalar(v)   ? scalar(v)
                                 : isRanges(v) ? ranges(v)
                                 : v.empty()   ? "-"
                                               : joined(v);
        const std::string name = margin + padded(key, isScalar(v) ? width : seen(key)) + "  ";
        const std::size_t at = std::min(seen(name), widest / 2);
        bool first = true;
        for (const std::string &line : wrapped(text, widest - at)) {
            out += (first ? name : std::string(at, ' ')) + line + '\n';
            first = false;
        }
    }
}

} // namespace

std::string laidOut(const Json &result) {
    std::string out;
    if (result.is_object())
        add(out, result, 0);
    else if (isTable(result))
        addTable(out, result, 0);
    else
        out = inOneLine(result) + '\n';
    return out;
}

} // namespace wheelwright
