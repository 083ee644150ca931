// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/live/live_roles.h"

#include <limits>

namespace wheelwright {
namespace {

constexpr double missingValue = std::numeric_limits<double>::quiet_NaN();

} // namespace

LiveRoles::LiveRoles(const LogLayout &layout, const ChannelMap &map, const MapSurroundings &around) {
    const ChannelMap own = fitted(map, layout);
    for (std::size_t i = 1; i + 1 < layout.columns.size(); ++i) { // between the clock and the events
        const MappedColumn &c = own.columns[i];
        if (c.role == ChannelRole::none || c.role == ChannelRole::time || c.skipped) continue;
        m_places[static_cast<std::size_t>(c.role)] = Place{i - 1, conversionOf(c, around)};
    }
}

double LiveRoles::value(ChannelRole role, std::span<const double> values) const {
    const auto &place = m_places[static_cast<std::size_t>(role)];
    if (!place || place->channel >= values.size()) return missingValue;
    return values[place->channel] * place->conversion.scale + place->conversion.offset;
}

LogTrace LiveRoles::trace(const LiveRows &rows, std::optional<double> content) const {
    std::vector<double> times(rows.count());
    for (std::size_t r = 0; r < times.size(); ++r)
        times[r] = rows.row(r)[0];
    std::vector<std::pair<ChannelRole, std::vector<double>>> columns;
    for (std::size_t i = 0; i < m_places.size(); ++i) {
        if (!m_places[i]) continue;
        std::vector<double> column(times.size());
        for (std::size_t r = 0; r < times.size(); ++r)
            column[r] = value(static_cast<ChannelRole>(i), rows.row(r).subspan(1));
        columns.emplace_back(static_cast<ChannelRole>(i), std::move(column));
    }
    return {std::move(times), std::move(columns), content ? ContentBasis::stated : ContentBasis::channel,
            content.value_or(0)};
}

} // namespace wheelwright
