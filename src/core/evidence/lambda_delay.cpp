// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/lambda_delay.h"

#include "core/base/error.h"
#include "core/base/median.h"
#include "core/base/text.h"
#include "core/flow/engine_air.h"
#include "core/flow/injector.h"
#include "core/study/fuel_delivery.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace wheelwright {
namespace {

using R = ChannelRole;

// Common practice: what a step is, how long it is followed, what is tried. Transport lies between 30 and
// 250 ms (handbook), sensors lag by up to half a second.
constexpr double leastStep = 0.06, apartS = 0.25, leadS = 0.15, afterS = 0.7, mostDelayS = 0.4;
constexpr double gridS = 0.005, mostLagS = 0.5;
constexpr double airOnly = 3, readsTo = 1.9, readsFrom = 0.56;
constexpr std::array films{0.0, 0.1, 0.2, 0.3};
constexpr std::array filmTimes{0.15, 0.3, 0.6};
constexpr std::array lags{0.0, 0.02, 0.04, 0.06, 0.08, 0.1, 0.13, 0.16, 0.2, 0.25, 0.3, 0.4, 0.5};
constexpr std::size_t mostSteps = 60;

struct Step {
    std::size_t at = 0, from = 0, to = 0; ///< samples: of the step, and of what is followed
    double size = 0;
};

// Fit of a step at one delay and lag.
struct StepFit {
    double error = std::numeric_limits<double>::infinity(); ///< sum of squares
    double gain = 0, delayS = 0, count = 0;
};

// By speed and density with a usual VE: it says which flow, not how much air. Not a number while it stands.
double airFlowAt(const WatchedLog &log, std::size_t i) {
    constexpr double usualVe = 0.9;
    const Job &job = log.job();
    const double intake = log.at(R::intakeTemp, i);
    const double air = airFlowGS(usualVe, log.at(R::map, i), job.engine.displacementL,
                                 intake == intake ? intake : job.conditions.intakeUsualC, log.at(R::rpm, i));
    return air > 0 ? air : std::numeric_limits<double>::quiet_NaN();
}

class DelayFinder {
  public:
    DelayFinder(const WatchedLog &log, std::stop_token stop)
        : m_log(log), m_t(log.trace()), m_stop(std::move(stop)) {
        for (const R role : {R::lambda, R::pulseWidth, R::rpm, R::map})
            if (!m_t.has(role))
                throw InputError("log",
                                 Phrase{MARKED("expected.channel_of", "a channel of '{A}'"),
                                        {},
                                        {},
                                        {definitionOf(role).title}},
                                 MARKED("found.none", "none"));
        constexpr double slowest = 0.0501;
        if (m_t.size() < 10 || m_t.stepS() > slowest)
            throw InputError("log", MARKED("expected.fast_log", "at least 20 samples a second"),
                             generalNumber(m_t.stepS() > 0 ? 1 / m_t.stepS() : 0, 3));
    }

    LambdaDelay find() {
        measure();
        LambdaDelay out;
        findSteps();
        if (m_steps.empty()) return out;
        chooseFilmAndLag();
        refineLag();
        out.lagMs = m_lagS * 1000;
        collect(out);
        return out;
    }

