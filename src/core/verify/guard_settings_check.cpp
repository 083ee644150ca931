// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/job/revision.h"
#include "core/verify/check.h"

namespace wheelwright {
namespace {

const Revision *lastSent(const Job &job) {
    for (auto r = job.revisions.rbegin(); r != job.revisions.rend(); ++r)
        if (r->sent) return &*r;
    return nullptr;
}

std::vector<Difference> guardedSince(const Job &job) {
    std::vector<Difference> out;
    for (const Difference &d : differencesOf(restored(job, *lastSent(job)), job))
        if (d.guarded) out.push_back(d);
    return out;
}

CheckOutcome run(const Evaluation &e) {
    const auto changed = static_cast<double>(guardedSince(e.job()).size());
    CheckOutcome out;
    for (const ContentSlice &s : e.slices()) {
        WorstFinder worst(e, s, 1);
        worst.consider(changed > 0 ? -changed : 1, 0, e.load().front(), changed, 0);
        out.byContent.push_back(worst.place());
    }
    return out;
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    Explanation x;
    x.title = MARKED("guard.settings.working", "Guarded settings");
    x.result = {p.value, Dimension::count};
    x.formula = MARKED("guard.settings.formula", "the same as in the revision that was sent");
    x.substituted = {MARKED("guard.settings.numbers", "{0} differ from '{a}'"),
                     {{p.value, Dimension::count}},
                     {lastSent(job)->name}};
    for (const Difference &d : guardedSince(job))
        x.inputs.push_back({"≠", d.title, {static_cast<double>(d.cells), Dimension::count}, d.path});
    x.source = MARKED("guard.settings.source",
                      "Common practice: rev limits, cuts, sensors and injector data come back as they went");
    x.uncertainty = {MARKED("guard.settings.uncertainty",
                            "A setting that was changed on purpose is right once it is kept as a revision."),
                     {}};
    x.change = {MARKED("guard.settings.change", "Restore it, or keep a new revision and mark it as sent."),
                {}};
    return x;
}

} // namespace

const Check &guardSettingsCheck() {
    static const Check check{
        "guard.settings",
        MARKED("guard.settings.title", "Guarded settings"),
        MARKED("guard.settings.named", "guarded settings"),
        QuestionId::settings,
        MARKED("guard.settings.question", "Did guarded settings come back as they were sent?"),
        Dimension::count,
        {},
        CalibratedQuantity::fuel,
        0,
        MARKED("guard.settings.help", "A full mark is no difference at all."),
        run,
        explain,
        {"sent_revision"}};
    return check;
}

} // namespace wheelwright
