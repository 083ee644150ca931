// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/runs/run_columns.h"

#include "core/base/error.h"
#include "core/base/median.h"
#include "core/base/quantity.h"
#include "core/runs/run_curve.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <optional>

namespace wheelwright {
namespace {

using R = ChannelRole;

/// Keeps all that a file holds: files of runs are short.
class KeptColumns : public SampleSink {
  public:
    explicit KeptColumns(std::size_t columns) : m_columns(columns) {}
    void put(std::size_t series, std::span<const double> samples) override {
        std::vector<double> &to = m_columns[series];
        if (to.size() + samples.size() > mostRunRows)
            throw InputError(
                "file",
                Phrase{MARKED("expected.rows_of_run", "at most {a} rows"), {}, {std::to_string(mostRunRows)}},
                MARKED("found.more", "more"));
        to.insert(to.end(), samples.begin(), samples.end());
    }
    std::vector<std::vector<double>> m_columns;
};

struct Column {
    std::string name;
    MappedColumn map;
    bool unitSaid = false;
    std::vector<double> numbers;
};

// "Power (HP) run 2" is "power hp run": what pulls side by side have in common, and their number.
std::string lettersOf(std::string_view name) {
    std::string out;
    for (const char c : name) {
        if (c >= '0' && c <= '9') continue;
        out += c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
    }
    return out;
}

std::vector<std::string> partsOf(std::string_view name) {
    std::vector<std::string> parts(1);
    for (const char c : lettersOf(name)) {
        const bool letter = (c >= 'a' && c <= 'z') || static_cast<unsigned char>(c) >= 0x80;
        if (letter)
            parts.back() += c;
        else if (!parts.back().empty())
            parts.emplace_back();
    }
    if (parts.back().empty()) parts.pop_back();
    return parts;
}

// A unit of that kind as a word of the name: "Power HP", "torque_ft_lbs", "WHP".
std::optional<std::string> unitWithin(std::string_view name, UnitKind kind) {
    const std::vector<std::string> parts = partsOf(name);
    const auto ofKind = [kind](const std::string &text) {
        const auto unit = unitFromText(text);
        return unit && unit->kind == kind;
    };
    for (std::size_t i = 0; i < parts.size(); ++i) {
        if (i + 1 < parts.size() && ofKind(parts[i] + parts[i + 1])) return parts[i] + parts[i + 1];
        if (ofKind(parts[i])) return parts[i];
    }
    return std::nullopt;
}

std::optional<UnitKind> kindOf(R role) {
    if (role == R::torque) return UnitKind::torque;
    if (role == R::power) return UnitKind::power;
    return std::nullopt;
}

constexpr std::array<TorquePowerUnits, 6> identities{{
    // 60 000 / 2π, and that with what a unit is of kW and N·m.
    {"nm", "kw", newtonMetreRpmPerKw},
    {"lbft", "hp", newtonMetreRpmPerKw *kilowattsPerHorsepower / newtonMetresPerPoundFoot},
    {"nm", "hp", newtonMetreRpmPerKw *kilowattsPerHorsepower},
    {"nm", "ps", newtonMetreRpmPerKw *kilowattsPerPs},
    {"lbft", "kw", newtonMetreRpmPerKw / newtonMetresPerPoundFoot},
    {"lbft", "ps", newtonMetreRpmPerKw *kilowattsPerPs / newtonMetresPerPoundFoot},
}};

// Whether numbers go as engine speed does in a pull.
bool looksLikeSpeed(std::span<const double> v) {
    constexpr double least = 300, most = 30'000, leastTop = 1500, leastSpan = 400;
    double low = most, high = 0;
    for (const double x : v)
        if (std::isfinite(x)) {
            low = std::min(low, x);
            high = std::max(high, x);
        }
    return low >= least && high <= most && high >= leastTop && high - low >= leastSpan;
}

class Finder {
  public:
    Finder(const LogSource &source, const MapSurroundings &around, const LogReading &how) : m_around(around) {
        const LogLayout &layout = source.layout();
        KeptColumns kept(layout.columns.size());
        const LogRead read = source.read(kept, how);
        m_said = read.warnings;
        const ChannelMap map = suggestMap(layout);
        for (std::size_t i = 0; i < layout.columns.size(); ++i) {
            Column c{layout.columns[i].name, map.columns[i], !layout.columns[i].unit.empty(),
                     std::move(kept.m_columns[i])};
            c.numbers.resize(read.rows, std::nan(""));
            const bool words = layout.columns[i].kind == ChannelKind::words;
            // A clock without a name is taken for one by its place alone: here speed often stands there.
            constexpr double byItsName = 0.5;
            if (words || (c.map.role == R::time && c.map.confidence <= byItsName)) c.map = {.name = c.name};
            m_columns.push_back(std::move(c));
        }
    }

