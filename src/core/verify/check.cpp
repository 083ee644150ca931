// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/check.h"

#include "core/base/limits.h"

#include <algorithm>
#include <array>
#include <cmath>

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
    return *std::ranges::min_element(byContent, {}, &WorstPlace::uncapped);
}

bool Check::applies(const Job &job) const {
    return mechanical == (job.control == FuelControl::mechanical) && (!known || known(job));
}

CheckState Check::state(const WorstPlace &place) const {
    if (place.margin < 0) return CheckState::failing;
    return place.margin < cautionBelow ? CheckState::caution : CheckState::clear;
}

std::string Check::origin(const Job &job) const {
    std::string user, shipped;
    for (std::string_view limit : limits) {
        const std::string from = limitOrigin(job, limit);
        std::string &list = from == "user" ? user : shipped;
        if (from == "user")
            list += (list.empty() ? "user: " : ", ") + std::string(limit);
        else
            list = from;
    }
    if (limits.empty()) return "the job's own";
    return user.empty() ? shipped : shipped.empty() ? user : user + "; others: " + shipped;
}

WorstPlace WorstFinder::place() const {
    WorstPlace p = m_worst;
    p.content = m_content;
    constexpr double rounding = 1e-9;
    if (std::abs(p.margin) < rounding) p.margin = 0;
    p.margin = std::min(p.margin, 1.0);
    return p;
}

} // namespace wheelwright
