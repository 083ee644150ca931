// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/school_conversion.h"

#include "core/base/error.h"
#include "core/job/job_schema.h"
#include "core/study/fuel_delivery.h"
#include "core/study/fuel_meaning.h"
#include "core/study/load_axis.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr int curveSteps = 20; // 5 %

void requireContents(const std::vector<double> &contents, std::size_t least) {
    if (contents.size() < least || contents.size() > 12)
        throw InputError(
            "contents",
            Phrase{MARKED("expected.contents", "{a} to 12 contents"), {}, {std::to_string(least)}},
            std::to_string(contents.size()));
    for (std::size_t i = 0; i < contents.size(); ++i) {
        if (!(contents[i] >= 0 && contents[i] <= 1))
            throw InputError(
                "content " + std::to_string(i + 1),
                MARKED("expected.a_volume_fraction_from_0_to_1", "a volume fraction from 0 to 1"),
                exactly(contents[i]));
        if (i > 0 && contents[i] - contents[i - 1] < 0.005)
            throw InputError(
                "content " + std::to_string(i + 1),
                MARKED("expected.least_0_005_more_than_before", "at least 0.005 more than the one before"),
                exactly(contents[i]));
    }
}

// <now − base, top − base> / |top − base|²: the weight of least squares over all cells.
double leastSquaresWeight(const Table2D &base, const Table2D &top, const Table2D &now) {
    double over = 0, under = 0;
    for (std::size_t i = 0; i < base.cells().size(); ++i) {
        const double step = top.cells()[i] - base.cells()[i];
        over += (now.cells()[i] - base.cells()[i]) * step;
        under += step * step;
    }
    return under > 0 ? over / under : 0;
}

// A table on other axes.
Table2D onAxesOf(const Table2D &table, const Table2D &axes) {
    Table2D out = axes;
    for (std::size_t y = 0; y < out.y().size(); ++y)
        for (std::size_t x = 0; x < out.x().size(); ++x)
            out.setCell({x, y}, table.lookup(out.x()[x], out.y()[y]).value);
    return out;
}

void toTwoTables(const Job &from, const SchoolModel &old, Job &to, School school) {
    Calibration &c = to.calibration;
    c.school = school;
    for (CalibratedQuantity q : allQuantities) {
        TwoTable &t = c.of(q);
        t.base = blendedTable(old.at(q, c.baseContent));
        t.top = onAxesOf(blendedTable(old.at(q, c.topContent)), t.base);
        std::vector<double> contents, weights;
        for (int i = 0; i <= curveSteps; ++i) {
            const double content = static_cast<double>(i) / curveSteps;
            if (content <= c.baseContent + 1e-9 || content >= c.topContent - 1e-9) continue;
            const Table2D now = onAxesOf(blendedTable(old.at(q, content)), t.base);
            contents.push_back(content);
            weights.push_back(std::clamp(leastSquaresWeight(t.base, t.top, now), 0.0, 1.0));
        }
        contents.insert(contents.begin(), c.baseContent);
        weights.insert(weights.begin(), 0);
        contents.push_back(c.topContent);
        weights.push_back(1);
        // A curve that was the physical one needs no points of its own.
        const bool same = !definitionOf(from.calibration.school).levels &&
                          from.calibration.school != School::fuelModel && t.shape != WeightShape::custom;
        if (same) continue;
        t.shape = WeightShape::custom;
        t.customWeight = Curve(contents, weights);
    }
}

void toLevels(const SchoolModel &old, Job &to, const SchoolRequest &request, const Job &from) {
    std::vector<double> contents = request.contents;
    if (contents.empty()) {
        const Calibration &c = from.calibration;
        if (definitionOf(c.school).levels)
            for (const ContentLevel &l : c.levels)
                contents.push_back(l.content);
        else
            for (int i = 0; i < 5; ++i)
                contents.push_back(c.baseContent + (c.topContent - c.baseContent) * i / 4);
    }
    requireContents(contents, request.school == School::stack ? 2 : 1);
    to.calibration.school = request.school;
    to.calibration.levels.clear();
    for (const double content : contents) {
        ContentLevel l;
        l.content = content;
        const ContentWindow w = windowOf(from, content, request.windowTolerance);
        l.windowLow = w.low;
        l.windowHigh = w.high;
        for (CalibratedQuantity q : allQuantities)
            l.of(q) = blendedTable(old.at(q, content));
        to.calibration.levels.push_back(std::move(l));
    }
}

