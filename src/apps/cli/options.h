// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/base/unit.h"

#include <CLI/CLI.hpp>

#include <initializer_list>
#include <string>
#include <vector>

namespace wheelwright {

/// What a number on the command line may be. Both ends belong to it; never infinite, never no number.
struct NumberRange {
    double least = 0, most = 0;
    Dimension dimension = Dimension::none;
    bool whole = false;
};

/// As the field of a job that it stands for: "tank.capacity_l". Throws std::logic_error for no such field.
NumberRange like(const char *field);
/// As a number of a list of records: "fuel.shelf", "price_per_l".
NumberRange like(const char *list, const char *key);
NumberRange between(double least, double most, Dimension dimension = Dimension::none);
NumberRange wholeBetween(double least, double most);
/// A volume fraction.
NumberRange fraction();

/// An option that takes a number of that range, or several with commas between. What is not of it is refused
/// while the command line is read, in one sentence, and its help says the range.
template <class Number>
CLI::Option *addNumber(CLI::App *sub, const char *name, Number &target, const NumberRange &range,
                       const std::string &help);
CLI::Option *addNumbers(CLI::App *sub, const char *name, std::vector<double> &target, const NumberRange &each,
                        const std::string &help);

/// The number that a text is, of that range; `where` is the option's name. Throws InputError.
double numberFrom(const std::string &where, const std::string &text, const NumberRange &range);

/// "12:1.1": two numbers of their ranges.
std::vector<std::pair<double, double>> pairsFrom(const char *name, const std::vector<std::string> &texts,
                                                 const NumberRange &first, const NumberRange &second);

/// Whether an option was given; false for one that the command does not have.
bool given(const CLI::App &sub, const char *option);

/// Throws InputError for an option --today that is no date; empty: not given.
void requireDate(const std::string &today);

/// Throws InputError for each of these that was given although it counts for nothing here: nothing is taken
/// in silence. `instead`: what belongs there, "a job alone, which says it".
void refuseOptions(const CLI::App &sub, std::initializer_list<const char *> options, const Phrase &instead);

} // namespace wheelwright
