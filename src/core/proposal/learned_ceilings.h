// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/proposal/ceiling_fit.h"

#include <memory>
#include <span>
#include <stop_token>
#include <string>
#include <vector>

namespace wheelwright {

/// What spark a place stands at a content, by all that was seen and not seen.
struct LearnedCeiling {
    double rpm = 0, loadKpa = 0;
    double deg = 0;        ///< most likely
    double sigmaDeg = 0;   ///< standard error
    double scatterDeg = 0; ///< by which cycles knock earlier and later than that, one σ
    bool known = false;    ///< not worse known than limit evidence.ceiling_sigma, and a limit at all
    int knocked = 0;       ///< times that knock began here, near this content
    double clean = 0;      ///< samples here without, near this content
};

/// A fuel that knocks otherwise than its content and air explain.
struct FuelDoubt {
    std::string log, name; ///< id, and name of its file
    double content = 0;
    FoundNumber off; ///< degrees that it stands more than others do; under 0: less
    Phrase said;
};

/// What logs say of the spark that the engine stands, at every content. Keeps what it was made of.
class LearnedCeilings {
  public:
    const KnockTrials &trials() const { return *m_trials; }
    /// None where no log says anything, which is not the same as a fit of nothing.
    bool any() const { return m_fit != nullptr; }
    const CeilingFit &fit() const { return *m_fit; }
    const std::vector<FuelDoubt> &doubts() const { return m_doubts; }

    /// Every cell of the spark table from limit evidence.knock_from up, row by row; in intake air of so many
    /// °C, without it the job's usual. Throws InputError for a
    /// content outside 0–1. Not const: the model is asked for contents that nobody has asked for yet.
    std::vector<LearnedCeiling> at(double content, std::optional<double> intakeC = {});

  private:
    friend LearnedCeilings learnCeilings(const Study &, std::span<const std::shared_ptr<const LogReview>>,
                                         std::stop_token);
    void findDoubts(const std::stop_token &stop);

    double m_window = 0, m_sigmaDeg = 0;
    std::unique_ptr<KnockSurfaces> m_surfaces;
    std::unique_ptr<KnockTrials> m_trials;
    std::unique_ptr<CeilingFit> m_fit;
    std::vector<CeilingFit::Part> m_parts;
    std::vector<FuelDoubt> m_doubts;
};

/// From every log that says something of knock, whatever calibration it ran with: what an engine stands does
/// not go by its tables. Fuel of doubt is named and kept apart. The study must outlive it.
LearnedCeilings learnCeilings(const Study &study, std::span<const std::shared_ptr<const LogReview>> logs,
                              std::stop_token stop = {});

/// 'at E62 this cell should stand 18.5 ± 1.2°', 95 %.
Phrase forecastOf(const LearnedCeiling &ceiling, double content);

/// The job with a table of ceilings at each of these contents that is known anywhere: in every cell what it
/// stands at the least, with 95 % on one side, so that no ± need be kept under it again. Cells that are not
/// known stay estimates, which clear no question. Tables that were learned before at the same contents are
/// replaced, and those of others taken away: this is all that is known now. What somebody has said stays.
Job withLearnedCeilings(const Job &job, LearnedCeilings &learned, std::span<const double> contents);
/// Contents worth a table: those of logs, and between them steps that a straight line can follow.
std::vector<double> contentsOf(const LearnedCeilings &learned);

} // namespace wheelwright
