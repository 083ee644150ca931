// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/bundle.h"

#include "core/base/error.h"
#include "core/job/job_schema.h"
#include "core/job/named_tables.h"

#include <algorithm>

namespace wheelwright {

std::vector<WantedChannel> wantedChannels(const Job &job) {
    using R = ChannelRole;
    const auto gate = [](std::string_view id) { return gateById(id)->title; };
    std::vector<WantedChannel> out{{R::rpm, gate("lambda"), true},
                                   {R::map, gate("lambda"), true},
                                   {R::lambda, gate("lambda"), true},
                                   {R::throttle, gate("light_load"), true},
                                   {R::spark, gate("watch")},
                                   {R::knockRetard, gate("knock"), true},
                                   {R::duty, gate("duty"), true},
                                   {R::railPressure, gate("rail")},
                                   {R::intakeTemp, gate("temperatures")},
                                   {R::coolantTemp, gate("temperatures")},
                                   {R::oilPressure, gate("oil")},
                                   {R::battery, gate("watch")},
                                   {R::gear, gate("boost")}};
    if (job.control == FuelControl::controller) out.push_back({R::ethanol, gate("settled"), true});
    if (job.engine.charging != Charging::none) {
        out.push_back({R::boostTarget, gate("boost"), true});
        if (job.engine.charging == Charging::turbo) out.push_back({R::solenoidDuty, gate("forecast")});
    }
    // What is needed most first, each in the order above.
    std::stable_partition(out.begin(), out.end(), [](const WantedChannel &w) { return w.must; });
    return out;
}

std::string keepSent(Job &job, const std::string &name, const std::string &at, const std::string &note) {
    const std::string print = calibrationPrint(stateOf(job));
    if (name.empty()) {
        auto revisions = job.revisions.values();
        for (Revision &r : revisions)
            if (calibrationPrint(r.state.text()) == print) {
                r.sent = true;
                std::string kept = r.name;
                job.revisions = std::move(revisions);
                return kept;
            }
    }
    std::string free = name;
    for (std::size_t n = job.revisions.size() + 1; free.empty(); ++n) {
        const std::string tried = "Sent " + std::to_string(n);
        if (std::ranges::find(job.revisions, tried, &Revision::name) == job.revisions.end()) free = tried;
    }
    keepRevision(job, free, at, note, true);
    return free;
}

const Revision *revisionOf(const Job &job, std::string_view calibration) {
    // The last of those that hold the same: it is the one that went out last.
    const Revision *found = nullptr;
    for (const Revision &r : job.revisions)
        if (calibrationPrint(r.state.text()) == calibration) found = &r;
    return found;
}

const Revision *revisionNamedIn(const Job &job, std::string_view text) {
    for (const Revision &r : job.revisions)
        if (text.find(calibrationPrint(r.state.text())) != std::string_view::npos) return &r;
    return nullptr;
}

std::string sentRevisions(const Job &job) {
    std::string out;
    for (const Revision &r : job.revisions)
        if (r.sent) out += (out.empty() ? "" : ", ") + r.name;
    return out;
}

BundleTie tieOf(const Job &job, const std::optional<BundleHead> &head,
                const std::vector<std::string> &logNames, const std::string &named) {
    const std::string sent = sentRevisions(job);
    const auto oneOf = [&] {
        return sent.empty() ? Phrase(MARKED("expected.sent_none", "one that was sent, and none was"))
                            : Phrase{MARKED("expected.sent", "one of {a}"), {}, {sent}};
    };
    const auto same = [](const Revision &a, const Revision &b) {
        return calibrationPrint(a.state.text()) == calibrationPrint(b.state.text());
    };
    const Revision *found = nullptr;
    if (head) {
        found = revisionOf(job, head->calibration);
        if (!found)
            throw InputError(std::string(bundleHeadName), oneOf(),
                             "'" + echoed(head->calibration, 40) + "' of " + echoed(head->job, 40));
    }
    for (const std::string &log : logNames) {
        const Revision *byName = revisionNamedIn(job, log);
        if (!byName) continue;
        if (found && !same(*byName, *found))
            throw InputError(log,
                             Phrase{MARKED("expected.log_of", "a log of revision {a}"), {}, {found->name}},
                             "one of revision " + byName->name);
        if (!found) found = byName;
    }
    if (named.empty()) return {found ? found->name : std::string(), false};
    const auto &all = job.revisions.values();
    const auto at = std::ranges::find(all, named, &Revision::name);
    if (at == all.end()) throw InputError("revision", oneOf(), "'" + echoed(named, 40) + "'");
    if (found && !same(*at, *found))
        throw InputError(
            "revision",
            Phrase{MARKED("expected.revision_of_folder", "'{a}', which the folder says it is of"),
                   {},
                   {found->name}},
            "'" + echoed(named, 40) + "'");
    return {found ? found->name : named, !found};
}

bool ReadBack::alarm() const {
    return std::ranges::any_of(changed, &Difference::guarded);
}

ReadBack readBackOf(const Job &sent, const Job &back, std::vector<std::string> compared) {
    ReadBack out;
    out.changed = differencesOf(sent, back);
    for (const Field &f : allFields())
        if (f.isHeldOf(sent) && !f.guarded.empty() && std::ranges::find(compared, f.path) == compared.end())
            out.missing.push_back(f.title);
    for (const CurveField &c : allCurves())
        if (c.inRevision && std::ranges::find(compared, c.path) == compared.end())
            out.missing.push_back(c.title);
    // A table that nobody has seen again may be any other.
    for (const NamedTable &t : namedTables(sent))
        if (std::ranges::find(compared, t.path) == compared.end()) out.missing.push_back(verbatim(t.path));
    out.compared = std::move(compared);
    return out;
}

RungLight lightOf(const ReadBack &back, const RungStatus *status) {
    if (!back.changed.empty()) return RungLight::red;
    const RungLight gates = status ? status->light() : RungLight::amber;
    if (gates == RungLight::red) return gates;
    return back.missing.empty() ? gates : RungLight::amber;
}

} // namespace wheelwright
