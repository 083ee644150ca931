// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace wheelwright {

struct Job;

/// Spark ceilings as files, documents and kept states held them before there was one for each content: over
/// content and load. Each of their contents becomes a table of its own, the same at all speeds, with the
/// breakpoints of the base spark table; locks and notes go with the numbers. Others stay as they are: no
/// table over engine speed ends at 1 rpm.
void spreadOldCeilings(Job &job);

} // namespace wheelwright
