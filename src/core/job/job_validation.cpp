// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/base/iso_date.h"
#include "core/base/limits.h"
#include "core/job/job_schema.h"
#include "core/job/revision.h"
#include "core/job/school_definition.h"
#include "core/job/tank_history.h"
#include "core/tables/cell_origin.h"
#include "core/tables/table_kind.h"
#include "core/tables/table_text.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace wheelwright {
namespace {

using D = Dimension;

constexpr std::size_t mostEchoed = 40; // bytes of what was typed that a sentence repeats

Phrase range(double least, double most, D dimension) {
    if (shownInPercent(dimension)) // shown in per cent, held as shares
        return {MARKED("expected.fraction_between", "{0} to {1} (a fraction)"), {exact(least), exact(most)}};
    return fromTo(least, most, unitSymbol(dimension, UnitChoice{}));
}

void requireWithin(const std::string &where, double v, double least, double most, D dimension) {
    if (!std::isfinite(v) || v < least || v > most)
        throw InputError(where, range(least, most, dimension),
                         std::isfinite(v) ? exactly(v) : MARKED("found.not_a_number", "not a number"));
}

void requireKind(const std::string &where, const FieldContent &kind, const FieldContent &content) {
    if (kind.index() == content.index()) return;
    constexpr std::array kinds{MARKED("expected.number", "a number"),
                               MARKED("expected.truth", "true or false"), MARKED("expected.text", "text")};
    throw InputError(where, kinds[kind.index()], kinds[content.index()]);
}

void requireChoice(const std::string &where, const std::vector<std::string> &choices,
                   const FieldContent &content) {
    if (choices.empty() || std::ranges::find(choices, std::get<std::string>(content)) != choices.end())
        return;
    constexpr std::size_t most = 6; // of a long list the first: docs/job-file.md has all
    std::string known;
    for (std::size_t i = 0; i < std::min(choices.size(), most); ++i)
        known += (i == 0 ? "" : ", ") + choices[i];
    if (choices.size() > most) known += " … (" + std::to_string(choices.size()) + " in all)";
    throw InputError(where, Phrase{MARKED("expected.one_of", "one of {a}"), {}, {known}},
                     "'" + echoed(std::get<std::string>(content), mostEchoed) + "'");
}

void requireDate(const std::string &where, const std::string &text) {
    if (!text.empty() && !isIsoDate(text))
        throw InputError(
            where,
            MARKED("expected.date_such_2001_02_03", "a date such as 2001-02-03, or 2001-02-03T04:05:06Z"),
            "'" + echoed(text, mostEchoed) + "'");
}

void requireUnique(const std::string &list, const std::vector<std::string> &names) {
    for (std::size_t i = 0; i < names.size(); ++i)
        if (std::find(names.begin(), names.begin() + static_cast<std::ptrdiff_t>(i), names[i]) !=
            names.begin() + static_cast<std::ptrdiff_t>(i))
            throw InputError(list + " " + std::to_string(i + 1),
                             MARKED("expected.a_name_of_its_own", "a name of its own"),
                             "'" + echoed(names[i], mostEchoed) + "' again");
}

// A name that refers to another record: one of these, or none at all.
void requireKnown(const std::string &list, std::size_t record, const std::string &key,
                  const std::string &name, const std::vector<std::string> &names, PhraseText what) {
    if (name.empty() || std::ranges::find(names, name) != names.end()) return;
    std::string known;
    for (const std::string &n : names)
        known += (known.empty() ? "" : ", ") + n;
    throw InputError(list + " " + std::to_string(record + 1) + " " + key,
                     known.empty()
                         ? Phrase{MARKED("expected.name_of_none", "{A} (there is none)"), {}, {}, {what}}
                         : Phrase{MARKED("expected.name_of", "{A} ({a})"), {}, {known}, {what}},
                     "'" + echoed(name, mostEchoed) + "'");
}

template <class List, class Member>
std::vector<std::string> namesOf(const List &records, Member member) {
    std::vector<std::string> names;
    for (const auto &r : records)
        names.push_back(r.*member);
    return names;
}

std::string numbered(const char *list, std::size_t i, const char *key = "") {
    return std::string(list) + " " + std::to_string(i + 1) + key;
}

// A new record names nothing yet; it counts for nothing until it does.
void validateReferences(const Job &job) {
    requireUnique("fuel.hydrocarbons", namesOf(job.hydrocarbons, &Hydrocarbon::name));
    requireUnique("fuel.lots", namesOf(job.lots, &FuelLot::label));
    if (!job.lots.empty() || !job.mixtures.empty())
        requireUnique("fuel.shelf", namesOf(job.shelf, &ShelfEntry::name));
    for (const RecordList &list : allRecordLists())
        for (const RecordField &f : list.fields) {
            if (f.refersTo.empty() || list.size(job) == 0) continue;
            const std::vector<std::string> known = namesIn(job, f.refersTo);
            const PhraseText what = recordListByPath(f.refersTo)->what;
            for (std::size_t i = 0; i < list.size(job); ++i)
                requireKnown(list.path, i, f.key, std::get<std::string>(f.read(job, i)), known, what);
        }
}

void validateFuels(const Job &job) {
    const auto check = [](const std::string &where, double ethanol, double methanol) {
        if (ethanol + methanol > 1 + 1e-12)
            throw InputError(where,
                             MARKED("expected.ethanol_methanol_most_1_together",
                                    "ethanol and methanol of at most 1 together"),
                             exactly(ethanol + methanol));
    };
    for (std::size_t i = 0; i < job.shelf.size(); ++i)
        check("fuel.shelf " + std::to_string(i + 1), job.shelf[i].ethanol, job.shelf[i].methanol);
    for (std::size_t i = 0; i < job.tankEvents.size(); ++i)
        check("tank.events " + std::to_string(i + 1), job.tankEvents[i].ethanol, job.tankEvents[i].methanol);
    validateReferences(job);
    tankNow(job); // the history must make sense: nothing drained that was not there
}

void validateReturn(const TankSetup &t) {
    const auto comesBack = [&](const char *where, double flow, double use) {
        if (t.sensorPlace == SensorPlace::returnLine && use >= flow)
            throw InputError(where,
                             Phrase{MARKED("expected.less_than_line",
                                           "less than the line's flow {0}, so that some comes back"),
                                    {exact(flow)}},
                             exactly(use));
    };
    comesBack("tank.idle_use_l_min", t.idleFlowLMin, t.idleUseLMin);
    comesBack("tank.cruise_use_l_min", t.cruiseFlowLMin, t.cruiseUseLMin);
}

void validateFlow(const Job &job) {
    if (job.aux.spray.fullKpa < job.aux.spray.startKpa)
        throw InputError("aux.full_kpa",
                         Phrase{MARKED("expected.at_least_start", "at least the pressure it starts at, {0}"),
                                {exact(job.aux.spray.startKpa)}},
                         exactly(job.aux.spray.fullKpa));
}

// Other tables, revisions and marks: each by its own name.
void validateKept(const Job &job) {
    requireUnique("calibration.extras", namesOf(job.extras, &ExtraTable::name));
    for (std::size_t i = 0; i < job.extras.size(); ++i)
        validate(job.extras[i], numbered("calibration.extras", i));
    requireUnique("revisions", namesOf(job.revisions, &Revision::name));
    if (job.sparkDelivery.coolantColdC > job.sparkDelivery.coolantUsualC ||
        job.sparkDelivery.coolantUsualC > job.sparkDelivery.coolantHotC)
        throw InputError(
            "spark.coolant_usual_c",
            MARKED("expected.between_the_cold_and_the_hot_coolant", "between the cold and the hot coolant"),
            exactly(job.sparkDelivery.coolantUsualC));
}

// Tables over throttle are read through this curve, both ways.
void validateThrottle(const Job &job) {
    if (job.calibration.loadAxis != LoadAxis::throttle) return;
    const std::vector<double> &kpa = job.engine.throttleKpa.values();
    if (kpa.size() < 2)
        throw InputError(
            "engine.throttle_kpa",
            MARKED("expected.two_points_more_tables_over", "two points or more for tables over throttle"),
            std::to_string(kpa.size()));
    for (std::size_t i = 1; i < kpa.size(); ++i)
        if (!(kpa[i] > kpa[i - 1]))
            throw InputError(
                "engine.throttle_kpa point " + std::to_string(i + 1),
                MARKED("expected.more_pressure_with_more_throttle", "more pressure with more throttle"),
                exactly(kpa[i]));
}

void validateScalars(const Job &job) {
    const Calibration &c = job.calibration;
    if (job.contentSensing.plausibleLeast > job.contentSensing.plausibleMost)
        throw InputError(
            "content_sensor.plausible_most",
            MARKED("expected.at_least_the_lowest_plausible_content", "at least the lowest plausible content"),
            exactly(job.contentSensing.plausibleMost));
    if (job.engine.mapSensorMaxKpa <= job.engine.mapSensorMinKpa)
        throw InputError("engine.map_sensor_max_kpa",
                         MARKED("expected.more_than_the_low_end", "more than the low end"),
                         exactly(job.engine.mapSensorMaxKpa));
    if (job.conditions.intakeColdestC > job.conditions.intakeUsualC)
        throw InputError(
            "conditions.intake_coldest_c",
            MARKED("expected.at_most_the_usual_intake_temperature", "at most the usual intake temperature"),
            exactly(job.conditions.intakeColdestC));
    if (!(c.topContent - c.baseContent >= 0.01 - 1e-12))
        throw InputError("calibration.top_content",
                         Phrase{MARKED("expected.above_base", "at least 0.01 above the base content {0}"),
                                {exact(c.baseContent)}},
                         exactly(c.topContent));
    for (CalibratedQuantity q : allQuantities) {
        const TwoTable &t = c.of(q);
        const std::string where = "calibration." + std::string(quantityId(q)) + ".weight_points";
        constexpr double exact = 1e-9;
        if (t.shape != WeightShape::custom) continue;
        if (t.customWeight.axis().size() < 2)
            throw InputError(where, MARKED("expected.at_least_two_points", "at least two points"),
                             MARKED("found.one", "one"));
        if (std::abs(t.customWeight.at(c.baseContent)) > exact)
            throw InputError(where,
                             MARKED("expected.weight_0_base_content", "a weight of 0 at the base content"),
                             exactly(t.customWeight.at(c.baseContent)));
        if (std::abs(t.customWeight.at(c.topContent) - 1) > exact)
            throw InputError(where,
                             MARKED("expected.weight_1_top_content", "a weight of 1 at the top content"),
                             exactly(t.customWeight.at(c.topContent)));
        // Extrapolation may carry a weight beyond the ends; between them it stays a share.
        for (std::size_t i = 0; i < t.customWeight.axis().size(); ++i) {
            const double x = t.customWeight.axis()[i];
            if (x >= c.baseContent && x <= c.topContent)
                requireWithin(where + " point " + std::to_string(i + 1), t.customWeight.values()[i], 0, 1,
                              D::none);
        }
    }
}

/// A rule between fields, and whether two jobs are alike in all that it reads.
struct Rule {
    void (*check)(const Job &);
    bool (*alike)(const Job &, const Job &);
};

constexpr std::array rules{
    Rule{validateFuels,
         [](const Job &a, const Job &b) {
             return a.hydrocarbons.shares(b.hydrocarbons) && a.shelf.shares(b.shelf) &&
                    a.lots.shares(b.lots) && a.tubes.shares(b.tubes) && a.mixtures.shares(b.mixtures) &&
                    a.tankEvents.shares(b.tankEvents) && a.supply == b.supply && a.tank == b.tank &&
                    a.gasoline == b.gasoline && a.ethanol == b.ethanol && a.methanol == b.methanol &&
                    a.alcohol == b.alcohol;
         }},
    Rule{[](const Job &job) { validateReturn(job.tank); },
         [](const Job &a, const Job &b) { return a.tank == b.tank; }},
    Rule{validateFlow, [](const Job &a, const Job &b) { return a.aux == b.aux && a.supply == b.supply; }},
    Rule{validateSchool, [](const Job &a, const Job &b) { return a.calibration == b.calibration; }},
    Rule{validateKept,
         [](const Job &a, const Job &b) {
             return a.extras == b.extras && a.revisions.shares(b.revisions) &&
                    a.sparkDelivery == b.sparkDelivery;
         }},
    Rule{validateThrottle,
         [](const Job &a, const Job &b) {
             return a.engine == b.engine && a.calibration.loadAxis == b.calibration.loadAxis;
         }},
    Rule{validateScalars, [](const Job &, const Job &) { return false; }}, // quicker than to ask
};

} // namespace

