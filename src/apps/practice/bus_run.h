// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/practice/practice_run.h"
#include "formats/practice_json.h"

#include <cstdint>
#include <functional>
#include <string>

namespace wheelwright {

/// The port of "virtual:41234"; 0 for "virtual:0": a free one. Throws InputError.
std::uint16_t practiceBusFrom(const std::string &text);

struct BusRun {
    std::uint16_t port = 0;
    double leadS = 1;
    std::function<Job()> loadAgain; ///< the job as its file is now; may throw InputError
};

/// The engine at the other end of a virtual bus, as fast as time goes: every step of it leaves as frames. A
/// script is done and ends it; without one the lines of standard input are. What happens is said on standard
/// output, a JSON object a line: {"bus": "virtual:41234"} first. Throws InputError for a bus that cannot be
/// made.
PracticeResult runOnBus(const BusRun &how, const Job &job, const EngineDocument &engine,
                        const PracticeScript &script, const PracticeRowTaker &row);

} // namespace wheelwright
