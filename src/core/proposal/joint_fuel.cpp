// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/joint_fuel.h"

#include "core/base/error.h"
#include "core/study/cell_trust.h"
#include "core/study/fuel_delivery.h"
#include "core/study/load_axis.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace wheelwright {
namespace {

constexpr int nodeSteps = 20; // of the curve: every 5 %

// Contents that a table of the school was calibrated at: there the curve is 0, since the table can say it.
std::vector<double> calibratedContents(const Job &job) {
    const Calibration &c = job.calibration;
    if (!c.levels.empty() && (c.school == School::windowSet || c.school == School::stack)) {
        std::vector<double> out;
        for (const ContentLevel &l : c.levels)
            out.push_back(l.content);
        return out;
    }
    if (c.school == School::fuelModel) return {c.baseContent};
    return {c.baseContent, c.topContent};
}

struct Nodes {
    std::vector<double> at;
    std::vector<bool> pinned;
};

// Every 5 %; the nearest to a calibrated content moves to it.
Nodes nodesOf(const Job &job) {
    Nodes n;
    for (int i = 0; i <= nodeSteps; ++i)
        n.at.push_back(i / static_cast<double>(nodeSteps));
    n.pinned.assign(n.at.size(), false);
    for (const double content : calibratedContents(job)) {
        const auto near =
            std::ranges::min_element(n.at, {}, [content](double node) { return std::abs(node - content); });
        const auto place = static_cast<std::size_t>(near - n.at.begin());
        if (n.pinned[place]) continue; // two calibrated contents within a step
        *near = content;
        n.pinned[place] = true;
    }
    return n;
}

// Numbers that say no fuel (the dead time of pulses) stay out of shares and steps.
class Offsets {
  public:
    explicit Offsets(const Job &job)
        : m_job(job), m_any(job.calibration.fuelMeaning == FuelMeaning::pulseWidth) {}
    double at(double content, double rpm, double loadKpa) {
        if (!m_any) return 0;
        constexpr double perMille = 1000;
        const int key = static_cast<int>(std::lround(content * perMille));
        auto found = m_demands.find(key);
        if (found == m_demands.end())
            found = m_demands.try_emplace(key, m_job, key / perMille, m_job.conditions.intakeUsualC).first;
        return found->second.lineAt({rpm, loadKpa}).offset;
    }

  private:
    const Job &m_job;
    bool m_any;
    std::map<int, InjectorDemand> m_demands;
};

struct Tables {
    std::vector<const Table2D *> of;
    std::vector<double> content;
    std::size_t placeOf(const Table2D *t) const {
        return static_cast<std::size_t>(std::ranges::find(of, t) - of.begin());
    }
};

// Those that a blend can be made of at any content, each once.
Tables tablesIn(const Study &study) {
    Tables out;
    const std::vector<double> contents = calibratedContents(study.job());
    for (const double content : contents) {
        const BlendEnds ends = study.ends(CalibratedQuantity::fuel, content);
        const Table2D *t = std::abs(ends.lowContent - content) <= std::abs(ends.highContent - content)
                               ? ends.low
                               : ends.high;
        if (out.placeOf(t) < out.of.size()) continue;
        out.of.push_back(t);
        out.content.push_back(content);
    }
    return out;
}

JointTableShape shapeOfTable(const Job &job, const Table2D &t, double content, Offsets &offsets) {
    JointTableShape s{t.x(), t.y(), t.cells()};
    for (std::size_t i = 0; i < s.value.size(); ++i)
        s.value[i] -= offsets.at(content, t.x()[i % t.x().size()], loadOfAxis(job, t.y()[i / t.x().size()]));
    for (double &v : s.value)
        if (!(std::abs(v) > 1e-9)) v = 1e-9; // an empty cell: nothing of it is a share of nothing
    // All of a table may be off by a share, by a fixed time (dead time: the more, the less is injected), by
    // load and by speed.
    constexpr double usualKpa = 100, usualRpm = 4000;
    s.trends.assign(5, std::vector<double>(s.value.size()));
    for (std::size_t i = 0; i < s.value.size(); ++i) {
        const double load = loadOfAxis(job, t.y()[i / t.x().size()]) / usualKpa;
        const double rpm = t.x()[i % t.x().size()] / usualRpm - 1;
        constexpr double least = 0.2;
        s.trends[0][i] = 1;
        s.trends[1][i] = 1 / std::max(least, load) - 1;
        s.trends[2][i] = load - 1;
        s.trends[3][i] = rpm;
        s.trends[4][i] = rpm * rpm;
    }
    return s;
}

std::vector<JointTableShape> shapesOf(const Job &job, const Tables &tables) {
    Offsets offsets(job);
    std::vector<JointTableShape> out;
    for (std::size_t i = 0; i < tables.of.size(); ++i)
        out.push_back(shapeOfTable(job, *tables.of[i], tables.content[i], offsets));
    return out;
}

// Blend ends by content, to the tenth of a per cent as everywhere that logs are read through.
class EndsByContent {
  public:
    explicit EndsByContent(const Study &study) : m_study(study) {}
    const BlendEnds &at(double content) {
        constexpr double perMille = 1000;
        const auto key = static_cast<std::size_t>(std::lround(content * perMille));
        std::optional<BlendEnds> &e = m_ends[key];
        if (!e) e = m_study.ends(CalibratedQuantity::fuel, static_cast<double>(key) / perMille);
        return *e;
    }