    void take(const StatedColumn &s) {
        Column &c = m_columns[placeOf(s)];
        for (Column &other : m_columns)
            if (other.map.role == s.role) other.map = {.name = other.name};
        const std::string unit = s.unit.empty() ? c.map.unit : s.unit;
        c.map = {.name = c.name, .role = s.role, .unit = unit};
        c.unitSaid = c.unitSaid || !s.unit.empty();
        m_stated = true;
    }

    RunColumns result() {
        findByUnits();
        for (Column &c : m_columns)
            if (const auto kind = kindOf(c.map.role); kind && !c.unitSaid) {
                const auto unit = unitWithin(c.name, *kind);
                c.unitSaid = unit.has_value();
                if (unit) c.map.unit = *unit;
            }
        findSpeed();
        findByIdentity();
        RunColumns out;
        const std::vector<std::vector<std::size_t>> all = sides();
        for (const std::vector<std::size_t> &side : all)
            addSide(side, all.size() > 1, out);
        for (const RunSamples &side : out.sides)
            checkIdentity(side);
        out.said = std::move(m_said);
        return out;
    }

  private:
    std::size_t placeOf(const StatedColumn &s) const {
        const auto named = std::ranges::find(m_columns, s.column, &Column::name);
        if (named != m_columns.end()) return static_cast<std::size_t>(named - m_columns.begin());
        std::size_t place = 0;
        const auto read = std::from_chars(s.column.data(), s.column.data() + s.column.size(), place);
        if (read.ec != std::errc() || read.ptr != s.column.data() + s.column.size() || place == 0 ||
            place > m_columns.size()) {
            std::string names;
            for (const Column &c : m_columns)
                names += (names.empty() ? "" : ", ") + c.name;
            throw InputError("column",
                             Phrase{MARKED("expected.column_of_runs", "a column of the file: {a}"),
                                    {},
                                    {echoed(names, 120)}},
                             "'" + echoed(s.column, 40) + "'");
        }
        return place - 1;
    }

    Column *first(R role) {
        const auto at =
            std::ranges::find_if(m_columns, [role](const Column &c) { return c.map.role == role; });
        return at == m_columns.end() ? nullptr : &*at;
    }

    // A column that is called "kW" or "Nm", or whose unit alone says what it is.
    void findByUnits() {
        for (const R role : {R::torque, R::power}) {
            if (first(role)) continue;
            for (Column &c : m_columns) {
                const bool named = unitWithin(c.name, *kindOf(role)).has_value();
                const auto unit = unitFromText(c.map.unit);
                if (c.map.role != R::none || (!named && !(unit && unit->kind == *kindOf(role)))) continue;
                c.map.role = role;
                break;
            }
        }
    }

