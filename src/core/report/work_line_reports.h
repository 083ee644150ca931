// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/work_line.h"
#include "core/report/report.h"

namespace wheelwright {

/// Name of a revision, or "Now".
Phrase nameOf(const Job &job, const WorkMark &mark);
/// What became of it: sent, came back, released; empty: only kept.
Phrase stagesOf(const Job &job, const WorkMark &mark);

/// Where the line begins: how much of the engine was looked at before anything was changed.
Phrase intakeWords(const Job &job);
/// What a mark of the line changed, against what, and what was made with it. Differences lead to where they
/// stand ("engine.rev_limit_rpm"), what was made to its station ("log:ID", "run:ID", "rung:ID").
Report workMarkReport(const Job &job, const WorkLine &line, std::size_t mark);
/// What was made with a calibration that nobody kept; without blocks where there is nothing.
Report strayWorkReport(const Job &job, const WorkLine &line);

} // namespace wheelwright
