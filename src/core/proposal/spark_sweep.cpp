// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/spark_sweep.h"

#include "core/base/error.h"
#include "core/base/student_t.h"
#include "core/evidence/coverage.h"
#include "core/study/content_tables.h"
#include "core/study/load_axis.h"
#include "core/study/school.h"
#include "core/study/two_table_school.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <limits>
#include <map>

namespace wheelwright {
namespace {

constexpr double sameSparkDeg = 0.1;

using Matrix3 = std::array<std::array<double, 3>, 3>;

// Of a symmetric positive definite matrix, by its cofactors.
Matrix3 inverted(const Matrix3 &m) {
    Matrix3 out{};
    double determinant = 0;
    for (std::size_t i = 0; i < 3; ++i)
        for (std::size_t j = 0; j < 3; ++j) {
            const std::size_t a = (i + 1) % 3, b = (i + 2) % 3, c = (j + 1) % 3, d = (j + 2) % 3;
            out[j][i] = m[a][c] * m[b][d] - m[a][d] * m[b][c];
            if (i == 0) determinant += m[0][j] * out[j][0];
        }
    for (auto &row : out)
        for (double &v : row)
            v /= determinant;
    return out;
}

std::size_t sparksIn(const std::vector<SweepPoint> &sorted) {
    std::size_t n = 0;
    double last = -std::numeric_limits<double>::infinity();
    for (const SweepPoint &p : sorted)
        if (p.sparkDeg - last >= sameSparkDeg) {
            ++n;
            last = p.sparkDeg;
        }
    return n;
}

// Sparks at which slope + 2 · bend · x may be 0: (b + 2cx)² ≤ t² var(b + 2cx), a quadratic in x.
void findInterval(SparkSweep &s, const Matrix3 &covariance, int freedom) {
    constexpr double probability = 0.95;
    const double t2 = std::pow(studentReach(probability, freedom), 2) * s.sigma * s.sigma;
    const double a = 4 * (s.bend * s.bend - t2 * covariance[2][2]),
                 b = 4 * (s.bend * s.slope - t2 * covariance[1][2]),
                 c = s.slope * s.slope - t2 * covariance[1][1];
    const double inside = b * b - 4 * a * c;
    if (!(a > 0) || !(inside >= 0)) return; // no bend to speak of: no end
    s.lowDeg = s.middleDeg + (-b - std::sqrt(inside)) / (2 * a);
    s.highDeg = s.middleDeg + (-b + std::sqrt(inside)) / (2 * a);
}

} // namespace

SparkSweep fitSweep(std::span<const SweepPoint> points) {
    SparkSweep s;
    s.points.assign(points.begin(), points.end());
    std::ranges::stable_sort(s.points, {}, &SweepPoint::sparkDeg);
    constexpr std::size_t least = 3;
    if (const std::size_t sparks = sparksIn(s.points); sparks < least)
        throw InputError("points", MARKED("expected.three_sparks", "three different sparks at least"),
                         std::to_string(sparks));
    for (const SweepPoint &p : s.points) {
        if (!(p.power > 0) || !std::isfinite(p.power) || !std::isfinite(p.sparkDeg))
            throw InputError("points", MARKED("expected.power_over_0", "power over 0"),
                             std::to_string(p.power) + " at " + std::to_string(p.sparkDeg) + " deg");
        s.middleDeg += p.sparkDeg / static_cast<double>(s.points.size());
    }
    Matrix3 normal{};
    std::array<double, 3> right{};
    for (const SweepPoint &p : s.points) {
        const double x = p.sparkDeg - s.middleDeg;
        const std::array<double, 3> v{1, x, x * x};
        for (std::size_t i = 0; i < 3; ++i) {
            right[i] += v[i] * p.power;
            for (std::size_t j = 0; j < 3; ++j)
                normal[i][j] += v[i] * v[j];
        }
    }
    const Matrix3 covariance = inverted(normal);
    std::array<double, 3> found{};
    for (std::size_t i = 0; i < 3; ++i)
        for (std::size_t j = 0; j < 3; ++j)
            found[i] += covariance[i][j] * right[j];
    s.level = found[0];
    s.slope = found[1];
    s.bend = found[2];
    const int freedom = static_cast<int>(s.points.size()) - 3;
    if (freedom > 0) {
        double squares = 0;
        for (const SweepPoint &p : s.points)
            squares += std::pow(p.power - s.at(p.sparkDeg), 2);
        s.sigma = std::sqrt(squares / freedom);
    }
    const double first = s.points.front().sparkDeg, last = s.points.back().sparkDeg;
    const bool bends = s.bend < 0;
    const double vertex = bends ? s.middleDeg - s.slope / (2 * s.bend) : 0;
    // Without a bend down the line says where it goes.
    s.stillRising = bends ? vertex > last : s.at(last) > s.at(first);
    s.pastBest = bends ? vertex < first : !s.stillRising;
    if (s.stillRising || s.pastBest) return s;
    s.bestDeg = vertex;
    if (freedom > 0) findInterval(s, covariance, freedom);
    const double most = s.at(vertex);
    const double asked = vertex - std::sqrt((1 - enoughPower) * most / -s.bend);
    s.leastIsLowestTried = asked < first;
    s.leastDeg = std::max(asked, first);
    return s;
}

namespace {

using R = ChannelRole;

struct Sum {
    double total = 0, count = 0;
    void add(double v) {
        if (v != v) return;
        total += v;
        ++count;
    }
    double mean() const { return count > 0 ? total / count : std::numeric_limits<double>::quiet_NaN(); }
};

struct SweptRange {
    double least = std::numeric_limits<double>::infinity(), most = -least;
    void add(double v) {
        least = std::min(least, v);
        most = std::max(most, v);
    }
    double span() const { return most >= least ? most - least : std::numeric_limits<double>::quiet_NaN(); }
};

struct HeldAt {
    double rpm, loadKpa, content, sparkDeg, power, lambda;
    std::string log;
};

// Means over some samples; nothing where it knocks or says no power.
class HoldSums {
  public:
    HoldSums(const LogReview &log, double sinceS) : m_log(log), m_sinceS(sinceS) {}
    void add(std::size_t i) {
        const LogTrace &t = m_log.trace();
        if (t.timeS(i) < m_sinceS) return;
        m_knocks = m_knocks || t.at(R::knockRetard, i) > 0;
        m_rpm.add(t.at(R::rpm, i));
        m_load.add(t.at(R::map, i));
        m_content.add(t.content(i));
        m_spark.add(t.at(R::spark, i));
        // Torque, which goes less by speed: that is not at one place in a pull.
        const double torque = t.at(R::torque, i), rpm = t.at(R::rpm, i);
        m_torque.add(torque == torque ? torque : t.at(R::power, i) / rpm);
        m_lambda.add(t.at(R::lambda, i));
    }
    double samples() const { return m_rpm.count; }
    // At this speed for all that are compared.
    std::optional<HeldAt> at(double rpm) const {
        const HeldAt h{m_rpm.mean(),          m_load.mean(),   m_content.mean(), m_spark.mean(),
                       m_torque.mean() * rpm, m_lambda.mean(), m_log.info().id};
        const bool known = !m_knocks && h.loadKpa == h.loadKpa && h.content == h.content &&
                           h.sparkDeg == h.sparkDeg && h.power > 0;
        return known ? std::optional(h) : std::nullopt;
    }
    std::optional<HeldAt> atOwnSpeed() const { return at(m_rpm.mean()); }