  private:
    const Study &m_study;
    std::array<std::optional<BlendEnds>, 1001> m_ends;
};

// A dozen groups at most: more would cost time and say little more.
constexpr std::uint32_t mostFolds = 12;

class Rows {
  public:
    Rows(const Study &study, const Tables &tables, const Nodes &nodes)
        : m_tables(tables), m_nodes(nodes), m_ends(study), m_offsets(study.job()) {}

    std::optional<JointRow> rowOf(const FuelSample &s) {
        const BlendEnds &ends = m_ends.at(s.content);
        JointRow r;
        r.lowTable = static_cast<std::uint32_t>(m_tables.placeOf(ends.low));
        r.highTable = static_cast<std::uint32_t>(m_tables.placeOf(ends.high));
        if (r.lowTable >= m_tables.of.size() || r.highTable >= m_tables.of.size()) return {};
        r.lowX = ends.low->x().locate(s.rpm);
        r.lowY = ends.low->y().locate(s.load);
        const bool same =
            ends.high == ends.low || (ends.high->x() == ends.low->x() && ends.high->y() == ends.low->y());
        r.highX = same ? r.lowX : ends.high->x().locate(s.rpm);
        r.highY = same ? r.lowY : ends.high->y().locate(s.load);
        const double whole =
            ends.blend(ends.low->at(r.lowX, r.lowY).value, ends.high->at(r.highX, r.highY).value) -
            m_offsets.at(s.content, s.rpm, s.loadKpa);
        if (!(whole > 0)) return {};
        const double w = ends.high == ends.low ? 0 : ends.weight;
        r.lowShare = ends.scale * (1 - w) / whole;
        r.highShare = ends.scale * w / whole;
        const auto above = std::upper_bound(m_nodes.at.begin() + 1, m_nodes.at.end() - 1, s.content);
        r.node = static_cast<std::uint32_t>(above - m_nodes.at.begin() - 1);
        r.along = std::clamp((s.content - m_nodes.at[r.node]) / (*above - m_nodes.at[r.node]), 0.0, 1.0);
        r.error = s.error;
        r.fold = s.log % mostFolds;
        return r;
    }

  private:
    const Tables &m_tables;
    const Nodes &m_nodes;
    EndsByContent m_ends;
    Offsets m_offsets;
};

void needSamples(const FuelSamples &samples) {
    if (std::ranges::any_of(samples.samples, [](const FuelSample &s) { return !s.supplyAtEnd; })) return;
    std::vector<Phrase> parts;
    for (const FuelSamples::Log &l : samples.logs)
        parts.push_back(
            l.used ? Phrase{MARKED("found.log_without_clean", "{a}: no clean sample"), {}, {l.info.name}}
                   : Phrase{MARKED("found.log_unused", "{a}: {A}"), {}, {l.info.name}, {l.why}});
    throw InputError("logs", MARKED("expected.usable_logs", "a log that says something of the fuel"),
                     parts.empty() ? Phrase(MARKED("found.no_logs", "no log of this calibration"))
                                   : listed(parts));
}

// Folds without holes: logs that are not used have none.
void numberFolds(std::vector<JointRow> &rows) {
    std::map<std::uint32_t, std::uint32_t> places;
    for (JointRow &r : rows)
        r.fold = places.try_emplace(r.fold, static_cast<std::uint32_t>(places.size())).first->second;
}

// An engine idles and cruises for minutes in one place between four cells. What is left there of λ goes with
// the noise of speed and load, and least squares would read a steep table out of it: more at one corner, less
// at the next. Each sample counts a fifth of a cell beside where it was read, to all four sides in turn: what
// such noise says is not learned then (training with noise is a Tikhonov prior on the gradient: Bishop,
// Neural Computation 7, 1995, pp. 108–116), and what holds over cells is not moved. The fifth is from memory.
class Beside {
  public:
    explicit Beside(const Tables &tables) : m_x(tables.of.front()->x()), m_y(tables.of.front()->y()) {}

