// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/practice/fault.h"

#include "core/base/error.h"

#include <algorithm>
#include <array>
#include <charconv>

namespace wheelwright {
namespace {

using enum FaultId;

const std::array faultList{
    Fault{throttleUnplugged, "throttle_unplugged",
          MARKED("fault.throttle_unplugged", "Throttle sensor unplugged"),
          MARKED("fault.throttle_unplugged.sign",
                 "Throttle reads the same whatever the engine does, and boost stays at what that asks for."),
          "percent", 0, 0, 100},
    Fault{baseTiming, "base_timing", MARKED("fault.base_timing", "Base timing is out"),
          MARKED("fault.base_timing.sign", "Commanded spark as ever, another torque and another exhaust "
                                           "temperature; knock where none was, or none where it was."),
          "deg", 8, -30, 30},
    Fault{returnDry, "return_dry", MARKED("fault.return_dry", "Return line runs dry at high flow"),
          MARKED("fault.return_dry.sign", "The content jumps under load and comes back with it."), "l_min", 3,
          0.01, 30},
    Fault{contentStuck, "content_stuck", MARKED("fault.content_stuck", "Content sensor is stuck"),
          MARKED("fault.content_stuck.sign", "The content never moves, not by its noise."), "content", 0.1, 0,
          1},
    Fault{contentLag, "content_lag", MARKED("fault.content_lag", "Content sensor lags"),
          MARKED("fault.content_lag.sign", "The content still moves long after the mixture has."), "s", 60, 1,
          600},
    Fault{contentOff, "content_off", MARKED("fault.content_off", "Content sensor is off"),
          MARKED("fault.content_off.sign",
                 "λ is off by as much as the content's fuel need, on every fuel and everywhere."),
          "content", 0.1, -0.5, 0.5},
    Fault{weakPump, "weak_pump", MARKED("fault.weak_pump", "Weak pump"),
          MARKED("fault.weak_pump.sign",
                 "Rail pressure sags where most fuel is asked for, and λ goes lean with it."),
          "share", 0.4, 0, 1},
    Fault{cloggedFilter, "clogged_filter", MARKED("fault.clogged_filter", "Clogged filter"),
          MARKED("fault.clogged_filter.sign", "Rail pressure falls where most fuel is asked for, with the "
                                              "square of the flow, and is right at idle."),
          "kpa", 700, 0, 3000},
    Fault{
        injectorBankWeak, "injector_bank_weak",
        MARKED("fault.injector_bank_weak", "Half of the injectors are weak"),
        MARKED("fault.injector_bank_weak.sign", "λ lean by half of it everywhere, knock from the weak half."),
        "share", 0.08, 0, 0.9},
    Fault{
        injectorWeak, "injector_weak", MARKED("fault.injector_weak", "One injector is weak"),
        MARKED("fault.injector_weak.sign", "λ a little lean, knock where the mean mixture gives no reason."),
        "share", 0.1, 0, 1},
    Fault{solenoidStuck, "solenoid_stuck", MARKED("fault.solenoid_stuck", "Boost solenoid is stuck"),
          MARKED("fault.solenoid_stuck.sign", "Duty rises and boost does not follow."), "duty", 0, 0, 1},
    Fault{springOff, "spring_off", MARKED("fault.spring_off", "Spring is not as advertised"),
          MARKED("fault.spring_off.sign", "Boost at no duty is another than the job says."), "factor", 0.75,
          0.1, 3},
    Fault{sprayEmpty, "spray_empty", MARKED("fault.spray_empty", "Spray tank runs empty"),
          MARKED("fault.spray_empty.sign",
                 "Spray flow falls to nothing under load, λ goes lean and the charge hot."),
          "share", 1, 0, 1},
    Fault{badFuel, "bad_fuel", MARKED("fault.bad_fuel", "Bad station fuel"),
          MARKED("fault.bad_fuel.sign", "Knock at spark that was clean, and nothing else has changed."),
          "octane", 6, 0, 40},
    Fault{earlyRevLimit, "early_rev_limit", MARKED("fault.early_rev_limit", "Rev limit comes early"),
          MARKED("fault.early_rev_limit.sign", "Pulses stop before the speed that the job states."), "rpm",
          800, 0, 10000},
    Fault{widebandLag, "wideband_lag", MARKED("fault.wideband_lag", "Wideband lags"),
          MARKED("fault.wideband_lag.sign", "λ follows a change of fuel late and round."), "s", 0.8, 0, 10},
    Fault{widebandScale, "wideband_scale", MARKED("fault.wideband_scale", "Wideband is on the wrong scale"),
          MARKED("fault.wideband_scale.sign", "λ off by the same factor everywhere, also at idle."), "factor",
          1.06, 0.5, 2},
    Fault{exhaustLeak, "exhaust_leak", MARKED("fault.exhaust_leak", "Exhaust leaks before the wideband"),
          MARKED("fault.exhaust_leak.sign", "λ reads lean at low flow and right at high flow."), "lambda",
          0.12, 0, 1},
    Fault{intakeLeak, "intake_leak", MARKED("fault.intake_leak", "Intake leaks after the compressor"),
          MARKED("fault.intake_leak.sign",
                 "Boost comes later and lower at the same duty, and intake air gets hotter."),
          "share", 0.2, 0, 0.9},
    Fault{coolantLeak, "coolant_leak", MARKED("fault.coolant_leak", "Coolant leaks"),
          MARKED("fault.coolant_leak.sign", "Coolant climbs and does not come back."), "k_min", 12, 0, 200},
    Fault{hotIntake, "hot_intake", MARKED("fault.hot_intake", "Intake air is hot"),
          MARKED("fault.hot_intake.sign",
                 "Intake air far over the surrounding air, spark taken away by its correction."),
          "k", 25, 0, 100},
    Fault{alternatorSag, "alternator_sag", MARKED("fault.alternator_sag", "Alternator sags"),
          MARKED("fault.alternator_sag.sign",
                 "Battery voltage falls with load, dead time and pump flow with it."),
          "v", 2.5, 0, 8},
    Fault{fileChanged, "file_changed", MARKED("fault.file_changed", "The file changed on upload"),
          MARKED("fault.file_changed.sign", "Boost target is another than the tables say."), "kpa", 20, -200,
          200},
};

double numberIn(std::string_view text, const std::string &where, const char *what) {
    double v = 0;
    const auto [end, problem] = std::from_chars(text.data(), text.data() + text.size(), v);
    if (problem != std::errc{} || end != text.data() + text.size() || text.empty())
        throw InputError(where, Phrase{MARKED("expected.a_number_for", "a number for {a}"), {}, {what}},
                         "'" + std::string(text) + "'");
    return v;
}

} // namespace

std::span<const Fault> allFaults() {
    return faultList;
}

const Fault &definitionOf(FaultId id) {
    return *std::ranges::find(faultList, id, &Fault::id);
}

void validate(const FaultSetting &fault, const std::string &where) {
    const Fault &d = definitionOf(fault.id);
    const auto require = [&](const std::string &what, double v, double least, double most) {
        if (!(v >= least && v <= most)) throw InputError(where + " " + what, fromTo(least, most), exactly(v));
    };
    constexpr double longest = 1e6, highest = 1000;
    require(std::string(d.name) + " strength_" + std::string(d.unit), fault.strength, d.least, d.most);
    require("from_s", fault.startS, 0, longest);
    require("above_kpa", fault.aboveKpa, 0, highest);
}

FaultSetting faultFrom(const std::string &text, const std::string &where) {
    std::string_view rest = text;
    const auto cut = [&](char mark) {
        const std::size_t at = rest.find(mark);
        if (at == std::string_view::npos) return std::string_view();
        const std::string_view tail = rest.substr(at + 1);
        rest = rest.substr(0, at);
        return tail;
    };
    const std::string_view above = cut('>'), from = cut('@'), strength = cut(':');
    const auto found = std::ranges::find(faultList, rest, &Fault::name);
    if (found == faultList.end()) {
        std::string known;
        for (const Fault &f : faultList)
            known += (known.empty() ? "" : ", ") + std::string(f.name);
        throw InputError(where, Phrase{MARKED("expected.one_of", "one of {a}"), {}, {known}},
                         "'" + std::string(rest) + "'");
    }
    FaultSetting s;
    s.id = found->id;
    s.strength =
        text.find(':') == std::string::npos ? found->usual : numberIn(strength, where, "the strength");
    if (text.find('@') != std::string::npos) s.startS = numberIn(from, where, "the second");
    if (text.find('>') != std::string::npos) s.aboveKpa = numberIn(above, where, "the pressure");
    validate(s, where);
    return s;
}

const FaultSetting *FaultsNow::find(FaultId id) const {
    for (const FaultSetting &f : m_faults)
        if (f.id == id && m_seconds >= f.startS && m_mapKpa >= f.aboveKpa) return &f;
    return nullptr;
}

bool FaultsNow::on(FaultId id) const {
    return find(id) != nullptr;
}

double FaultsNow::of(FaultId id, double none) const {
    const FaultSetting *f = find(id);
    return f ? f->strength : none;
}

} // namespace wheelwright
