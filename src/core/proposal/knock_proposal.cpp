// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/knock_proposal.h"

#include "core/proposal/changed_cells.h"
#include "core/study/blend_edit.h"
#include "core/study/cell_trust.h"
#include "core/study/content_tables.h"
#include "core/study/load_axis.h"
#include "core/study/spark_estimate.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <limits>
#include <map>

namespace wheelwright {
namespace {

using R = ChannelRole;
constexpr auto ofSpark = CalibratedQuantity::spark;
constexpr double unknown = std::numeric_limits<double>::quiet_NaN();
// Once, as the throttle opens, a sensor may be wrong; when it comes again it is believed. From memory.
constexpr int believedTimes = 2;
// Contents that differ by no more have the same cells of the same tables. From memory.
constexpr double sameTables = 0.05;

// Sums over the samples of one cell at one content band.
struct Sums {
    double hits = 0, content = 0, offsetSum = 0, offsets = 0,
           knockOffset = std::numeric_limits<double>::infinity();
    int knocks = 0, transients = 0;
    double airSum = 0, airs = 0;
    double airC() const { return airs > 0 ? airSum / airs : unknown; }
    double retardDeg = 0, transientDeg = 0, carriedDeg = 0, intakeC = unknown, worstContent = unknown;
    std::vector<std::string> logs;
};

struct Key {
    std::size_t band, y, x;
    auto operator<=>(const Key &) const = default;
};

class Collector {
  public:
    Collector(const Study &study, const KnockOptions &options)
        : m_study(study), m_options(options), m_cells(study),
          m_fromKpa(limitOf(study.job(), "evidence.knock_from")),
          m_window(limitOf(study.job(), "evidence.content_window")) {}

    Phrase add(const LogReview &review) {
        const LogTrace &t = review.trace();
        if (!t.has(R::knockRetard)) return MARKED("knock.no_retard", "it has no knock retard");
        if (!t.has(R::spark) || !t.has(R::map))
            return MARKED("knock.no_spark", "it has no spark, or no load");
        if (!review.content().usable())
            return MARKED("knock.unsettled", "its content is not known or not settled");
        if (review.asked(ofSpark).empty()) return MARKED("knock.no_tables", "its calibration is not kept");
        // Knock that goes on into another cell was made by the one in which it began.
        std::optional<Key> began;
        bool inTransient = false;
        for (std::size_t i = 0; i < t.size(); ++i) {
            const double retard = t.at(R::knockRetard, i);
            if (!(retard > 0)) began.reset();
            const double before = t.follows(i) ? t.at(R::knockRetard, i - 1) : 0;
            const std::optional<Key> key = keyAt(review, i);
            const bool starts = key && retard - before > knockBeginsDeg;
            if (starts) {
                began = beganIn(review, i, *key);
                inTransient = review.watched().inTipIn(i);
                addKnock(review, i, *began, retard, inTransient);
            }
            if (key) count(review, i, *key, retard, began == key, inTransient);
        }
        return {};
    }

    const std::map<Key, Sums> &sums() const { return m_sums; }
    // At that speed or beside it, whatever the load: boost rises through several rows while the throttle
    // opens.
    int transientsAround(const Key &key) const {
        int count = 0;
        for (const auto &[other, sums] : m_sums)
            if (other.band == key.band && std::max(other.x, key.x) - std::min(other.x, key.x) <= 1)
                count += sums.transients;
        return count;
    }
    const Coverage &cells() const { return m_cells; }
    std::map<Key, PowerBound> powerBounds(std::span<const LoggedSweep> sweeps) const {
        std::map<Key, PowerBound> out;
        for (const LoggedSweep &s : sweeps)
            if (const std::optional<PowerBound> b = powerBound(s))
                out.emplace(Key{m_cells.bandOf(std::clamp(s.content, 0.0, 1.0)),
                                m_cells.load().nearest(s.loadKpa), m_cells.rpm().nearest(s.rpm)},
                            *b);
        return out;
    }