// A fuel number of one job as a number of another that asks for the same fuel.
double asIn(FuelMeaning from, const InjectorDemand &in, FuelMeaning to, const InjectorDemand &out, double v,
            EnginePoint at, double lambda) {
    return from == to ? v : out.value(in.mm3(v, at, lambda), at, lambda);
}

// The fuel table of a content, as true VE.
Table2D trueVeAt(const Job &job, const SchoolModel &school, double content) {
    const double usual = job.conditions.intakeUsualC;
    const FuelMeaning meaning = job.calibration.fuelMeaning;
    const InjectorDemand in(job, content, usual), out(job, FuelMeaning::trueVe, content, usual);
    const BlendEnds lambda = school.at(CalibratedQuantity::lambda, content);
    Table2D t = blendedTable(school.at(CalibratedQuantity::fuel, content));
    for (std::size_t y = 0; y < t.y().size(); ++y)
        for (std::size_t x = 0; x < t.x().size(); ++x) {
            const double rpm = t.x()[x], row = t.y()[y];
            t.setCell({x, y}, asIn(meaning, in, FuelMeaning::trueVe, out, t.cell(x, y),
                                   {rpm, loadOfAxis(job, row)}, lambda.at(rpm, row)));
        }
    return t;
}

// True VE at every content is nearly one table times a number: the nearest such pair, alternating least
// squares from c = 1. It converges to the leading singular pair (power iteration).
void toFuelModel(const Job &from, Job &to) {
    const SchoolModel old(from);
    toTwoTables(from, old, to, School::twoTables); // spark, boost and lambda stay as A
    Calibration &c = to.calibration;
    c.levels.clear();
    c.fuelMeaning = FuelMeaning::trueVe;
    std::vector<double> contents{0, 1, c.baseContent, c.topContent};
    for (int i = 1; i < curveSteps; ++i)
        contents.push_back(static_cast<double>(i) / curveSteps);
    std::ranges::sort(contents);
    const auto close = [](double a, double b) { return b - a < 1e-9; };
    contents.erase(std::unique(contents.begin(), contents.end(), close), contents.end());
    std::vector<Table2D> tables;
    for (const double content : contents)
        tables.push_back(trueVeAt(from, old, content));
    Table2D one = tables.front();
    for (Table2D &t : tables)
        t = onAxesOf(t, one);
    std::vector<double> factor(contents.size(), 1);
    constexpr int rounds = 200;
    for (int round = 0; round < rounds; ++round) {
        double factors = 0;
        for (const double f : factor)
            factors += f * f;
        for (std::size_t i = 0; i < one.cells().size(); ++i) {
            double sum = 0;
            for (std::size_t k = 0; k < tables.size(); ++k)
                sum += factor[k] * tables[k].cells()[i];
            one.setCell({i % one.x().size(), i / one.x().size()}, sum / factors);
        }
        double cells = 0;
        for (const double v : one.cells())
            cells += v * v;
        for (std::size_t k = 0; k < tables.size(); ++k) {
            double sum = 0;
            for (std::size_t i = 0; i < one.cells().size(); ++i)
                sum += one.cells()[i] * tables[k].cells()[i];
            factor[k] = sum / cells;
        }
    }
    // c is 1 where the base tables were calibrated.
    const auto base = static_cast<std::size_t>(
        std::ranges::min_element(contents, {}, [&](double v) { return std::abs(v - c.baseContent); }) -
        contents.begin());
    const double unit = factor[base];
    for (double &f : factor)
        f /= unit;
    for (std::size_t i = 0; i < one.cells().size(); ++i)
        one.setCell({i % one.x().size(), i / one.x().size()}, one.cells()[i] * unit);
    c.of(CalibratedQuantity::fuel).base = c.of(CalibratedQuantity::fuel).top = one;
    c.learnedFuelCorrection = Curve(contents, factor);
    c.school = School::fuelModel;
}

