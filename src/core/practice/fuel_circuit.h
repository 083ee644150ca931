// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/fuel/blend.h"
#include "core/job/job.h"

#include <array>
#include <deque>
#include <string>
#include <vector>

namespace wheelwright {

/// What a fuel is made of, by volume: shares of the components that a run knows.
inline constexpr std::size_t mostComponents = 12;
using FuelMix = std::array<double, mostComponents>;

/// The components of a run: the job's gasoline, ethanol and methanol first, then its other hydrocarbons.
class FuelComponents {
  public:
    /// Throws InputError where the job has more hydrocarbons than a run can tell apart. ronError: of the
    /// station's gasoline.
    FuelComponents(const Job &job, double ronError);
    FuelMix ofEthanol(double ethanol) const { return {1 - ethanol, ethanol}; }
    FuelMix ofAlcohol(const Job &job, double content) const;
    /// A fuel of the shelf by name; of a high-ethanol one the content is off by so much. Throws InputError
    /// naming the shelf's fuels.
    FuelMix ofShelf(const Job &job, const std::string &name, double highEthanolError) const;
    BlendProperties properties(const FuelMix &mix) const;
    static double ethanol(const FuelMix &mix) { return mix[1]; }
    static double methanol(const FuelMix &mix) { return mix[2]; }
    /// What a content sensor takes it for: it cannot tell methanol from ethanol.
    static double alcohol(const FuelMix &mix) { return mix[1] + mix[2]; }
    std::size_t size() const { return m_components.size(); }

  private:
    std::vector<Component> m_components;
};

/// A pipe: what goes in comes out in its order.
class PlugFlow {
  public:
    explicit PlugFlow(double litres) : m_litres(litres) {}
    void fill(const FuelMix &mix);
    /// So much goes in; as much comes out, mixed. More than the pipe holds is taken in its order, too.
    FuelMix push(double litres, const FuelMix &mix);
    FuelMix atOutlet() const { return m_slugs.empty() ? m_last : m_slugs.front().mix; }
    void addTo(FuelMix &volumes) const;

  private:
    struct Slug {
        double litres;
        FuelMix mix;
    };
    double m_litres;
    std::deque<Slug> m_slugs; ///< outlet first
    FuelMix m_last{1};
};

/// Tank, surge tank, lines, rail and return. Volumes are kept to the last bit of rounding: what is poured is
/// burned, drained, or still there.
class FuelCircuit {
  public:
    FuelCircuit(const TankSetup &tank, bool returns);
    /// Tank to so many litres, surge tank and lines all of one mix.
    void fill(double litres, const FuelMix &mix);
    /// Throws InputError past the brim, or for more drained than there is.
    void pour(double litres, const FuelMix &mix);
    void drain(double litres);

    /// feed: through the line to the rail, use: of it burned; litres in this step. Without a return the feed
    /// is what is used. What the tank has not got does not flow: `true` while it is enough.
    bool flow(double feedL, double useL, double seconds);

    const FuelMix &inTank() const { return m_tankMix; }
    double tankL() const { return m_tankL; }
    FuelMix atInjectors() const { return m_rail.atOutlet(); }
    FuelMix atSensor() const {
        return m_setup.sensorPlace == SensorPlace::feed ? m_line.atOutlet() : m_return.atOutlet();
    }
    /// Litres of each component in all of it.
    FuelMix volumes() const;

  private:
    void intoTank(double litres, const FuelMix &mix);
    void intoSurge(double litres, const FuelMix &mix);

    TankSetup m_setup;
    bool m_returns;
    double m_tankL = 0, m_surgeL;
    FuelMix m_tankMix{1}, m_surgeMix{1};
    PlugFlow m_line, m_rail, m_return;
};

} // namespace wheelwright
