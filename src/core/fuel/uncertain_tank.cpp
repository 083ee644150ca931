// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fuel/uncertain_tank.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {

UncertainTank::UncertainTank(Uncertain volume, Uncertain content) {
    setLevel(volume);
    setContent(content);
}

Uncertain UncertainTank::volumeL() const {
    return {m_volume, std::sqrt(m_volumeVariance)};
}

Uncertain UncertainTank::content() const {
    return {m_content, std::sqrt(m_contentVariance)};
}

void UncertainTank::pour(Uncertain litres, Uncertain content) {
    const double volume = m_volume + litres.value;
    if (!(volume > 0)) return;
    const double mixed = (m_volume * m_content + litres.value * content.value) / volume;
    // c' = (V c + p a)/(V + p) and its derivatives by V, c, p and a; V' = V + p.
    const double byVolume = (m_content - mixed) / volume, byContent = m_volume / volume;
    const double byLitres = (content.value - mixed) / volume, byAdded = litres.value / volume;
    const double litresVariance = litres.sigma * litres.sigma;
    const double contentVariance =
        byVolume * byVolume * m_volumeVariance + byContent * byContent * m_contentVariance +
        2 * byVolume * byContent * m_covariance + byLitres * byLitres * litresVariance +
        byAdded * byAdded * content.sigma * content.sigma;
    m_covariance = byVolume * m_volumeVariance + byContent * m_covariance + byLitres * litresVariance;
    m_volumeVariance += litresVariance;
    m_contentVariance = std::max(0.0, contentVariance);
    m_volume = volume;
    m_content = mixed;
}

void UncertainTank::take(Uncertain litres) {
    m_volume = std::max(0.0, m_volume - litres.value);
    m_volumeVariance += litres.sigma * litres.sigma;
}

void UncertainTank::setLevel(Uncertain litres) {
    m_volume = litres.value;
    m_volumeVariance = litres.sigma * litres.sigma;
    m_covariance = 0;
}

void UncertainTank::setContent(Uncertain content) {
    m_content = content.value;
    m_contentVariance = content.sigma * content.sigma;
    m_covariance = 0;
}

} // namespace wheelwright
