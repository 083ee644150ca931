// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/proposal/proposed_map.h"
#include "core/study/load_axis.h"

#include <limits>

namespace wheelwright {

/// What all makers of a ProposedMap have in common. Private to this folder.
class MapDraft {
  public:
    MapDraft(ProposalKind kind, ProposalBasis &basis, const ProposedOptions &options,
             const std::stop_token &stop)
        : m_basis(basis), m_study(basis.study()), m_options(options), m_stop(stop) {
        m_out.kind = kind;
        m_out.content = options.content;
        if (options.laidAside > 0) m_out.doubts.push_back(laidAsideWords(options.laidAside));
    }

  protected:
    using S = ProposedState;
    static constexpr double at95 = 1.96;

    static ProposedCell emptyCell(double rpm, double loadKpa) {
        constexpr double notKnown = std::numeric_limits<double>::quiet_NaN();
        ProposedCell c;
        c.rpm = rpm;
        c.loadKpa = loadKpa;
        c.now = c.proposed = c.change = c.plusMinus = c.errorNow = c.errorThen = notKnown;
        return c;
    }
    static Measured counted(double n) { return {n, Dimension::count}; }
    static Measured share(double v) { return {v, Dimension::ratio}; }

    void say(Phrase words) { m_out.said.push_back(std::move(words)); }
    /// Which log takes no part, with its reason.
    void sayUnused(const std::string &name, const Phrase &why) {
        m_out.unused.push_back({MARKED("proposal.unused", "{a}: {A}"), {}, {name}, {why}});
    }
    void startCells(const Axis &rpm, std::vector<double> loadKpa) {
        m_out.rpm = rpm.points();
        m_out.loadKpa = std::move(loadKpa);
        for (const double load : m_out.loadKpa)
            for (const double n : m_out.rpm)
                m_out.cells.push_back(emptyCell(n, load));
    }
    /// The loads of a table, in pressure: what maps are drawn over.
    std::vector<double> loadsOf(const Table2D &table) const {
        std::vector<double> out;
        for (const double y : table.y().points())
            out.push_back(loadOfAxis(m_study.job(), y));
        return out;
    }

    ProposalBasis &m_basis;
    const Study &m_study;
    const ProposedOptions &m_options;
    const std::stop_token &m_stop;
    ProposedMap m_out;
};

/// Stopped: whatever is there.
ProposedMap fuelMap(ProposalBasis &basis, const ProposedOptions &options, const std::stop_token &stop);
ProposedMap jointMap(ProposalBasis &basis, const ProposedOptions &options, const std::stop_token &stop);
ProposedMap sparkMap(ProposalBasis &basis, const ProposedOptions &options, const std::stop_token &stop);
ProposedMap sweepMap(ProposalBasis &basis, const ProposedOptions &options, const std::stop_token &stop);
ProposedMap ceilingsMap(ProposalBasis &basis, const ProposedOptions &options, const std::stop_token &stop);

} // namespace wheelwright