    void findSpeed() {
        if (first(R::rpm)) return;
        std::vector<Column *> able;
        for (Column &c : m_columns)
            if (c.map.role == R::none && looksLikeSpeed(c.numbers)) able.push_back(&c);
        // Torque and power in small units can look alike: with several, the one that only rises, or only
        // falls.
        if (able.size() > 1)
            std::erase_if(able, [](const Column *c) {
                return !std::ranges::is_sorted(c->numbers) &&
                       !std::ranges::is_sorted(c->numbers, std::greater());
            });
        if (able.size() != 1)
            throw InputError(
                "file", MARKED("expected.speed_column", "a column of engine speed in rpm"),
                MARKED("found.speed_column", "none that can be told from its name or its numbers"));
        able.front()->map = {.name = able.front()->name, .role = R::rpm, .unit = "rpm"};
        m_said.push_back(Phrase{MARKED("run.said.speed", "Column '{a}' is taken for the engine speed."),
                                {},
                                {able.front()->name}});
    }

    // Columns of which neither name nor unit says what they are, by what their numbers are to each other.
    void findByIdentity() {
        const std::vector<double> rpm = first(R::rpm)->numbers;
        Column *torque = first(R::torque), *power = first(R::power);
        if (torque && power && torque->unitSaid && power->unitSaid) return;
        const auto able = [&](const Column &c, R role) {
            const Column *known = role == R::torque ? torque : power;
            return known ? &c == known : c.map.role == R::none;
        };
        for (Column &t : m_columns)
            for (Column &p : m_columns) {
                if (&t == &p || !able(t, R::torque) || !able(p, R::power)) continue;
                const TorquePowerUnits *units = unitsByIdentity(rpm, t.numbers, p.numbers);
                if (!units || !agrees(t, UnitKind::torque, units->torque) ||
                    !agrees(p, UnitKind::power, units->power))
                    continue;
                m_said.push_back(
                    Phrase{MARKED("run.said.identity",
                                  "'{a}' is taken for torque in {c}, '{b}' for power in {d}: so they are to "
                                  "each other."),
                           {},
                           {t.name, p.name, std::string(units->torque), std::string(units->power)}});
                t.map = {.name = t.name, .role = R::torque, .unit = std::string(units->torque)};
                p.map = {.name = p.name, .role = R::power, .unit = std::string(units->power)};
                t.unitSaid = p.unitSaid = true;
                return;
            }
    }

    // What a file says of torque and of power must be one thing.
    void checkIdentity(const RunSamples &side) {
        const RunColumn *torque = side.of(R::torque), *power = side.of(R::power), *rpm = side.of(R::rpm);
        if (!torque || !power || !rpm) return;
        std::vector<double> ratios;
        for (std::size_t i = 0; i < side.rows(); ++i)
            if (torque->internal(i) > 0 && power->internal(i) > 0)
                ratios.push_back(torque->internal(i) * rpm->internal(i) / newtonMetreRpmPerKw /
                                 power->internal(i));
        constexpr double tolerated = 0.02;
        constexpr int digits = 3;
        if (ratios.empty()) return;
        if (const double ratio = medianOf(std::move(ratios)); std::abs(ratio - 1) > tolerated)
            m_said.push_back(
                Phrase{MARKED("run.said.no_identity",
                              "Torque times speed is {0} times the power of this file: is one of the "
                              "units another, or the speed not the engine's?"),
                       {{ratio, Dimension::none, digits}}});
    }

    static bool agrees(const Column &c, UnitKind kind, std::string_view unit) {
        if (!c.unitSaid) return true;
        const auto said = unitFromText(c.map.unit), found = unitFromText(unit);
        constexpr double near = 1e-6;
        return said && found && said->kind == kind && std::abs(said->scale / found->scale - 1) < near;
    }

