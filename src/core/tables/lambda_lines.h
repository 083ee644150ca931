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
    /// Where no boost is to be had: close to the air around is full throttle, which wants its mixture richer
    /// than a cruise at that pressure. From nine tenths of the ambient pressure on.
    double atFullThrottle(double loadKpa, double ambientKpa, double ethanolMoles, double methanolMoles) const;

  private:
    Curve m_gasoline;
    Curve m_methanol;
    double m_ethanolAllowance;
    double m_fullLoad;
};

/// The richest λ allowed, by mole fraction of the alcohols.
double richLine(const Limits &limits, double ethanolMoles, double methanolMoles);

} // namespace wheelwright
