// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/proof.h"

#include <algorithm>

namespace wheelwright {

Proof::Proof(Axis rpm, Axis loadKpa, std::vector<double> bandEnds, std::vector<BeenThere> cells)
    : m_rpm(std::move(rpm)), m_load(std::move(loadKpa)), m_bands(std::move(bandEnds)),
      m_cells(std::move(cells)) {}

std::size_t Proof::bandOf(double content) const {
    const auto above = std::upper_bound(m_bands.begin(), m_bands.end() - 1, content);
    return static_cast<std::size_t>(std::max<std::ptrdiff_t>(1, above - m_bands.begin())) - 1;
}

BeenThere Proof::cell(std::size_t x, std::size_t y, std::size_t band) const {
    return m_cells[(band * m_load.size() + y) * m_rpm.size() + x];
}

BeenThere Proof::at(const OperatingPoint &place) const {
    if (empty()) return BeenThere::never;
    return cell(m_rpm.nearest(place.rpm), m_load.nearest(place.loadKpa), bandOf(place.content));
}

std::optional<double> Proof::highestProven(double content, double rpm) const {
    if (empty()) return std::nullopt;
    const std::size_t x = m_rpm.nearest(rpm), band = bandOf(content);
    for (std::size_t y = m_load.size(); y-- > 0;)
        if (cell(x, y, band) == BeenThere::proven) return m_load[y];
    return std::nullopt;
}

BeenThere Proof::pulls(const Study &study, double content) const {
    return pulls(study, std::span(&content, 1)).front();
}

std::vector<BeenThere> Proof::pulls(const Study &study, std::span<const double> contents) const {
    std::vector<BeenThere> out(contents.size(), BeenThere::never);
    if (empty()) return out;
    const Reach reach(study.job(), m_rpm.points());
    for (std::size_t i = 0; i < contents.size(); ++i)
        out[i] = pullsWithin(reach.at(study.ends(CalibratedQuantity::boost, contents[i])),
                             study.job().engine.revLimitRpm, bandOf(contents[i]));
    return out;
}

BeenThere Proof::pullsWithin(std::span<const ReachAtSpeed> reach, double limit, std::size_t band) const {
    BeenThere all = BeenThere::proven;
    bool any = false;
    for (std::size_t x = 0; x < m_rpm.size(); ++x) {
        if (m_rpm[x] < pullsFromShare * limit || m_rpm[x] > pullsToShare * limit) continue;
        std::size_t top = m_load.size();
        while (top > 0 && !reach[x].reaches(m_load[top - 1]))
            --top;
        if (top == 0) continue;
        any = true;
        BeenThere here = cell(x, top - 1, band);
        if (top > 1) here = std::max(here, cell(x, top - 2, band));
        all = std::min(all, here);
    }
    return any ? all : BeenThere::never;
}

bool Proof::anyProven() const {
    return std::ranges::find(m_cells, BeenThere::proven) != m_cells.end();
}

} // namespace wheelwright