  private:
    // Fuel asked for at λ 1 and fuel injected, in the same unit; air flow.
    void measure() {
        const Job &job = m_log.job();
        double content = 0, intake = 0, count = 0, intakes = 0;
        for (std::size_t i = 0; i < m_t.size(); ++i) {
            content += m_log.contentAt(i);
            ++count;
            if (const double c = m_log.at(R::intakeTemp, i); c == c) {
                intake += c;
                ++intakes;
            }
        }
        content /= count;
        const double intakeC = intakes > 0 ? intake / intakes : job.conditions.intakeUsualC;
        const InjectorDemand demand(job, content, intakeC);
        const RailPressure rail(job);
        for (std::size_t i = 0; i < m_t.size(); ++i) {
            const EnginePoint at{m_log.at(R::rpm, i), m_log.at(R::map, i)};
            const double table = m_log.tableAt(CalibratedQuantity::fuel, i);
            const double across = std::max(1.0, rail.acrossKpa(at));
            const double volts = m_log.at(R::battery, i);
            const Injectors &inj = job.injectors;
            const double dead = inj.deadTimes.empty() || volts != volts
                                    ? inj.deadTimeMs
                                    : deadTimeMs(inj.deadTimes, volts, across);
            const double pulse = std::max(0.0, m_log.at(R::pulseWidth, i) - dead) * std::sqrt(across);
            m_injected.push_back(m_log.fuelCut(i) ? 0 : pulse);
            m_asked.push_back(table == table ? demand.mm3(table, at, 1) : at.loadKpa);
            m_air.push_back(airFlowAt(m_log, i));
        }
        // The same unit: by what this log does where nothing moves. Steady errors are the fit's own gain.
        std::vector<double> ratios;
        for (std::size_t i = 0; i < m_t.size(); ++i)
            if (m_injected[i] > 0 && m_asked[i] > 0 && m_log.at(R::lambda, i) < readsTo)
                ratios.push_back(m_asked[i] / m_injected[i] / m_log.at(R::lambda, i));
        if (ratios.empty()) return;
        const double unit = medianOf(std::move(ratios));
        for (double &v : m_injected)
            v *= unit;
    }

    double commanded(std::size_t i) const {
        return m_injected[i] > 0 ? std::min(airOnly, m_asked[i] / m_injected[i]) : airOnly;
    }

    void findSteps() {
        constexpr double spanS = 0.06, deadS = 0.02;
        std::size_t back = 0;
        for (std::size_t i = 1; i < m_t.size(); ++i) {
            while (m_t.timeS(i) - m_t.timeS(back) > std::max(spanS, 2.01 * m_t.stepS()))
                ++back;
            const double size = std::log(commanded(i) / commanded(back));
            if (!(std::abs(size) > leastStep) || !(m_log.at(R::rpm, i) > 800)) continue;
            if (!m_steps.empty() && m_t.timeS(i) - m_t.timeS(m_steps.back().at) < apartS) {
                m_steps.back().size = std::max(m_steps.back().size, std::abs(size));
                continue;
            }
            Step s{i, m_t.indexAt(m_t.timeS(i) - leadS - deadS), m_t.indexAt(m_t.timeS(i) + afterS),
                   std::abs(size)};
            if (s.to >= m_t.size() || m_t.timeS(s.from) - m_t.times().front() < mostDelayS + mostLagS)
                continue;
            bool whole = true;
            for (std::size_t k = s.from + 1; k <= s.to; ++k)
                whole = whole && m_t.follows(k);
            if (whole) m_steps.push_back(s);
        }
        if (m_steps.size() <= mostSteps) return;
        std::ranges::stable_sort(m_steps, std::greater{}, &Step::size);
        m_steps.resize(mostSteps);
        std::ranges::sort(m_steps, {}, &Step::at);
    }

    // λ in the cylinder with a film on the walls that takes a share and gives it back in its time.
    std::vector<double> inCylinder(double share, double filmS) const {
        std::vector<double> out(m_t.size());
        double film = 0;
        for (std::size_t i = 0; i < m_t.size(); ++i) {
            const double dt = i > 0 && m_t.follows(i) ? m_t.timeS(i) - m_t.timeS(i - 1) : 0;
            const double cycles = m_log.at(R::rpm, i) / 120 * dt;
            const double given = film * (1 - std::exp(-dt / filmS));
            film += share * m_injected[i] * cycles - given;
            const double fuel =
                (1 - share) * m_injected[i] + (cycles > 0 ? given / cycles : share * m_injected[i]);
            out[i] = fuel > 0 ? std::min(airOnly, m_asked[i] / fuel) : airOnly;
        }
        return out;
    }

    std::vector<double> lagged(const std::vector<double> &lambda, double lagS) const {
        std::vector<double> out(lambda.size());
        double v = lambda.front();
        for (std::size_t i = 0; i < lambda.size(); ++i) {
            const double dt = i > 0 ? m_t.timeS(i) - m_t.timeS(i - 1) : 0;
            v = lagS > 0 ? v + (lambda[i] - v) * (1 - std::exp(-dt / lagS)) : lambda[i];
            out[i] = v;
        }
        return out;
    }

