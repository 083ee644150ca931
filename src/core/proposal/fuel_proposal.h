// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/proposal/fuel_samples.h"
#include "core/study/fuel_delivery.h"

#include <optional>
#include <string_view>
#include <vector>

namespace wheelwright {

/// What a proposal does with a cell, or why it does nothing.
enum class FuelCellState {
    never,     ///< no clean sample near it
    tooFew,    ///< fewer than the least hits
    corrected, ///< by its own samples
    inferred,  ///< by those of its neighbours or its region: not measured
    locked,    ///< it would change, but somebody has locked it
    supply,    ///< it ran lean where injectors or rail could give no more: more in the table hides the cause
    noNumber   ///< the table cannot hold the number that it would need
};
struct FuelCellStateDefinition {
    FuelCellState state;
    std::string_view key; ///< stable: "too_few"
    PhraseText title;
};
std::span<const FuelCellStateDefinition> allFuelCellStates();
const FuelCellStateDefinition &definitionOf(FuelCellState state);

/// A cell of the fuel that the engine gets at a content, and what samples around that content say of it.
struct FuelCell {
    CellIndex cell;
    double rpm = 0, loadKpa = 0;
    double hits = 0;      ///< sum of bilinear weights, with the supply not at its end
    double atEnd = 0;     ///< the same with the supply at its end
    double error = 0;     ///< weighted mean of FuelSample::error
    double sd = 0;        ///< of the samples about it
    double plusMinus = 0; ///< of the mean, 95 %: by means over a second, which are nearly independent
    double least = 0, most = 0, contentLeast = 0, contentMost = 0;
    std::string lastSeen; ///< when the last of its logs came in
    double now = 0, proposed = 0;
    FuelCellState state = FuelCellState::never;
};

/// A rectangle of the table, both ends included.
struct FuelRegion {
    double rpmFrom = 0, rpmTo = 0, loadKpaFrom = 0, loadKpaTo = 0;

    bool operator==(const FuelRegion &) const = default;
};

struct FuelProposalOptions {
    std::optional<double> content;   ///< empty: that of the logs, which must agree
    std::optional<double> damping;   ///< share of the error that is taken; empty: limit evidence.damping
    std::optional<double> clamp;     ///< most that a cell moves, as a share; empty: limit evidence.clamp
    std::optional<double> leastHits; ///< empty: limit evidence.least_hits
    bool nearest = false;            ///< each sample to its nearest cell, in place of bilinear weights
    int neighbours = 0; ///< rings of cells that take a share of their corrected neighbours: half as much
                        ///< with each ring
    std::optional<FuelRegion> region; ///< one correction for all of it, by all of its samples
};

/// VE_new = VE_old · λ_measured/λ_target, damped and clamped, for what the engine gets at one content. Of
/// pulse widths the dead time stays out of it. Common practice.
struct FuelProposal {
    double content = 0, damping = 0, clamp = 0, leastHits = 0;
    Table2D now, proposed;                  ///< the blend at that content, on the low end's axes
    std::vector<FuelCell> cells;            ///< row by row
    double rmsBefore = 0, rmsPredicted = 0; ///< of the errors of the samples, before and after
    std::size_t samples = 0;                ///< within the content window
    std::vector<std::size_t> logs;          ///< of FuelSamples::logs, that have samples there

    std::size_t count(FuelCellState state) const;
    bool changes() const { return !(now == proposed); }
};

/// What samples at a content would be off by if the engine got other fuel there: (1 + error) · was/is − 1,
/// dead time apart. Keeps references to both tables, on the axes that tables are read by.
class FuelForecast {
  public:
    FuelForecast(const Study &study, double content, const Table2D &now, const Table2D &then);
    double errorThen(const FuelSample &sample) const;

  private:
    InjectorDemand m_demand;
    const Table2D &m_now, &m_then;
};

/// Samples count within limit evidence.content_window of the content. Throws InputError where no log can be
/// used, saying why of each, and where contents differ by more than that window and none is asked for.
FuelProposal proposeFuel(const Study &study, const FuelSamples &samples,
                         const FuelProposalOptions &options = {});

/// The job with the proposal in it: the step of each cell shared between both ends by their weights
/// (setBlend), every changed cell corrected from a log. Locked cells stay.
Job withFuel(const Job &job, const FuelProposal &proposal);
/// The same, and what was found as a correction of the job, made at that time (ISO 8601).
Job withFuel(const Job &job, const FuelProposal &proposal, const FuelSamples &samples, const std::string &at);

} // namespace wheelwright
