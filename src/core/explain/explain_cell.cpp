// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/explain/explain_cell.h"

#include "core/job/job_schema.h"
#include "core/study/cell_trust.h"

#include <cmath>

namespace wheelwright {
namespace {

std::string pathOf(CalibratedQuantity q, const char *what) {
    return "calibration." + std::string(quantityId(q)) + "." + what;
}

std::string quantityTitle(CalibratedQuantity q) {
    const std::string &title = tableOf(q, false).title; // "Fuel, base"
    return title.substr(0, title.find(','));
}

std::string shapeWords(const TwoTable &t, CalibratedQuantity q) {
    switch (t.shape) {
    case WeightShape::straight:
        return "a straight line in volume per cent";
    case WeightShape::custom:
        return "the job's own points";
    case WeightShape::physical:
        break;
    }
    switch (q) {
    case CalibratedQuantity::fuel:
        return "the fuel model: (K(E) − K(E_A)) / (K(E_B) − K(E_A))";
    case CalibratedQuantity::lambda:
        return "linear in content";
    default:
        return "mole fraction of the alcohol: (x(E) − x(E_A)) / (x(E_B) − x(E_A))";
    }
}

Phrase weightUncertainty(const Study &study, CalibratedQuantity q, double content) {
    const Calibration &c = study.job().calibration;
    const TwoTable &t = c.of(q);
    if (t.shape != WeightShape::physical) return {"A chosen curve; compare with the physical one.", {}};
    const double straight = (content - c.baseContent) / (c.topContent - c.baseContent);
    const double w = study.weights().at(content)[q];
    return {"The straight line would say {0}: {1} less or more of the top table.",
            {{straight, Dimension::none}, {std::abs(w - straight), Dimension::ratio}}};
}

} // namespace

Explanation explainBlendedCell(const Study &study, CalibratedQuantity q, double content, CellIndex cell) {
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
    const auto origin = [&](bool high) { return std::string(definitionOf(from.originAt(cell, high)).title); };

    Explanation x;
    x.title = quantityTitle(q) + " now";
    x.result = {weights.blend(base, top.value), d};
    x.formula = weights.scale == 1 ? "T(E) = (1 − w) · A + w · B" : "T(E) = c(E) · ((1 − w) · A + w · B)";
    x.substituted = {"(1 − {0}) · {1} + {0} · {2}", {{w, Dimension::none}, {base, d}, {top.value, d}}};
    x.inputs = {{"E", "content looked at", {content, Dimension::content}, ""},
                {"A", "base table, here: " + origin(false), {base, d}, pathOf(q, "base")},
                {"B", "top table, here: " + origin(true), {top.value, d}, pathOf(q, "top")},
                {"w", "weight of the top table", {w, Dimension::none}, pathOf(q, "weight_shape")}};
    x.source = "School " + std::string(school.letter) + ", " + std::string(school.title) +
               (school.levels ? "; linear between the levels" : "; weight: " + shapeWords(t, q));
    x.uncertainty = weightUncertainty(study, q, content);
    x.uncertainty.text += " " + std::string(inWords(from.trust(cell)));
    x.change = weights.outside ? Phrase{std::string(weights.extrapolated ? "Extrapolated" : "Held") +
                                            ": {0} lies beyond the calibrated contents {1} and {2}.",
                                        {{content, Dimension::content},
                                         {weights.lowContent, Dimension::content},
                                         {weights.highContent, Dimension::content}}}
                               : Phrase{"One up in the base table moves it {0}, one up in the top table {1}.",
                                        {{1 - w, Dimension::none}, {w, Dimension::none}}};
    return x;
}

Explanation explainTableCell(const Study &study, CalibratedQuantity q, bool top, double content,
                             CellIndex cell) {
    const Job &job = study.job();
    const BlendEnds ends = study.ends(q, content);
    const TableField field = tableIn(job, q, top);
    const Table2D &table = top ? *ends.high : *ends.low;
    const double share = top ? ends.weight : 1 - ends.weight;
    const double calibratedAt = top ? ends.highContent : ends.lowContent;

    Explanation x;
    x.title = field.title;
    x.result = {table.cell(cell), field.dimension};
    x.formula = "a number of the calibration";
    x.substituted = {"of this the engine gets {0} at {1}",
                     {{share, Dimension::ratio}, {content, Dimension::content}}};
    x.inputs = {{"rpm", "breakpoint", {table.x()[cell.x], Dimension::engineSpeed}, ""},
                {std::string(field.yTitle()), "breakpoint", {table.y()[cell.y], field.yDimension()}, ""},
                {"E",
                 "calibrated at",
                 {calibratedAt, Dimension::content},
                 definitionOf(job.calibration.school).levels ? "calibration.levels"
                 : top                                       ? "calibration.top_content"
                                                             : "calibration.base_content"},
                {"w", "share now", {share, Dimension::ratio}, pathOf(q, "weight_shape")}};
    const Provenance from(study, q, content, top ? TableEnd::high : TableEnd::low);
    x.source = "Origin: " + std::string(definitionOf(from.originAt(cell, top)).title);
    x.uncertainty = {std::string(inWords(from.trust(cell))), {}};
    x.change = {"Allowed from {0} to {1}.", {{field.least, field.dimension}, {field.most, field.dimension}}};
    return x;
}

Explanation explainWeight(const Study &study, CalibratedQuantity q, double content) {
    const Job &job = study.job();
    const TwoTable &t = job.calibration.of(q);
    const Calibration &c = job.calibration;
    const double w = study.weights().at(content)[q];
    Explanation x;
    x.title = quantityTitle(q) + " weight";
    x.result = {w, Dimension::none};
    x.formula = "w(E): " + shapeWords(t, q);
    x.substituted = {"between {0} (0) and {1} (1), at {2}: {3}",
                     {{c.baseContent, Dimension::content},
                      {c.topContent, Dimension::content},
                      {content, Dimension::content},
                      {w, Dimension::none}}};
    x.inputs = {
        {"E_A", "base tables calibrated at", {c.baseContent, Dimension::content}, "calibration.base_content"},
        {"E_B", "top tables calibrated at", {c.topContent, Dimension::content}, "calibration.top_content"},
        {"shape", "of the curve", {w, Dimension::none}, pathOf(q, "weight_shape")}};
    x.source = q == CalibratedQuantity::fuel
                   ? "Mass-weighted fuel model, Heywood (1988) eq. 3.6 and table D.4"
               : q == CalibratedQuantity::lambda
                   ? "Common practice"
                   : "Octane linear in mole fraction: Anderson et al., SAE 2010-01-2137";
    x.uncertainty = weightUncertainty(study, q, content);
    x.change = {"The calibrated contents, or another shape of the curve.", {}};
    return x;
}

} // namespace wheelwright
