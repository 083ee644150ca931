// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/check.h"

#include "core/base/limits.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <utility>

namespace wheelwright {

#define WHEELWRIGHT_CHECK(name) const Check &name##Check();
#include "core/verify/all_checks.def"
#undef WHEELWRIGHT_CHECK

std::span<const Check *const> allChecks() {
    static const std::array checks{
#define WHEELWRIGHT_CHECK(name) &name##Check(),
#include "core/verify/all_checks.def"
#undef WHEELWRIGHT_CHECK
    };
    return checks;
}

const Check *checkById(std::string_view id) {
    const auto at = std::ranges::find(allChecks(), id, [](const Check *c) { return c->id; });
    return at == allChecks().end() ? nullptr : *at;
}

const WorstPlace &CheckOutcome::worst() const {
    return *std::ranges::min_element(byContent, {},
                                     [](const WorstPlace &p) { return std::pair(!p.asked, p.uncapped); });
}

bool Check::asked(const Job &job) const {
    return mechanical == (job.control == FuelControl::mechanical) && (!arises || arises(job));
}

bool Check::runs(const Job &job, const Proof &proof) const {
    return asked(job) && std::ranges::all_of(needs, [&](std::string_view need) {
               const Need &n = needById(need);
               return !n.there || n.there(job) || (n.byLogs && n.byLogs(proof));
           });
}

CheckState Check::state(const WorstPlace &place) const {
    if (place.margin < 0) return CheckState::failing;
    return place.margin < cautionBelow ? CheckState::caution : CheckState::held;
}

Phrase Check::origin(const Job &job) const {
    if (limits.empty()) return MARKED("origin.own", "the job's own");
    std::string user;
    PhraseText shipped;
    for (std::string_view limit : limits)
        if (job.limits.contains(limit))
            user += (user.empty() ? "" : ", ") + std::string(limit); // ids, which nobody translates
        else
            shipped = limitOrigin(job, limit);
    if (user.empty()) return shipped;
    if (shipped.empty()) return {MARKED("origin.user_limits", "user: {a}"), {}, {user}};
    return {MARKED("origin.user_and_others", "user: {a}; others: {A}"), {}, {user}, {shipped}};
}

WorstPlace WorstFinder::place() const {
    WorstPlace p = m_worst;
    p.content = m_content;
    p.asked = m_least < std::numeric_limits<double>::infinity();
    constexpr double rounding = 1e-9;
    if (std::abs(p.margin) < rounding) p.margin = 0;
    p.margin = std::min(p.margin, 1.0);
    return p;
}

} // namespace wheelwright
