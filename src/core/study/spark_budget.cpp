// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/spark_budget.h"
#include "core/study/extra_tables.h"

#include "core/study/school.h"
#include "core/tables/table_kind.h"

#include <algorithm>
#include <limits>

namespace wheelwright {
namespace {

struct Span {
    double usual = 0, best = 0, worst = 0;
};

// A correction over a range of its x: linear between breakpoints, so its extremes lie on those or at the
// ends.
std::vector<double> extremesOf(const Job &job, TableKind kind, double low, double high) {
    std::vector<double> at{low, high};
    if (const ExtraTable *t = extraInUse(job, kind))
        for (const double x : t->table.x().points())
            if (x > low && x < high) at.push_back(x);
    return at;
}

Span over(const Job &job, TableKind kind, double low, double usual, double high, double y) {
    Span s;
    s.usual = s.best = s.worst = extraAt(job, kind, usual, y);
    for (const double x : extremesOf(job, kind, low, high)) {
        s.best = std::max(s.best, extraAt(job, kind, x, y));
        s.worst = std::min(s.worst, extraAt(job, kind, x, y));
    }
    return s;
}

struct TemperatureRange {
    double coldest, usual, hottest;
};

TemperatureRange intakeRange(const Job &job) {
    const Conditions &air = job.conditions;
    return {air.intakeColdestC, air.intakeUsualC, std::max(job.sparkDelivery.intakeHotC, air.intakeUsualC)};
}

Span byIntakeAir(const Job &job, double load) {
    const auto [coldest, usual, hottest] = intakeRange(job);
    return over(job, TableKind::sparkIntake, coldest, usual, hottest, load);
}

class Chain {
  public:
    explicit Chain(SparkBudget &budget) : m_budget(budget) {}
    void add(PhraseText title, Span s, std::string link) {
        m_total.usual += s.usual;
        m_total.best += s.best;
        m_total.worst += s.worst;
        const std::string id(title.id.substr(title.id.rfind('.') + 1));
        m_budget.steps.push_back({id, title, s.usual, s.best, s.worst, m_total.usual, m_total.best,
                                  m_total.worst, std::move(link)});
    }
    const Span &total() const { return m_total; }

