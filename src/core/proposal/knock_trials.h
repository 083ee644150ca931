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

/// Degrees by which retard grows from one sample to the next where knock begins; common practice.
inline constexpr double knockBeginsDeg = 0.25;

/// Samples of one log that say the same: so much spark was delivered over (or under) what the model of a
/// cylinder gives as the limit there, and knock began or did not. Distances are in ln τ, the model's delay of
/// knock: cycles scatter in it, and models are wrong in it, by the same amount at every place, while a degree
/// means little where the delay hardly answers to spark.
struct KnockTrial {
    std::uint32_t log = 0;       ///< place in KnockTrials::logs
    double rpm = 0, loadKpa = 0; ///< nearest breakpoints
    double content = 0;
    double over = 0;      ///< delivered over the model's limit in the air of that pull
    double octane = 0;    ///< what the fuel's octane gives over that of the job's base content
    double hotter = 0;    ///< what the air of that pull gives over the usual; hotter: under 0
    double perLogDeg = 0; ///< degrees of spark for a unit
    double cycles = 0;    ///< of the hottest cylinder, which is heard first
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

/// What a fuel's octane gives over another's, in ln τ.
double octaneOver(const KnockSurface &here, const KnockSurface &base, double rpm, double loadKpa);

/// Of samples from limit evidence.knock_from up, the air of each pull by its mean (sensors are slow),
/// whatever calibration they ran with: what was delivered stands in the log. Tip-ins and cut fuel say
/// nothing; nor do logs without knock retard, delivered spark or a known content, and they say so.
KnockTrials knockTrials(KnockSurfaces &surfaces, std::span<const std::shared_ptr<const LogReview>> logs,
                        std::stop_token stop = {});

} // namespace wheelwright
