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

double LeanLine::at(double loadKpa, double ethanolMoles, double methanolMoles) const {
    const double gasoline = m_gasoline.at(loadKpa);
    return gasoline + ethanolMoles * m_ethanolAllowance + methanolMoles * (m_methanol.at(loadKpa) - gasoline);
}

double LeanLine::atFullThrottle(double loadKpa, double ambientKpa, double ethanolMoles,
                                double methanolMoles) const {
    constexpr double begins = 0.9; // of the air around: common practice
    const double cruise = at(loadKpa, ethanolMoles, methanolMoles);
    const double full = m_fullLoad + ethanolMoles * m_ethanolAllowance;
    const double share = std::clamp((loadKpa / ambientKpa - begins) / (1 - begins), 0.0, 1.0);
    return std::min(cruise, cruise + share * (full - cruise));
}

double richLine(const Limits &limits, double ethanolMoles, double methanolMoles) {
    return (1 - ethanolMoles - methanolMoles) * limitOf(limits, "lambda.rich.gasoline") +
           ethanolMoles * limitOf(limits, "lambda.rich.ethanol") +
           methanolMoles * limitOf(limits, "lambda.rich.methanol");
}

} // namespace wheelwright