    FuelSample next(FuelSample s) {
        constexpr std::array<std::pair<int, int>, 4> sides{{{1, 1}, {-1, -1}, {1, -1}, {-1, 1}}};
        const auto [x, y] = sides[m_count++ % sides.size()];
        s.rpm += x * fifthOfCell(m_x, s.rpm);
        s.load += y * fifthOfCell(m_y, s.load);
        return s;
    }

  private:
    static double fifthOfCell(const Axis &axis, double at) {
        constexpr double fifth = 0.2;
        if (axis.size() < 2) return 0;
        const std::size_t cell = std::min(axis.locate(at).cell, axis.size() - 2);
        return fifth * (axis[cell + 1] - axis[cell]);
    }

    const Axis &m_x, &m_y;
    std::size_t m_count = 0;
};

std::vector<JointRow> rowsOf(const Study &study, const FuelSamples &samples, const Tables &tables,
                             const Nodes &nodes, bool supplyAtEnd = false) {
    Rows rows(study, tables, nodes);
    Beside beside(tables);
    std::vector<JointRow> out;
    out.reserve(samples.samples.size());
    for (const FuelSample &s : samples.samples) {
        if (s.supplyAtEnd != supplyAtEnd) continue; // at its end the tables are not to blame
        if (const std::optional<JointRow> r = rows.rowOf(supplyAtEnd ? s : beside.next(s))) out.push_back(*r);
    }
    numberFolds(out);
    return out;
}

bool wellKnown(double standardError) {
    constexpr double at95 = 1.96;
    return at95 * standardError <= separableWithin;
}

JointKnown knownOfNode(double hits, double leastHits, double error, double told) {
    if (!wellKnown(error) || !(told >= curveTold)) return JointKnown::notSeparable;
    return hits >= leastHits ? JointKnown::measured : JointKnown::inferred;
}

// What is asked of a cell is whether samples tell it from the tables of other contents. Its neighbours in its
// own table may be hard to tell apart (an engine idles in one place between four cells): there tables are
// smooth, whatever foretells best, so the errors that decide are those of a smooth table.
constexpr JointPrior ofSmoothTables{0.01, 3, 0.1, 100};

// Beside cells with samples a cell follows them, since every sample between is made of both: left alone it
// would be a step in the table that no engine has.
void judge(JointTable &t, const std::vector<double> &errors, double leastHits) {
    const std::size_t nx = t.now.x().size(), ny = t.now.y().size();
    for (std::size_t i = 0; i < t.cells.size(); ++i)
        t.cells[i].known = t.cells[i].hits >= leastHits && wellKnown(errors[i]) ? JointKnown::measured
                                                                                : JointKnown::notSeparable;
    for (std::size_t i = 0; i < t.cells.size(); ++i) {
        JointUnknown &u = t.cells[i];
        if (u.known == JointKnown::measured) continue;
        double weights = 0, sum = 0, squares = 0, variance = 0;
        const std::size_t x = i % nx, y = i / nx;
        for (std::size_t j = y > 0 ? y - 1 : 0; j <= std::min(ny - 1, y + 1); ++j)
            for (std::size_t k = x > 0 ? x - 1 : 0; k <= std::min(nx - 1, x + 1); ++k) {
                const JointUnknown &o = t.cells[j * nx + k];
                if (o.known != JointKnown::measured) continue;
                const double w = j == y || k == x ? 1 : 0.5; // a corner is farther away
                weights += w;
                sum += w * o.value;
                squares += w * o.value * o.value;
                variance += w * o.standardError * o.standardError;
            }
        if (weights <= 0) continue;
        const double mean = sum / weights;
        u.value = mean;
        u.standardError = std::sqrt(std::max(0.0, squares / weights - mean * mean) + variance / weights);
        u.known = JointKnown::inferred;
    }
}

// Hits of each unknown: bilinear weights, by the share of the blend that the table has.
struct Hits {
    std::vector<std::vector<double>> cells;
    std::vector<double> nodes;
};
Hits hitsOf(const Tables &tables, std::size_t nodes, const std::vector<JointRow> &rows) {
    Hits h;
    for (const Table2D *t : tables.of)
        h.cells.emplace_back(t->cells().size());
    h.nodes.resize(nodes);
    const auto add = [&](std::size_t t, const AxisPosition &px, const AxisPosition &py, double share) {
        const std::size_t nx = tables.of[t]->x().size(), right = nx > 1 ? 1 : 0,
                          up = tables.of[t]->y().size() > 1 ? nx : 0, c = py.cell * nx + px.cell;
        h.cells[t][c] += share * (1 - px.t) * (1 - py.t);
        h.cells[t][c + right] += share * px.t * (1 - py.t);
        h.cells[t][c + up] += share * (1 - px.t) * py.t;
        h.cells[t][c + up + right] += share * px.t * py.t;
    };
    for (const JointRow &r : rows) {
        const double both = std::abs(r.lowShare) + std::abs(r.highShare);
        add(r.lowTable, r.lowX, r.lowY, std::abs(r.lowShare) / both);
        add(r.highTable, r.highX, r.highY, std::abs(r.highShare) / both);
        h.nodes[r.node] += 1 - r.along;
        if (r.along > 0) h.nodes[r.node + 1] += r.along;
    }
    return h;
}

} // namespace