    double valueAt(const std::vector<double> &of, double timeS) const {
        const std::size_t k = m_t.indexAt(timeS);
        if (k == 0) return of.front();
        const double a = m_t.timeS(k - 1), b = m_t.timeS(k);
        return of[k - 1] + (of[k] - of[k - 1]) * (timeS - a) / (b - a);
    }

    StepFit fitAt(const Step &s, const std::vector<double> &model, double delayS) const {
        double n = 0, sx = 0, sy = 0, sxx = 0, sxy = 0, syy = 0;
        for (std::size_t i = s.from; i <= s.to; ++i) {
            const double y = m_log.at(R::lambda, i);
            if (!(y > readsFrom && y < readsTo)) continue;
            const double x = valueAt(model, m_t.timeS(i) - delayS);
            ++n;
            sx += x, sy += y, sxx += x * x, sxy += x * y, syy += y * y;
        }
        StepFit fit;
        constexpr double leastSamples = 8;
        const double vx = sxx - sx * sx / n, vy = syy - sy * sy / n, vxy = sxy - sx * sy / n;
        if (n < leastSamples || !(vx > 0) || !(vy > 0)) return fit;
        fit.gain = vxy / vx;
        fit.error = vy - vxy * fit.gain;
        fit.delayS = delayS;
        fit.count = n;
        return fit;
    }

    StepFit bestFit(const Step &s, const std::vector<double> &model, double everyS) const {
        StepFit best;
        for (double d = 0; d <= mostDelayS + 1e-9; d += everyS) {
            const StepFit f = fitAt(s, model, d);
            if (f.gain > 0 && f.error < best.error) best = f;
        }
        return best;
    }

    double errorOf(double share, double filmS, double lagS, double everyS) const {
        const std::vector<double> model = lagged(inCylinder(share, filmS), lagS);
        double sum = 0;
        for (const Step &s : m_steps) {
            const StepFit f = bestFit(s, model, everyS);
            if (std::isfinite(f.error)) sum += f.error;
        }
        return sum;
    }

    void chooseFilmAndLag() {
        constexpr double coarseS = 0.02;
        double best = std::numeric_limits<double>::infinity();
        for (const double share : films)
            for (const double filmS : filmTimes)
                for (const double lagS : lags) {
                    if (share == 0 && filmS != filmTimes.front()) continue;
                    if (m_stop.stop_requested()) return;
                    const double error = errorOf(share, filmS, lagS, coarseS);
                    if (error >= best) continue;
                    best = error;
                    m_share = share;
                    m_filmS = filmS;
                    m_lagS = lagS;
                }
    }

    // Between the points of the grid, by golden section.
    void refineLag() {
        const auto at = std::ranges::find(lags, m_lagS);
        double low = at == lags.begin() ? lags.front() : *(at - 1),
               high = at + 1 == lags.end() ? lags.back() : *(at + 1);
        constexpr double golden = 0.6180339887498949;
        double a = high - golden * (high - low), b = low + golden * (high - low);
        double fa = errorOf(m_share, m_filmS, a, gridS * 2), fb = errorOf(m_share, m_filmS, b, gridS * 2);
        for (int i = 0; i < 8 && !m_stop.stop_requested(); ++i) {
            if (fa < fb) {
                high = b, b = a, fb = fa;
                a = high - golden * (high - low);
                fa = errorOf(m_share, m_filmS, a, gridS * 2);
            } else {
                low = a, a = b, fa = fb;
                b = low + golden * (high - low);
                fb = errorOf(m_share, m_filmS, b, gridS * 2);
            }
        }
        m_lagS = (low + high) / 2;
    }

