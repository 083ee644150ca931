// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/proposed_map.h"

#include "core/proposal/map_draft.h"

#include <algorithm>
#include <array>

namespace wheelwright {
namespace {

using S = ProposedState;

constexpr std::array kindTable{
    ProposalKindDefinition{
        ProposalKind::fuel, "fuel", MARKED("proposal.fuel", "Fuel at one content"),
        MARKED("proposal.fuel.help", "What clean samples at this content ask of each cell."),
        MARKED("proposal.fuel.step", "Correct fuel from logs")},
    ProposalKindDefinition{
        ProposalKind::joint, "joint", MARKED("proposal.joint", "Fuel of all contents"),
        MARKED("proposal.joint.help", "All logs together: both tables and the curve over content."),
        MARKED("proposal.joint.step", "Correct fuel from all logs")},
    ProposalKindDefinition{ProposalKind::spark, "spark", MARKED("proposal.spark", "Spark by knock"),
                           MARKED("proposal.spark.help", "Where it knocked, where not, and the next step."),
                           MARKED("proposal.spark.step", "Correct spark by knock")},
    ProposalKindDefinition{
        ProposalKind::sweep, "sweep", MARKED("proposal.sweep", "Spark by power"),
        MARKED("proposal.sweep.help", "Where power levels off, by holds or pulls that move the spark alone."),
        MARKED("proposal.sweep.step", "Best spark from sweeps")},
    ProposalKindDefinition{
        ProposalKind::ceilings, "ceilings", MARKED("proposal.ceilings", "What it stands"),
        MARKED("proposal.ceilings.help",
               "The spark that the engine stands at this content, by all knock seen and not seen."),
        MARKED("proposal.ceilings.step", "Ceilings from logs")}};

} // namespace

std::span<const ProposalKindDefinition> allProposalKinds() {
    return kindTable;
}

const ProposalKindDefinition &definitionOf(ProposalKind kind) {
    return kindTable[static_cast<std::size_t>(kind)];
}

PhraseText inWords(ProposedState state) {
    switch (state) {
    case S::nothing:
        return MARKED("proposed.nothing", "no log says anything of it");
    case S::changed:
        return MARKED("proposed.changed", "by its own samples");
    case S::inferred:
        return MARKED("proposed.inferred", "inferred from its neighbours");
    case S::kept:
        return MARKED("proposed.kept", "looked at, and stays");
    case S::refused:
        return MARKED("proposed.refused", "refused");
    case S::notSeparable:
        return MARKED("proposed.not_separable", "samples do not tell it apart");
    case S::knocks:
        break;
    }
    return MARKED("proposed.knocks", "it knocked here");
}

Phrase laidAsideWords(std::size_t logs) {
    return {MARKED("visits.aside", "Not looked through, since their samples are laid aside: {0} long logs."),
            {{static_cast<double>(logs), Dimension::count}}};
}

ProposalBasis::ProposalBasis(std::shared_ptr<const Study> study,
                             std::vector<std::shared_ptr<const LogReview>> logs,
                             std::optional<double> delayMs)
    : m_study(std::move(study)), m_logs(std::move(logs)), m_delayMs(delayMs) {}

bool ProposalBasis::of(const Study *study, std::span<const std::shared_ptr<const LogReview>> logs,
                       std::optional<double> delayMs) const {
    return m_study.get() == study && m_delayMs == delayMs && std::ranges::equal(m_logs, logs);
}

const FuelSamples *ProposalBasis::samples(const std::stop_token &stop) {
    if (!m_samples) {
        FuelSamples made = fuelSamples(*m_study, m_logs, {m_delayMs}, stop);
        if (stop.stop_requested()) return nullptr;
        m_samples = std::move(made);
    }
    return &*m_samples;
}

const JointFuel *ProposalBasis::joint(const std::stop_token &stop) {
    if (!m_joint) {
        const FuelSamples *of = samples(stop);
        if (!of) return nullptr;
        JointFuel made = solveJointFuel(*m_study, *of, {}, stop);
        if (stop.stop_requested()) return nullptr;
        m_joint = std::move(made);
    }
    return &*m_joint;
}

LearnedCeilings *ProposalBasis::ceilings(const std::stop_token &stop) {
    if (!m_ceilings) {
        LearnedCeilings made = learnCeilings(*m_study, m_logs, stop);
        if (stop.stop_requested()) return nullptr;
        m_ceilings = std::move(made);
    }
    return &*m_ceilings;
}

ProposedMap proposedMap(ProposalKind kind, ProposalBasis &basis, const ProposedOptions &options,
                        std::stop_token stop) {
    const auto make = [&] {
        switch (kind) {
        case ProposalKind::fuel:
            return fuelMap(basis, options, stop);
        case ProposalKind::joint:
            return jointMap(basis, options, stop);
        case ProposalKind::spark:
            return sparkMap(basis, options, stop);
        case ProposalKind::sweep:
            return sweepMap(basis, options, stop);
        case ProposalKind::ceilings:
            break;
        }
        return ceilingsMap(basis, options, stop);
    };
    ProposedMap map = make();
    return stop.stop_requested() ? ProposedMap{} : std::move(map);
}

} // namespace wheelwright