const Job &sampleJob() {
    static const Job job = [] {
        Job j;
        for (const RecordList &l : allRecordLists())
            l.resize(j, 1);
        return j;
    }();
    return job;
}

// The same without words, for lists of thousands at every edit.
static bool isSound(const RecordField &f, const FieldContent &content) {
    if (const double *v = std::get_if<double>(&content)) return *v >= f.least && *v <= f.most;
    const auto *text = std::get_if<std::string>(&content);
    if (f.date && text && !text->empty()) return isIsoDate(*text);
    return f.choices.empty() || !text || std::ranges::find(f.choices, *text) != f.choices.end();
}

void validate(const RecordList &list, const RecordField &f, std::size_t record, const FieldContent &content) {
    const bool plain = !f.table() && !f.deferred() && f.read(sampleJob(), 0).index() == content.index();
    if (plain && isSound(f, content)) return;
    const std::string where = list.path + " " + std::to_string(record + 1) + " " + f.key;
    requireKind(where, f.read(sampleJob(), 0), content);
    if (const double *v = std::get_if<double>(&content))
        requireWithin(where, *v, f.least, f.most, f.dimension);
    if (f.table()) tableFromText(std::get<std::string>(content), where);
    if (f.date) requireDate(where, std::get<std::string>(content));
    if (f.deferred()) f.checkText(std::get<std::string>(content), where);
    requireChoice(where, f.choices, content);
}

