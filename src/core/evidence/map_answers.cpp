// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/map_answers.h"

#include "core/base/error.h"

#include <algorithm>
#include <limits>

namespace wheelwright {
namespace {

class Answers {
  public:
    explicit Answers(const MappedColumn &column) : m_column(column) {
        m_column.question = {};
        m_column.confidence = 1;
    }
    template <class Change>
    void add(PhraseText words, Change change) {
        MappedColumn as = m_column;
        change(as);
        m_all.push_back({Phrase(words), as});
    }
    std::vector<MapAnswer> all() && { return std::move(m_all); }

  private:
    MappedColumn m_column;
    std::vector<MapAnswer> m_all;
};

void askUnit(Answers &out, std::initializer_list<std::pair<PhraseText, const char *>> units) {
    for (const auto &[words, unit] : units)
        out.add(words, [unit = unit](MappedColumn &m) { m.unit = unit; });
}

} // namespace

std::vector<MapAnswer> answersFor(const MappedColumn &column) {
    Answers out(column);
    const auto unit = unitFromText(column.unit);
    switch (definitionOf(column.role).dimension) {
    case Dimension::mixture:
        if (unit && unit->kind == UnitKind::airFuelRatio) {
            out.add(MARKED("map.answer.gasoline", "14.7, whatever the fuel"),
                    [](MappedColumn &m) { m.scale = AfrScale::gasoline; });
            out.add(MARKED("map.answer.true", "The fuel's own"),
                    [](MappedColumn &m) { m.scale = AfrScale::trueOfFuel; });
        }
        out.add(MARKED("map.answer.lambda", "It is λ"), [](MappedColumn &m) {
            m.unit = "lambda";
            m.scale.reset();
        });
        break;
    case Dimension::pressure:
        out.add(MARKED("map.answer.absolute", "Absolute"),
                [](MappedColumn &m) { m.reference = PressureReference::absolute; });
        out.add(MARKED("map.answer.gauge", "Gauge"),
                [](MappedColumn &m) { m.reference = PressureReference::gauge; });
        break;
    case Dimension::content:
    case Dimension::ratio:
        askUnit(out, {{MARKED("map.answer.percent", "0 to 100 %"), "%"},
                      {MARKED("map.answer.fraction", "0 to 1"), "fraction"}});
        break;
    case Dimension::temperature:
        askUnit(out,
                {{MARKED("map.answer.celsius", "°C"), "°C"}, {MARKED("map.answer.fahrenheit", "°F"), "°F"}});
        break;
    case Dimension::seconds:
        askUnit(out, {{MARKED("map.answer.seconds", "Seconds"), "s"},
                      {MARKED("map.answer.milliseconds", "Milliseconds"), "ms"},
                      {MARKED("map.answer.microseconds", "Microseconds"), "µs"}});
        break;
    case Dimension::sparkAngle:
        out.add(MARKED("map.answer.as_is", "As it stands"), [](MappedColumn &m) { m.reversed = false; });
        out.add(MARKED("map.answer.reversed", "With the other sign"),
                [](MappedColumn &m) { m.reversed = true; });
        break;
    default:
        break;
    }
    return std::move(out).all();
}

MappedColumn withRole(const MappedColumn &column, ChannelRole role, const LogColumn &file) {
    MappedColumn out{.name = column.name, .role = role, .unit = file.unit};
    const ChannelRoleDefinition &definition = definitionOf(role);
    if (role == ChannelRole::none || definition.dimension == Dimension::none) return out;
    for (const std::string &unit : {column.unit, file.unit}) {
        const auto known = unitFromText(unit);
        if (!known || !fits(known->kind, definition.dimension)) continue;
        out.unit = unit;
        if (known->kind == UnitKind::airFuelRatio) out.scale = AfrScale::gasoline;
        return out;
    }
    out.unit = definition.unit;
    return out;
}

MappedColumn workedFrom(std::string_view text) {
    const std::size_t sign = text.find('=');
    const auto trimmed = [](std::string_view s) {
        const std::size_t from = s.find_first_not_of(" \t"), to = s.find_last_not_of(" \t");
        return from == std::string_view::npos ? std::string() : std::string(s.substr(from, to - from + 1));
    };
    const std::string name = trimmed(text.substr(0, sign));
    if (sign == std::string_view::npos || name.empty())
        throw InputError("formula", MARKED("expected.name_is_formula", "a name, = and a formula"),
                         "'" + echoed(std::string(text), 40) + "'");
    MappedColumn out{.name = name, .formula = trimmed(text.substr(sign + 1))};
    const Formula read(out.formula);
    if (const ChannelRoleDefinition *role = roleByKey(name)) {
        out.role = role->role;
        out.unit = role->unit;
    }
    return out;
}

ColumnOutlook outlookOf(const MappedColumn &column, const LogColumn &file, const MapSurroundings &around) {
    ColumnOutlook out;
    if (column.skipped || file.kind == ChannelKind::words) return out;
    const ChannelRoleDefinition &role = definitionOf(column.role);
    ChannelConversion c;
    try {
        c = conversionOf(column, around);
    } catch (const InputError &e) {
        out.plausible = false;
        out.said = e.words();
        return out;
    }
    double least = std::numeric_limits<double>::infinity(), most = -least;
    for (const double v : file.preview)
        if (v == v) {
            least = std::min(least, v * c.scale + c.offset);
            most = std::max(most, v * c.scale + c.offset);
        }
    if (least > most) {
        out.said = Phrase(MARKED("map.outlook.empty", "No number in what was looked at"));
        return out;
    }
    out.least = least;
    out.most = most;
    out.plausible = column.role == ChannelRole::none || (least >= role.least && most <= role.most);
    const std::vector<Measured> ends{{least, role.dimension}, {most, role.dimension}};
    out.said = out.plausible ? Phrase{MARKED("map.outlook", "{0} to {1}"), ends}
                             : Phrase{MARKED("map.outlook.cannot", "{0} to {1}: cannot be"), ends};
    return out;
}

} // namespace wheelwright
