// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/limits.h"
#include "core/tables/curve.h"

namespace wheelwright {

/// The leanest λ allowed, over load, by mole fraction of the alcohols. Common practice; points are limits.
class LeanLine {
  public:
    explicit LeanLine(const Limits &limits);
    double at(double loadKpa, double ethanolMoles, double methanolMoles) const;

  private:
    Curve m_gasoline;
    Curve m_methanol;
    double m_ethanolAllowance;
};

/// The richest λ allowed, by mole fraction of the alcohols.
double richLine(const Limits &limits, double ethanolMoles, double methanolMoles);

} // namespace wheelwright