    // What a step says of every delay, in squares of its own noise: a step that the model explains poorly
    // says little, and none says more than capped of any delay.
    struct Told {
        double airGS;
        std::vector<double> misfit; ///< by delay, gridS apart
        double at(double delayS) const {
            const double place = std::clamp(delayS / gridS, 0.0, static_cast<double>(misfit.size() - 1));
            const auto k = std::min(static_cast<std::size_t>(place), misfit.size() - 2);
            return misfit[k] + (misfit[k + 1] - misfit[k]) * (place - static_cast<double>(k));
        }
    };

    std::vector<Told> askSteps() const {
        constexpr double explained = 0.8, leastGain = 0.3, mostGain = 3, leastNoise = 0.004, capped = 25;
        const std::vector<double> model = lagged(inCylinder(m_share, m_filmS), m_lagS);
        std::vector<Told> all;
        for (const Step &s : m_steps) {
            const StepFit best = bestFit(s, model, gridS);
            if (!(best.gain > leastGain && best.gain < mostGain) || best.error > (1 - explained) * spread(s))
                continue;
            const std::size_t arrives = std::min(m_t.size() - 1, m_t.indexAt(m_t.timeS(s.at) + best.delayS));
            if (!(m_air[arrives] > 0)) continue;
            Told told{m_air[arrives], {}}; // the flow while the gas is on its way
            const double noise = std::max(best.error / best.count, leastNoise * leastNoise);
            for (double d = 0; d <= mostDelayS + 1e-9; d += gridS) {
                const StepFit f = fitAt(s, model, d);
                // In a log every sample is one of the lag's length that follow from each other.
                const double independent = std::max(1.0, m_lagS / m_t.stepS());
                told.misfit.push_back(std::min(capped, (f.error - best.error) / noise / independent));
            }
            blur(told.misfit);
            all.push_back(std::move(told));
        }
        std::ranges::sort(all, {}, &Told::airGS);
        return all;
    }

    // No step knows its delay better than a log's samples do: each delay is as good as its best neighbour
    // less what lies between, in steps of the log.
    void blur(std::vector<double> &misfit) const {
        constexpr double share = 0.6; // of a step of the log, as a standard error
        const double sigmaS = share * m_t.stepS();
        std::vector<double> out(misfit.size(), std::numeric_limits<double>::infinity());
        for (std::size_t i = 0; i < misfit.size(); ++i)
            for (std::size_t k = 0; k < misfit.size(); ++k) {
                const double off = (static_cast<double>(i) - static_cast<double>(k)) * gridS / sigmaS;
                out[i] = std::min(out[i], misfit[k] + off * off);
            }
        misfit = std::move(out);
    }

    // Sum of squares of λ about its mean over a step.
    double spread(const Step &s) const {
        double n = 0, sum = 0, squares = 0;
        for (std::size_t i = s.from; i <= s.to; ++i)
            if (const double y = m_log.at(R::lambda, i); y > readsFrom && y < readsTo) {
                ++n;
                sum += y;
                squares += y * y;
            }
        return n > 0 ? squares - sum * sum / n : 0;
    }

