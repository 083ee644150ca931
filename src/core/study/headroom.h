// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/study/study.h"

#include <stop_token>
#include <string_view>
#include <vector>

namespace wheelwright {

/// What can end a run. A line of the frontier each.
enum class LimitingPart { dutyCaution, dutyStop, pump, mapSensor, springRatio, engine };
std::string_view limitingPartId(LimitingPart part); ///< "duty_caution" …
PhraseText limitingPartTitle(LimitingPart part);    ///< "Injectors 85 %" …

/// The highest manifold pressure that a part allows at the highest peak of boost, other speeds keeping their
/// distance from it, by content; of the spring, the highest target. Contents are evenly spaced from 0 to 1. A
/// value of mostKpa means that it does not limit within the scale, 0 that it does not even at no boost.
struct FrontierLine {
    LimitingPart part;
    std::vector<double> kpa;
};

struct Frontier {
    std::vector<double> contents;
    std::vector<double> targetKpa; ///< highest boost target at full throttle, blended
    std::vector<double> peakKpa; ///< how far the engine goes (reach.h): with the overshoot, or the air around
    std::vector<FrontierLine> lines;                ///< parts that the job says nothing about are left out
    std::vector<std::pair<double, double>> powerKw; ///< at the target: low and high of the BSFC band
    struct Sentence {
        LimitingPart part;
        Phrase words;
    };
    std::vector<Sentence> sentences; ///< the first limit that is hit, in words; then the others

    /// Whether what is asked crosses a line of these somewhere.
    bool reaches(const FrontierLine &line) const;
    /// Index of the content nearest to one; contents.size() when there are none.
    std::size_t nearest(double content) const;
};

inline constexpr double mostFrontierKpa = 500;

inline constexpr std::size_t frontierPoints = 51;
/// points: 2 to 201. Stopped: without contents.
Frontier frontier(const Study &study, std::size_t points = frontierPoints, std::stop_token stop = {});

/// The pressure at which a part ends it, at any content; as in the lines.
double boostAllowed(const Study &study, LimitingPart part, double content);

/// The highest boost target at full throttle, at each content.
std::vector<double> boostTargets(const Study &study, const std::vector<double> &contents);

/// The boost tables changed so that the highest target at a content becomes a pressure: base and top move by
/// the least squares that do it, by their weights, in proportion to throttle. Held to what the tables may
/// hold.
void moveBoostTarget(Job &job, double content, double kpa);

} // namespace wheelwright
