// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/numbers.h"
#include "core/report/report.h"
#include "core/runs/run_gain.h"

#include <cmath>
#include <string>

namespace wheelwright {

// What reports of runs have in common.

inline Measured kilowatts(double kw) {
    return {kw, Dimension::power, 1};
}
inline Measured newtonMetres(double nm) {
    return {nm, Dimension::torque, 0};
}

// A number with its ±, or alone where nobody knows it.
inline Phrase withHalf(Measured mean, double half) {
    if (!std::isfinite(half)) return number(mean);
    Measured around = mean;
    around.value = half;
    return {MARKED("runs.with_half", "{0} ± {1}"), {mean, around}};
}

inline Phrase gainPhrase(const GainEstimate &g) {
    return withHalf(kilowatts(g.mean), g.halfWidth());
}

inline Sentence quietDash() {
    return {verbatim("–"), Tone::quiet};
}

inline Sentence words(const std::string &text) {
    return text.empty() ? quietDash() : Sentence(verbatim(text));
}

} // namespace wheelwright