namespace {

// before: records that it has too are not looked at again; nullptr: all are.
void validateRecords(const RecordList &list, const Job *before, const Job &job) {
    if (before && list.shares(*before, job)) return;
    if (list.size(job) > list.most)
        throw InputError(
            list.path,
            Phrase{MARKED("expected.records", "at most {a} records"), {}, {std::to_string(list.most)}},
            std::to_string(list.size(job)));
    for (std::size_t i = 0; i < list.size(job); ++i) {
        if (before && i < list.size(*before) && list.sameRecord(*before, i, job, i)) continue;
        for (const RecordField &f : list.fields) {
            if (f.table() || f.deferred())
                continue; // a Table2D is sound by itself, a state was when it came in
            const FieldContent content = f.read(job, i);
            if (!isSound(f, content)) validate(list, f, i, content); // says where and why
        }
    }
}

} // namespace

void validate(const RecordList &list, const Job &job) {
    validateRecords(list, nullptr, job);
}

void validate(const Field &f, const FieldContent &content) {
    requireKind(f.path, f.read(sampleJob()), content);
    if (const double *v = std::get_if<double>(&content)) {
        requireWithin(f.path, *v, f.least, f.most, f.dimension);
        if (f.whole && *v != std::floor(*v))
            throw InputError(f.path, MARKED("expected.a_whole_number", "a whole number"), exactly(*v));
    }
    requireChoice(f.path, f.choices, content);
}

