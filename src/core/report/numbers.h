// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <algorithm>
#include <cmath>
#include <cstddef>

namespace wheelwright {

// The numbers of reports, by what they measure.

inline Measured shareOf(double v, int decimals = -1) {
    return {v, Dimension::ratio, decimals};
}
inline Measured speedOf(double rpm) {
    return {rpm, Dimension::engineSpeed};
}
inline Measured pressureOf(double kpa) {
    return {kpa, Dimension::pressure};
}
inline Measured gaugeOf(double kpa) {
    return {kpa, Dimension::pressureGauge};
}
inline Measured contentOf(double content) {
    return {content, Dimension::content};
}
inline Measured litresOf(double litres, int decimals = 1) {
    return {litres, Dimension::displacement, decimals};
}
inline Measured countOf(std::size_t n) {
    return {static_cast<double>(n), Dimension::count};
}

/// A step of a number of this dimension, with three digits that mean something.
inline Measured stepOf(double step, Dimension of) {
    const Dimension d = differenceOf(of);
    constexpr int digits = 3, most = 6;
    const double size = std::abs(step);
    const int before = size > 0 ? static_cast<int>(std::floor(std::log10(size))) + 1 : 1;
    return {step, d, std::min(std::max(digits - before, 0), most)};
}

/// A number alone, as cells of a grid have it.
inline Phrase number(Measured v) {
    return {MARKED("report.number", "{0}"), {v}};
}
inline Phrase strongNumber(Measured v) {
    return {MARKED("report.strong_number", "⟨{0}⟩"), {v}};
}
inline Phrase strongName(std::string name) {
    return {MARKED("report.strong_name", "⟨{a}⟩"), {}, {std::move(name)}};
}

} // namespace wheelwright