  private:
    std::optional<Key> keyAt(const LogReview &review, std::size_t i) const {
        const LogTrace &t = review.trace();
        const double rpm = t.at(R::rpm, i), load = t.at(R::map, i), content = review.watched().contentAt(i);
        constexpr double running = 400;
        if (!(rpm >= running) || !(load >= m_fromKpa) || content != content || review.watched().fuelCut(i))
            return {};
        if (m_options.content && std::abs(content - *m_options.content) > m_window) return {};
        return Key{m_cells.bandOf(std::clamp(content, 0.0, 1.0)), m_cells.load().nearest(load),
                   m_cells.rpm().nearest(rpm)};
    }

    // It is heard a moment after it was made. While boost comes up, cells pass by between two rows of a log:
    // then it was the one that held more spark.
    Key beganIn(const LogReview &review, std::size_t i, const Key &key) const {
        constexpr double passesDeg = 2;
        if (!review.trace().follows(i)) return key;
        const double before = review.watched().tableBlendAt(ofSpark, i - 1),
                     here = review.watched().tableBlendAt(ofSpark, i);
        return before - here > passesDeg ? keyAt(review, i - 1).value_or(key) : key;
    }

    void addKnock(const LogReview &review, std::size_t i, const Key &key, double retard, bool transient) {
        Sums &s = m_sums[key];
        ++(transient ? s.transients : s.knocks);
        // What was delivered a moment before it was heard.
        const std::size_t before = i - (i > 0);
        const double was =
            review.trace().at(R::spark, before) - review.watched().tableBlendAt(ofSpark, before);
        if (!transient && was == was) s.knockOffset = std::min(s.knockOffset, was);
        addRetard(review, i, s, retard, transient);
    }

    static void addRetard(const LogReview &review, std::size_t i, Sums &s, double retard, bool transient) {
        double &most = transient ? s.transientDeg : s.retardDeg;
        if (retard > std::max(s.retardDeg, s.transientDeg)) {
            s.intakeC = review.trace().at(R::intakeTemp, i);
            s.worstContent = review.watched().contentAt(i);
        }
        most = std::max(most, retard);
    }

    void count(const LogReview &review, std::size_t i, const Key &key, double retard, bool own,
               bool transient) {
        const LogTrace &t = review.trace();
        Sums &s = m_sums[key];
        ++s.hits;
        s.content += review.watched().contentAt(i);
        if (const double air = t.at(R::intakeTemp, i); air == air) {
            s.airSum += air;
            ++s.airs;
        }
        if (s.logs.empty() || s.logs.back() != review.info().id) s.logs.push_back(review.info().id);
        // Delivered against the tables without retard: corrections by temperature, what the cell really got.
        const double tables = review.watched().tableBlendAt(ofSpark, i);
        const double delivered = t.at(R::spark, i);
        if (!(retard > 0)) {
            if (delivered == delivered && !review.watched().inTipIn(i)) {
                s.offsetSum += delivered - tables;
                ++s.offsets;
            }
            return;
        }
        if (own)
            addRetard(review, i, s, retard, transient);
        else
            s.carriedDeg = std::max(s.carriedDeg, retard);
    }