std::string_view jointKnownKey(JointKnown known) {
    constexpr std::array<std::string_view, 4> keys{"measured", "inferred", "not_separable", "pinned"};
    return keys[static_cast<std::size_t>(known)];
}

std::size_t JointFuel::count(JointKnown known) const {
    std::size_t n = 0;
    for (const JointTable &t : tables)
        n += static_cast<std::size_t>(
            std::ranges::count_if(t.cells, [known](const JointUnknown &u) { return u.known == known; }));
    return n + static_cast<std::size_t>(
                   std::ranges::count_if(curve, [known](const JointNode &k) { return k.of.known == known; }));
}

std::vector<JointRow> jointRowsOf(const Study &study, const FuelSamples &samples) {
    const Tables tables = tablesIn(study);
    const Nodes nodes = nodesOf(study.job());
    return rowsOf(study, samples, tables, nodes);
}

JointSystem jointSystemOf(const Study &study, const FuelSamples &samples) {
    const Tables tables = tablesIn(study);
    const Nodes nodes = nodesOf(study.job());
    JointSystem system(shapesOf(study.job(), tables), nodes.at, nodes.pinned);
    system.add(rowsOf(study, samples, tables, nodes));
    return system;
}

JointFuel solveJointFuel(const Study &study, const FuelSamples &samples, const JointOptions &options,
                         std::stop_token stop) {
    needSamples(samples);
    const Tables tables = tablesIn(study);
    const Nodes nodes = nodesOf(study.job());
    const std::vector<JointRow> rows = rowsOf(study, samples, tables, nodes);
    JointSystem system(shapesOf(study.job(), tables), nodes.at, nodes.pinned);
    system.add(rows);

    JointFuel out;
    if (options.prior)
        out.prior = *options.prior;
    else if (const auto best = system.chooseByLeavingOut(stop)) {
        out.prior = best->prior;
        out.chosen = true;
        out.leftOutRms = best->rms;
    }
    if (stop.stop_requested()) return {};
    if (options.prior && system.folds() > 1) out.leftOutRms = system.leftOutRms(out.prior);
    const JointSolution s = system.solve(out.prior);
    const double least = options.leastHits.value_or(limitOf(study.job(), "evidence.least_hits"));
    const std::vector<std::vector<double>> judged = system.errorsUnder(ofSmoothTables, s);
    const Hits hits = hitsOf(tables, nodes.at.size(), rows);
    const Hits atEnd = hitsOf(tables, nodes.at.size(), rowsOf(study, samples, tables, nodes, true));
    for (std::size_t t = 0; t < tables.of.size(); ++t) {
        JointTable table;
        const Job &job = study.job();
        table.content = tables.content[t];
        for (const NamedTable &named : namedTables(job))
            if (named.table == tables.of[t]) table.path = named.path;
        table.now = *tables.of[t];
        for (std::size_t c = 0; c < s.steps[t].size(); ++c)
            table.cells.push_back({s.steps[t][c], s.errors[t][c], hits.cells[t][c], JointKnown::notSeparable,
                                   atEnd.cells[t][c]});
        judge(table, judged[t], least);
        out.tables.push_back(std::move(table));
    }
    for (std::size_t k = 0; k < nodes.at.size(); ++k)
        out.curve.push_back(
            {nodes.at[k],
             {s.curve[k], s.curveErrors[k], hits.nodes[k],
              nodes.pinned[k] ? JointKnown::pinned
                              : knownOfNode(hits.nodes[k], least, s.curveErrors[k], s.curveTold[k]),
              0}});
    out.rmsBefore = std::sqrt(s.rssBefore / s.weight);
    out.rmsAfter = std::sqrt(s.rss / s.weight);
    out.explained = s.rssBefore > 0 ? 1 - s.rss / s.rssBefore : 0;
    out.sigma = s.sigma;
    out.correlation = s.correlation;
    out.outliers = s.left;
    out.samples = rows.size();
    out.unknowns = system.unknowns();
    std::vector<double> sum(samples.logs.size()), count(samples.logs.size());
    for (const FuelSample &f : samples.samples) {
        sum[f.log] += f.content;
        ++count[f.log];
    }
    for (std::size_t i = 0; i < sum.size(); ++i)
        if (count[i] > 0) out.contents.push_back(sum[i] / count[i]);
    std::ranges::sort(out.contents);
    return out;
}

} // namespace wheelwright
