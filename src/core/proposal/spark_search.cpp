// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/spark_search.h"

#include <algorithm>

namespace wheelwright {
namespace {

using P = SearchPhase;

constexpr double firstDeg = 2, laterDeg = 1, lastDeg = 1, boldDeg = 5;
constexpr double near = 0.5, leastBack = 0.5; // of a target; degrees

Phrase cleanOf(double clean, int times) {
    return {MARKED("spark_search.clean", "clean {0} of {1}: log again"),
            {{clean, Dimension::count}, {static_cast<double>(times), Dimension::count}}};
}

class Search {
  public:
    Search(const SparkSearch &was, SparkSchool school, const SparkSeen &seen, const SparkBounds &bounds,
           int cleanTimes)
        : m_seen(seen), m_bounds(bounds), m_school(school), m_cleanTimes(cleanTimes) {
        m_out.now = was;
    }

    SparkStep step() {
        if (m_seen.knocked)
            takeBack();
        else if (!m_seen.judged)
            m_out.next = MARKED("spark_search.not_judged",
                                "not judged at its own spark: log again, steadily, without knock before it");
        else
            goOn();
        if (m_out.deg != 0) ++m_out.now.steps;
        return std::move(m_out);
    }

  private:
    SparkSearch &now() { return m_out.now; }

    void takeBack() {
        m_out.deg = -m_seen.retardDeg;
        // A controller takes more at once than was too much.
        if (aims() && m_seen.retardDeg > leastBack)
            m_out.deg = std::clamp(*m_bounds.targetDeg - m_seen.tableDeg, -m_seen.retardDeg, -leastBack);
        now().knockedDeg =
            now().knockedDeg != 0 ? std::min(now().knockedDeg, m_seen.knockedDeg) : m_seen.knockedDeg;
        now().clean = 0;
        now().phase = P::recheck;
        m_out.next = Phrase{MARKED("spark_search.take_back", "it knocked: {0} less, then log again"),
                            {{-m_out.deg, Dimension::sparkAngle}}};
    }

    bool aims() const { return m_school == SparkSchool::road && m_bounds.targetDeg.has_value(); }

    double tryDeg() const { return m_out.now.phase == P::raiseTwo ? firstDeg : laterDeg; }
    // What may be added at once, as it surely stands so much.
    double surelyMore() const {
        return m_bounds.surelyDeg ? std::min(*m_bounds.surelyDeg - m_seen.tableDeg, boldDeg) : 0;
    }

    // More than gives the power is pressure for nothing.
    bool pastPower() {
        if (m_school != SparkSchool::road || !m_bounds.bestIsRead ||
            !(m_seen.tableDeg > *m_bounds.bestDeg + near))
            return false;
        m_out.deg = *m_bounds.bestDeg - m_seen.tableDeg;
        now().clean = 0;
        now().phase = P::recheck;
        m_out.next =
            Phrase{MARKED("spark_search.past_power", "past what brings power: {0} less, then log again"),
                   {{-m_out.deg, Dimension::sparkAngle}}};
        return true;
    }

    // By what logs have taught, and no further than best spark.
    void aim() {
        const double target = std::min(*m_bounds.targetDeg, m_bounds.bestDeg.value_or(*m_bounds.targetDeg));
        const double off = target - m_seen.tableDeg;
        if (off > near) return raise(std::min(off, std::max(tryDeg(), surelyMore())));
        now().phase = P::recheck;
        if (off < -near) {
            m_out.deg = off;
            now().clean = 0;
            m_out.next =
                Phrase{MARKED("spark_search.aim_down", "over what it should stand: {0} less, then log again"),
                       {{-off, Dimension::sparkAngle}}};
        } else if (now().clean < m_cleanTimes) {
            m_out.next = cleanOf(now().clean, m_cleanTimes);
        } else {
            now().phase = P::done;
            m_out.next = MARKED("spark_search.aimed", "at what it should stand, and clean: found");
        }
    }

    // Whether a step stays under all that is known: where it knocked, a ceiling, best spark.
    bool allowed(double deg) const {
        const double then = m_seen.tableDeg + deg;
        const bool underKnock = m_out.now.knockedDeg == 0 || then + m_seen.offsetDeg < m_out.now.knockedDeg;
        return underKnock && !(m_bounds.ceilingDeg && then > *m_bounds.ceilingDeg) &&
               !(m_bounds.bestDeg && then > *m_bounds.bestDeg);
    }

    void raise(double deg) {
        m_out.deg = deg;
        now().clean = 0;
        now().phase = P::raiseOne;
        m_out.next = Phrase{MARKED("spark_search.raise", "clean: {0} more, then log again"),
                            {{deg, Dimension::sparkAngle}}};
    }

    void goOn() {
        ++now().clean;
        now().cleanDeg = now().cleanDeg != 0 ? std::max(now().cleanDeg, m_seen.cleanDeg) : m_seen.cleanDeg;
        if (pastPower()) return;
        const bool leftAlone = m_school == SparkSchool::road && now().knockedDeg == 0 && allowed(laterDeg);
        if (now().phase == P::done && !aims() && !leftAlone) {
            m_out.next = MARKED("spark_search.done", "found: nothing more");
            return;
        }
        if (m_school == SparkSchool::fixed && now().knockedDeg == 0) {
            now().phase = P::done;
            m_out.next = MARKED("spark_search.fixed", "fixed value, clean: it stays");
            return;
        }
        if (aims()) return aim();
        if (m_school == SparkSchool::road) {
            if (const double more = surelyMore(); more > tryDeg() && allowed(more)) return raise(more);
            if (now().phase == P::raiseTwo && allowed(firstDeg)) return raise(firstDeg);
            if (allowed(laterDeg)) return raise(laterDeg);
        } else if (m_school == SparkSchool::dyno && now().knockedDeg == 0) {
            now().phase = P::sweep;
            m_out.next = MARKED("spark_search.sweep", "clean: sweep it for power, that decides on more");
            return;
        }
        // Nothing may be added: it must stay clean, then a degree of distance.
        now().phase = P::recheck;
        if (now().clean < m_cleanTimes) {
            m_out.next = cleanOf(now().clean, m_cleanTimes);
            return;
        }
        now().phase = P::done;
        // Best spark, or a ceiling with its margin, needs no distance from a knock that nobody has seen.
        if (now().knockedDeg == 0) {
            m_out.next = MARKED("spark_search.bounded", "at its best or its ceiling, and clean: found");
            return;
        }
        m_out.deg = -lastDeg;
        m_out.next = Phrase{
            MARKED("spark_search.back_off", "clean {0} times: {1} less for distance, then it is found"),
            {{now().clean, Dimension::count}, {lastDeg, Dimension::sparkAngle}}};
    }

    const SparkSeen &m_seen;
    const SparkBounds &m_bounds;
    SparkSchool m_school;
    int m_cleanTimes;
    SparkStep m_out;
};

} // namespace

SparkStep nextSparkStep(const SparkSearch &was, SparkSchool school, const SparkSeen &seen,
                        const SparkBounds &bounds, int cleanTimes) {
    return Search(was, school, seen, bounds, cleanTimes).step();
}

} // namespace wheelwright
