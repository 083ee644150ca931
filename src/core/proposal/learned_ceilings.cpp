// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/learned_ceilings.h"

#include "core/base/error.h"
#include "core/job/named_tables.h"
#include "core/study/spark_estimate.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr double at95 = 1.959964, oneSided95 = 1.644854;
constexpr std::string_view learnedName = "Learned E";

double knocksOf(const KnockTrials &trials) {
    double n = 0;
    for (const KnockTrial &t : trials.trials)
        n += t.knocked;
    return n;
}

// Degrees for a unit of ln τ where a log says something of knock: where its spark came near the limit.
double perLogOf(const KnockTrials &trials, std::size_t log) {
    double sum = 0, weight = 0;
    for (const KnockTrial &t : trials.trials) {
        if (t.log != log) continue;
        const double near = t.samples * std::exp(-t.over * t.over);
        sum += near * t.perLogDeg;
        weight += near;
    }
    return weight > 0 ? sum / weight : 0;
}

Phrase saidOf(const FuelDoubt &d) {
    const double plusMinus = at95 * d.off.standardError;
    if (d.off.value < 0)
        return {MARKED("ceilings.doubt.less",
                       "{a}: this fuel stands {0} ± {1} less than its content should: old, watered or low "
                       "grade. Test it, drain it."),
                {{-d.off.value, Dimension::sparkAngle}, {plusMinus, Dimension::sparkAngle}},
                {d.name}};
    return {MARKED("ceilings.doubt.more",
                   "{a}: this fuel stands {0} ± {1} more than its content should: its content or its grade "
                   "is not what it is taken for. Test it before you rely on it."),
            {{d.off.value, Dimension::sparkAngle}, {plusMinus, Dimension::sparkAngle}},
            {d.name}};
}

} // namespace

// One after the other, the most striking first: a bad tank among the others makes them look better than they
// are.
void LearnedCeilings::findDoubts(const std::stop_token &stop) {
    using Part = CeilingFit::Part;
    const std::size_t logs = m_trials->logs.size();
    m_parts.assign(logs, Part::even);
    constexpr double striking = 2.5, leastDeg = 1, worthALook = 0.5, fewKnocks = 3;
    for (std::size_t round = 0; round < logs && !stop.stop_requested(); ++round) {
        std::size_t worst = logs;
        FoundNumber off;
        double worstRatio = striking;
        std::size_t others = 0;
        for (std::size_t j = 0; j < logs; ++j)
            others += m_trials->logs[j].used && m_parts[j] == Part::even;
        for (std::size_t j = 0; j < logs && others >= 2; ++j) {
            if (!m_trials->logs[j].used || m_parts[j] != Part::even) continue;
            // A log that agrees with the others when it may hardly differ agrees with them.
            if (std::abs(m_fit->ofLog(j).value) < worthALook * CeilingPrior{}.log) continue;
            std::vector<Part> parts = m_parts;
            parts[j] = Part::doubtful;
            const CeilingFit alone(*m_trials, {}, parts, m_fit->scatter());
            const double perLog = perLogOf(*m_trials, j);
            FoundNumber d = alone.ofLog(j);
            d.value *= perLog;
            d.standardError *= perLog;
            // Of two logs the one that knocks earlier is in doubt; that one stands more takes two others.
            if (d.value > 0 && others < 3) continue;
            if (std::abs(d.value) >= leastDeg && std::abs(d.value) / d.standardError > worstRatio) {
                worst = j;
                off = d;
                worstRatio = std::abs(d.value) / d.standardError;
            }
        }
        if (worst == logs) break;
        double left = 0;
        for (std::size_t j = 0; j < logs; ++j)
            if (j != worst && m_parts[j] == Part::even) left += m_trials->logs[j].knocks;
        // Nothing has knocked but this: it may be the engine that says so, and no other log can tell.
        if (off.value < 0 && left < fewKnocks && m_trials->logs[worst].knocks < fewKnocks) break;
        m_parts[worst] = Part::apart;
        FuelDoubt d{m_trials->logs[worst].info.id,
                    m_trials->logs[worst].info.name,
                    m_trials->logs[worst].content,
                    off,
                    {}};
        d.said = saidOf(d);
        m_doubts.push_back(std::move(d));
        m_fit = std::make_unique<CeilingFit>(*m_trials, CeilingPrior{}, m_parts);
    }
}

LearnedCeilings learnCeilings(const Study &study, std::span<const std::shared_ptr<const LogReview>> logs,
                              std::stop_token stop) {
    LearnedCeilings out;
    out.m_window = limitOf(study.job(), "evidence.content_window");
    out.m_sigmaDeg = limitOf(study.job(), "evidence.ceiling_sigma");
    out.m_surfaces = std::make_unique<KnockSurfaces>(study);
    out.m_trials = std::make_unique<KnockTrials>(knockTrials(*out.m_surfaces, logs, stop));
    if (stop.stop_requested() || out.m_trials->trials.empty()) return out;
    out.m_fit = std::make_unique<CeilingFit>(*out.m_trials, CeilingPrior{});
    if (knocksOf(*out.m_trials) > 0) out.findDoubts(stop);
    return out;
}

