// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/handover_setup.h"

#include "core/job/describe.h"

namespace wheelwright {

Chapter handoverChapter() {
    Chapter c;
    c.fields = {
        scalar(
            MARKED("handover.call", "Call"), [](auto &j) -> auto & { return j.handover.call; },
            MARKED("handover.call.help", "Whom the owner calls: a name and a number, as they are printed.")),
        scalar(
            MARKED("handover.note", "For the owner"), [](auto &j) -> auto & { return j.handover.note; },
            MARKED("handover.note.help", "A sentence of your own on the owner's page.")),
        scalar(
            MARKED("handover.photos", "Photos that go along"),
            [](auto &j) -> auto & { return j.handover.photos; },
            MARKED("handover.photos.help", "Paths of photos of runs and tubes that are handed over, a line "
                                           "each; a relative path is looked for beside the job.")),
    };
    c.same = [](const Job &a, const Job &b) { return a.handover == b.handover; };
    return c;
}

} // namespace wheelwright