void validate(const CurveField &f, const Curve &curve) {
    for (std::size_t i = 0; i < curve.axis().size(); ++i) {
        const std::string point = f.path + " point " + std::to_string(i + 1);
        requireWithin(point + " x", curve.axis()[i], f.leastX, f.mostX, f.x);
        requireWithin(point + " y", curve.values()[i], f.leastY, f.mostY, f.y);
    }
}

void validate(const TableField &f, const Table2D &table) {
    const auto axis = [&](const Axis &a, const TableAxis &of) {
        const std::string point = f.path + " " + std::string(of.key) + " breakpoint ";
        requireWithin(point + "1", a.first(), of.least, of.most, D::none);
        requireWithin(point + std::to_string(a.size()), a.last(), of.least, of.most, D::none);
    };
    axis(table.x(), f.x);
    axis(table.y(), f.y);
    const std::vector<double> &cells = table.cells();
    for (std::size_t i = 0; i < cells.size(); ++i)
        if (!(cells[i] >= f.least && cells[i] <= f.most))
            requireWithin(f.path + " row " + std::to_string(i / table.x().size() + 1) + ", column " +
                              std::to_string(i % table.x().size() + 1),
                          cells[i], f.least, f.most, f.dimension);
}

namespace {

bool sameRanges(const Job &a, const Job &b) {
    return a.calibration.fuelMeaning == b.calibration.fuelMeaning &&
           a.calibration.loadAxis == b.calibration.loadAxis &&
           a.calibration.boostAxis == b.calibration.boostAxis;
}

void validateParts(const Job *before, const Job &job) {
    for (const Chapter &chapter : allChapters()) {
        if (before && chapter.same(*before, job)) continue;
        for (const Field &f : chapter.fields)
            validate(f, f.read(job));
        for (const CurveField &c : chapter.curves)
            validate(c, c.in(job));
    }
    for (const TableField &t : allTables()) {
        const Table2D &table = t.of(job);
        if (before && sameRanges(*before, job) && table.shares(t.of(*before)) && table == t.of(*before))
            continue;
        validate(tableIn(job, t.quantity, t.top), table);
    }
    for (const RecordList &l : allRecordLists())
        validateRecords(l, before, job);
    if (!before || before->limits != job.limits)
        for (const auto &[id, v] : job.limits)
            validateLimit(id, v);
    for (const Rule &rule : rules)
        if (!before || !rule.alike(*before, job)) rule.check(job);
}

} // namespace

void validate(const Job &job) {
    validateParts(nullptr, job);
}

void validateStep(const Job &before, const Job &after) {
    validateParts(&before, after);
}

} // namespace wheelwright
