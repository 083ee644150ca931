// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/shelf.h"

#include "core/base/error.h"
#include "core/base/iso_date.h"
#include "core/base/limits.h"
#include "core/fuel/content_measurement.h"
#include "core/job/tank_history.h"
#include "core/study/cautions.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr double nearlyPure = 0.9; // alcohol that takes up water once opened: common practice

double usualSigma(const Job &job, const ShelfEntry &s) {
    if (s.contentSigma > 0) return s.contentSigma;
    return limitOf(job,
                   s.kind == FuelKind::highEthanol ? "usual.content.high_ethanol" : "usual.content.label");
}

// The latest tube result of a lot, by date, and by its place in the list where dates are equal.
const TubeRecord *tubeOf(const Job &job, const std::string &label) {
    const TubeRecord *latest = nullptr;
    for (const TubeRecord &t : job.tubes)
        if (t.of == label && contentBy(t) && (!latest || t.at >= latest->at)) latest = &t;
    return latest;
}

void setAlcohol(Fuel &fuel, double alcohol, Alcohol otherwise) {
    const double known = alcoholOf(fuel.content);
    double methanol = otherwise == Alcohol::methanol ? 1 : 0;
    if (known > 0) methanol = fuel.content.methanol.fraction() / known;
    fuel.content = {VolumeFraction::fraction(alcohol * (1 - methanol)),
                    VolumeFraction::fraction(alcohol * methanol)};
}

void takeLots(const Job &job, const ShelfEntry &s, Fuel &fuel) {
    double left = 0, price = 0, alcohol = 0, variance = 0;
    for (const FuelLot &lot : job.lots) {
        if (lot.fuel != s.name) continue;
        ++fuel.lots;
        const TubeRecord *tube = tubeOf(job, lot.label);
        const Uncertain content = tube ? *contentBy(*tube) : fuel.alcohol;
        fuel.byTube |= tube != nullptr;
        left += lot.leftL;
        price += lot.leftL * (lot.pricePerL > 0 ? lot.pricePerL : s.pricePerL);
        alcohol += lot.leftL * content.value;
        variance += std::pow(lot.leftL * content.sigma, 2);
    }
    if (fuel.lots == 0) return;
    fuel.leftL = left;
    if (left <= 0) return;
    fuel.pricePerL = price / left;
    fuel.alcohol = {alcohol / left, std::sqrt(variance) / left};
    setAlcohol(fuel, fuel.alcohol.value, job.alcohol);
}

void flagOpened(const Job &job, const ShelfEntry &s, Fuel &fuel, std::string_view today) {
    if (fuel.alcohol.value < nearlyPure) return;
    const double allowed = limitOf(job, "storage.opened_days");
    const auto judge = [&](PhraseText words, const std::string &lot, const std::string &opened) {
        const auto days = daysBetween(opened, today);
        if (!days || *days <= allowed) return;
        fuel.flags.push_back(
            {"opened_too_long",
             {words, {{static_cast<double>(*days), Dimension::days}, {allowed, Dimension::days}}, {lot}}});
    };
    if (fuel.lots == 0)
        judge(MARKED("shelf.opened",
                     "Open for {0}, {1} are usual: it takes up water. Test it by tube, or open "
                     "a sealed one."),
              {}, s.opened);
    for (const FuelLot &lot : job.lots)
        if (lot.fuel == s.name && lot.leftL > 0)
            judge(MARKED("shelf.opened_lot",
                         "The lot '{a}' has been open for {0}, {1} are usual: it takes up "
                         "water. Test it by tube, or open a sealed one."),
                  lot.label, lot.opened);
}

