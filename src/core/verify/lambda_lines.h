#pragma once
#include "core/tables/curve.h"

namespace wheelwright {

struct Job;

/// The leanest λ allowed, over load, by mole fraction of the alcohols. Common practice; points are limits of
/// the job.
class LeanLine {
  public:
    explicit LeanLine(const Job &job);
    double at(double loadKpa, double ethanolMoles, double methanolMoles) const;

  private:
    Curve m_gasoline;
    Curve m_methanol;
    double m_ethanolAllowance;
};

/// The richest λ allowed, by mole fraction of the alcohols.
double richLine(const Job &job, double ethanolMoles, double methanolMoles);

} // namespace wheelwright
