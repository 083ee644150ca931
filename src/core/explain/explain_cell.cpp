// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/explain/explain_cell.h"

#include "core/job/job_schema.h"
#include "core/study/cell_trust.h"
#include "core/study/content_tables.h"
#include "core/study/load_axis.h"
#include "core/tables/table_kind.h"

#include <cmath>

namespace wheelwright {
namespace {

std::string pathOf(CalibratedQuantity q, const char *what) {
    return "calibration." + std::string(quantityId(q)) + "." + what;
}

PhraseText shapeWords(const TwoTable &t, CalibratedQuantity q) {
    switch (t.shape) {
    case WeightShape::straight:
        return MARKED("weight.straight", "a straight line in volume per cent");
    case WeightShape::custom:
        return MARKED("weight.custom", "the job's own points");
    case WeightShape::physical:
        break;
    }
    switch (q) {
    case CalibratedQuantity::fuel:
        return MARKED("weight.fuel", "the fuel model: (K(E) − K(E_A)) / (K(E_B) − K(E_A))");
    case CalibratedQuantity::lambda:
        return MARKED("weight.lambda", "linear in content");
    default:
        return MARKED("weight.octane", "mole fraction of the alcohol: (x(E) − x(E_A)) / (x(E_B) − x(E_A))");
    }
}

Phrase weightUncertainty(const Study &study, CalibratedQuantity q, double content) {
    const Calibration &c = study.job().calibration;
    const TwoTable &t = c.of(q);
    if (t.shape != WeightShape::physical)
        return MARKED("weight.chosen", "A chosen curve; compare with the physical one.");
    const double straight = (content - c.baseContent) / (c.topContent - c.baseContent);
    const double w = study.weights().at(content)[q];
    return {MARKED("weight.straight_would_say",
                   "The straight line would say {0}: {1} less or more of the top table."),
            {{straight, Dimension::none}, {std::abs(w - straight), Dimension::ratio}}};
}

// Where the search for spark stands in a cell; empty where there is none.
Phrase searchWords(const Job &job, CalibratedQuantity q, double rpm, double y, double content) {
    if (q != CalibratedQuantity::spark || job.sparkSearches.empty()) return {};
    const SparkSearch *search = searchAt(job, rpm, loadOfAxis(job, y), content);
    return search ? inWords(*search, limitOf(job, "evidence.clean_times")) : Phrase();
}

} // namespace

Explanation explainBlendedCell(const Study &study, CalibratedQuantity q, double content, CellIndex cell,
                               const Proof *proof) {
    const Job &job = study.job();
    const BlendEnds weights = study.ends(q, content);
    const TwoTable &t = job.calibration.of(q);
    const Dimension d = tableIn(job, q, false).dimension;
    const double rpm = weights.low->x()[cell.x];
    const double y = weights.low->y()[cell.y];
    const TableLookup top = weights.high->lookup(rpm, y);
    const double base = weights.low->cell(cell);
    const double w = weights.weight;
    const SchoolDefinition &school = definitionOf(job.calibration.school);

    const Provenance from(study, q, content, TableEnd::blended);
    const auto origin = [&](bool high) -> Phrase { return definitionOf(from.originAt(cell, high)).title; };

    Explanation x;
    x.title = {MARKED("working.blended_cell.title", "{A} now"), {}, {}, {quantityTitle(q)}};
    x.result = {weights.blend(base, top.value), d};
    x.formula = weights.scale == 1
                    ? MARKED("working.blended_cell.formula", "T(E) = (1 − w) · A + w · B")
                    : MARKED("working.blended_cell.formula.t_e", "T(E) = c(E) · ((1 − w) · A + w · B)");
    x.substituted = {MARKED("working.blended_cell.numbers", "(1 − {0}) · {1} + {0} · {2}"),
                     {{w, Dimension::none}, {base, d}, {top.value, d}}};
    x.inputs = {
        {"E",
         MARKED("working.blended_cell.from.content_looked", "content looked at"),
         {content, Dimension::content},
         ""},
        {"A",
         Phrase{MARKED("working.blended_cell.from.base", "base table, here: {A}"), {}, {}, {origin(false)}},
         {base, d},
         pathOf(q, "base")},
        {"B",
         Phrase{MARKED("working.blended_cell.from.top", "top table, here: {A}"), {}, {}, {origin(true)}},
         {top.value, d},
         pathOf(q, "top")},
        {"w",
         MARKED("working.blended_cell.from.weight_top_table", "weight of the top table"),
         {w, Dimension::none},
         pathOf(q, "weight_shape")}};
    if (job.calibration.school == School::windowSet) { // nothing is blended
        x.formula = MARKED("working.blended_cell.formula.one", "T(E) = the file that is in at E");
        x.substituted = {
            MARKED("working.blended_cell.numbers.one", "{0}, of the file for {1}, at {2}"),
            {{base, d}, {weights.lowContent, Dimension::content}, {content, Dimension::content}}};
        x.inputs.pop_back();
        x.inputs.pop_back();
        x.inputs.back().title =
            Phrase{MARKED("working.blended_cell.from.one", "its table, here: {A}"), {}, {}, {origin(false)}};
        x.source = {MARKED("working.blended_cell.source.one", "School {a}, {A}"),
                    {},
                    {std::string(school.letter)},
                    {school.title}};
        x.uncertainty = inWords(from.trust(cell, proof));
        x.change = together(
            {weights.outside
                 ? Phrase{MARKED("working.blended_cell.no_window",
                                 "{0} lies in no window: the file for {1} is held."),
                          {{content, Dimension::content}, {weights.lowContent, Dimension::content}}}
                 : Phrase(MARKED("working.blended_cell.says.one", "One up in that table moves it by one.")),
             searchWords(job, q, rpm, weights.low->y()[cell.y], content)});
        return x;
    }
    x.source = {school.levels ? MARKED("working.blended_cell.source.levels",
                                       "School {a}, {A}; linear between the levels")
                              : MARKED("working.blended_cell.source", "School {a}, {A}; weight: {B}"),
                {},
                {std::string(school.letter)},
                {school.title, shapeWords(t, q)}};
    x.uncertainty = together({weightUncertainty(study, q, content), inWords(from.trust(cell, proof))});
    x.change = weights.outside
                   ? Phrase{weights.extrapolated
                                ? MARKED("working.blended_cell.extrapolated",
                                         "Extrapolated: {0} lies beyond the calibrated contents {1} and {2}.")
                                : MARKED("working.blended_cell.held",
                                         "Held: {0} lies beyond the calibrated contents {1} and {2}."),
                            {{content, Dimension::content},
                             {weights.lowContent, Dimension::content},
                             {weights.highContent, Dimension::content}}}
                   : Phrase{MARKED("working.blended_cell.says",
                                   "One up in the base table moves it {0}, one up in the top table {1}."),
                            {{1 - w, Dimension::none}, {w, Dimension::none}}};
    x.change = together({x.change, searchWords(job, q, rpm, weights.low->y()[cell.y], content)});
    return x;
}

namespace {

// When, by which logs and how well: as the job's corrections say of a cell.
Phrase correctionWords(const Job &job, const std::string &path, double rpm, double y) {
    const CellCorrection last = lastCorrectionOf(job, path, rpm, y);
    if (!last.of) return {};
    std::string names;
    for (const LogInfo &log : job.logs)
        if (listsId(last.of->logs, log.id)) names += (names.empty() ? "" : ", ") + log.name;
    constexpr std::size_t dateLength = 10;
    const std::vector<std::string> words{last.of->at.substr(0, dateLength),
                                         names.empty() ? last.of->logs : names};
    const bool spark = last.of->kind == CorrectionKind::spark;
    if (last.of->kind == CorrectionKind::sweep)
        return {MARKED("working.corrected.sweep", "{a}, at {2}, from {b}: a sweep of {0} points, ± {1}."),
                {{last.cell.hits, Dimension::count},
                 {last.cell.plusMinus, Dimension::sparkAngle},
                 {last.of->content, Dimension::content}},
                words};
    const Dimension d = spark ? Dimension::sparkAngle : Dimension::ratio;
    if (!(last.cell.hits > 0))
        return {MARKED("working.corrected.inferred",
                       "{a}, from {b}: inferred from the cells around it, not measured."),
                {},
                words};
    if (spark)
        return {MARKED("working.corrected.spark", "{a}, from {b}: {0} samples, knock took {1}."),
                {{last.cell.hits, Dimension::count}, {-last.cell.error, d}},
                words};
    if (last.of->kind == CorrectionKind::joint)
        return {MARKED("working.corrected.joint",
                       "{a}, all contents together, from {b}: {0} samples, off by {1} ± {2}."),
                {{last.cell.hits, Dimension::count}, {last.cell.error, d}, {last.cell.plusMinus, d}},
                words};
    return {MARKED("working.corrected.fuel", "{a}, at {3}, from {b}: {0} samples, off by {1} ± {2}."),
            {{last.cell.hits, Dimension::count},
             {last.cell.error, d},
             {last.cell.plusMinus, d},
             {last.of->content, Dimension::content}},
            words};
}

} // namespace

Explanation explainTableCell(const Study &study, CalibratedQuantity q, bool top, double content,
                             CellIndex cell, const Proof *proof) {
    const Job &job = study.job();
    const BlendEnds ends = study.ends(q, content);
    const TableField field = tableIn(job, q, top);
    const Table2D &table = top ? *ends.high : *ends.low;
    const double share = top ? ends.weight : 1 - ends.weight;
    const double calibratedAt = top ? ends.highContent : ends.lowContent;

    Explanation x;
    x.title = field.title;
    x.result = {table.cell(cell), field.dimension};
    x.formula = MARKED("working.table_cell.formula", "a number of the calibration");
    x.substituted = {MARKED("working.table_cell.numbers", "of this the engine gets {0} at {1}"),
                     {{share, Dimension::ratio}, {content, Dimension::content}}};
    x.inputs = {{"rpm",
                 MARKED("working.table_cell.from.breakpoint", "breakpoint"),
                 {table.x()[cell.x], Dimension::engineSpeed},
                 ""},
                {std::string(field.y.title.text),
                 MARKED("working.table_cell.from.breakpoint", "breakpoint"),
                 {table.y()[cell.y], field.y.dimension},
                 ""},
                {"E",
                 MARKED("working.table_cell.from.calibrated", "calibrated at"),
                 {calibratedAt, Dimension::content},
                 definitionOf(job.calibration.school).levels ? "calibration.levels"
                 : top                                       ? "calibration.top_content"
                                                             : "calibration.base_content"},
                {"w",
                 MARKED("working.table_cell.from.share_now", "share now"),
                 {share, Dimension::ratio},
                 pathOf(q, "weight_shape")}};
    const Provenance from(study, q, content, top ? TableEnd::high : TableEnd::low);
    x.source = {MARKED("working.table_cell.source", "Origin: {A}"),
                {},
                {},
                {definitionOf(from.originAt(cell, top)).title}};
    if (fromLog(from.originAt(cell, top)))
        x.source = together({x.source, correctionWords(job, endPath(job, q, content, top), table.x()[cell.x],
                                                       table.y()[cell.y])});
    x.uncertainty = inWords(from.trust(cell, proof, top ? ends.highContent : ends.lowContent));
    x.change = together({{MARKED("working.table_cell.change", "Allowed from {0} to {1}."),
                          {{field.least, field.dimension}, {field.most, field.dimension}}},
                         searchWords(job, q, table.x()[cell.x], table.y()[cell.y], content)});
    return x;
}

Explanation explainExtraCell(const Study &study, const ExtraTable &extra, double content, CellIndex cell) {
    const TableField field = fieldOf(extra);
    const TableKindDefinition &kind = definitionOf(extra.kind);
    const Table2D &t = extra.table;
    const double at = t.x()[cell.x], down = t.y()[cell.y];
    Explanation x;
    x.title = field.title;
    x.result = {t.cell(cell), field.dimension};
    x.formula = kind.help;
    x.inputs = {{std::string(field.x.title.text),
                 MARKED("working.table_cell.from.breakpoint", "breakpoint"),
                 {at, field.x.dimension},
                 ""}};
    if (!field.y.single())
        x.inputs.push_back({std::string(field.y.title.text),
                            MARKED("working.table_cell.from.breakpoint", "breakpoint"),
                            {down, field.y.dimension},
                            ""});
    x.source = {
        MARKED("working.table_cell.source", "Origin: {A}"), {}, {}, {definitionOf(t.origin(cell)).title}};
    if (t.origin(cell) == CellOrigin::sweep)
        x.source = together({x.source, correctionWords(study.job(), field.path, at, down)});
    x.change = {MARKED("working.table_cell.change", "Allowed from {0} to {1}."),
                {{field.least, field.dimension}, {field.most, field.dimension}}};
    if (!kind.atContent) {
        x.substituted = {MARKED("working.extra_cell.numbers", "here: {0}"),
                         {{t.cell(cell), field.dimension}}};
        x.uncertainty =
            guessed(t.origin(cell))
                ? MARKED("working.extra_cell.guess", "Nobody has said it: it is there to be written over.")
                : inWords(fromLog(t.origin(cell)) ? CellTrust::seen : CellTrust::inferred);
        return x;
    }
    const ContentTables tables(study.job(), extra.kind, ContentTables::Estimates::stay),
        counting(study.job(), extra.kind);
    x.substituted = {MARKED("working.extra_cell.between", "found at {0}; what counts here at {1} is {2}"),
                     {{extra.content, Dimension::content},
                      {content, Dimension::content},
                      {counting.at({content, at, down}), field.dimension}}};
    for (const ContentTables::Level &level : tables.levels())
        for (const ExtraTable *other : level.tables)
            x.inputs.push_back({other->name,
                                Phrase{MARKED("working.extra_cell.from.found_at", "found at {0}"),
                                       {{other->content, Dimension::content}}},
                                {other->table.lookup(at, down).value, field.dimension},
                                "calibration.extras." + other->name});
    x.uncertainty =
        guessed(t.origin(cell)) ? Phrase{MARKED("working.extra_cell.guess",
                                                "Nobody has said it: it is there to be written over.")}
        : extra.plusMinus > 0
            ? Phrase{MARKED("working.extra_cell.plus_minus", "Known to ± {0}."),
                     {{extra.plusMinus, field.dimension}}}
            : Phrase{MARKED("working.extra_cell.not_stated", "How well it is known is not stated.")};
    return x;
}

Explanation explainWeight(const Study &study, CalibratedQuantity q, double content) {
    const Job &job = study.job();
    const TwoTable &t = job.calibration.of(q);
    const Calibration &c = job.calibration;
    const double w = study.weights().at(content)[q];
    Explanation x;
    x.title = {MARKED("working.weight.title", "{A}, weight"), {}, {}, {quantityTitle(q)}};
    x.result = {w, Dimension::none};
    x.formula = {MARKED("working.weight.formula", "w(E): {A}"), {}, {}, {shapeWords(t, q)}};
    x.substituted = {MARKED("working.weight.numbers", "between {0} (0) and {1} (1), at {2}: {3}"),
                     {{c.baseContent, Dimension::content},
                      {c.topContent, Dimension::content},
                      {content, Dimension::content},
                      {w, Dimension::none}}};
    x.inputs = {{"E_A",
                 MARKED("working.weight.from.base_tables_calibrated", "base tables calibrated at"),
                 {c.baseContent, Dimension::content},
                 "calibration.base_content"},
                {"E_B",
                 MARKED("working.weight.from.top_tables_calibrated", "top tables calibrated at"),
                 {c.topContent, Dimension::content},
                 "calibration.top_content"},
                {"shape",
                 MARKED("working.weight.from.curve", "of the curve"),
                 {w, Dimension::none},
                 pathOf(q, "weight_shape")}};
    x.source = q == CalibratedQuantity::fuel
                   ? MARKED("working.weight.source",
                            "Mass-weighted fuel model, Heywood (1988) eq. 3.6 and table D.4")
               : q == CalibratedQuantity::lambda
                   ? MARKED("working.weight.source.common_practice", "Common practice")
                   : MARKED("working.weight.source.octane_linear",
                            "Octane linear in mole fraction: Anderson et al., SAE 2010-01-2137");
    x.uncertainty = weightUncertainty(study, q, content);
    x.change = {MARKED("working.weight.change", "The calibrated contents, or another shape of the curve."),
                {}};
    return x;
}

} // namespace wheelwright
