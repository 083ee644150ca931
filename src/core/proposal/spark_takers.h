// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_review.h"

#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Something between what the spark tables ask for and what was delivered. Under 0: it takes.
struct SparkTaker {
    std::string_view id; ///< stable: "intake_air", "coolant", "fuel", "knock", "fallback", "unexplained"
    PhraseText title;
    double meanDeg = 0;
    double mostDeg = 0; ///< the most that it took at once
    double mostAtS = 0; ///< when, in seconds of the log
    double share = 0;   ///< of the time in which it took or gave more than a quarter of a degree
    std::string link;   ///< where the job says it
};

/// Asked and delivered spark over a log, and who took the difference.
struct SparkTaken {
    std::size_t samples = 0;               ///< under load, with fuel on
    double askedDeg = 0, deliveredDeg = 0; ///< means
    std::vector<SparkTaker> takers;        ///< in the order of the budget (study/spark_budget.h)
    std::vector<Phrase> said;              ///< the most important first
    /// For a picture: at most two thousand moments under load.
    std::vector<double> timeS, asked, afterAir, afterKnock, delivered;
    double mean(std::string_view id) const;
};

/// Of samples from limit evidence.knock_from up. Corrections by temperature are those of the job at what the
/// sensors read, knock is what the log says was taken, the fallback table may have taken as much of the rest
/// as its worst share allows; what is left nobody knows. Throws InputError where the log does not say spark,
/// speed and load, or its calibration is not kept.
SparkTaken sparkTaken(const LogReview &log);

} // namespace wheelwright
