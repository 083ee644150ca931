// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/options.h"

#include "core/base/error.h"
#include "core/base/iso_date.h"
#include "core/base/text.h"
#include "core/job/job_schema.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <optional>
#include <stdexcept>

namespace wheelwright {
namespace {

std::string rangeWords(const NumberRange &r) {
    std::string words = exactNumber(r.least) + " to " + exactNumber(r.most);
    if (shownInPercent(r.dimension))
        words += ", a fraction";
    else if (const std::string unit = unitSymbol(r.dimension, UnitChoice{}); !unit.empty())
        words += " " + unit;
    return words;
}

std::optional<double> numberIn(std::string_view text) {
    if (text.starts_with('+')) text.remove_prefix(1);
    double v = 0;
    const auto [end, problem] = std::from_chars(text.data(), text.data() + text.size(), v);
    const bool whole = problem == std::errc() && end == text.data() + text.size() && !text.empty();
    return whole && std::isfinite(v) ? std::optional(v) : std::nullopt;
}

CLI::Validator validator(const char *name, const NumberRange &range) {
    return CLI::Validator(
        [where = std::string(name), range](std::string &text) {
            numberFrom(where, text, range); // throws what main() prints
            if (text.starts_with('+')) text.erase(0, 1);
            return std::string();
        },
        "");
}

std::string helpWith(const std::string &help, const NumberRange &range) {
    return help + (help.empty() ? "" : "; ") + rangeWords(range);
}

} // namespace

NumberRange like(const char *path) {
    const Field *f = fieldByPath(path);
    if (!f) throw std::logic_error(std::string("no such field: ") + path);
    return {f->least, f->most, f->dimension, f->whole};
}

NumberRange like(const char *list, const char *key) {
    const RecordList *l = recordListByPath(list);
    if (!l) throw std::logic_error(std::string("no such list: ") + list);
    const auto f = std::ranges::find(l->fields, key, &RecordField::key);
    if (f == l->fields.end()) throw std::logic_error(std::string("no such key: ") + key);
    return {f->least, f->most, f->dimension, false};
}

NumberRange between(double least, double most, Dimension dimension) {
    return {least, most, dimension, false};
}

NumberRange wholeBetween(double least, double most) {
    return {least, most, Dimension::none, true};
}

NumberRange fraction() {
    return {0, 1, Dimension::content, false};
}

double numberFrom(const std::string &where, const std::string &text, const NumberRange &r) {
    const std::optional<double> v = numberIn(text);
    constexpr std::size_t most = 40;
    if (!v || !(*v >= r.least && *v <= r.most))
        throw InputError(where, verbatim((v ? "" : "a number, ") + rangeWords(r)),
                         "'" + echoed(text, most) + "'");
    if (r.whole && *v != std::floor(*v))
        throw InputError(where, verbatim("a whole number"), "'" + echoed(text, most) + "'");
    return *v;
}

template <class Number>
CLI::Option *addNumber(CLI::App *sub, const char *name, Number &target, const NumberRange &range,
                       const std::string &help) {
    return sub->add_option(name, target, helpWith(help, range))
        ->check(validator(name, range))
        ->type_name("FLOAT");
}
template CLI::Option *addNumber(CLI::App *, const char *, double &, const NumberRange &, const std::string &);
template CLI::Option *addNumber(CLI::App *, const char *, int &, const NumberRange &, const std::string &);
template CLI::Option *addNumber(CLI::App *, const char *, std::size_t &, const NumberRange &,
                                const std::string &);

CLI::Option *addNumbers(CLI::App *sub, const char *name, std::vector<double> &target, const NumberRange &each,
                        const std::string &help) {
    return sub->add_option(name, target, helpWith(help, each))
        ->check(validator(name, each))
        ->type_name("FLOAT")
        ->delimiter(',');
}

std::vector<std::pair<double, double>> pairsFrom(const char *name, const std::vector<std::string> &texts,
                                                 const NumberRange &first, const NumberRange &second) {
    std::vector<std::pair<double, double>> pairs;
    for (const std::string &text : texts) {
        const std::size_t colon = text.find(':');
        if (colon == std::string::npos)
            throw InputError(name, verbatim("pairs of numbers such as 12:1.1,14:0.9"),
                             "'" + echoed(text, 40) + "'");
        pairs.emplace_back(numberFrom(name, text.substr(0, colon), first),
                           numberFrom(name, text.substr(colon + 1), second));
    }
    return pairs;
}

void requireDate(const std::string &today) {
    if (!today.empty() && !isIsoDate(today))
        throw InputError("--today", verbatim("a date such as 2001-02-03"), "'" + echoed(today, 40) + "'");
}

void refuseOptions(const CLI::App &sub, std::initializer_list<const char *> options, const Phrase &instead) {
    for (const char *option : options)
        if (sub.count(option) > 0) throw InputError(option, instead, "it beside that");
}

bool given(const CLI::App &sub, const char *option) {
    const CLI::Option *o = sub.get_option_no_throw(option);
    return o && o->count() > 0;
}

} // namespace wheelwright
