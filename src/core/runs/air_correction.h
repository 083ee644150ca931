// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/explanation.h"
#include "core/job/mechanical_setup.h"
#include "core/job/runs.h"

#include <optional>
#include <span>
#include <string_view>

namespace wheelwright {

/// Pressure of water vapour over water at saturation, kPa: Alduchov, Eskridge, Improved Magnus form
/// approximation of saturation vapor pressure (1996), J. Appl. Meteorol. 35, eq. 21. Within 0.4 % from −40 to
/// 50 °C.
double saturationKpa(double temperatureC);
double vapourKpa(const Weather &air);
/// What of the pressure is not water vapour.
double dryKpa(const Weather &air);

/// A way to state power for other weather. Formulas from memory of the standards, see docs/sources.md.
struct CorrectionDefinition {
    CorrectionStandard standard;
    std::string_view key; ///< stable: "j1349"
    PhraseText title;
    PhraseText formula;
    Weather reference; ///< where the factor is 1
};
/// Every standard that corrects or, "none", does not; not notSaid.
std::span<const CorrectionDefinition> allCorrections();
/// "not_said" for notSaid.
std::string_view keyOf(CorrectionStandard standard);
/// Throws InputError naming those there are; "not_said" is none of them.
CorrectionStandard standardByKey(std::string_view key);

/// What power and torque as measured are multiplied by; 1 for none and notSaid.
double correctionFactor(CorrectionStandard standard, const Weather &air);
/// From numbers that are stated for one standard to another: back to what was measured first.
double correctionBetween(CorrectionStandard stated, CorrectionStandard asked, const Weather &air);
/// How the factor comes about.
Explanation explainCorrection(CorrectionStandard standard, const Weather &air);
/// The same between two standards; with one of them none, of the other alone.
Explanation explainCorrection(CorrectionStandard stated, CorrectionStandard asked, const Weather &air);

/// Factors that the standards themselves do not allow: common practice.
inline constexpr double leastCorrection = 0.93, mostCorrection = 1.07;

/// The air that a run was made in; empty where nobody says it.
std::optional<Weather> airOf(const Run &run);
/// The air today, as the job says it (mechanical.now_…); empty where somebody has yet to state it.
std::optional<Weather> airOfTheDay(const Job &job);

} // namespace wheelwright
