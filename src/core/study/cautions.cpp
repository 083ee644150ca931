// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/cautions.h"

#include <algorithm>
#include <array>

namespace wheelwright {
namespace {

bool always(const Job &) {
    return true;
}

bool anyMethanol(const Job &job) {
    const auto some = [](const auto &fuel) { return fuel.methanol > 0; };
    return job.alcohol == Alcohol::methanol || std::ranges::any_of(job.shelf, some) ||
           std::ranges::any_of(job.tankEvents, some) ||
           (job.aux.spray.ratedFlowCcMin > 0 && job.aux.spray.methanol > 0);
}

bool anyLead(const Job &job) {
    return std::ranges::any_of(job.shelf, &ShelfEntry::leaded) ||
           std::ranges::any_of(job.hydrocarbons, &Hydrocarbon::leaded);
}

bool noKnockControl(const Job &job) {
    return !job.sparkDelivery.knockControl;
}

constexpr std::array cautions{
    Caution{"methanol", MARKED("caution.methanol", "Methanol"), methanolCaution(), "fuel flow handover",
            anyMethanol},
    Caution{"leaded", MARKED("caution.leaded", "Leaded fuel"), leadedCaution(), "fuel", anyLead},
    Caution{"fuel", MARKED("caution.fuel", "Handling fuel"), earthCaution(), "fuel", always},
    Caution{
        "knock", MARKED("caution.knock", "No knock control"),
        MARKED(
            "caution.knock.text",
            "Nothing takes spark back when this engine knocks. Knock destroys it within seconds and can hurt "
            "people: go up in steps of a degree, well short of where it begins, with a second pair of ears "
            "or a "
            "listening set, and read the plugs."),
        "tables ladder evidence", noKnockControl},
    Caution{
        "dyno", MARKED("caution.dyno", "Pulls"),
        MARKED(
            "caution.dyno.text",
            "Pulls belong on a dyno or a closed course. Tie-downs, ventilation, hearing protection, an "
            "extinguisher for this fuel, and nobody in line with the wheels or the driveline. Cuts for lean "
            "mixture and overboost are set before the first one."),
        "cell ladder", always},
};

} // namespace

std::span<const Caution> allCautions() {
    return cautions;
}

std::vector<const Caution *> cautionsAt(const Job &job, std::string_view station) {
    std::vector<const Caution *> out;
    for (const Caution &c : cautions) {
        const std::string padded = " " + std::string(c.stations) + " ";
        if (padded.find(" " + std::string(station) + " ") != std::string::npos && c.applies(job))
            out.push_back(&c);
    }
    return out;
}

} // namespace wheelwright
