// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/describe.h"

namespace wheelwright {
Chapter jobWordsChapter() {
    Chapter c;
    c.fields = {
        scalar(
            "name", "Name", [](auto &j) -> auto & { return j.name; }, "What this job is called."),
        scalar(
            "notes", "Notes", [](auto &j) -> auto & { return j.notes; }, "Anything worth remembering."),
    };
    c.same = [](const Job &a, const Job &b) { return a.name == b.name && a.notes == b.notes; };
    return c;
}

} // namespace wheelwright