    // One curve for all steps: what the sensor's place costs at once, and the gas before it over the flow.
    // Its ± is how far the curve can move before the misfit grows by one of its own size.
    void collect(LambdaDelay &out) const {
        const std::vector<Told> told = askSteps();
        if (told.empty()) return;
        const bool manyFlows = told.back().airGS > 1.3 * told.front().airGS;
        struct Tried {
            double atOnceS, gramsS, cost;
        };
        std::vector<Tried> tried;
        double least = std::numeric_limits<double>::infinity();
        Tried best{};
        constexpr double stepAtOnceS = 0.002, stepGramsS = 0.05, mostGramsS = 4, mostAtOnceS = 0.3;
        for (double g = 0; g <= (manyFlows ? mostGramsS : 0) + 1e-9; g += stepGramsS)
            for (double d = 0; d <= mostAtOnceS + 1e-9; d += stepAtOnceS) {
                double cost = 0;
                for (const Told &t : told)
                    cost += t.at(d + g / t.airGS);
                tried.push_back({d, g, cost});
                if (cost < least) {
                    least = cost;
                    best = tried.back();
                }
            }
        const double freedom = std::max(1.0, static_cast<double>(told.size()) - (manyFlows ? 2 : 1));
        const double unit = std::max(1.0, least / freedom);
        const auto rangeAt = [&](double airGS) {
            double low = std::numeric_limits<double>::infinity(), high = -low;
            for (const Tried &t : tried)
                if (t.cost <= least + unit) {
                    low = std::min(low, t.atOnceS + t.gramsS / airGS);
                    high = std::max(high, t.atOnceS + t.gramsS / airGS);
                }
            constexpr double ofModelS = 0.008; // film and tables are not known better; common practice
            return std::hypot((high - low) / 2, ofModelS);
        };
        constexpr double msPerSecond = 1000;
        constexpr std::array ends{8.0, 16.0, 32.0, 64.0, 128.0, 256.0, 1e9};
        std::size_t next = 0;
        for (const double end : ends) {
            double air = 0;
            int steps = 0;
            for (; next < told.size() && told[next].airGS < end; ++next, ++steps)
                air += told[next].airGS;
            if (steps == 0) continue;
            air /= steps;
            out.byFlow.push_back(
                {air, (best.atOnceS + best.gramsS / air) * msPerSecond, rangeAt(air) * msPerSecond, steps});
        }
        if (manyFlows)
            out.curve = LambdaDelay::Curve{best.atOnceS * msPerSecond, best.gramsS * msPerSecond,
                                           rangeAt(told[told.size() / 2].airGS) * msPerSecond};
    }

    const WatchedLog &m_log;
    const LogTrace &m_t;
    std::stop_token m_stop;
    std::vector<double> m_asked, m_injected, m_air;
    std::vector<Step> m_steps;
    double m_share = 0, m_filmS = 0.3, m_lagS = 0;
};

} // namespace

LambdaDelay findDelay(const WatchedLog &log, std::stop_token stop) {
    return DelayFinder(log, std::move(stop)).find();
}

std::optional<LambdaDelay> statedDelay(const Job &job) {
    const double atOnce = limitOf(job, "evidence.delay.at_once"),
                 byFlow = limitOf(job, "evidence.delay.by_flow");
    if (atOnce <= 0 && byFlow <= 0) return std::nullopt;
    LambdaDelay out;
    out.stated = true;
    out.lagMs = limitOf(job, "evidence.delay.lag");
    out.curve = LambdaDelay::Curve{atOnce, byFlow, 0};
    return out;
}

void stateDelay(Job &job, const LambdaDelay &delay) {
    if (!delay.any()) return;
    const auto set = [&](const char *id, double v) {
        const LimitDefinition &limit = limitById(id);
        job.limits[id] = std::clamp(v, limit.least, limit.most);
    };
    set("evidence.delay.at_once", delay.curve ? delay.curve->atOnceMs : delay.byFlow.front().delayMs);
    set("evidence.delay.by_flow", delay.curve ? delay.curve->gramsMs : 0);
    set("evidence.delay.lag", delay.lagMs);
}

std::vector<std::size_t> placesOfLambda(const WatchedLog &log, const LambdaDelay &delay) {
    const LogTrace &t = log.trace();
    std::vector<std::size_t> out(t.size(), t.size());
    if (!delay.any()) return out;
    for (std::size_t i = 0; i < t.size(); ++i) {
        const double air = airFlowAt(log, i);
        if (!(air > 0)) continue;
        const double ms = (delay.curve ? delay.curve->at(air) : delay.byFlow.front().delayMs) + delay.lagMs;
        constexpr double msPerSecond = 1000;
        out[i] = t.indexAt(t.timeS(i) + ms / msPerSecond);
    }
    return out;
}

std::vector<double> lambdaInItsPlace(const WatchedLog &log, const LambdaDelay &delay) {
    std::vector<double> out(log.trace().size(), std::numeric_limits<double>::quiet_NaN());
    const std::vector<std::size_t> places = placesOfLambda(log, delay);
    for (std::size_t i = 0; i < out.size(); ++i)
        if (places[i] < out.size()) out[i] = log.at(R::lambda, places[i]);
    return out;
}

} // namespace wheelwright
