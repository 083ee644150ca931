// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/said_content.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {

// As few digits as say it: 2.4 L, not 2.40 L. What takes more has those that make sense in its unit.
Measured shortly(double value, Dimension dimension) {
    constexpr int most = 2;
    double shown = value * (shownInPercent(dimension) ? 100 : 1);
    for (int decimals = 0; decimals <= most; ++decimals, shown *= 10)
        if (std::abs(shown - std::round(shown)) < 1e-6) return {value, dimension, decimals};
    return {value, dimension};
}

Phrase saidContent(const Field &field, const FieldContent &content) {
    if (const bool *flag = std::get_if<bool>(&content))
        return *flag ? MARKED("sheet.value.yes", "yes") : MARKED("sheet.value.no", "no");
    if (const auto *words = std::get_if<std::string>(&content)) {
        const auto at = std::ranges::find(field.choices, *words);
        if (at == field.choices.end()) return verbatim(*words);
        return field.choiceTitles[static_cast<std::size_t>(at - field.choices.begin())];
    }
    const double value = std::get<double>(content);
    if (value == 0 && !field.zero.empty()) return field.zero;
    return {MARKED("sheet.value.number", "{0}"), {shortly(value, field.dimension)}};
}

Phrase saidCurve(const CurveField &field, const Curve &curve) {
    const std::vector<double> &values = curve.values();
    if (values.size() == 1) return {MARKED("sheet.value.number", "{0}"), {shortly(values.front(), field.y)}};
    return {MARKED("sheet.value.range", "{0} to {1}"),
            {shortly(values.front(), field.y), shortly(values.back(), field.y)}};
}

} // namespace wheelwright
