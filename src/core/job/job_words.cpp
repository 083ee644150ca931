// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/describe.h"

namespace wheelwright {
Chapter jobWordsChapter() {
    Chapter c;
    c.fields = {
        scalar(
            MARKED("name", "Name"), [](auto &j) -> auto & { return j.name; },
            MARKED("name.help", "What this job is called.")),
        scalar(
            MARKED("notes", "Notes"), [](auto &j) -> auto & { return j.notes; },
            MARKED("notes.help", "Anything worth remembering.")),
    };
    c.same = [](const Job &a, const Job &b) { return a.name == b.name && a.notes == b.notes; };
    return c;
}

} // namespace wheelwright