    const Study &m_study;
    const KnockOptions &m_options;
    Coverage m_cells;
    double m_fromKpa, m_window;
    std::map<Key, Sums> m_sums;
};

double middleOf(std::size_t band) {
    return (coverageBands()[band] + coverageBands()[band + 1]) / 2;
}

const SparkSearch *searchInBand(const Job &job, double rpm, double loadKpa, double content) {
    const auto at = std::ranges::find_if(job.sparkSearches.values(), [&](const SparkSearch &s) {
        constexpr double same = 1e-9;
        return s.rpm == rpm && s.loadKpa == loadKpa && std::abs(s.content - content) < same;
    });
    return at == job.sparkSearches.values().end() ? nullptr : &*at;
}

// By band, the mean of its cells.
std::map<double, double> contentsOfBands(const KnockProposal &proposal) {
    std::map<double, std::pair<double, double>> sums;
    for (const KnockCell &c : proposal.cells) {
        sums[c.search.content].first += c.content;
        ++sums[c.search.content].second;
    }
    std::map<double, double> out;
    for (const auto &[band, sum] : sums)
        out[band] = sum.first / sum.second;
    return out;
}

// The same cell knocked at a content so near that the tables are the same: it is raised at none of them.
bool takenBeside(const KnockProposal &proposal, const KnockCell &cell) {
    return std::ranges::any_of(proposal.cells, [&](const KnockCell &c) {
        return c.rpm == cell.rpm && c.loadKpa == cell.loadKpa && c.proposedDeg < c.nowDeg &&
               std::abs(c.content - cell.content) <= sameTables;
    });
}

// What the samples of a cell say of its spark, and what its search does by that.
class Proposer {
  public:
    Proposer(const Study &study, std::span<const std::shared_ptr<const LogReview>> logs,
             const KnockOptions &options)
        : m_job(study.job()), m_pressure(study.inPressure()), m_collector(study, options),
          m_least(options.leastHits.value_or(limitOf(m_job, "evidence.least_hits"))),
          m_cleanTimes(static_cast<int>(std::lround(limitOf(m_job, "evidence.clean_times")))),
          m_taught(options.learned), m_best(m_pressure), m_ceilings(m_job, TableKind::sparkCeiling) {
        for (const std::shared_ptr<const LogReview> &log : logs)
            if (Phrase why = m_collector.add(*log); !why.empty())
                m_out.unused.push_back({log->info().id, std::move(why)});
        m_powers = m_collector.powerBounds(options.sweeps);
    }

    KnockProposal propose() {
        for (const auto &[key, sums] : m_collector.sums())
            add(key, sums);
        if (m_job.sparkSchool == SparkSchool::road) addBeside();
        return std::move(m_out);
    }

  private:
    void add(const Key &key, const Sums &sums) {
        const bool believed = sums.transients > 0 && m_collector.transientsAround(key) >= believedTimes;
        KnockCell c = cellOf(key, sums, believed);
        if (c.hits < m_least && c.knocks == 0 && !believed) return;
        const BlendEnds ends = m_pressure.ends(ofSpark, c.content);
        c.nowDeg = c.proposedDeg = ends.at(c.rpm, c.loadKpa);
        const SparkSearch *stands = searchInBand(m_job, c.rpm, c.loadKpa, middleOf(key.band));
        c.search = stands ? *stands : SparkSearch{c.rpm, c.loadKpa, middleOf(key.band), {}, 0, 0, 0, 0, {}};
        const bool counted =
            std::ranges::all_of(c.logs, [&](const std::string &id) { return listsId(c.search.logs, id); });
        if (counted) {
            c.next = MARKED("knock.counted", "its logs have been counted: log again");
            m_out.cells.push_back(std::move(c));
            return;
        }
        c.offsetDeg = sums.offsets > 0 ? sums.offsetSum / sums.offsets : 0;
        m_airOfBand.try_emplace(middleOf(key.band), sums.airC());
        SparkStep step = nextSparkStep(c.search, m_job.sparkSchool, seenOf(c, sums, believed),
                                       boundsOf(key, c, ends, sums.airC()), m_cleanTimes);
        for (const std::string &id : c.logs)
            if (!listsId(step.now.logs, id)) step.now.logs += (step.now.logs.empty() ? "" : " ") + id;
        c.search = std::move(step.now);
        c.next = std::move(step.next);
        c.proposedDeg = c.nowDeg + step.deg;
        m_out.cells.push_back(std::move(c));
    }

