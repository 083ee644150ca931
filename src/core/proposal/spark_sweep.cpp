// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/spark_sweep.h"

#include "core/base/error.h"
#include "core/base/student_t.h"
#include "core/evidence/coverage.h"
#include "core/study/content_tables.h"
#include "core/study/load_axis.h"

#include <algorithm>
#include <array>
#include <cmath>
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

struct HeldAt {
    double rpm, loadKpa, content, sparkDeg, power, lambda;
    std::string log;
};

// Means over a hold without its first second, in which the dyno still settles; nothing where it knocks or
// says no power.
std::optional<HeldAt> heldIn(const LogReview &log, const Episode &e) {
    constexpr double settlesS = 1;
    const LogTrace &t = log.trace();
    Sum rpm, load, content, spark, power, lambda;
    for (std::size_t i = e.from; i <= e.to; ++i) {
        if (t.timeS(i) < e.beginS + settlesS) continue;
        if (t.at(R::knockRetard, i) > 0) return {};
        rpm.add(t.at(R::rpm, i));
        load.add(t.at(R::map, i));
        content.add(t.content(i));
        spark.add(t.at(R::spark, i));
        const double torque = t.at(R::torque, i);
        power.add(torque == torque ? torque * t.at(R::rpm, i) : t.at(R::power, i));
        lambda.add(t.at(R::lambda, i));
    }
    const HeldAt h{rpm.mean(),   load.mean(),   content.mean(), spark.mean(),
                   power.mean(), lambda.mean(), log.info().id};
    const bool known =
        h.loadKpa == h.loadKpa && h.content == h.content && h.sparkDeg == h.sparkDeg && h.power > 0;
    return known ? std::optional(h) : std::nullopt;
}

} // namespace

std::vector<LoggedSweep> sweepsIn(const Study &study,
                                  std::span<const std::shared_ptr<const LogReview>> logs) {
    const Coverage cells(study);
    std::map<std::array<std::size_t, 3>, std::vector<HeldAt>> places;
    for (const std::shared_ptr<const LogReview> &log : logs)
        for (const Episode &e : log->episodes()) {
            if (e.kind != EpisodeKind::hold && e.kind != EpisodeKind::cruise) continue;
            if (const std::optional<HeldAt> h = heldIn(*log, e))
                places[{cells.bandOf(std::clamp(h->content, 0.0, 1.0)), cells.load().nearest(h->loadKpa),
                        cells.rpm().nearest(h->rpm)}]
                    .push_back(*h);
        }
    std::vector<LoggedSweep> out;
    for (const auto &[place, holds] : places) {
        std::vector<SweepPoint> points;
        Sum rpm, load, content;
        std::vector<std::string> ids;
        double least = std::numeric_limits<double>::infinity(), most = -least;
        for (const HeldAt &h : holds) {
            points.push_back({h.sparkDeg, h.power});
            rpm.add(h.rpm);
            load.add(h.loadKpa);
            content.add(h.content);
            if (std::ranges::find(ids, h.log) == ids.end()) ids.push_back(h.log);
            if (h.lambda == h.lambda) {
                least = std::min(least, h.lambda);
                most = std::max(most, h.lambda);
            }
        }
        std::ranges::sort(points, {}, &SweepPoint::sparkDeg);
        if (sparksIn(points) < 3) continue;
        LoggedSweep s{rpm.mean(),
                      load.mean(),
                      content.mean(),
                      fitSweep(points),
                      most >= least ? most - least : std::numeric_limits<double>::quiet_NaN(),
                      true,
                      std::move(ids)};
        s.lambdaHeld = !(s.lambdaMoved > limitOf(study.job(), "evidence.sweep.lambda"));
        out.push_back(std::move(s));
    }
    return out;
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
        if (!s.sweep.leastDeg || !s.lambdaHeld) continue;
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
