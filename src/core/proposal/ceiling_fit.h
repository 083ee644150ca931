// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/symmetric_band.h"
#include "core/proposal/knock_trials.h"

#include <array>
#include <optional>
#include <vector>

namespace wheelwright {

/// What is held of a knock limit before any evidence: standard deviations around what the model of a cylinder
/// gives, in ln τ, where a unit is about 13° of spark. 4° together (chapter 10 of the handbook of the trade);
/// how they are made up is from memory.
struct CeilingPrior {
    double scale = 0.3;        ///< the same everywhere
    double octane = 0.5;       ///< of what octane gives, a share
    double temperature = 0.15; ///< of what hotter air takes, a share
    double slope = 0.1;        ///< a straight line over speed, and one over load: at one length
    double cell = 0.1;         ///< of what differs from place to place, smoothly …
    double content = 0.06;     ///< … and does so otherwise from content to content
    double place = 0.04;       ///< of each place alone
    double rpmLength = 1200, loadLengthKpa = 50, contentLength = 0.25; ///< over which they are smooth
    double log = 0.04;     ///< of what a tank of the same content stands, from tank to tank
    double doubtful = 0.5; ///< the same of a tank that is looked at on its own
    double heard = 0.05;   ///< by which a sensor hears later than it knocks: no log can tell
    double scatter = 0.07; ///< from cycle to cycle; found from the logs within a factor of …
    double scatterFactor = 1.65;
};

/// A number that was found, and its standard error.
struct FoundNumber {
    double value = 0, standardError = 0;
};

/// The most likely knock limit, given trials and the prior. Over the model's limit, in ln τ, stands
///   a + b · octane + t · hotter + u(place, content) + d(log);
/// a cycle knocks with the probability Φ((spark − limit) / scatter), Φ normal, and a sample that says so has
/// several cycles. a, b, t, u and d are normal before the evidence (u a Gaussian process: Rasmussen and
/// Williams, 2006, section 2.2); the mode is found by Newton's method, the errors from the curvature there
/// and the scatter by the evidence of the same (Laplace's approximation, their section 3.4).
class CeilingFit {
  public:
    /// How a log takes part, in the order of the trials' logs; one that is not there: evenly.
    enum class Part { even, doubtful, apart };
    /// scatter: as found before; empty: it is found here.
    CeilingFit(const KnockTrials &trials, const CeilingPrior &prior, const std::vector<Part> &parts = {},
               std::optional<double> scatter = {});

    FoundNumber scale() const { return numberAt(0); }       ///< a
    FoundNumber octane() const { return numberAt(1); }      ///< b
    FoundNumber temperature() const { return numberAt(2); } ///< t
    /// d: how much more the fuel of a log stands than its content says.
    FoundNumber ofLog(std::size_t log) const;
    double scatter() const { return m_scatter; }

    /// A place and content, with what octane and air give there.
    struct Place {
        double rpm = 0, loadKpa = 0, content = 0, octane = 0, hotter = 0;
    };
    /// What stands over the model's limit.
    FoundNumber at(const Place &place) const;

    /// Of trials alone, with a, b and t given and nothing else: for who wants to look over a grid.
    static double logLikelihood(const KnockTrials &trials, const std::array<double, 3> &abt, double scatter);

  private:
    struct Site {
        double rpm, loadKpa, content;
    };
    struct Mode {
        std::vector<double> z;
        double logPosterior = 0, logEvidence = 0;
        std::optional<BandFactor> curvature;
    };

    void findSites(const std::vector<Part> &parts);
    double covariance(const Site &a, const Site &b) const;
    void findPrecision();
    double posterior(const std::vector<double> &z, double scatter) const;
    double over(const std::vector<double> &z, std::size_t trial) const;
    Mode modeWith(double scatter, std::vector<double> from) const;
    void findScatter();
    FoundNumber numberAt(std::size_t i) const;

    const KnockTrials &m_trials;
    CeilingPrior m_prior;
    std::vector<std::size_t> m_used;              ///< trials that take part
    std::vector<Site> m_sites;                    ///< places and contents that they are of
    std::vector<std::size_t> m_siteOf;            ///< by used trial
    std::vector<double> m_logSigma;               ///< of d, by log
    std::vector<std::vector<double>> m_precision; ///< of u over the sites
    std::optional<BandFactor> m_siteFactor;
    double m_priorLogDeterminant = 0;
    double m_scatter = 1;
    Mode m_mode;
};

} // namespace wheelwright
