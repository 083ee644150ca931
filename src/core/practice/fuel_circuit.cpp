// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/practice/fuel_circuit.h"

#include "core/base/error.h"

#include <algorithm>

namespace wheelwright {
namespace {

constexpr std::size_t gasolineAt = 0, ethanolAt = 1, methanolAt = 2, othersAt = 3;

// The mix of two volumes.
FuelMix mixed(const FuelMix &a, double litresA, const FuelMix &b, double litresB) {
    const double all = litresA + litresB;
    if (!(all > 0)) return b;
    FuelMix m{};
    for (std::size_t i = 0; i < m.size(); ++i)
        m[i] = (a[i] * litresA + b[i] * litresB) / all;
    return m;
}

// An additive by its effect: pure, it has the octane that mixes to the treated one at its treat rate.
Component boosterOf(const Component &gasoline, const ShelfEntry &entry) {
    Component c = gasoline;
    c.name = entry.name;
    if (entry.treatRate > 0) {
        const double lift = (entry.treatedRon - gasoline.researchOctane) * (1 + 1 / entry.treatRate);
        c.researchOctane += lift;
        c.motorOctane += lift;
    }
    return c;
}

} // namespace

FuelComponents::FuelComponents(const Job &job, double ronError) {
    m_components = {job.gasoline, job.ethanol, job.methanol};
    m_components[gasolineAt].researchOctane += ronError;
    m_components[gasolineAt].motorOctane += ronError;
    for (const Hydrocarbon &h : job.hydrocarbons)
        m_components.push_back(h);
    for (const ShelfEntry &e : job.shelf)
        if (e.kind == FuelKind::booster) m_components.push_back(boosterOf(m_components[gasolineAt], e));
    if (m_components.size() > mostComponents)
        throw InputError("fuel.hydrocarbons",
                         Phrase{MARKED("expected.at_most_kinds", "at most {a} kinds of fuel and booster"),
                                {},
                                {std::to_string(mostComponents - othersAt)}},
                         std::to_string(m_components.size() - othersAt));
}

FuelMix FuelComponents::ofAlcohol(const Job &job, double content) const {
    FuelMix m{};
    m[gasolineAt] = 1 - content;
    m[job.alcohol == Alcohol::methanol ? methanolAt : ethanolAt] = content;
    return m;
}

FuelMix FuelComponents::ofShelf(const Job &job, const std::string &name, double highEthanolError) const {
    const auto entry = std::ranges::find(job.shelf.values(), name, &ShelfEntry::name);
    if (entry == job.shelf.values().end()) {
        std::string known;
        for (const ShelfEntry &e : job.shelf)
            known += (known.empty() ? "" : ", ") + e.name;
        throw InputError("fuel", Phrase{MARKED("expected.one_of", "one of {a}"), {}, {known}},
                         "'" + name + "'");
    }
    const auto named = [&](const std::string &component) {
        for (std::size_t i = othersAt; i < m_components.size(); ++i)
            if (m_components[i].name == component) return i;
        return gasolineAt;
    };
    FuelMix m{};
    if (entry->kind == FuelKind::booster) {
        m[named(entry->name)] = 1;
        return m;
    }
    const double error = entry->kind == FuelKind::highEthanol ? highEthanolError : 0;
    m[ethanolAt] = std::clamp(entry->ethanol + error, 0.0, 1 - entry->methanol);
    m[methanolAt] = entry->methanol;
    m[entry->hydrocarbon.empty() ? gasolineAt : named(entry->hydrocarbon)] = 1 - m[ethanolAt] - m[methanolAt];
    return m;
}

BlendProperties FuelComponents::properties(const FuelMix &mix) const {
    std::array<BlendPart, mostComponents> parts;
    for (std::size_t i = 0; i < m_components.size(); ++i)
        parts[i] = {&m_components[i], std::max(0.0, mix[i])};
    BlendProperties p = propertiesOf(std::span(parts).first(m_components.size()));
    double moles = 0;
    const auto molesOf = [&](std::size_t i) {
        return std::max(0.0, mix[i]) * m_components[i].densityKgM3 / m_components[i].molarMassGMol;
    };
    for (std::size_t i = 0; i < m_components.size(); ++i)
        moles += molesOf(i);
    p.ethanolMoleFraction = molesOf(ethanolAt) / moles;
    p.methanolMoleFraction = molesOf(methanolAt) / moles;
    return p;
}

void PlugFlow::fill(const FuelMix &mix) {
    m_slugs.clear();
    if (m_litres > 0) m_slugs.push_back({m_litres, mix});
    m_last = mix;
}

FuelMix PlugFlow::push(double litres, const FuelMix &mix) {
    if (!(litres > 0)) return atOutlet();
    constexpr double leastSlug = 1e-3; // litres: shorter ones are mixed, which a pipe does anyway
    if (!m_slugs.empty() && (m_slugs.back().litres < leastSlug || m_slugs.back().mix == mix)) {
        Slug &last = m_slugs.back();
        last.mix = mixed(last.mix, last.litres, mix, litres);
        last.litres += litres;
    } else {
        m_slugs.push_back({litres, mix});
    }
    double out = 0;
    FuelMix leaving{};
    while (out < litres && !m_slugs.empty()) {
        Slug &first = m_slugs.front();
        const double taken = std::min(first.litres, litres - out);
        leaving = mixed(leaving, out, first.mix, taken);
        out += taken;
        first.litres -= taken;
        if (!(first.litres > 0)) m_slugs.pop_front();
    }
    m_last = leaving;
    return leaving;
}

void PlugFlow::addTo(FuelMix &volumes) const {
    for (const Slug &s : m_slugs)
        for (std::size_t i = 0; i < volumes.size(); ++i)
            volumes[i] += s.litres * s.mix[i];
}

FuelCircuit::FuelCircuit(const TankSetup &tank, bool returns)
    : m_setup(tank), m_returns(returns), m_surgeL(tank.surgeL), m_line(tank.lineL), m_rail(tank.railL),
      m_return(tank.returnL) {}

void FuelCircuit::fill(double litres, const FuelMix &mix) {
    if (!(litres >= 0 && litres <= m_setup.capacityL))
        throw InputError("tank", fromTo(0, m_setup.capacityL), exactly(litres));
    m_tankL = litres;
    m_tankMix = m_surgeMix = mix;
    for (PlugFlow *pipe : {&m_line, &m_rail, &m_return})
        pipe->fill(mix);
}

void FuelCircuit::intoTank(double litres, const FuelMix &mix) {
    m_tankMix = mixed(m_tankMix, m_tankL, mix, litres);
    m_tankL += litres;
}

void FuelCircuit::intoSurge(double litres, const FuelMix &mix) {
    m_surgeMix = mixed(m_surgeMix, m_surgeL, mix, litres);
    m_surgeL += litres;
}

void FuelCircuit::pour(double litres, const FuelMix &mix) {
    if (!(litres >= 0 && m_tankL + litres <= m_setup.capacityL))
        throw InputError("litres",
                         Phrase{MARKED("expected.up_to_the_brim", "at most {0} L, up to the brim"),
                                {exact(m_setup.capacityL - m_tankL)}},
                         exactly(litres));
    intoTank(litres, mix);
}

void FuelCircuit::drain(double litres) {
    if (!(litres >= 0 && litres <= m_tankL))
        throw InputError(
            "litres",
            Phrase{MARKED("expected.what_the_tank_holds", "at most {0} L, all that the tank holds"),
                   {exact(m_tankL)}},
            exactly(litres));
    m_tankL -= litres;
}

bool FuelCircuit::flow(double feedL, double useL, double seconds) {
    bool enough = true;
    double feed = m_returns ? std::max(feedL, useL) : useL;
    const double held = m_setup.surgeL > 0 ? m_surgeL + m_tankL : m_tankL;
    if (feed > held) {
        feed = std::max(0.0, held);
        enough = false;
    }
    const double use = std::min(useL, feed);
    constexpr double perMinute = 60;
    if (m_setup.surgeL > 0) {
        // The lift pump stirs the surge tank; what is too much runs back over its brim.
        const double lift = std::min(m_tankL, std::max(feed, m_setup.surgeFlowLMin * seconds / perMinute));
        m_tankL -= lift;
        intoSurge(lift, m_tankMix);
        feed = std::min(feed, m_surgeL);
        m_surgeL -= feed;
    } else {
        m_tankL -= feed;
    }
    const FuelMix fed = m_setup.surgeL > 0 ? m_surgeMix : m_tankMix;
    const FuelMix atRail = m_line.push(feed, fed);
    const FuelMix leavingRail = m_rail.push(feed, atRail);
    const double back = feed - use;
    if (back > 0) {
        const FuelMix returned = m_return.push(back, leavingRail);
        if (m_setup.surgeL > 0)
            intoSurge(back, returned);
        else
            intoTank(back, returned);
    }
    if (m_setup.surgeL > 0 && m_surgeL > m_setup.surgeL) {
        const double over = m_surgeL - m_setup.surgeL;
        m_surgeL -= over;
        intoTank(over, m_surgeMix);
    }
    return enough;
}

FuelMix FuelCircuit::volumes() const {
    FuelMix all{};
    for (std::size_t i = 0; i < all.size(); ++i)
        all[i] = m_tankL * m_tankMix[i] + m_surgeL * m_surgeMix[i];
    for (const PlugFlow *pipe : {&m_line, &m_rail, &m_return})
        pipe->addTo(all);
    return all;
}

} // namespace wheelwright
