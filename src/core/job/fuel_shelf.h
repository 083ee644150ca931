// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/fuel/component.h"

#include <string>

namespace wheelwright {

enum class Alcohol { ethanol, methanol };

/// A hydrocarbon other than the job's gasoline: a race gasoline, a pump grade of another octane.
struct Hydrocarbon : Component {
    Hydrocarbon() : Component(defaultGasoline()) { name = "Hydrocarbon", origin.clear(); }
    bool leaded = false;
    double oxygen = 0; ///< mass fraction of oxygen, as data sheets state it

    bool operator==(const Hydrocarbon &) const = default;
};

enum class FuelKind { pump, highEthanol, methanol, raceGasoline, booster };

/// A fuel within reach: at the station, or in a can.
struct ShelfEntry {
    std::string name = "Fuel";
    FuelKind kind = FuelKind::pump;
    double ethanol = 0;      ///< volume fraction
    double methanol = 0;     ///< volume fraction
    std::string hydrocarbon; ///< name of the Hydrocarbon in it; empty: the job's gasoline
    double contentSigma = 0; ///< standard uncertainty of its alcohol; 0: what is usual for its kind
    double pricePerL = 0;    ///< in the user's money
    double leftL = 0;        ///< 0: as much as is wanted
    double canL = 0;         ///< size of a sealed can; 0: by the litre
    bool leaded = false;
    bool inPlans = true;   ///< may be poured by a plan
    double treatRate = 0;  ///< of a booster: volume per volume of fuel
    double treatedRon = 0; ///< octane that the fuel has then, as the user knows it
    std::string supplier;  ///< station or supplier, as the user calls it
    std::string opened;    ///< date of opening, ISO 8601; empty: sealed

    bool operator==(const ShelfEntry &) const = default;
};

/// One purchase of a fuel of the shelf.
struct FuelLot {
    std::string label = "Lot"; ///< unique among the lots
    std::string fuel;          ///< name of the shelf's fuel
    std::string supplier;
    std::string bought;   ///< date, ISO 8601
    double pricePerL = 0; ///< 0: the shelf's
    double leftL = 0;
    std::string opened; ///< date, ISO 8601; empty: sealed
    std::string note;

    bool operator==(const FuelLot &) const = default;
};

/// One test by tube, of a lot or of the tank.
struct TubeRecord {
    std::string at; ///< ISO 8601
    std::string of; ///< label of a lot; empty: what is in the tank
    double waterLine = 50, fuelLine = 100, layerTop = 50;
    double reading = 0.5; ///< standard uncertainty of each reading
    double contraction = 0;
    double contractionSigma = 0.01;
    std::string station, batch, photo, note;

    bool operator==(const TubeRecord &) const = default;
};

/// Two fuels of the shelf mixed, as a fuel to compare with.
struct MixtureEntry {
    std::string name = "Mixture";
    std::string first, second; ///< names of the shelf's fuels
    double share = 0;          ///< of the second, by volume; 0 with a booster: its treat rate

    bool operator==(const MixtureEntry &) const = default;
};

} // namespace wheelwright
