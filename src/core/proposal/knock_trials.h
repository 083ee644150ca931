// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_review.h"
#include "core/study/knock_surface.h"

#include <cstdint>
#include <map>
#include <memory>
#include <span>
#include <stop_token>
#include <vector>

namespace wheelwright {

/// Samples of one log that say the same: so much spark was delivered over (or under) what the model of a
/// cylinder gives as the limit there, and knock began or did not.
struct KnockTrial {
    std::uint32_t log = 0;       ///< place in KnockTrials::logs
    double rpm = 0, loadKpa = 0; ///< nearest breakpoints
    double content = 0;
    double overDeg = 0;   ///< delivered less the model's limit, in the air of that moment
    double perLogDeg = 0; ///< of that limit for a unit of ln τ
    double octaneDeg = 0; ///< of that limit: what the content gives over the job's base content
    double hotDeg = 0;    ///< of that limit: what the air takes that is hotter than usual; under 0 takes
    double cycles = 0;    ///< of one cylinder: all together where it stayed clean, of one sample where not
    double samples = 0;
    bool knocked = false;
};

/// What logs say of knock, in a form that a likelihood can be made of.
struct KnockTrials {
    struct Log {
        LogInfo info;
        bool used = false;
        Phrase why; ///< it is not
        double content = 0, samples = 0;
        int knocks = 0;
    };
    double baseContent = 0;
    std::vector<Log> logs;
    std::vector<KnockTrial> trials;
};

/// Surfaces by content, in hundredths; worked out when first asked for.
class KnockSurfaces {
  public:
    explicit KnockSurfaces(const Study &study) : m_study(study.inPressure()) {}
    const KnockSurface &at(double content);
    const Study &study() const { return m_study; }

  private:
    const Study &m_study;
    std::map<int, KnockSurface> m_at;
};

/// Of samples from limit evidence.knock_from up, whatever calibration they ran with: what was delivered
/// stands in the log. Tip-ins and cut fuel say nothing; nor do logs without knock retard, delivered spark or
/// a known content, and they say so.
KnockTrials knockTrials(KnockSurfaces &surfaces, std::span<const std::shared_ptr<const LogReview>> logs,
                        std::stop_token stop = {});

} // namespace wheelwright
