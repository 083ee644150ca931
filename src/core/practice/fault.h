// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/base/unit.h"

#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// What can be wrong with a practice engine: one line of a list each (fault.cpp).
enum class FaultId {
    throttleUnplugged,
    baseTiming,
    returnDry,
    contentStuck,
    contentLag,
    contentOff,
    weakPump,
    cloggedFilter,
    injectorBankWeak,
    injectorWeak,
    solenoidStuck,
    springOff,
    sprayEmpty,
    badFuel,
    earlyRevLimit,
    widebandLag,
    widebandScale,
    exhaustLeak,
    intakeLeak,
    coolantLeak,
    hotIntake,
    alternatorSag,
    fileChanged
};

struct Fault {
    FaultId id;
    std::string_view name; ///< stable: "weak_pump"
    PhraseText title;
    PhraseText sign;           ///< what a careful reader finds in the log
    std::string_view unit;     ///< of the strength, as in keys: "deg", "share"
    double usual, least, most; ///< strength
};
std::span<const Fault> allFaults();
const Fault &definitionOf(FaultId id);

/// One that is there, from when on, and how strong.
struct FaultSetting {
    FaultId id = FaultId::weakPump;
    double strength = 0;
    double startS = 0;   ///< of the run
    double aboveKpa = 0; ///< manifold pressure, absolute: only from there on; 0: always
    bool operator==(const FaultSetting &) const = default;
};
/// "weak_pump", "weak_pump:0.3", "weak_pump:0.3@12" from 12 s on, "weak_pump:0.3@12>150" only over 150 kPa.
/// Throws InputError naming the faults there are, or the range of the strength.
FaultSetting faultFrom(const std::string &text, const std::string &where);
void validate(const FaultSetting &fault, const std::string &where);

/// Those that are at work now.
class FaultsNow {
  public:
    explicit FaultsNow(std::vector<FaultSetting> faults = {}) : m_faults(std::move(faults)) {}
    void at(double seconds, double mapKpa) {
        m_seconds = seconds;
        m_mapKpa = mapKpa;
    }
    bool on(FaultId id) const;
    /// Strength, or what stands for none.
    double of(FaultId id, double none = 0) const;
    const std::vector<FaultSetting> &all() const { return m_faults; }

  private:
    const FaultSetting *find(FaultId id) const;
    std::vector<FaultSetting> m_faults;
    double m_seconds = 0, m_mapKpa = 0;
};

} // namespace wheelwright