std::vector<LearnedCeiling> LearnedCeilings::at(double content, std::optional<double> intakeC) {
    if (!(content >= 0 && content <= 1))
        throw InputError("content", verbatim("0 to 1"), std::to_string(content));
    const KnockSurface &k = m_surfaces->at(content), &base = m_surfaces->at(m_trials->baseContent);
    std::vector<LearnedCeiling> out;
    std::map<std::pair<double, double>, LearnedCeiling> counts;
    for (const KnockTrial &t : m_trials->trials) {
        if (std::abs(t.content - content) > m_window) continue;
        LearnedCeiling &c = counts[{t.rpm, t.loadKpa}];
        if (t.knocked)
            ++c.knocked;
        else
            c.clean += t.samples;
    }
    const double usualC = m_surfaces->study().job().conditions.intakeUsualC,
                 hotterK = intakeC.value_or(usualC) - usualC;
    for (std::size_t y = 0; y < k.limitDeg.y().size(); ++y)
        for (std::size_t x = 0; x < k.limitDeg.x().size(); ++x) {
            LearnedCeiling c;
            if (const auto seen = counts.find({k.limitDeg.x()[x], k.limitDeg.y()[y]}); seen != counts.end())
                c = seen->second;
            c.rpm = k.limitDeg.x()[x];
            c.loadKpa = k.limitDeg.y()[y];
            const double limit = k.limitDeg.cell(x, y);
            const double perLog = k.perLogDeg.cell(x, y);
            const double hot = k.perKDeg.cell(x, y) * hotterK, inLog = perLog > 0 ? hot / perLog : 0;
            const FoundNumber over =
                any() ? m_fit->at({c.rpm, c.loadKpa, content, octaneOver(k, base, c.rpm, c.loadKpa), inLog})
                      : FoundNumber{0, CeilingPrior{}.scale};
            c.deg = limit + hot + over.value * perLog;
            c.sigmaDeg = over.standardError * perLog;
            c.scatterDeg = any() ? m_fit->scatter() * perLog : 0;
            // Evidence must have told as much again as the model says by itself: an estimate is not known.
            c.known = any() && perLog > 0 && c.sigmaDeg <= m_sigmaDeg &&
                      over.standardError < CeilingPrior{}.scale / 2 && limit > latestSparkTried &&
                      c.deg < earliestSparkTried;
            out.push_back(c);
        }
    return out;
}

Phrase forecastOf(const LearnedCeiling &c, double content) {
    if (!c.known)
        return {MARKED("ceilings.forecast.unknown",
                       "what it stands at {0} is not known: ± {1} is no better than a guess"),
                {{content, Dimension::content}, {at95 * c.sigmaDeg, Dimension::sparkAngle}}};
    return {MARKED("ceilings.forecast", "at {0} this cell should stand {1} ± {2}"),
            {{content, Dimension::content},
             {c.deg, Dimension::sparkAngle},
             {at95 * c.sigmaDeg, Dimension::sparkAngle}}};
}

std::vector<double> contentsOf(const LearnedCeilings &learned) {
    std::vector<double> seen;
    for (const KnockTrials::Log &l : learned.trials().logs)
        if (l.used && l.samples > 0) seen.push_back(l.content);
    std::ranges::sort(seen);
    std::vector<double> out;
    constexpr double same = 0.02, step = 0.12;
    for (const double c : seen) {
        if (!out.empty() && c - out.back() < same) continue;
        if (!out.empty()) {
            const double from = out.back();
            const int parts = static_cast<int>(std::ceil((c - from) / step));
            for (int i = 1; i < parts; ++i)
                out.push_back(from + (c - from) * i / parts);
        }
        out.push_back(c);
    }
    return out;
}

Job withLearnedCeilings(const Job &job, LearnedCeilings &learned, std::span<const double> contents) {
    Job after = job;
    for (std::size_t i = after.extras.size(); i-- > 0;) {
        const ExtraTable &e = after.extras.values()[i];
        const bool ofLogs = std::ranges::any_of(e.table.origins(), fromLog);
        if (e.kind == TableKind::sparkCeiling && ofLogs && e.name.starts_with(learnedName))
            removeExtra(after, i);
    }
    for (const double content : contents) {
        const std::vector<LearnedCeiling> cells = learned.at(content);
        if (std::ranges::none_of(cells, &LearnedCeiling::known)) continue;
        std::vector<double> rpm, load, values;
        std::vector<CellOrigin> origins;
        for (const LearnedCeiling &c : cells) {
            if (load.empty() || c.loadKpa != load.back()) load.push_back(c.loadKpa);
            if (load.size() == 1) rpm.push_back(c.rpm);
            constexpr double perDegree = 10;
            values.push_back(std::clamp(std::floor((c.deg - oneSided95 * c.sigmaDeg) * perDegree) / perDegree,
                                        latestSparkTried, earliestSparkTried));
            origins.push_back(c.known ? CellOrigin::log : CellOrigin::estimated);
        }
        constexpr double percent = 100;
        ExtraTable table;
        table.kind = TableKind::sparkCeiling;
        const std::string name = std::string(learnedName) + std::to_string(std::lround(content * percent));
        table.name = name;
        for (int n = 2; std::ranges::any_of(after.extras.values(),
                                            [&](const ExtraTable &e) { return e.name == table.name; });
             ++n)
            table.name = name + " " + std::to_string(n);
        table.content = content;
        table.table = Table2D(Axis(std::move(rpm)), Axis(std::move(load)), std::move(values));
        table.table.setOrigins(std::move(origins));
        after.extras.push_back(std::move(table));
    }
    return after;
}

} // namespace wheelwright