    KnockCell cellOf(const Key &key, const Sums &sums, bool believed) const {
        KnockCell c;
        c.cell = {key.x, key.y};
        c.rpm = m_collector.cells().rpm()[key.x];
        c.loadKpa = m_collector.cells().load()[key.y];
        c.hits = sums.hits;
        c.content = sums.content / sums.hits;
        c.knocks = sums.knocks;
        c.transientKnocks = sums.transients;
        c.transient = sums.knocks == 0 && sums.transients > 0 && !believed;
        c.retardDeg = std::max(sums.retardDeg, sums.transientDeg);
        c.carriedDeg = sums.carriedDeg;
        c.intakeC = sums.intakeC;
        c.worstContent = sums.worstContent;
        c.logs = sums.logs;
        return c;
    }

    SparkSeen seenOf(const KnockCell &c, const Sums &sums, bool believed) const {
        SparkSeen seen;
        seen.tableDeg = c.nowDeg;
        seen.knocked = sums.knocks > 0 || believed;
        seen.retardDeg = believed ? c.retardDeg : sums.retardDeg;
        seen.knockedDeg = c.nowDeg + (std::isfinite(sums.knockOffset) ? sums.knockOffset : 0);
        // Half of its samples without retard, at least: else it ran later than its table says.
        seen.judged = sums.offsets >= std::max(m_least, sums.hits / 2) && (sums.transients == 0 || believed);
        seen.offsetDeg = c.offsetDeg;
        seen.cleanDeg = c.nowDeg + c.offsetDeg;
        return seen;
    }

    SparkBounds boundsOf(const Key &key, const KnockCell &c, const BlendEnds &ends, double airC) {
        SparkBounds bounds;
        bounds.bestDeg = m_best.at(c.rpm, c.loadKpa, c.content);
        if (const auto power = m_powers.find(key); power != m_powers.end()) {
            // An estimate may be some degrees low, a sweep of few pulls some high. While power rises nothing
            // speaks against the way to the estimate.
            constexpr double furthestDeg = 8;
            const PowerBound &found = power->second;
            const double holds = ends.at(found.rpm, found.loadKpa);
            const double read =
                std::min(c.nowDeg + found.deg - c.offsetDeg - holds, *bounds.bestDeg + furthestDeg);
            bounds.bestIsRead = found.found;
            bounds.bestDeg = found.found ? read : std::max(read, *bounds.bestDeg);
        }
        const OperatingPoint place{std::clamp(c.content, 0.0, 1.0), c.rpm, c.loadKpa};
        if (!m_ceilings.empty() && !m_ceilings.estimatesOnly() && c.loadKpa >= m_ceilings.firstRow())
            bounds.ceilingDeg = m_ceilings.at(place) - std::max(m_ceilings.plusMinusAt(c.content),
                                                                limitOf(m_job, "spark.ceiling.margin"));
        // Without what corrections add: the table is what is changed.
        const TaughtSpark::Cell should = m_taught.of(c.rpm, c.loadKpa, c.content, airC);
        if (should.target) bounds.targetDeg = *should.target - c.offsetDeg;
        if (should.surely) bounds.surelyDeg = *should.surely - c.offsetDeg;
        return bounds;
    }

    // Cells that no log was in, of the bands of which something is new.
    void addBeside() {
        const std::map<double, double> contents = contentsOfBands(m_out);
        for (const auto &[band, air] : m_airOfBand) {
            const double content = contents.at(band);
            std::vector<SearchedCell> searched;
            for (const KnockCell &c : m_out.cells)
                if (std::abs(c.content - content) <= sameTables) {
                    // What ran with retard from elsewhere is not clean at the spark of its table.
                    const bool clean = c.knocks == 0 && (c.proposedDeg > c.nowDeg ||
                                                         (c.proposedDeg == c.nowDeg && c.search.clean > 0));
                    searched.push_back({c.cell, c.proposedDeg, clean});
                }
            std::ranges::move(sparkBeside(m_pressure, searched, content, band, air, m_taught, m_best),
                              std::back_inserter(m_out.beside));
        }
    }

