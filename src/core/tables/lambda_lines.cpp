// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tables/lambda_lines.h"

#include <algorithm>

namespace wheelwright {

LeanLine::LeanLine(const Limits &limits)
    : m_gasoline({100, 120, 150, 200, 250},
                 {limitOf(limits, "lambda.lean.100kpa"), limitOf(limits, "lambda.lean.120kpa"),
                  limitOf(limits, "lambda.lean.150kpa"), limitOf(limits, "lambda.lean.200kpa"),
                  limitOf(limits, "lambda.lean.250kpa")}),
      m_methanol({100, 150},
                 {limitOf(limits, "lambda.lean.100kpa"), limitOf(limits, "lambda.lean.methanol_150kpa")}),
      m_ethanolAllowance(limitOf(limits, "lambda.lean.ethanol_allowance")),
      m_fullLoad(limitOf(limits, "lambda.lean.full_load")) {}

double LeanLine::atFullThrottle(double loadKpa, double ambientKpa, double ethanolMoles,
                                double methanolMoles) const {
    return towardsFull(at(loadKpa, ethanolMoles, methanolMoles), fullShareAt(loadKpa, ambientKpa),
                       ethanolMoles);
}

double LeanLine::fullShareAt(double loadKpa, double ambientKpa) {
    constexpr double begins = 0.9; // of the air around: common practice
    return std::clamp((loadKpa / ambientKpa - begins) / (1 - begins), 0.0, 1.0);
}

double richLine(const Limits &limits, double ethanolMoles, double methanolMoles) {
    return (1 - ethanolMoles - methanolMoles) * limitOf(limits, "lambda.rich.gasoline") +
           ethanolMoles * limitOf(limits, "lambda.rich.ethanol") +
           methanolMoles * limitOf(limits, "lambda.rich.methanol");
}

} // namespace wheelwright