  private:
    const LogReview &m_log;
    double m_sinceS;
    bool m_knocks = false;
    Sum m_rpm, m_load, m_content, m_spark, m_torque, m_lambda;
};

// Content band, row, column.
using SweepPlace = std::array<std::size_t, 3>;
using SweepPlaces = std::map<SweepPlace, std::vector<HeldAt>>;

SweepPlace sweepPlace(const Coverage &cells, double content, double loadKpa, double rpm) {
    return {cells.bandOf(std::clamp(content, 0.0, 1.0)), cells.load().nearest(loadKpa),
            cells.rpm().nearest(rpm)};
}

// Without the first second, in which the dyno still settles.
void addHold(SweepPlaces &to, const Coverage &cells, const LogReview &log, const Episode &e) {
    constexpr double settlesS = 1;
    HoldSums sums(log, e.beginS + settlesS);
    for (std::size_t i = e.from; i <= e.to; ++i)
        sums.add(i);
    if (const std::optional<HeldAt> h = sums.atOwnSpeed())
        to[sweepPlace(cells, h->content, h->loadKpa, h->rpm)].push_back(*h);
}

// Each cell that a pull goes through, with enough samples to have a mean.
void addPull(SweepPlaces &to, const Coverage &cells, const LogReview &log, const Episode &e) {
    const LogTrace &t = log.trace();
    constexpr double fewest = 5;
    std::map<SweepPlace, HoldSums> places;
    for (std::size_t i = e.from; i <= e.to; ++i) {
        const double content = t.content(i), load = t.at(R::map, i), rpm = t.at(R::rpm, i);
        if (!(load == load) || !(content == content) || log.watched().fuelCut(i)) continue;
        places.try_emplace(sweepPlace(cells, content, load, rpm), log, e.beginS).first->second.add(i);
    }
    for (const auto &[place, sums] : places)
        if (sums.samples() >= fewest)
            if (const std::optional<HeldAt> h = sums.at(cells.rpm()[place[2]])) to[place].push_back(*h);
}

std::optional<LoggedSweep> sweepOf(const std::vector<HeldAt> &held, const Job &job) {
    LoggedSweep s;
    std::vector<SweepPoint> points;
    Sum rpm, load, content;
    SweptRange lambdas, loads;
    for (const HeldAt &h : held) {
        points.push_back({h.sparkDeg, h.power});
        rpm.add(h.rpm);
        load.add(h.loadKpa);
        content.add(h.content);
        loads.add(h.loadKpa);
        if (h.lambda == h.lambda) lambdas.add(h.lambda);
        if (std::ranges::find(s.logs, h.log) == s.logs.end()) s.logs.push_back(h.log);
    }
    std::ranges::sort(points, {}, &SweepPoint::sparkDeg);
    if (sparksIn(points) < 3) return {};
    s.rpm = rpm.mean();
    s.loadKpa = load.mean();
    s.content = content.mean();
    s.sweep = fitSweep(points);
    s.lambdaMoved = lambdas.span();
    s.lambdaHeld = !(s.lambdaMoved > limitOf(job, "evidence.sweep.lambda"));
    s.loadMoved = loads.span() / s.loadKpa;
    s.loadHeld = !(s.loadMoved > limitOf(job, "evidence.sweep.load"));
    return s;
}

} // namespace

std::vector<LoggedSweep> sweepsIn(const Study &study,
                                  std::span<const std::shared_ptr<const LogReview>> logs) {
    const Coverage cells(study);
    SweepPlaces holds, pulls;
    for (const std::shared_ptr<const LogReview> &log : logs)
        for (const Episode &e : log->episodes()) {
            if (e.kind == EpisodeKind::hold || e.kind == EpisodeKind::cruise) addHold(holds, cells, *log, e);
            if (e.kind == EpisodeKind::pull) addPull(pulls, cells, *log, e);
        }
    std::map<SweepPlace, LoggedSweep> out;
    for (const auto *from : {&holds, &pulls})
        for (const auto &[place, held] : *from)
            if (std::optional<LoggedSweep> s = sweepOf(held, study.job())) {
                s->ofPulls = from == &pulls;
                out.emplace(place, std::move(*s)); // holds come first, and stay
            }
    std::vector<LoggedSweep> sweeps;
    for (auto &[place, s] : out)
        sweeps.push_back(std::move(s));
    return sweeps;
}

namespace {

// Whoever says where they come from.
bool sameNumbers(const Table2D &a, const Table2D &b) {
    constexpr double rounding = 1e-9;
    return a.x() == b.x() && a.y() == b.y() &&
           std::ranges::equal(a.cells(), b.cells(), [](double u, double v) {
               return std::abs(u - v) <= rounding * std::max(std::abs(u), std::abs(v));
           });
}

} // namespace

std::vector<std::shared_ptr<const LogReview>>
onThisFuel(const Job &job, std::span<const std::shared_ptr<const LogReview>> logs) {
    // As the engine got them at that content: another file, or the other end, is none of this log.
    const auto same = [&job](const Job &ran, double content) {
        return std::ranges::all_of(std::array{CalibratedQuantity::fuel, CalibratedQuantity::lambda},
                                   [&](CalibratedQuantity q) {
                                       return sameNumbers(blendedTable(SchoolModel(ran).at(q, content)),
                                                          blendedTable(SchoolModel(job).at(q, content)));
                                   });
    };
    std::vector<std::shared_ptr<const LogReview>> out;
    for (const std::shared_ptr<const LogReview> &log : logs)
        if (log->watched().tablesKnown() && log->content().known &&
            same(log->study().job(), log->content().mean))
            out.push_back(log);
    return out;
}

std::optional<PowerBound> powerBound(const LoggedSweep &sweep) {
    if (!sweep.held()) return std::nullopt;
    // Far from the best power falls by less than the square: a search that began there would put the best too
    // late.
    constexpr double moreDeg = 2, nearDeg = 8, leastSpanDeg = 5;
    const double last = sweep.sweep.points.back().sparkDeg;
    std::vector<SweepPoint> near;
    std::ranges::copy_if(sweep.sweep.points, std::back_inserter(near),
                         [last](const SweepPoint &p) { return p.sparkDeg >= last - nearDeg; });
    const PowerBound further{sweep.rpm, sweep.loadKpa, last + moreDeg, false};
    const double first = near.front().sparkDeg;
    if (sparksIn(near) < 3 || last - first < leastSpanDeg) return further;
    const SparkSweep s = fitSweep(near);
    if (s.pastBest) return PowerBound{sweep.rpm, sweep.loadKpa, first, true};
    if (!(s.bend < 0)) return further;
    // Nearly all of it is enough, also where the very most lies beyond what was tried.
    const double best = s.middleDeg - s.slope / (2 * s.bend);
    const double least = best - std::sqrt((1 - enoughPower) * s.at(best) / -s.bend);
    return least > last ? further : PowerBound{sweep.rpm, sweep.loadKpa, std::max(least, first), true};
}

namespace {

constexpr double sameContent = 0.02; // of two tables of best spark

ExtraTable &bestTableAt(Job &job, double content) {
    for (std::size_t i = 0; i < job.extras.size(); ++i) {
        const ExtraTable &t = job.extras.values()[i];
        if (t.kind == TableKind::sparkBest && std::abs(t.content - content) <= sameContent &&
            !whollyEstimated(t))
            return job.extras[i];
    }
    constexpr double percent = 100;
    ExtraTable made =
        newExtraTable(TableKind::sparkBest, "Best E" + std::to_string(std::lround(content * percent)));
    for (int n = 2; std::ranges::any_of(job.extras, [&](const ExtraTable &t) { return t.name == made.name; });
         ++n)
        made.name = "Best E" + std::to_string(std::lround(content * percent)) + " " + std::to_string(n);
    const Table2D spark = inPressure(job).calibration.of(CalibratedQuantity::spark).base;
    made.table = Table2D::uniform(spark.x(), spark.y(), definitionOf(TableKind::sparkBest).neutral);
    made.table.setOrigins(std::vector<CellOrigin>(made.table.cells().size(), CellOrigin::assumed));
    made.content = content;
    job.extras.push_back(std::move(made));
    return job.extras[job.extras.size() - 1];
}

} // namespace

Job withSweeps(const Job &job, std::span<const LoggedSweep> sweeps, const std::string &at) {
    Job after = job;
    std::vector<CorrectedCell> corrected;
    std::vector<std::string> ids;
    double content = 0;
    for (const LoggedSweep &s : sweeps) {
        if (!s.sweep.leastDeg || !s.held()) continue;
        ExtraTable &table = bestTableAt(after, s.content);
        const CellIndex cell{table.table.x().nearest(s.rpm), table.table.y().nearest(s.loadKpa)};
        const double was = table.table.cell(cell);
        if (was == *s.sweep.leastDeg && table.table.origin(cell) == CellOrigin::sweep) continue;
        table.table.setCell(cell, *s.sweep.leastDeg);
        table.table.setOrigin(cell, CellOrigin::sweep);
        CorrectedCell found{"calibration.extras." + table.name,
                            table.table.x()[cell.x],
                            table.table.y()[cell.y],
                            static_cast<double>(s.sweep.points.size()),
                            0,
                            *s.sweep.leastDeg - was};
        if (s.sweep.lowDeg) {
            found.plusMinus = (*s.sweep.highDeg - *s.sweep.lowDeg) / 2;
            table.plusMinus = std::max(table.plusMinus, found.plusMinus);
        }
        corrected.push_back(std::move(found));
        content += s.content;
        for (const std::string &id : s.logs)
            if (std::ranges::find(ids, id) == ids.end()) ids.push_back(id);
    }
    if (corrected.empty()) return job;
    Correction note;
    note.at = at;
    note.kind = CorrectionKind::sweep;
    note.logs = listOfIds(ids);
    note.content = content / static_cast<double>(corrected.size());
    note.cells = textOf(corrected);
    after.corrections.push_back(std::move(note));
    return after;
}

} // namespace wheelwright