    const Job &m_job;
    const Study &m_pressure;
    Collector m_collector;
    double m_least;
    int m_cleanTimes;
    TaughtSpark m_taught;
    BestSpark m_best;
    ContentTables m_ceilings;
    std::map<Key, PowerBound> m_powers;
    std::map<double, double> m_airOfBand; ///< by the middle of a band of which something is new; °C
    KnockProposal m_out;
};

} // namespace

bool KnockProposal::changes() const {
    return !beside.empty() ||
           std::ranges::any_of(cells, [](const KnockCell &c) { return c.proposedDeg != c.nowDeg; });
}

KnockProposal proposeSpark(const Study &study, std::span<const std::shared_ptr<const LogReview>> logs,
                           const KnockOptions &options) {
    return Proposer(study, logs, options).propose();
}

Job withSpark(const Job &job, const KnockProposal &proposal, const std::string &at) {
    Job after = job;
    std::vector<std::string> ids;
    double before = 0;
    for (const KnockCell &c : proposal.cells) {
        before += c.retardDeg * c.retardDeg;
        for (const std::string &id : c.logs)
            if (std::ranges::find(ids, id) == ids.end()) ids.push_back(id);
    }
    // A blend is changed as a whole, and so what one band does reaches the next: less spark first, and more
    // only where the cell does not hold it by then.
    const std::map<double, double> bands = contentsOfBands(proposal);
    for (const bool more : {false, true})
        for (const auto &[band, content] : bands) {
            Table2D wanted = blendedTable(SchoolModel(after).at(ofSpark, content));
            const auto bring = [&](double rpm, double loadKpa, double from, double to) {
                if ((to > from) != more) return;
                const CellIndex cell{wanted.x().nearest(rpm), wanted.y().nearest(axisOfLoad(after, loadKpa))};
                const double now = wanted.cell(cell), by = to - from;
                wanted.setCell(cell, more ? std::max(now, std::min(now + by, to))
                                          : std::min(now, std::max(now + by, to)));
            };
            for (const KnockCell &c : proposal.cells)
                if (c.search.content == band && !(more && takenBeside(proposal, c)))
                    bring(c.rpm, c.loadKpa, c.nowDeg, c.proposedDeg);
            for (const BesideCell &b : proposal.beside)
                if (b.bandContent == band) bring(b.rpm, b.loadKpa, b.nowDeg, b.proposedDeg);
            setBlend(after, ofSpark, content, wanted);
        }
    keepLocked(job, after);
    for (const KnockCell &c : proposal.cells) {
        bool stands = false;
        for (std::size_t i = 0; i < after.sparkSearches.size() && !stands; ++i) {
            const SparkSearch &s = after.sparkSearches.values()[i];
            stands = s.rpm == c.rpm && s.loadKpa == c.loadKpa && s.content == c.search.content;
            if (stands && !(s == c.search)) after.sparkSearches[i] = c.search;
        }
        if (!stands) after.sparkSearches.push_back(c.search);
    }
    Correction note;
    note.at = at;
    note.kind = CorrectionKind::spark;
    note.logs = listOfIds(ids);
    note.rmsBefore =
        proposal.cells.empty() ? 0 : std::sqrt(before / static_cast<double>(proposal.cells.size()));
    if (bands.size() == 1) note.content = proposal.cells.front().content;
    note.cells = textOf(changedCells(job, after, ofSpark, [&](const std::string &, double rpm, double y) {
        CorrectedCell found;
        for (const KnockCell &c : proposal.cells)
            if (c.rpm == rpm && std::abs(c.loadKpa - loadOfAxis(job, y)) < 1e-6) {
                found.hits += c.hits;
                found.error = 0 - c.retardDeg; // never −0
            }
        return found;
    }));
    if (!note.cells.empty()) after.corrections.push_back(std::move(note));
    return after;
}

} // namespace wheelwright
