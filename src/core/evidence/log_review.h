// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/coverage.h"
#include "core/evidence/log_content.h"
#include "core/evidence/ran_studies.h"

#include <memory>
#include <stop_token>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// All that is said of one log, worked out once, beside the window's thread. Immutable afterwards: several
/// threads may ask it.
class LogReview {
  public:
    /// Throws InputError as LogTrace does; Stopped where it was told to stop.
    /// now: of the job as it is; ran: of what the log ran with.
    LogReview(const Study &now, const RanStudies::Ran &ran, const LogInfo &info, const LogTrace::Read &read,
              std::stop_token stop = {});
    LogReview(const Job &job, const LogInfo &info, const LogTrace::Read &read, std::stop_token stop = {});
    struct Stopped {};

    const LogInfo &info() const { return m_info; }
    const LogTrace &trace() const { return m_watched->trace(); }
    /// It ran with the calibration of that fingerprint. A review outlives changes of the calibration: whether
    /// it ran with the one of now is asked when it matters, with calibrationPrint() of now.
    bool ranWith(std::string_view calibration) const { return m_info.calibration == calibration; }
    /// Of the calibration that it ran with; without one known, the job as it is.
    const Study &study() const { return *m_study; }
    std::shared_ptr<const Study> sharedStudy() const { return m_study; }
    const WatchedLog &watched() const { return *m_watched; }
    const std::vector<Episode> &episodes() const { return m_episodes; }
    /// The shortest around a moment, which says most; nullptr: none.
    const Episode *episodeAt(double timeS) const;
    const LogFindings &findings() const { return m_findings; }
    const CleanLog &cleaned() const { return m_cleaned; }
    const LogContent &content() const { return m_content; }
    /// What the tables ask for at every sample; empty where the calibration is not known.
    std::span<const double> asked(CalibratedQuantity quantity) const {
        return m_asked[static_cast<std::size_t>(quantity)];
    }

    /// Where this log alone has been, as if it had run with the calibration as it is: on the cells of the job
    /// that it was read through for.
    const Coverage &coverage() const { return *m_coverage; }

    /// The same without its samples: for a log that is not looked at. It has no trace and no visits.
    std::shared_ptr<const LogReview> withoutSamples() const;
    bool hasSamples() const { return m_watched->trace().size() > 0; }

  private:
    LogReview() = default;

    LogInfo m_info;
    std::shared_ptr<const Study> m_study;
    std::shared_ptr<const WatchedLog> m_watched;
    std::shared_ptr<const Coverage> m_coverage;
    std::vector<Episode> m_episodes;
    LogFindings m_findings;
    CleanLog m_cleaned;
    LogContent m_content;
    std::array<std::vector<double>, calibratedQuantityCount> m_asked;
};

/// A cell of the tables and when a log was in it: its samples nearest to these breakpoints, one after the
/// other.
struct CellVisit {
    const LogReview *log = nullptr;
    double beginS = 0, endS = 0;
    const Episode *episode = nullptr; ///< that it is a part of; nullptr: none
    double hits = 0;                  ///< samples nearest to the cell
    double content = 0;               ///< mean; not a number where nobody knows it
    double lambdaError = 0;           ///< mean of λ less its target; not a number without
    double knockDeg = 0;              ///< most retard; not a number without
};

/// The cells that an axis pair has, nearest to a place: what counts as in the cell.
struct CellArea {
    double rpmFrom = 0, rpmTo = 0, loadFrom = 0, loadTo = 0;
    bool holds(double rpm, double loadKpa) const {
        return rpm >= rpmFrom && rpm < rpmTo && loadKpa >= loadFrom && loadKpa < loadTo;
    }
};
CellArea areaOf(const Axis &rpm, const Axis &loadKpa, std::size_t x, std::size_t y);
/// The latest log first, within a log by time; a visit goes on through up to half a second elsewhere.
std::vector<CellVisit> visitsOf(std::span<const std::shared_ptr<const LogReview>> logs, const CellArea &area);

/// What two episodes are laid over one another by.
enum class EpisodeAxis { time, rpm, distance };
/// Where each sample of an episode stands on that axis, from its start: seconds, rpm, metres by the road
/// speed. Empty where the log has no road speed.
std::vector<double> along(const LogTrace &trace, const Episode &episode, EpisodeAxis axis);

/// In a line: "Pull, 2400–6900 rpm, 182 kPa".
Phrase inWords(const Episode &episode);
/// What was found, with value, limit and place.
Phrase inWords(const LogFinding &finding);

} // namespace wheelwright
