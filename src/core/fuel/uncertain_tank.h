// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/fuel/tank.h"

namespace wheelwright {

/// A tank whose volume and content are known only so well. Every step carries the variances on to first
/// order, with the covariance between volume and content that pouring makes (JCGM 100:2008, eq. 13). Contents
/// are held to 0–1 by what is mixed, their uncertainty is not.
class UncertainTank {
  public:
    /// Nothing in it; any content is as likely as any other (rectangular distribution).
    UncertainTank() = default;
    UncertainTank(Uncertain volumeL, Uncertain content);

    Uncertain volumeL() const;
    Uncertain content() const;

    void pour(Uncertain litres, Uncertain content);
    void take(Uncertain litres); ///< drained or burned: the content stays
    void setLevel(Uncertain litres);
    void setContent(Uncertain content);

  private:
    static constexpr double anyContentVariance = 1.0 / 12; // of a rectangle from 0 to 1
    double m_volume = 0, m_content = 0;
    double m_volumeVariance = 0, m_contentVariance = anyContentVariance, m_covariance = 0;
};

} // namespace wheelwright
