// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/channel_map.h"
#include "core/evidence/log_trace.h"
#include "core/live/row_sink.h"

#include <array>
#include <optional>
#include <span>

namespace wheelwright {

/// What the channels of a bus are to the engine, in the internal units of the roles.
class LiveRoles {
  public:
    /// layout: liveLayout(); map: fitted to it. Throws InputError as conversionOf().
    LiveRoles(const LogLayout &layout, const ChannelMap &map, const MapSurroundings &around);

    bool has(ChannelRole role) const { return m_places[static_cast<std::size_t>(role)].has_value(); }
    /// values: of the channels, as LiveReader has them. Not a number where there is no such channel, or it is
    /// silent.
    double value(ChannelRole role, std::span<const double> values) const;
    /// Rows as a log that can be judged. content: stated; else that of its channel.
    LogTrace trace(const LiveRows &rows, std::optional<double> content) const;

  private:
    struct Place {
        std::size_t channel;
        ChannelConversion conversion;
    };
    std::array<std::optional<Place>, channelRoleCount> m_places{};
};

} // namespace wheelwright
