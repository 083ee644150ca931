// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_bytes.h"
#include "core/runs/run_intake.h"

#include <string>

namespace wheelwright {

/// What a text says of the runs in it before its numbers: lines such as "# mode: inertia" or "# gear = 4",
/// with
/// #, %, ; or // before them, by keys in small letters. Of a key that stands twice the first. Nothing where
/// it is no text.
RunRemarks runRemarks(const LogBytes &bytes);

/// A part of a text of several runs: its remarks, and its lines without them.
struct RunPart {
    RunRemarks remarks;
    std::string text;
};
/// The parts of a text where remarks stand before the numbers of each run, one after the other; names of
/// columns are those of the part, or of the one before where it has none. A part's dyno, mode, gear,
/// correction and air hold until another says otherwise, the rest for itself alone. Nothing where remarks
/// stand in one place alone, and for texts over 32 MiB. A remark in the middle of a pull, whose numbers go on
/// as they were, begins no part.
std::vector<RunPart> runParts(const LogBytes &bytes);

/// A run as text that comes in again as the same run: remarks, names with units, and its numbers as they were
/// measured, comma-separated.
std::string runToCsv(const Run &run);

} // namespace wheelwright
