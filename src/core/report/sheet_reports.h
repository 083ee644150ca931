// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/intake/sheet.h"
#include "core/report/report.h"

namespace wheelwright {

/// The engine part by part: its numbers, how far they are known, what was looked at and what Verify says.
Report sheetReport(const std::vector<PartState> &sheet);

/// "found good on 2026-03-14: grey, dry"; "not looked at".
Phrase inspectionWords(const InspectionState &state);

/// What to do on the drawing next: "Charge cooler: not stated"; empty where all is stated.
Phrase nextOnSheet(const std::vector<PartState> &sheet);

/// "stated; partly looked at", and what Verify says where it says something.
Phrase partStateWords(const PartState &part);

} // namespace wheelwright
