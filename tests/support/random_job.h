// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"

namespace wheelwright::testing {

/// A job that passes validate(), different for every seed: odd axes, odd shapes, own limits.
Job randomJob(unsigned seed);

/// The shipped demo job without its revisions: that one of them was sent would answer a question of every
/// test.
Job demoJob();

/// A job whose four quantities are the same number everywhere, for checks that look at one thing at a time.
Job flatJob();
/// As if somebody had typed every field and curve of it.
void stateEverything(Job &job);
/// …and every cell of its tables.
void stateAll(Job &job);

} // namespace wheelwright::testing
