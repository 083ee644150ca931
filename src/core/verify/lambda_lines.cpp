#include "core/verify/lambda_lines.h"

#include "core/verify/limits.h"

namespace wheelwright {

LeanLine::LeanLine(const Job &job)
    : m_gasoline({100, 120, 150, 200, 250},
                 {limitOf(job, "lambda.lean.100kpa"), limitOf(job, "lambda.lean.120kpa"),
                  limitOf(job, "lambda.lean.150kpa"), limitOf(job, "lambda.lean.200kpa"),
                  limitOf(job, "lambda.lean.250kpa")}),
      m_methanol({100, 150},
                 {limitOf(job, "lambda.lean.100kpa"), limitOf(job, "lambda.lean.methanol_150kpa")}),
      m_ethanolAllowance(limitOf(job, "lambda.lean.ethanol_allowance")) {}

double LeanLine::at(double loadKpa, double ethanolMoles, double methanolMoles) const {
    const double gasoline = m_gasoline.at(loadKpa);
    return gasoline + ethanolMoles * m_ethanolAllowance + methanolMoles * (m_methanol.at(loadKpa) - gasoline);
}

double richLine(const Job &job, double ethanolMoles, double methanolMoles) {
    return (1 - ethanolMoles - methanolMoles) * limitOf(job, "lambda.rich.gasoline") +
           ethanolMoles * limitOf(job, "lambda.rich.ethanol") +
           methanolMoles * limitOf(job, "lambda.rich.methanol");
}

} // namespace wheelwright
