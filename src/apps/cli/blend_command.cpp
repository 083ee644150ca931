// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "core/study/study.h"
#include "core/study/two_table_school.h"

#include <nlohmann/json.hpp>

namespace wheelwright {
namespace {

struct BlendArguments {
    std::string job;
    double content = 0, rpm = 0, loadKpa = 0;
    bool json = false;
};

nlohmann::ordered_json outsideList(const BlendedPoint &p) {
    nlohmann::ordered_json list = nlohmann::ordered_json::array();
    if (p.outsideContent) list.push_back("content");
    for (CalibratedQuantity q : allQuantities) {
        const auto i = static_cast<std::size_t>(q);
        if (p.baseLookup[i].outsideX || p.topLookup[i].outsideX)
            list.push_back(std::string(quantityId(q)) + ".rpm");
        if (p.baseLookup[i].outsideY || p.topLookup[i].outsideY)
            list.push_back(std::string(quantityId(q)) + ".load_kpa");
    }
    return list;
}

void run(const BlendArguments &a) {
    const BlendedPoint p = blendedPoint(Study(loadJob(a.job)), {a.content, a.rpm, a.loadKpa});
    nlohmann::ordered_json weights;
    for (CalibratedQuantity q : allQuantities)
        weights[std::string(quantityId(q))] = p.weights[q];
    print({{"content", a.content},
           {"rpm", a.rpm},
           {"load_kpa", a.loadKpa},
           {"fuel", p.fuel},
           {"spark_deg", p.sparkDeg},
           {"boost_kpa", p.boostKpa},
           {"lambda", p.lambda},
           {"weights", weights},
           {"outside", outsideList(p)}},
          a.json);
}

} // namespace

void addBlendCommand(CLI::App &app, int &) {
    CLI::App *sub = app.add_subcommand("blend", "What the engine would get at one content, speed and load");
    auto a = std::make_shared<BlendArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    addNumber(sub, "--content", a->content, fraction(), "Alcohol, volume fraction 0 to 1")->required();
    addNumber(sub, "--rpm", a->rpm, between(1, 25000, Dimension::engineSpeed), "Engine speed")->required();
    addNumber(sub, "--load-kpa", a->loadKpa, between(1, 1000, Dimension::pressure),
              "Manifold pressure, absolute")
        ->required();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a] { run(*a); });
}

} // namespace wheelwright
