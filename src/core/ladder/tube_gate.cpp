// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

#include <cmath>

namespace wheelwright {
namespace {

// The tube must have been read since the last pour, and not lie further off than two opinions may.
GateAnswer answerTube(const RungEvidence &e) {
    GateAnswer a;
    a.remedy = GateRemedy::testTube;
    a.toPass = MARKED("gate.tube.to_pass", "Read a test tube of what is in the tank, and note it.");
    const Opinion *tube = e.opinions ? opinionBy(*e.opinions, OpinionSource::tube) : nullptr;
    if (!tube) {
        a.said = MARKED("gate.tube.none", "No tube has been read.");
        return a;
    }
    if (tube->poursSince > 0) {
        a.said = {MARKED("gate.tube.old", "The tube was read before the last pour ({0} since)."),
                  {{static_cast<double>(tube->poursSince), Dimension::count}}};
        return a;
    }
    a.used.push_back({GateUse::Kind::tank, std::to_string(tube->event + 1), tube->at});
    const double allowed = e.limit("content.disagreement");
    double other = PullFacts::unknown; // what a sensor read that lies furthest from the tube
    const auto consider = [&](double read) {
        if (!(std::abs(other - tube->content.value) >= std::abs(read - tube->content.value))) other = read;
    };
    for (const PullFacts *p : e.pulls)
        if (p->contentByChannel && e.ofThisFill(p->added)) consider(p->content);
    for (const LightLoadFacts *l : e.lights)
        if (l->contentMoved == l->contentMoved && e.ofThisFill(l->added)) consider(l->content);
    if (const Opinion *sensor = opinionBy(*e.opinions, OpinionSource::sensor);
        sensor && !(other == other) && sensor->poursSince == 0)
        other = sensor->content.value;
    const Measured says{tube->content.value, Dimension::content};
    if (!(other == other)) {
        if (e.job().fuelSystem.contentSensor) {
            a.said = {MARKED("gate.tube.alone", "The tube says {0}; no sensor has been read beside it."),
                      {says}};
            a.toPass = MARKED("gate.tube.sensor", "Read the sensor, or log it at idle and cruise.");
            a.remedy = GateRemedy::lightLoad;
            return a;
        }
        // Whether it is what was planned is asked by the gate of that name; the way down has none, and ends
        // near the base fuel, not on it: what was poured says where.
        const Opinion *poured = opinionBy(*e.opinions, OpinionSource::arithmetic);
        if (e.rung.kind != RungKind::wayDown || !poured) {
            a.verdict = GateVerdict::passed;
            a.said = {MARKED("gate.tube.only", "The tube says {0}; there is no sensor to hold it against."),
                      {says}};
            a.toPass = {};
            a.remedy = GateRemedy::none;
            return a;
        }
        other = poured->content.value;
    }
    for (const PullFacts *p : e.pulls)
        a.used.push_back(useOf(*p));
    const Measured sensor{other, Dimension::content}, within{allowed, Dimension::contentDifference};
    if (std::abs(other - tube->content.value) <= allowed) {
        a.verdict = GateVerdict::passed;
        a.said = {MARKED("gate.tube.agrees", "The tube says {0}, beside it stands {1}."), {says, sensor}};
        a.toPass = {};
        a.remedy = GateRemedy::none;
        return a;
    }
    a.verdict = GateVerdict::failed;
    a.said = {MARKED("gate.tube.differs", "The tube says {0}, beside it stands {1}: more than {2} apart."),
              {says, sensor, within}};
    a.toPass = MARKED("gate.tube.find",
                      "Find out which is wrong before the next pull: read the tube again, then the "
                      "sensor's signal.");
    a.remedy = GateRemedy::findCause;
    return a;
}

} // namespace

const Gate &tubeGate() {
    static const Gate gate{
        "tube",
        MARKED("gate.tube", "Tube and sensor agree"),
        MARKED("gate.tube.question", "Has a tube confirmed the content since the last pour?"),
        pullRungs(),
        answerTube,
        false,
        {"content.disagreement"}};
    return gate;
}

} // namespace wheelwright