void flagFuelSystem(const Job &job, Fuel &fuel) {
    const FuelSystem &system = job.fuelSystem;
    if (fuel.leaded && system.catalyst)
        fuel.flags.push_back(
            {"leaded_with_catalyst",
             MARKED("shelf.leaded_catalyst",
                    "Leaded, and this car has a catalyst or lambda sensor to keep: it ruins both, and is "
                    "restricted in many places.")});
    const double methanol = fuel.content.methanol.fraction(), ethanol = fuel.content.ethanol.fraction();
    if (methanol > 0 && system.contentSensor)
        fuel.flags.push_back(
            {"methanol_with_sensor",
             {MARKED("shelf.methanol_sensor",
                     "Holds {0}: the content sensor takes methanol for ethanol and reads high."),
              {{methanol, Dimension::methanolContent}}}});
    const auto rated = [&](PhraseText words, Dimension of, double content, double limit) {
        constexpr double rounding = 1e-9;
        if (content > limit + rounding)
            fuel.flags.push_back({"not_rated", {words, {{content, of}, {limit, of}}}});
    };
    rated(MARKED("shelf.not_rated.ethanol",
                 "{0}: pump, hoses and seals are stated to stand {1}. See their data sheets."),
          Dimension::ethanolContent, ethanol, system.ratedEthanol);
    rated(MARKED("shelf.not_rated.methanol",
                 "{0}: pump, hoses and seals are stated to stand {1}. See their data sheets."),
          Dimension::methanolContent, methanol, system.ratedMethanol);
}

} // namespace

std::vector<Fuel> shelfOf(const Job &job, std::string_view today) {
    std::vector<Fuel> shelf;
    for (const ShelfEntry &s : job.shelf) {
        Fuel f;
        f.name = s.name;
        f.kind = s.kind;
        f.content = {VolumeFraction::fraction(s.ethanol), VolumeFraction::fraction(s.methanol)};
        f.hydrocarbon = s.hydrocarbon;
        f.alcohol = {alcoholOf(f.content), usualSigma(job, s)};
        const auto h = std::ranges::find(job.hydrocarbons, s.hydrocarbon, &Hydrocarbon::name);
        const bool own = h != job.hydrocarbons.end();
        f.leaded = s.leaded || (own && h->leaded);
        f.oxygen = own ? h->oxygen : 0;
        f.inPlans = s.inPlans;
        f.pricePerL = s.pricePerL;
        if (s.leftL > 0) f.leftL = s.leftL;
        f.canL = s.canL;
        f.treatRate = s.treatRate;
        f.treatedRon = s.treatedRon;
        takeLots(job, s, f);
        flagOpened(job, s, f, today);
        flagFuelSystem(job, f);
        shelf.push_back(std::move(f));
    }
    return shelf;
}

BlendProperties propertiesOf(const Job &job, const Fuel &fuel) {
    const std::array parts{
        BlendPart{&job.ethanol, fuel.content.ethanol.fraction()},
        BlendPart{&job.methanol, fuel.content.methanol.fraction()},
        BlendPart{&hydrocarbonOf(job, fuel.hydrocarbon), std::max(0.0, fuel.content.gasoline().fraction())}};
    return propertiesOf(parts);
}

std::vector<Phrase> handlingCautions(const std::vector<Fuel> &shelf) {
    std::vector<Phrase> cautions{earthCaution()};
    if (std::ranges::any_of(shelf, [](const Fuel &f) { return f.content.methanol.fraction() > 0; }))
        cautions.push_back(methanolCaution());
    if (std::ranges::any_of(shelf, &Fuel::leaded)) cautions.push_back(leadedCaution());
    return cautions;
}

std::optional<int> daysBetween(std::string_view from, std::string_view to) {
    const auto a = dayOf(from), b = dayOf(to);
    if (!a || !b) return std::nullopt;
    return *b - *a;
}

std::optional<Uncertain> contentBy(const TubeRecord &r) {
    try {
        return tubeContent(
                   {r.waterLine, r.fuelLine, r.layerTop, r.reading, r.contraction, r.contractionSigma})
            .content;
    } catch (const InputError &) {
        return std::nullopt;
    }
}

} // namespace wheelwright
