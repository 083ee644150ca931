// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/report.h"
#include "core/verify/verdict.h"

#include <string_view>

namespace wheelwright {

// What the pages of a hand-over have in common.

/// "E47", or "M47" of an engine on methanol.
Phrase nameOfContent(const Job &job, double content);

/// "E24 to E32"; "E24" where both are the same.
Phrase nameOfContents(const Job &job, double from, double to);

/// The worst of the slices from one content to another, the nearest ones included; not judged where there are
/// none.
CheckState worstBetween(const Verdict &verdict, double from, double to);

/// "Calibration 1a2b, third; written on 2026-11-28."
Sentence stateSentence(const Job &job, std::string_view today);

} // namespace wheelwright