SchoolError errorOf(const Job &old, const Job &now, CalibratedQuantity q) {
    SchoolError e;
    e.quantity = q;
    const SchoolModel was(old), is(now);
    double sum = 0, count = 0;
    for (int percent = 0; percent <= 100; ++percent) {
        const double content = percent / 100.0;
        const Table2D a = blendedTable(was.at(q, content)), b = blendedTable(is.at(q, content));
        const BlendEnds lambda = was.at(CalibratedQuantity::lambda, content);
        const double usual = old.conditions.intakeUsualC;
        const InjectorDemand in(now, content, usual), out(old, content, usual);
        double worst = 0, sumHere = 0;
        for (std::size_t y = 0; y < a.y().size(); ++y)
            for (std::size_t x = 0; x < a.x().size(); ++x) {
                const double rpm = a.x()[x], load = a.y()[y], before = a.cell(x, y);
                double after = b.lookup(rpm, load).value;
                if (q == CalibratedQuantity::fuel)
                    after = asIn(now.calibration.fuelMeaning, in, old.calibration.fuelMeaning, out, after,
                                 {rpm, loadOfAxis(old, load)}, lambda.at(rpm, load));
                const double step = after - before;
                sumHere += std::abs(step);
                if (std::abs(step) > std::abs(worst)) worst = step;
                const double relative = before != 0 ? step / before : 0;
                if (std::abs(relative) > std::abs(e.worstRelative)) e.worstRelative = relative;
                if (std::abs(step) <= std::abs(e.worst)) continue;
                e.worst = step;
                e.content = content;
                e.rpm = rpm;
                e.y = load;
            }
        const auto cells = static_cast<double>(a.cells().size());
        e.worstAt.push_back(worst);
        e.meanAt.push_back(sumHere / cells);
        sum += sumHere;
        count += cells;
    }
    e.mean = sum / count;
    return e;
}

} // namespace

double lambdaOfFileOn(const Job &job, double fileContent, double tankContent) {
    return blendModelOf(job).volumeMultiplier(blendAt(job, tankContent), blendAt(job, fileContent));
}

ContentWindow windowOf(const Job &job, double content, double tolerance) {
    if (!(tolerance > 0 && tolerance < 1))
        throw InputError("tolerance",
                         MARKED("expected.share_lambda_over_0_under", "a share of λ over 0 and under 1"),
                         exactly(tolerance));
    const auto inside = [&](double tank) {
        return std::abs(lambdaOfFileOn(job, content, tank) - 1) <= tolerance;
    };
    // K(E) rises with content, so each end is found by halving.
    const auto end = [&](double far) {
        if (inside(far)) return far;
        double good = content, bad = far;
        for (int i = 0; i < 60; ++i) {
            const double middle = (good + bad) / 2;
            (inside(middle) ? good : bad) = middle;
        }
        return good;
    };
    return {end(0), end(1)};
}

SchoolConversion convertSchool(const Job &job, const SchoolRequest &request) {
    if (job.control == FuelControl::mechanical)
        throw InputError("school",
                         MARKED("expected.job_whose_fuel_metered_controller",
                                "a job whose fuel is metered by a controller"),
                         MARKED("found.mechanical_injection", "mechanical injection"));
    SchoolConversion out{job, {}};
    const SchoolModel old(job);
    switch (request.school) {
    case School::twoTables:
    case School::baseAndAdder:
        toTwoTables(job, old, out.job, request.school);
        out.job.calibration.levels.clear();
        // c(E) has gone into the weights.
        if (job.calibration.school == School::fuelModel)
            out.job.calibration.learnedFuelCorrection = Curve::constant(1);
        break;
    case School::fuelModel:
        toFuelModel(job, out.job);
        break;
    case School::windowSet:
    case School::stack:
        toLevels(old, out.job, request, job);
        break;
    }
    validate(out.job);
    for (CalibratedQuantity q : allQuantities)
        out.errors.push_back(errorOf(job, out.job, q));
    return out;
}

std::vector<BakedFile> bake(const Job &job, const std::vector<double> &contents, double tolerance) {
    requireContents(contents, 1);
    const SchoolModel school(job);
    std::vector<BakedFile> files;
    for (const double content : contents) {
        BakedFile f{content, windowOf(job, content, tolerance), {}};
        for (CalibratedQuantity q : allQuantities)
            f.tables[static_cast<std::size_t>(q)] = blendedTable(school.at(q, content));
        files.push_back(std::move(f));
    }
    return files;
}

std::vector<std::pair<double, double>> gapsBetween(const std::vector<BakedFile> &files) {
    std::vector<std::pair<double, double>> gaps;
    for (std::size_t i = 1; i < files.size(); ++i)
        if (files[i].window.low > files[i - 1].window.high + 1e-9)
            gaps.emplace_back(files[i - 1].window.high, files[i].window.low);
    return gaps;
}

} // namespace wheelwright