    // Which columns belong to each pull that lies beside others: those that no other has the name of belong
    // to all of them.
    std::vector<std::vector<std::size_t>> sides() const {
        const auto like = [&](std::size_t k) {
            std::vector<std::size_t> out;
            for (std::size_t i = 0; i < m_columns.size(); ++i)
                if (lettersOf(m_columns[i].name) == lettersOf(m_columns[k].name)) out.push_back(i);
            return out;
        };
        std::size_t count = 1;
        for (std::size_t i = 0; i < m_columns.size() && !m_stated; ++i)
            if (m_columns[i].map.role == R::torque || m_columns[i].map.role == R::power)
                count = std::max(count, like(i).size());
        // Headless columns are named by their places alone.
        if (!m_columns.empty() && m_columns.front().name == "column 1") count = 1;
        std::vector<std::vector<std::size_t>> out(count);
        for (std::size_t i = 0; i < m_columns.size(); ++i) {
            const std::vector<std::size_t> alike = count > 1 ? like(i) : std::vector{i};
            for (std::size_t side = 0; side < count; ++side)
                if (alike.size() != count || alike[side] == i) out[side].push_back(i);
        }
        return out;
    }

    void addSide(const std::vector<std::size_t> &side, bool several, RunColumns &out) {
        RunSamples samples;
        std::vector<double> pulls;
        for (const std::size_t i : side) {
            const Column &c = m_columns[i];
            MappedColumn map = c.map;
            bool said = c.unitSaid;
            // Its role is that of the one that was found under the same name.
            for (const Column &other : m_columns)
                if (several && map.role == R::none && other.map.role != R::none &&
                    lettersOf(other.name) == lettersOf(c.name)) {
                    map = other.map;
                    said = other.unitSaid;
                }
            const std::string letters = lettersOf(c.name);
            if (map.role == R::none) {
                if (letters.find("run") != std::string::npos || letters.find("pull") != std::string::npos)
                    pulls = c.numbers;
                continue;
            }
            if (kindOf(map.role) && !said)
                throw InputError(
                    "column '" + echoed(c.name, 40) + "'",
                    map.role == R::torque
                        ? Phrase(MARKED("expected.unit_of_torque", "its unit, such as N·m or lb·ft"))
                        : Phrase(MARKED("expected.unit_of_power", "its unit, such as kW or hp")),
                    MARKED("found.no_unit", "none, and no second column that tells it"));
            const ChannelConversion conversion = conversionOf(map, m_around);
            samples.columns.push_back(
                {map.role, c.name, map.unit, conversion.scale, conversion.offset, c.numbers});
        }
        if (!samples.of(R::torque) && !samples.of(R::power))
            throw InputError(
                "file", MARKED("expected.torque_column", "a column of torque or power"),
                MARKED("found.torque_column", "none that can be told from its name or its numbers"));
        out.sides.push_back(std::move(samples));
        out.pullNumbers.push_back(std::move(pulls));
    }

    MapSurroundings m_around;
    std::vector<Column> m_columns;
    std::vector<Phrase> m_said;
    bool m_stated = false;
};

} // namespace

const TorquePowerUnits *unitsByIdentity(std::span<const double> rpm, std::span<const double> torque,
                                        std::span<const double> power) {
    std::vector<double> ks;
    for (std::size_t i = 0; i < rpm.size(); ++i)
        if (std::isfinite(rpm[i]) && std::isfinite(torque[i]) && std::isfinite(power[i]) && torque[i] > 0 &&
            power[i] > 0)
            ks.push_back(torque[i] * rpm[i] / power[i]);
    constexpr std::size_t fewest = 2;
    if (ks.size() < fewest) return nullptr;
    const double k = medianOf(ks);
    constexpr double scattered = 0.02, near = 0.002;
    std::size_t off = 0;
    for (const double v : ks)
        off += std::abs(v / k - 1) > scattered;
    if (off * 10 > ks.size()) return nullptr; // they are something else
    const TorquePowerUnits *found = nullptr;
    for (const TorquePowerUnits &u : identities)
        if (std::abs(k / u.k - 1) < near) {
            if (found) return nullptr;
            found = &u;
        }
    return found;
}

RunColumns runColumns(const LogSource &source, const std::vector<StatedColumn> &stated,
                      const MapSurroundings &around, const LogReading &how) {
    Finder finder(source, around, how);
    for (const StatedColumn &s : stated)
        finder.take(s);
    return finder.result();
}

} // namespace wheelwright
