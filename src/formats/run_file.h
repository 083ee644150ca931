// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_bytes.h"
#include "core/runs/run_intake.h"

#include <string>
#include <vector>

namespace wheelwright {

/// The pulls of a file, and what is known of them.
struct RunFile {
    std::vector<FoundPull> pulls;
    RunStatement statement; ///< what was stated, and where that says nothing, what the file says of itself
    std::vector<Phrase> said;
};
/// `name` goes before the place of every error. Throws InputError as runColumns() does.
RunFile readRunFile(const LogBytes &bytes, const std::string &name, const RunStatement &stated,
                    const std::vector<StatedColumn> &columns, const MapSurroundings &around);

/// Whether a file looks like runs of a dyno rather than like a log: engine speed with torque or power, and no
/// time, or remarks of a run. Looks at its first bytes only.
bool seemsRuns(const LogBytes &bytes);

} // namespace wheelwright
