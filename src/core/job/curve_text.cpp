// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/curve_text.h"

#include "core/base/error.h"

namespace wheelwright {

std::string curveToText(const Curve &curve, const CurveField &field, const UnitChoice &units) {
    std::string text;
    for (std::size_t i = 0; i < curve.axis().size(); ++i) {
        text += text.empty() ? "" : "; ";
        text += formatExact(curve.axis()[i], field.x, units) + ": " +
                formatExact(curve.values()[i], field.y, units);
    }
    return text;
}

Curve curveFromText(std::string_view text, const CurveField &field, const UnitChoice &units) {
    std::vector<double> x, y;
    while (!text.empty()) {
        const std::string_view point = text.substr(0, text.find(';'));
        text.remove_prefix(std::min(text.size(), point.size() + 1));
        if (point.find_first_not_of(' ') == std::string_view::npos) continue;
        const std::string where = format(field.title) + " point " + std::to_string(x.size() + 1);
        const std::size_t colon = point.find(':');
        if (colon == std::string_view::npos)
            throw InputError(where,
                             MARKED("expected.content_value_as_in_30_228", "content: value, as in 30 %: 228"),
                             "'" + std::string(point) + "'");
        x.push_back(parse(point.substr(0, colon), field.x, units, where + " content"));
        y.push_back(parse(point.substr(colon + 1), field.y, units, where + " value"));
    }
    Curve curve(std::move(x), std::move(y), format(field.title));
    validate(field, curve);
    return curve;
}

} // namespace wheelwright