  private:
    SparkBudget &m_budget;
    Span m_total;
};

Span everywhere(double v) {
    return {v, v, v};
}

} // namespace

IntakeAirAtBest::IntakeAirAtBest(const Job &job) {
    const auto [coldest, usual, hottest] = intakeRange(job);
    std::vector<double> temperatures = extremesOf(job, TableKind::sparkIntake, coldest, hottest);
    temperatures.push_back(usual);
    for (const double c : temperatures) {
        const ExtraByLoad line(job, TableKind::sparkIntake, c);
        if (std::ranges::any_of(m_byTemperature, [&](const ExtraByLoad &l) { return l.covers(line); }))
            continue;
        std::erase_if(m_byTemperature, [&](const ExtraByLoad &l) { return line.covers(l); });
        m_byTemperature.push_back(line);
    }
}

double IntakeAirAtBest::at(double loadKpa) const {
    const AxisPosition here =
        m_byTemperature.front().axis().locate(loadKpa); // of one table: the same for all
    double best = -std::numeric_limits<double>::infinity();
    for (const ExtraByLoad &line : m_byTemperature)
        best = std::max(best, line.at(here));
    return best;
}

SparkBudget sparkBudget(const Study &study, const OperatingPoint &at) {
    const auto [content, rpm, load] = at;
    const Job &job = study.job();
    const BlendedPoint p = blendedPoint(study, at);
    const double low = p.baseLookup[static_cast<std::size_t>(CalibratedQuantity::spark)].value;
    const SparkDelivery &d = job.sparkDelivery;
    SparkBudget b;
    b.askedDeg = p.sparkDeg;
    Chain chain(b);
    chain.add(MARKED("budget.base", "Base table"), everywhere(low), "calibration.spark.base");
    chain.add(MARKED("budget.content", "Content"), everywhere(p.sparkDeg - low), "calibration.spark.top");
    chain.add(MARKED("budget.intake_air", "Intake air"), byIntakeAir(job, load),
              "calibration.extras.spark_intake");
    chain.add(MARKED("budget.coolant", "Coolant"),
              over(job, TableKind::sparkCoolant, d.coolantColdC, d.coolantUsualC, d.coolantHotC, 0),
              "calibration.extras.spark_coolant");
    Span cylinder;
    for (int i = 1; i <= static_cast<int>(job.engine.cylinders); ++i) {
        const double v = extraAt(job, TableKind::sparkCylinder, i);
        cylinder.worst = std::min(cylinder.worst, v);
        cylinder.best = std::max(cylinder.best, v);
        cylinder.usual += v / job.engine.cylinders;
    }
    chain.add(MARKED("budget.cylinder", "Cylinder"), cylinder, "calibration.extras.spark_cylinder");
    if (const ExtraTable *fallback = extraInUse(job, TableKind::sparkFallback)) {
        // T = low + q (high − low): what it takes off is (1 − q) of the way down, never up.
        const double step = std::min(0.0, fallback->table.lookup(rpm, load).value - p.sparkDeg);
        chain.add(MARKED("budget.fallback", "Fallback share"),
                  {(1 - d.fallbackUsual) * step, (1 - std::max(d.fallbackUsual, d.fallbackWorst)) * step,
                   (1 - std::min(d.fallbackUsual, d.fallbackWorst)) * step},
                  "spark.fallback_worst");
    }
    chain.add(MARKED("budget.knock", "Knock retard"), {0, 0, d.knockControl ? -d.knockRetardWorstDeg : 0.0},
              "spark.knock_retard_worst_deg");
    chain.add(MARKED("budget.base_timing", "Base timing error"), everywhere(d.baseTimingErrorDeg),
              "spark.base_timing_error_deg");
    b.usualDeg = chain.total().usual;
    b.bestDeg = chain.total().best;
    b.worstDeg = chain.total().worst;
    return b;
}

Explanation explainBudget(const Study &study, const OperatingPoint &at) {
    const SparkBudget b = sparkBudget(study, at);
    constexpr Dimension deg = Dimension::sparkAngle;
    Explanation x;
    x.title = MARKED("spark_budget.budget.title", "Spark delivered");
    x.result = {b.usualDeg, deg};
    x.formula = MARKED("spark_budget.budget.formula",
                       "base + content + corrections + fallback + knock + base timing");
    x.substituted = {
        MARKED("spark_budget.budget.numbers", "asked {0}, delivered {1}; {2} at best, {3} at worst"),
        {{b.askedDeg, deg}, {b.usualDeg, deg}, {b.bestDeg, deg}, {b.worstDeg, deg}}};
    for (const BudgetStep &s : b.steps)
        x.inputs.push_back(
            {s.usualDeg == 0 && s.worstDeg == 0 ? "0" : "Σ", s.title, {s.usualDeg, deg}, s.link});
    x.source = MARKED("spark_budget.budget.source", "Sum of what the job states; common practice");
    x.uncertainty = {MARKED("spark_budget.budget.uncertainty",
                            "Worst takes every step at its worst at once, over the job's temperatures."),
                     {}};
    const BudgetStep *most = nullptr;
    for (const BudgetStep &s : b.steps)
        if (s.id != "base" && s.id != "content" && (!most || s.usualDeg < most->usualDeg)) most = &s;
    x.change =
        most && most->usualDeg < 0
            ? Phrase{MARKED("spark_budget.budget.change.takes_most", "{A} takes most: {0}."),
                     {{-most->usualDeg, deg}},
                     {},
                     {most->title}}
            : Phrase{MARKED("spark_budget.budget.change", "Nothing takes spark away on a usual pull."), {}};
    return x;
}

} // namespace wheelwright
