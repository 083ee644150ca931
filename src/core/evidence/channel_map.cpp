// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/channel_map.h"

#include "core/base/error.h"
#include "core/job/tank_history.h"
#include "core/study/study.h"

#include <algorithm>
#include <map>

namespace wheelwright {
namespace {

constexpr double gasolineScale = 14.7; // the trade's convention, whatever the fuel

[[noreturn]] void refuseColumn(const MappedColumn &c, const Phrase &expected, const std::string &found) {
    throw InputError("column '" + echoed(c.name, 40) + "'", expected, found);
}

// Of a role, where the file says nothing else.
UnitText unitOf(const ChannelRoleDefinition &role) {
    if (const auto unit = unitFromText(role.unit)) return *unit;
    return {};
}

double afrScale(const MappedColumn &column, const MapSurroundings &around) {
    if (!column.scale) return gasolineScale;
    if (const double *number = std::get_if<double>(&*column.scale)) return *number;
    return std::get<AfrScale>(*column.scale) == AfrScale::gasoline ? gasolineScale : around.fuelStoichiometry;
}

// Kinds whose internal unit is not that of the dimension: durations are held in ms.
double scaleInto(Dimension dimension) {
    constexpr double msPerSecond = 1000;
    return dimension == Dimension::duration ? msPerSecond : 1;
}

} // namespace

bool MappedColumn::operator==(const MappedColumn &o) const {
    return name == o.name && role == o.role && unit == o.unit && scale == o.scale &&
           reference == o.reference && reversed == o.reversed && skipped == o.skipped && formula == o.formula;
}

ChannelConversion conversionOf(const MappedColumn &column, const MapSurroundings &around) {
    ChannelConversion out;
    out.reference = column.reference;
    if (column.role == ChannelRole::none) return out;
    const ChannelRoleDefinition &role = definitionOf(column.role);
    UnitText unit = unitOf(role);
    if (!column.unit.empty()) {
        const auto stated = unitFromText(column.unit);
        const bool number =
            !stated && (role.dimension == Dimension::count || role.dimension == Dimension::none);
        if (!stated && !number)
            refuseColumn(column,
                         MARKED("expected.unit_known", "a unit that is known, such as kPa, psi, °C or %"),
                         "'" + echoed(column.unit, 30) + "'");
        if (stated) unit = *stated;
        if (!number && !fits(unit.kind, role.dimension))
            refuseColumn(column,
                         Phrase{MARKED("expected.unit_of_role", "a unit of '{A}', such as {a}"),
                                {},
                                {std::string(role.unit)},
                                {role.title}},
                         "'" + echoed(column.unit, 30) + "'");
    }
    out.scale = unit.scale;
    out.offset = unit.offset;
    if (unit.kind == UnitKind::airFuelRatio) out.scale /= afrScale(column, around);
    if (role.dimension == Dimension::pressure) {
        if (out.reference == PressureReference::notSaid) out.reference = unit.reference;
        if (out.reference == PressureReference::gauge) out.offset += around.ambientKpa;
    }
    out.scale *= scaleInto(role.dimension);
    if (column.reversed) out.scale = -out.scale;
    return out;
}

MapSurroundings surroundingsIn(const Study &study, std::optional<double> content) {
    const Job &job = study.job();
    double burned = job.calibration.baseContent;
    try {
        burned = content ? *content : alcoholOf(tankNow(job).content);
    } catch (const InputError &) {
        // A tank that nobody can have filled so: the base fuel is as good a guess as any.
    }
    return {job.conditions.ambientKpa, study.fuelAt(burned).stoichiometricAfr};
}

ChannelMap fitted(const ChannelMap &map, const LogLayout &layout) {
    ChannelMap out{{}, map.decimal, map.delimiter};
    for (const LogColumn &c : layout.columns)
        out.columns.push_back({.name = c.name});
    std::vector<bool> taken(layout.columns.size(), false);
    for (const MappedColumn &m : map.columns) {
        if (!m.formula.empty()) continue;
        std::size_t at = 0;
        while (at < layout.columns.size() && (taken[at] || layout.columns[at].name != m.name))
            ++at;
        if (at == layout.columns.size())
            refuseColumn(m, MARKED("expected.column_of_file", "the name of a column of the file"),
                         "none of it");
        taken[at] = true;
        out.columns[at] = m;
    }
    for (const MappedColumn &m : map.columns)
        if (!m.formula.empty() && !m.skipped) {
            sourcesOf(m, out, layout);
            out.columns.push_back(m);
        }
    std::map<std::pair<ChannelRole, std::size_t>, std::string> holder;
    for (std::size_t i = 0; i < out.columns.size(); ++i) {
        const MappedColumn &m = out.columns[i];
        if (m.role == ChannelRole::none || m.skipped) continue;
        const std::size_t clock = i < layout.columns.size()
                                      ? layout.columns[i].clock
                                      : layout.columns[sourcesOf(m, out, layout).front()].clock;
        const auto [at, fresh] = holder.emplace(std::pair{m.role, clock}, m.name);
        if (!fresh)
            refuseColumn(m,
                         Phrase{MARKED("expected.role_once", "one column for '{A}'"),
                                {},
                                {},
                                {definitionOf(m.role).title}},
                         "'" + echoed(at->second, 40) + "' too");
    }
    return out;
}

std::vector<std::size_t> sourcesOf(const MappedColumn &worked, const ChannelMap &map,
                                   const LogLayout &layout) {
    const std::string where = "column '" + echoed(worked.name, 40) + "'";
    std::vector<std::size_t> out;
    try {
        const Formula formula(worked.formula); // outlives the loop over its names
        for (const Formula::Name &name : formula.names()) {
            std::size_t at = 0;
            const auto is = [&](std::size_t i) {
                const MappedColumn &m = map.columns[i];
                return name.column ? m.name == name.text
                                   : !m.skipped && definitionOf(m.role).key == name.text;
            };
            while (at < layout.columns.size() && !is(at))
                ++at;
            if (at == layout.columns.size())
                throw InputError(
                    "formula",
                    name.column ? MARKED("expected.column_of_file", "the name of a column of the file")
                                : MARKED("expected.role_of_file", "a role that a column of the file has"),
                    "'" + echoed(name.text, 40) + "'");
            if (layout.columns[at].kind == ChannelKind::words)
                throw InputError("formula", MARKED("expected.column_of_numbers", "a column of numbers"),
                                 "'" + echoed(name.text, 40) + "'");
            out.push_back(at);
        }
    } catch (const InputError &e) {
        throw InputError(where + ", " + e.where(), e.expected(), e.found());
    }
    for (const std::size_t at : out)
        if (clockOf(map, layout, at) != clockOf(map, layout, out.front()))
            throw InputError(where + ", formula",
                             MARKED("expected.one_clock", "channels that were taken at the same times"),
                             "'" + echoed(map.columns[at].name, 40) + "', which was not");
    return out;
}

LogColumn workedPreview(const MappedColumn &worked, const ChannelMap &map, const LogLayout &layout,
                        const MapSurroundings &around) {
    LogColumn out;
    out.name = worked.name;
    const std::vector<std::size_t> sources = sourcesOf(worked, map, layout);
    out.clock = layout.columns[sources.front()].clock;
    const Formula formula(worked.formula);
    std::size_t count = layout.columns[sources.front()].preview.size();
    for (const std::size_t s : sources)
        count = std::min(count, layout.columns[s].preview.size());
    std::vector<double> values(sources.size());
    for (std::size_t i = 0; i < count; ++i) {
        for (std::size_t k = 0; k < sources.size(); ++k)
            values[k] = sourceConversion(formula.names()[k], map.columns[sources[k]],
                                         around)(layout.columns[sources[k]].preview[i]);
        out.preview.push_back(formula(values));
    }
    return out;
}

SourceConversion sourceConversion(const Formula::Name &name, const MappedColumn &column,
                                  const MapSurroundings &around) {
    if (name.column) return {};
    const ChannelConversion c = conversionOf(column, around);
    return {c.scale, c.offset};
}

std::optional<std::size_t> clockOf(const ChannelMap &map, const LogLayout &layout, std::size_t column) {
    if (column >= layout.columns.size())
        return clockOf(map, layout, sourcesOf(map.columns[column], map, layout).front());
    if (layout.columns[column].knownClock) return layout.columns[column].clock;
    for (std::size_t i = 0; i < map.columns.size(); ++i)
        if (map.columns[i].role == ChannelRole::time && !map.columns[i].skipped) return i;
    return std::nullopt;
}

std::vector<LogChannel> channelsFrom(const ChannelMap &map, const LogLayout &layout,
                                     const MapSurroundings &around) {
    std::vector<LogChannel> out;
    for (std::size_t i = 0; i < map.columns.size(); ++i) {
        const MappedColumn &m = map.columns[i];
        const ChannelConversion c = conversionOf(m, around);
        const std::optional<std::size_t> clock = clockOf(map, layout, i);
        LogChannel channel;
        channel.name = m.name;
        channel.role = m.role;
        channel.unit = m.unit;
        channel.reference = c.reference;
        channel.scale = c.scale;
        channel.offset = c.offset;
        channel.kind = clock == i                  ? ChannelKind::clock
                       : i < layout.columns.size() ? layout.columns[i].kind
                                                   : ChannelKind::number;
        channel.formula = m.formula;
        channel.series = static_cast<double>(i);
        channel.clock = static_cast<double>(clock.value_or(0));
        out.push_back(std::move(channel));
    }
    return out;
}

} // namespace wheelwright
