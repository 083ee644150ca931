// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/limits.h"
#include "core/tables/curve.h"

#include <algorithm>

namespace wheelwright {

/// The leanest λ allowed, over load, by mole fraction of the alcohols. Common practice; points are limits.
class LeanLine {
  public:
    explicit LeanLine(const Limits &limits);
    double at(double loadKpa, double ethanolMoles, double methanolMoles) const {
        return of(partsAt(loadKpa), ethanolMoles, methanolMoles);
    }
    /// What the fuel does not change of it.
    struct Parts {
        double gasoline, methanol;
    };
    Parts partsAt(double loadKpa) const { return {m_gasoline.at(loadKpa), m_methanol.at(loadKpa)}; }
    double of(Parts p, double ethanolMoles, double methanolMoles) const {
        return p.gasoline + ethanolMoles * m_ethanolAllowance + methanolMoles * (p.methanol - p.gasoline);
    }
    /// Where no boost is to be had: close to the air around is full throttle, which wants its mixture richer
    /// than a cruise at that pressure. From nine tenths of the ambient pressure on.
    double atFullThrottle(double loadKpa, double ambientKpa, double ethanolMoles, double methanolMoles) const;
    /// How close a load is to full throttle, 0–1; and the line that far from a cruise's to that of full load.
    static double fullShareAt(double loadKpa, double ambientKpa);
    double towardsFull(double cruise, double share, double ethanolMoles) const {
        const double full = m_fullLoad + ethanolMoles * m_ethanolAllowance;
        return std::min(cruise, cruise + share * (full - cruise));
    }

  private:
    Curve m_gasoline;
    Curve m_methanol;
    double m_ethanolAllowance;
    double m_fullLoad;
};

/// The richest λ allowed, by mole fraction of the alcohols.
double richLine(const Limits &limits, double ethanolMoles, double methanolMoles);

} // namespace wheelwright
