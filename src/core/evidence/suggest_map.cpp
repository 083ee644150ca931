// SPDX-License-Identifier: GPL-3.0-or-later
// What the names of columns, their units and some samples say of them: see suggestMap().
#include "core/base/error.h"
#include "core/base/median.h"
#include "core/evidence/channel_map.h"

#include <algorithm>
#include <limits>

namespace wheelwright {
namespace {

using R = ChannelRole;
using Words = std::vector<std::string>;

bool isLetter(char c) {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || static_cast<unsigned char>(c) >= 0x80;
}
bool isDigit(char c) {
    return c >= '0' && c <= '9';
}
bool isUpper(char c) {
    return c >= 'A' && c <= 'Z';
}

// "EngineSpeed_rpm" is engine, speed, rpm; "O2" and "λ1" are o2 and λ, 1.
Words wordsOf(std::string_view name) {
    Words words;
    std::string word;
    const auto end = [&] {
        if (!word.empty()) words.push_back(word);
        word.clear();
    };
    for (std::size_t i = 0; i < name.size(); ++i) {
        const char c = name[i];
        const bool digitAfterWord = isDigit(c) && word.size() > 1;
        const bool hump = isUpper(c) && i > 0 && name[i - 1] >= 'a' && name[i - 1] <= 'z';
        if ((!isLetter(c) && !isDigit(c) && c != '%') || hump || digitAfterWord) end();
        if (isUpper(c))
            word += static_cast<char>(c - 'A' + 'a');
        else if (isLetter(c) || isDigit(c) || c == '%')
            word += c;
    }
    end();
    return words;
}

// A word of a rule: "temp*" stands for all that begin so.
bool has(const Words &words, std::string_view wanted) {
    const bool open = wanted.ends_with('*');
    if (open) wanted.remove_suffix(1);
    return std::ranges::any_of(
        words, [&](const std::string &w) { return open ? w.starts_with(wanted) : w == wanted; });
}
bool hasAny(const Words &words, const std::vector<const char *> &wanted) {
    return std::ranges::any_of(wanted, [&](const char *w) { return has(words, w); });
}

using Some = std::vector<const char *>;

// Names of channels as people give them: from memory of the trade's usage, none of them of a product.
struct NameRule {
    R role;
    double confidence;
    Some first;    ///< one of these
    Some second{}; ///< and one of these, where there are any
    Some without{};
    bool byUnit = false; ///< in place of the second, a unit that fits
};

std::span<const NameRule> rules() {
    static const Some targets{"target",  "tgt",  "tar",    "cmd",      "command*",
                              "desired", "goal", "demand", "setpoint", "request*"};
    static const std::vector<NameRule> all{
        {R::lambdaTarget, 0.95, {"lambda", "afr", "eqr", "lam", "λ", "mixture", "o2"}, targets},
        {R::boostTarget, 0.95, {"boost", "map", "manifold", "charge"}, targets},
        {R::dynoMap, 0.95, {"dyno", "cell"}, {"boost", "map", "manifold"}, {"temp*", "duty", "volt*"}},
        {R::portShare,
         0.9,
         {"port", "pfi", "mpi"},
         {"share", "split", "ratio"},
         {"press*", "temp*", "target"}},
        {R::knockRetard, 0.95, {"knock", "kr"}, {"retard", "ret", "corr*", "pull*", "reduction"}},
        {R::knockRetard, 0.8, {"kr"}},
        {R::solenoidDuty, 0.95, {"solenoid", "wastegate", "wg", "bcs"}, {"duty", "dc", "percent", "%"}},
        {R::solenoidDuty, 0.85, {"wgdc", "solenoid"}},
        {R::solenoidDuty, 0.85, {"boost"}, {"duty", "dc", "output", "solenoid"}},
        {R::fuelTemp, 0.95, {"fuel", "ethanol", "flex"}, {"temp*"}},
        {R::fuelTemp, 0.85, {"fuel"}, {}, {}, true},
        {R::coolantTemp, 0.95, {"coolant", "ect", "clt", "water"}, {"temp*"}},
        {R::coolantTemp, 0.9, {"coolant", "ect", "clt"}, {}, {"press*"}},
        {R::coolantTemp, 0.75, {"engine", "water"}, {"temp*"}, {"oil", "air"}},
        {R::exhaustTemp, 0.95, {"egt"}},
        {R::exhaustTemp, 0.9, {"exhaust"}, {"temp*"}},
        {R::exhaustTemp, 0.85, {"exhaust"}, {}, {}, true},
        {R::ambientPressure, 0.95, {"baro*", "ambient", "atmos*"}, {"press*", "p"}, {"corr*"}},
        {R::ambientPressure, 0.9, {"baro*"}, {}, {"temp*", "corr*"}},
        {R::ambientTemp, 0.95, {"ambient", "outside", "cell", "room"}, {"temp*"}},
        {R::ambientPressure, 0.85, {"ambient", "atmos*", "cell", "room"}, {}, {"corr*"}, true},
        {R::ambientTemp, 0.85, {"ambient", "outside", "cell", "room"}, {}, {}, true},
        {R::humidity, 0.95, {"humidity", "rh"}, {}, {"corr*"}},
        {R::intakeTemp, 0.95, {"intake", "inlet", "manifold", "charge"}, {"temp*", "air"}, {"press*"}},
        {R::intakeTemp, 0.9, {"iat", "mat"}},
        {R::intakeTemp, 0.85, {"air", "act"}, {"temp*"}},
        {R::intakeTemp, 0.8, {"intake", "inlet"}, {}, {}, true},
        {R::oilPressure, 0.95, {"oil"}, {"press*", "p"}},
        {R::oilPressure, 0.85, {"oil"}, {}, {"temp*"}, true},
        {R::railPressure, 0.95, {"rail", "fuel"}, {"press*", "p"}, {"target", "temp*"}},
        {R::railPressure, 0.85, {"rail", "fuel"}, {}, {}, true},
        {R::sprayFlow, 0.9, {"spray", "wmi"}, {}, {"press*"}},
        {R::sprayFlow, 0.85, {"meth*", "water"}, {"flow", "inj*"}, {"press*", "temp*"}},
        {R::ethanol,
         0.95,
         {"ethanol", "alcohol", "flex", "flexfuel"},
         {},
         {"temp*", "press*", "flow", "volt*"}},
        {R::ethanol, 0.85, {"methanol"}, {}, {"temp*", "press*", "flow", "inj*"}},
        {R::ethanol, 0.8, {"fuel"}, {"composition", "comp", "content", "type"}},
        {R::fuelTrim, 0.95, {"stft", "fueltrim"}},
        {R::fuelTrim, 0.95, {"fuel", "lambda", "short"}, {"trim*"}, {"ltft", "long"}},
        {R::fuelTrim, 0.85, {"lambda", "closed"}, {"corr*"}},
        {R::lambda,
         0.95,
         {"lambda", "λ", "afr", "eqr"},
         {},
         {"trim*", "corr*", "error", "stft", "ltft", "heater"}},
        {R::lambda, 0.85, {"wideband", "wb", "lam"}, {}, {"trim*", "corr*", "volt*", "heater"}},
        {R::lambda, 0.85, {"air"}, {"ratio"}, {"trim*", "volt*"}},
        {R::map, 0.95, {"map"}, {}, {"sensor", "volt*", "table"}},
        {R::map, 0.9, {"manifold"}, {"press*", "abs*", "p"}},
        {R::map, 0.85, {"boost"}, {}, {"duty", "error", "target", "volt*"}},
        {R::map, 0.7, {"manifold", "load"}, {}, {}, true},
        {R::throttle, 0.95, {"throttle", "tps"}, {}, {"volt*", "target", "rate"}},
        {R::throttle, 0.7, {"tp", "thr"}},
        {R::rpm, 0.95, {"rpm", "revs", "enginespeed"}, {}, {"limit", "target", "turbo", "wheel"}},
        {R::rpm, 0.95, {"engine"}, {"speed", "rev*"}},
        {R::pulseWidth, 0.95, {"pulse", "pulsewidth", "ipw", "injpw", "pw"}, {}, {"ref*"}},
        {R::pulseWidth, 0.85, {"inj*"}, {"time", "open*", "on", "ms"}, {"timing", "angle", "dead", "temp*"}},
        {R::duty, 0.95, {"idc", "inj*"}, {"duty", "dc", "idc"}},
        {R::duty, 0.8, {"duty"}, {}, {"fan", "pump", "idle", "cam", "vvt", "ignition", "boost", "wg"}},
        {R::spark,
         0.95,
         {"spark", "ignition", "ign"},
         {},
         {"cut", "dwell", "retard", "count", "knock", "coil"}},
        {R::spark, 0.85, {"timing", "advance"}, {}, {"cam", "vvt", "inj*", "knock", "retard"}},
        {R::battery, 0.95, {"battery", "batt", "vbat", "vbatt"}, {}, {"temp*", "current"}},
        {R::battery, 0.7, {"volt*"}, {}, {"sensor", "tps", "map", "o2"}},
        {R::gear, 0.9, {"gear"}, {}, {"ratio", "temp*"}},
        {R::cam, 0.8, {"cam", "vvt", "camshaft"}, {}, {"error", "target", "duty"}},
        {R::speed,
         0.9,
         {"speed", "vss", "kmh", "kph", "mph"},
         {},
         {"engine", "turbo", "fan", "shaft", "rpm"}},
        {R::torque, 0.9, {"torque", "tq", "trq"}, {}, {"request*", "limit"}},
        {R::power, 0.9, {"power", "hp", "bhp", "whp", "kw"}, {}, {"steering", "supply"}},
        {R::time, 0.95, {"time", "timestamp", "elapsed", "seconds", "clock"}, {}, {"inj*", "dwell", "pulse"}},
        {R::time, 0.7, {"t"}},
    };
    return all;
}

// The unit at the end of a name: "map_kpa", "speed_km_h", "coolant temp c".
std::string unitInName(const Words &words) {
    if (words.size() < 2) return {};
    const std::string &last = words.back(), &before = words[words.size() - 2];
    if (words.size() > 2)
        for (const std::string &two : {before + "/" + last, before + last})
            if (unitFromText(two)) return two;
    if (last == "lambda" || !unitFromText(last)) return {};
    return last;
}

struct Range {
    double least = std::numeric_limits<double>::infinity();
    double most = -std::numeric_limits<double>::infinity();
    bool any() const { return least <= most; }
};

Range rangeOf(const std::vector<double> &samples) {
    Range r;
    for (const double v : samples) {
        if (v < r.least) r.least = v;
        if (v > r.most) r.most = v;
    }
    return r;
}

// The usual step of a clock without a unit tells seconds from milliseconds: logs run at 1 to 1000 Hz.
std::string clockUnit(const std::vector<double> &samples) {
    std::vector<double> steps;
    constexpr std::size_t looked = 50;
    for (std::size_t i = 1; i < std::min(samples.size(), looked); ++i)
        if (samples[i] > samples[i - 1]) steps.push_back(samples[i] - samples[i - 1]);
    if (steps.empty()) return "s";
    const double step = medianOf(std::move(steps));
    constexpr double leastMs = 2, leastUs = 2000;
    return step >= leastUs ? "µs" : step >= leastMs ? "ms" : "s";
}

// Of a pressure without a unit, by its size: engines run between 20 and 400 kPa.
std::string pressureUnit(const Range &r) {
    constexpr double mostBar = 6, mostPsi = 75;
    return r.most <= mostBar ? "bar" : r.most <= mostPsi ? "psi" : "kPa";
}

// The unit that a file does not state, by what its numbers look like.
std::string guessedUnit(R role, const LogColumn &column) {
    const Range r = rangeOf(column.preview);
    constexpr double mostFraction = 1.2, mostLambda = 4;
    switch (definitionOf(role).dimension) {
    case Dimension::seconds:
        return clockUnit(column.preview);
    case Dimension::content:
    case Dimension::ratio:
        return r.most > mostFraction ? "%" : "fraction";
    case Dimension::mixture:
        return r.most > mostLambda && r.least > mostLambda ? "AFR" : "lambda";
    case Dimension::pressure:
        return role == R::railPressure || role == R::oilPressure ? std::string("kPa") : pressureUnit(r);
    default:
        return std::string(definitionOf(role).unit);
    }
}

// Pressures against the air are gauge by nature, or by their numbers: no engine draws its manifold under
// 12 kPa.
void judgeReference(MappedColumn &m, const LogColumn &column, const Words &words) {
    const auto unit = unitFromText(m.unit);
    if (!unit || unit->reference != PressureReference::notSaid) {
        if (unit) m.reference = unit->reference;
        return;
    }
    if (m.role == R::railPressure || m.role == R::oilPressure) {
        m.reference = PressureReference::gauge;
        m.question =
            MARKED("map.ask.rail", "Is this pressure gauge, as most such sensors read, or absolute?");
        m.confidence = std::min(m.confidence, 0.8);
        return;
    }
    if (hasAny(words, {"abs", "absolute"})) {
        m.reference = PressureReference::absolute;
        return;
    }
    constexpr double leastManifoldKpa = 12;
    const Range r = rangeOf(column.preview);
    const bool low = r.any() && r.least * unit->scale < leastManifoldKpa;
    const bool boost = m.role == R::map && has(words, "boost") && !has(words, "map");
    m.reference =
        low || hasAny(words, {"gauge", "rel"}) || (boost && r.least * unit->scale < leastManifoldKpa * 5)
            ? PressureReference::gauge
            : PressureReference::absolute;
    if (r.any() && r.least < 0) return; // no doubt
    // Nor where it goes from vacuum up, and is not called boost: idle and overrun lie at 20 to 60 kPa.
    constexpr double mostVacuumKpa = 60;
    if (!low && !boost && r.any() && r.least * unit->scale < mostVacuumKpa) return;
    m.confidence = std::min(m.confidence, low || boost ? 0.7 : 0.85);
    m.question =
        MARKED("map.ask.reference", "Is this pressure absolute, or gauge: above the surrounding air?");
}

void judgeMixture(MappedColumn &m) {
    const auto unit = unitFromText(m.unit);
    if (!unit || unit->kind != UnitKind::airFuelRatio) return;
    m.scale = AfrScale::gasoline;
    m.confidence = std::min(m.confidence, 0.8);
    m.question = MARKED("map.ask.afr", "On which scale is this AFR counted: 14.7 whatever the fuel, or the "
                                       "stoichiometry of the fuel itself?");
}

void judgeSign(MappedColumn &m, const LogColumn &column) {
    const Range r = rangeOf(column.preview);
    if (!r.any()) return;
    if (m.role == R::knockRetard && r.most <= 0 && r.least < 0) {
        m.reversed = true;
        m.question = MARKED("map.ask.retard", "Retard is negative here: does −3 mean three degrees taken?");
        m.confidence = std::min(m.confidence, 0.85);
    }
    if (m.role == R::spark && r.most < 0) {
        m.reversed = true;
        m.question =
            MARKED("map.ask.spark", "All spark is negative here: is it counted after top dead centre "
                                    "rather than before?");
        m.confidence = std::min(m.confidence, 0.5);
    }
}

// What the numbers would mean must be able to be.
void judgeRange(MappedColumn &m, const LogColumn &column) {
    const Range r = rangeOf(column.preview);
    if (!r.any()) return;
    const ChannelRoleDefinition &role = definitionOf(m.role);
    const ChannelConversion c = conversionOf(m, {});
    const double a = r.least * c.scale + c.offset, b = r.most * c.scale + c.offset;
    if (std::min(a, b) >= role.least && std::max(a, b) <= role.most) return;
    m.confidence = std::min(m.confidence, 0.3);
    m.question =
        Phrase{MARKED("map.ask.range", "{A} would run from {0} to {1}: is this the right role and unit?"),
               {{std::min(a, b), role.dimension}, {std::max(a, b), role.dimension}},
               {},
               {role.title}};
}

void complete(MappedColumn &m, const LogColumn &column, const Words &words, bool stated) {
    const ChannelRoleDefinition &role = definitionOf(m.role);
    if (!stated) {
        m.unit = guessedUnit(m.role, column);
        const bool choice = role.dimension == Dimension::content || role.dimension == Dimension::ratio ||
                            role.dimension == Dimension::temperature ||
                            role.dimension == Dimension::pressure || m.unit == "AFR";
        m.confidence *= choice ? 0.8 : 0.95;
        if (choice)
            m.question = Phrase{
                MARKED("map.ask.unit", "The file does not say the unit of this: is it {a}?"), {}, {m.unit}};
    }
    if (role.dimension == Dimension::pressure) judgeReference(m, column, words);
    if (role.dimension == Dimension::mixture) judgeMixture(m);
    judgeSign(m, column);
    judgeRange(m, column);
}

MappedColumn suggestion(const LogColumn &column) {
    MappedColumn m{.name = column.name, .unit = column.unit, .confidence = 0};
    const Words words = wordsOf(column.name);
    bool stated = !column.unit.empty() && unitFromText(column.unit);
    if (column.unit.empty())
        if (const std::string inName = unitInName(words); !inName.empty()) {
            m.unit = inName;
            stated = true;
        }
    if (column.kind == ChannelKind::words) return m;
    const auto unit = stated ? unitFromText(m.unit) : std::nullopt;
    const auto matches = [&](const NameRule &rule) {
        const Dimension dimension = definitionOf(rule.role).dimension;
        if (unit && dimension != Dimension::none && !fits(unit->kind, dimension)) return false;
        if (!hasAny(words, rule.first) || hasAny(words, rule.without)) return false;
        if (rule.byUnit) return unit.has_value();
        return rule.second.empty() || hasAny(words, rule.second);
    };
    const auto rule = std::ranges::find_if(rules(), matches);
    if (rule == rules().end()) return m;
    m.role = rule->role;
    m.confidence = rule->confidence;
    complete(m, column, words, stated);
    return m;
}

// Of several columns that could be the same, the likeliest; the first of those that are equally likely.
void settleRivals(ChannelMap &map, const LogLayout &layout) {
    for (std::size_t i = 0; i < map.columns.size(); ++i)
        for (std::size_t k = 0; k < i; ++k) {
            MappedColumn &a = map.columns[k], &b = map.columns[i];
            if (a.role != b.role || a.role == R::none || layout.columns[i].clock != layout.columns[k].clock)
                continue;
            MappedColumn &loser = b.confidence > a.confidence ? a : b;
            const std::string unit = loser.unit;
            loser = MappedColumn{.name = loser.name, .unit = unit, .confidence = 0};
        }
}

bool ascends(const std::vector<double> &samples) {
    return samples.size() > 1 && std::ranges::is_sorted(samples) && samples.front() < samples.back();
}

// A clock without a name for it stands first and only goes on.
void findClock(ChannelMap &map, const LogLayout &layout) {
    const auto isTime = [](const MappedColumn &m) { return m.role == R::time; };
    if (map.columns.empty() || std::ranges::any_of(map.columns, isTime)) return;
    MappedColumn &first = map.columns.front();
    if (layout.columns.front().knownClock || first.role != R::none ||
        !ascends(layout.columns.front().preview))
        return;
    const auto unit = unitFromText(first.unit);
    if (unit && unit->kind != UnitKind::time) return;
    first.role = R::time;
    if (!unit) first.unit = clockUnit(layout.columns.front().preview);
    first.confidence = 0.5;
    first.question = MARKED("map.ask.time", "Is this the time?");
}

} // namespace

ChannelMap suggestMap(const LogLayout &layout) {
    ChannelMap map;
    for (std::size_t i = 0; i < layout.columns.size(); ++i) {
        const LogColumn &c = layout.columns[i];
        if (c.knownClock && c.clock == i) {
            const std::string unit = c.unit.empty() ? std::string("s") : c.unit;
            map.columns.push_back({.name = c.name, .role = R::time, .unit = unit});
        } else {
            map.columns.push_back(suggestion(c));
        }
    }
    settleRivals(map, layout);
    findClock(map, layout);
    return map;
}

} // namespace wheelwright
