// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/runs.h"

#include "core/base/error.h"
#include "core/job/describe.h"
#include "core/job/run_samples.h"

#include <algorithm>
#include <charconv>

namespace wheelwright {
namespace {

using D = Dimension;

constexpr std::size_t mostRuns = 5000, mostDynos = 50, mostGears = 20;
constexpr double mostRows = 200'000, mostRpm = 30'000;

RecordList runList() {
    const auto run = listOf<Run>([](auto &j) -> auto & { return j.runs; });
    const auto text = [&run](PhraseText title, std::string Run::*member, PhraseText help) {
        return run.field(title, member, help);
    };
    const auto warmth = [&run](PhraseText title, double Run::*member, PhraseText help) {
        return run.unstated(title, D::temperature, -60, 250, member, help);
    };
    return run.list(
        MARKED("runs.runs", "Runs"), mostRuns,
        {text(MARKED("runs.runs.id", "Id"), &Run::id,
              MARKED("runs.runs.id.help", "In the order in which they came.")),
         text(MARKED("runs.runs.name", "Run"), &Run::name,
              MARKED("runs.runs.name.help", "Its file, and which pull of it.")),
         run.choice(MARKED("runs.runs.origin", "From"), {"file", "log", "practice", "typed"},
                    {MARKED("runs.runs.origin.file", "A dyno's file"),
                     MARKED("runs.runs.origin.log", "A log"),
                     MARKED("runs.runs.origin.practice", "The practice engine"),
                     MARKED("runs.runs.origin.typed", "Typed")},
                    &Run::origin, MARKED("runs.runs.origin.help", "Where its numbers come from.")),
         text(MARKED("runs.runs.source", "Source"), &Run::source,
              MARKED("runs.runs.source.help", "The file, or the id of the log.")),
         run.date(MARKED("runs.runs.added", "Came in"), &Run::added,
                  MARKED("runs.runs.added.help", "ISO 8601.")),
         run.date(MARKED("runs.runs.day", "Made"), &Run::day,
                  MARKED("runs.runs.day.help", "Day and time of day, ISO 8601.")),
         run.unstated(MARKED("runs.runs.order", "Order"), D::count, 0, 100'000, &Run::order,
                      MARKED("runs.runs.order.help", "Which run of its day it was, from 1.")),
         text(MARKED("runs.runs.fuel", "Fuel"), &Run::fuel,
              MARKED("runs.runs.fuel.help", "As people call it.")),
         run.number(MARKED("runs.runs.content", "Content"), D::content, 0, 1, &Run::content,
                    MARKED("runs.runs.content.help", "Of the fuel that it ran on.")),
         run.choice(MARKED("runs.runs.content_basis", "Content by"), {"none", "channel", "stated", "tank"},
                    {MARKED("runs.runs.content_basis.none", "Not known"),
                     MARKED("runs.runs.content_basis.channel", "Its own channel"),
                     MARKED("runs.runs.content_basis.stated", "Stated"),
                     MARKED("runs.runs.content_basis.tank", "The tank")},
                    &Run::contentBasis, MARKED("runs.runs.content_basis.help", "How it is known.")),
         text(MARKED("runs.runs.revision", "Ran with"), &Run::revision,
              MARKED("runs.runs.revision.help",
                     "A revision's name; empty: the calibration as it was when the run came in.")),
         text(MARKED("runs.runs.calibration", "Calibration"), &Run::calibration,
              MARKED("runs.runs.calibration.help", "Fingerprint of that state.")),
         run.reference(MARKED("runs.runs.dyno", "Dyno"), &Run::dyno, "runs.dynos",
                       MARKED("runs.runs.dyno.help", "Numbers of two dynos are never mixed in silence.")),
         run.choice(MARKED("runs.runs.mode", "Mode"), {"not_said", "inertia", "loaded", "road"},
                    {MARKED("runs.runs.mode.not_said", "Not said"),
                     MARKED("runs.runs.mode.inertia", "Inertia"), MARKED("runs.runs.mode.loaded", "Loaded"),
                     MARKED("runs.runs.mode.road", "Road")},
                    &Run::mode, MARKED("runs.runs.mode.help", "How the engine was held.")),
         run.unstated(MARKED("runs.runs.load_share", "Brake"), D::ratio, 0, 1, &Run::loadShare,
                      MARKED("runs.runs.load_share.help", "Share of the brake of a loaded run.")),
         run.unstated(MARKED("runs.runs.gear", "Gear"), D::count, 0, 20, &Run::gear,
                      MARKED("runs.runs.gear.help", "That it was made in.")),
         run.field(MARKED("runs.runs.down", "Downwards"), &Run::down,
                   MARKED("runs.runs.down.help", "From high speed to low.")),
         run.choice(MARKED("runs.runs.standard", "Stated for"),
                    {"not_said", "none", "j1349", "iso1585", "std", "din"},
                    {MARKED("runs.runs.standard.not_said", "Not said"),
                     MARKED("runs.runs.standard.none", "As measured"),
                     MARKED("runs.runs.standard.j1349", "J1349"),
                     MARKED("runs.runs.standard.iso1585", "ISO 1585"),
                     MARKED("runs.runs.standard.std", "STD"), MARKED("runs.runs.standard.din", "DIN")},
                    &Run::standard,
                    MARKED("runs.runs.standard.help", "The correction that its numbers already hold.")),
         run.unstated(MARKED("runs.runs.smoothed_rpm", "Smoothed over"), D::engineSpeed, 0, 5000,
                      &Run::smoothedRpm,
                      MARKED("runs.runs.smoothed_rpm.help", "Smoothing that its numbers already hold.")),
         run.unstated(MARKED("runs.runs.known_within", "Known within"), D::ratio, 0, 1, &Run::knownWithin,
                      MARKED("runs.runs.known_within.help",
                             "What its numbers are known to beside the scatter of runs, 95 %: an estimate "
                             "from the road to several per cent.")),
         run.choice(MARKED("runs.runs.ambient", "Air by"), {"none", "stated", "job", "channel"},
                    {MARKED("runs.runs.ambient.none", "Not known"),
                     MARKED("runs.runs.ambient.stated", "Stated"),
                     MARKED("runs.runs.ambient.job", "The job's day"),
                     MARKED("runs.runs.ambient.channel", "Its own channels")},
                    &Run::ambient, MARKED("runs.runs.ambient.help", "Who says what air it was made in.")),
         run.number(MARKED("runs.runs.ambient_kpa", "Air pressure"), D::pressure, 50, 110, &Run::ambientKpa,
                    MARKED("runs.runs.ambient_kpa.help", "At the dyno, not reduced to the sea.")),
         run.number(MARKED("runs.runs.ambient_c", "Air temperature"), D::temperature, -40, 60, &Run::ambientC,
                    MARKED("runs.runs.ambient_c.help", "Where the engine draws it.")),
         run.number(MARKED("runs.runs.humidity", "Humidity"), D::ratio, 0, 1, &Run::humidity,
                    MARKED("runs.runs.humidity.help", "Relative.")),
         warmth(MARKED("runs.runs.start_intake_c", "Intake air at start"), &Run::startIntakeC,
                MARKED("runs.runs.start_intake_c.help", "In the manifold, as the pull began.")),
         warmth(MARKED("runs.runs.start_coolant_c", "Coolant at start"), &Run::startCoolantC,
                MARKED("runs.runs.start_coolant_c.help", "As the pull began.")),
         warmth(MARKED("runs.runs.start_oil_c", "Oil at start"), &Run::startOilC,
                MARKED("runs.runs.start_oil_c.help", "As the pull began.")),
         text(MARKED("runs.runs.hardware", "Hardware"), &Run::hardware,
              MARKED("runs.runs.hardware.help",
                     "What is on the engine that matters: two runs that differ in it "
                     "differ in hardware.")),
         text(MARKED("runs.runs.cam", "Cam"), &Run::cam,
              MARKED("runs.runs.cam.help", "Which one, where the engine has two.")),
         text(MARKED("runs.runs.change", "Change"), &Run::change,
              MARKED("runs.runs.change.help", "What was changed before it.")),
         text(MARKED("runs.runs.verdict", "Verdict"), &Run::verdict,
              MARKED("runs.runs.verdict.help", "What you made of it.")),
         text(MARKED("runs.runs.next", "Next"), &Run::next,
              MARKED("runs.runs.next.help", "What to do then.")),
         text(MARKED("runs.runs.plugs", "Plugs"), &Run::plugs,
              MARKED("runs.runs.plugs.help", "What they looked like.")),
         text(MARKED("runs.runs.oil", "Oil"), &Run::oil,
              MARKED("runs.runs.oil.help", "Level, look and smell.")),
         text(MARKED("runs.runs.note", "Note"), &Run::note,
              MARKED("runs.runs.note.help", "Anything worth remembering.")),
         text(MARKED("runs.runs.photos", "Photos"), &Run::photos,
              MARKED("runs.runs.photos.help", "Where they lie, a line each.")),
         run.number(MARKED("runs.runs.rows", "Rows"), D::count, 0, mostRows, &Run::rows,
                    MARKED("runs.runs.rows.help", "Of its numbers.")),
         run.number(MARKED("runs.runs.rpm_from", "From"), D::engineSpeed, 0, mostRpm, &Run::rpmFrom,
                    MARKED("runs.runs.rpm_from.help", "Lowest speed.")),
         run.number(MARKED("runs.runs.rpm_to", "To"), D::engineSpeed, 0, mostRpm, &Run::rpmTo,
                    MARKED("runs.runs.rpm_to.help", "Highest speed.")),
         run.deferred(
             MARKED("runs.runs.samples", "Numbers"), &Run::samples,
             [](std::string_view held, const std::string &where) { runSamplesFrom(held, where); },
             MARKED("runs.runs.samples.help", "As they were measured, as text."))});
}

RecordList dynoList() {
    const auto dyno = listOf<Dyno>([](auto &j) -> auto & { return j.dynos; });
    return referred(
        MARKED("runs.dynos.what", "the name of a dyno"),
        dyno.list(MARKED("runs.dynos", "Dynos"), mostDynos,
                  {dyno.field(MARKED("runs.dynos.name", "Dyno"), &Dyno::name,
                              MARKED("runs.dynos.name.help", "Once only.")),
                   dyno.field(MARKED("runs.dynos.note", "Note"), &Dyno::note,
                              MARKED("runs.dynos.note.help", "Rollers, hubs, brake, who runs it."))}));
}

RecordList gearList() {
    const auto gear = listOf<GearRatio>([](auto &j) -> auto & { return j.gears; });
    return gear.list(MARKED("vehicle.gears", "Gears"), mostGears,
                     {gear.number(MARKED("vehicle.gears.gear", "Gear"), D::count, 1, 20, &GearRatio::gear,
                                  MARKED("vehicle.gears.gear.help", "Which one.")),
                      gear.number(MARKED("vehicle.gears.ratio", "Ratio"), D::none, 0.1, 50, &GearRatio::ratio,
                                  MARKED("vehicle.gears.ratio.help",
                                         "Turns of the engine for one of the propeller shaft."))});
}

} // namespace

Chapter runsChapter() {
    Chapter c;
    c.fields = {
        number(
            MARKED("vehicle.mass_kg", "Mass, kg"), D::none, 50, 40'000,
            [](auto &j) -> auto & { return j.vehicle.massKg; },
            MARKED("vehicle.mass_kg.help", "With driver and fuel, as it runs.")),
        number(
            MARKED("vehicle.drag_area_m2", "Drag area, m²"), D::none, 0, 10,
            [](auto &j) -> auto & { return j.vehicle.dragAreaM2; },
            MARKED("vehicle.drag_area_m2.help",
                   "Drag coefficient times frontal area. A coast-down tells it.")),
        number(
            MARKED("vehicle.rolling", "Rolling resistance"), D::none, 0, 0.3,
            [](auto &j) -> auto & { return j.vehicle.rolling; },
            MARKED("vehicle.rolling.help", "Share of the weight. A coast-down tells it.")),
        number(
            MARKED("vehicle.tyre_m", "Tyre circumference, m"), D::none, 0.3, 10,
            [](auto &j) -> auto & { return j.vehicle.tyreM; },
            MARKED("vehicle.tyre_m.help", "Rolling, under load.")),
        number(
            MARKED("vehicle.final_drive", "Final drive"), D::none, 0.1, 50,
            [](auto &j) -> auto & { return j.vehicle.finalDrive; },
            MARKED("vehicle.final_drive.help", "Turns of the propeller shaft for one of the wheels.")),
        number(
            MARKED("vehicle.rotating_kg", "Rotating mass, kg"), D::none, 0, 5000,
            [](auto &j) -> auto & { return j.vehicle.rotatingKg; },
            MARKED("vehicle.rotating_kg.help", "What wheels and driveline stand for beside the mass.")),
    };
    c.lists = {dynoList(), gearList(), runList()};
    c.same = [](const Job &a, const Job &b) {
        return a.runs == b.runs && a.dynos == b.dynos && a.vehicle == b.vehicle && a.gears == b.gears;
    };
    return c;
}

const Run *runById(const Job &job, std::string_view id) {
    const auto at = std::ranges::find(job.runs.values(), id, &Run::id);
    return at == job.runs.values().end() ? nullptr : &*at;
}

std::string nextRunId(const Job &job) {
    long long most = 0;
    for (const Run &r : job.runs.values()) {
        long long id = 0;
        const auto read = std::from_chars(r.id.data(), r.id.data() + r.id.size(), id);
        if (read.ec == std::errc() && read.ptr == r.id.data() + r.id.size()) most = std::max(most, id);
    }
    return std::to_string(most + 1);
}

void removeRun(Job &job, std::string_view id) {
    const std::string gone(id); // may be of the record that goes
    if (!runById(job, gone))
        throw InputError("run", MARKED("expected.id_of_run", "the id of a run of this job"),
                         "'" + echoed(gone, 40) + "'");
    job.runs.eraseIf([&gone](const Run &r) { return r.id == gone; });
}

} // namespace wheelwright
