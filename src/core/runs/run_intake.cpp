// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/runs/run_intake.h"

#include "core/base/error.h"
#include "core/job/job.h"
#include "core/job/revision.h"
#include "core/job/tank_history.h"
#include "core/runs/run_curve.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace wheelwright {
namespace {

constexpr std::array<std::string_view, 4> modeKeys{"not_said", "inertia", "loaded", "road"};

std::optional<double> numberOf(const std::string &text) {
    double v = 0;
    const auto read = std::from_chars(text.data(), text.data() + text.size(), v);
    return read.ec == std::errc() && read.ptr == text.data() + text.size() && std::isfinite(v)
               ? std::optional(v)
               : std::nullopt;
}

// The first number of a column: how warm it was as the pull began.
double firstOf(const RunSamples &samples, ChannelRole role) {
    const RunColumn *c = samples.of(role);
    for (std::size_t i = 0; c && i < c->numbers.size(); ++i)
        if (std::isfinite(c->numbers[i])) return c->internal(i);
    return 0;
}

std::optional<double> meanOfColumn(const RunSamples &samples, ChannelRole role) {
    const RunColumn *c = samples.of(role);
    double sum = 0, count = 0;
    for (std::size_t i = 0; c && i < c->numbers.size(); ++i)
        if (std::isfinite(c->numbers[i])) {
            sum += c->internal(i);
            ++count;
        }
    return count > 0 ? std::optional(sum / count) : std::nullopt;
}

void addDyno(Job &job, const std::string &name) {
    const std::vector<Dyno> &all = job.dynos.values();
    if (name.empty() || std::ranges::find(all, name, &Dyno::name) != all.end()) return;
    job.dynos.push_back({name, {}});
}

// The next place on its day.
double nextOrder(const Job &job, const std::string &day) {
    constexpr std::size_t dateLength = 10;
    double last = 0;
    for (const Run &r : job.runs.values())
        if (r.day.substr(0, dateLength) == day.substr(0, dateLength)) last = std::max(last, r.order);
    return last + 1;
}

// What the tank holds by its arithmetic; empty where nothing has been poured yet, or it cannot be.
std::optional<double> contentOfTank(const Job &job) {
    if (job.tankEvents.empty()) return std::nullopt;
    try {
        const TankState tank = tankNow(job);
        const double alcohol = alcoholOf(tank.content);
        return tank.volumeL > 0 ? std::optional(alcohol) : std::nullopt;
    } catch (const InputError &) {
        return std::nullopt;
    }
}

// What its own columns say of the air; of humidity the day, where they do not say it.
std::optional<Weather> airIn(const RunSamples &samples, const std::optional<Weather> &ofTheDay) {
    const auto kpa = meanOfColumn(samples, ChannelRole::ambientPressure),
               c = meanOfColumn(samples, ChannelRole::ambientTemp);
    auto humidity = meanOfColumn(samples, ChannelRole::humidity);
    if (!humidity && ofTheDay) humidity = ofTheDay->humidity;
    return kpa && c && humidity ? std::optional(Weather{*kpa, *c, *humidity}) : std::nullopt;
}

// Stated goes before measured, and that before the job's day.
void breathe(Run &run, const std::optional<Weather> &stated, const RunSamples &samples,
             const std::optional<Weather> &ofTheDay) {
    const std::optional<Weather> measured = airIn(samples, ofTheDay);
    const auto take = [&run](const std::optional<Weather> &air, AmbientBasis by) {
        if (!air || run.ambient != AmbientBasis::none) return;
        run.ambient = by;
        run.ambientKpa = air->pressureKpa;
        run.ambientC = air->temperatureC;
        run.humidity = air->humidity;
    };
    take(stated, AmbientBasis::stated);
    take(measured, AmbientBasis::channel);
    take(ofTheDay, AmbientBasis::job);
}

// As it comes from its statement; the job says what is left out.
Run runFrom(const Job &job, const RunSamples &samples, const RunStatement &s) {
    const RunCurve curve = curveOf(samples, s.name); // refuses what cannot be compared
    Run run;
    run.id = nextRunId(job);
    run.name = s.name;
    run.origin = s.origin;
    run.source = s.source;
    run.added = s.added;
    run.day = s.day;
    run.order = s.order.value_or(nextOrder(job, s.day));
    run.fuel = s.fuel;
    if (s.content) {
        run.content = *s.content;
        run.contentBasis = RunContentBasis::stated;
    } else if (const auto mean = meanOfColumn(samples, ChannelRole::ethanol)) {
        run.content = std::clamp(*mean, 0.0, 1.0);
        run.contentBasis = RunContentBasis::channel;
    } else if (const auto tank = contentOfTank(job)) {
        run.content = *tank;
        run.contentBasis = RunContentBasis::tank;
    }
    run.revision = s.revision;
    run.dyno = s.dyno;
    run.mode = s.mode.value_or(RunMode::notSaid);
    run.loadShare = s.loadShare.value_or(0);
    run.gear = s.gear.value_or(0);
    run.standard = s.standard.value_or(CorrectionStandard::notSaid);
    run.smoothedRpm = s.smoothedRpm.value_or(0);
    run.knownWithin = s.knownWithin.value_or(0);
    breathe(run, s.air, samples, airOfTheDay(job));
    run.startIntakeC = s.startIntakeC.value_or(firstOf(samples, ChannelRole::intakeTemp));
    run.startCoolantC = s.startCoolantC.value_or(firstOf(samples, ChannelRole::coolantTemp));
    run.startOilC = s.startOilC.value_or(0);
    run.hardware = s.hardware;
    run.cam = s.cam;
    run.change = s.change;
    run.note = s.note;
    run.rows = static_cast<double>(samples.rows());
    run.rpmFrom = curve.rpm.front();
    run.rpmTo = curve.rpm.back();
    run.samples = DeferredText(runSamplesText(samples));
    return run;
}

} // namespace

RunMode modeByKey(std::string_view key) {
    for (std::size_t i = 1; i < modeKeys.size(); ++i)
        if (modeKeys[i] == key) return static_cast<RunMode>(i);
    throw InputError("mode", Phrase{MARKED("expected.one_of", "one of {a}"), {}, {"inertia, loaded, road"}},
                     "'" + echoed(key, 30) + "'");
}

std::string_view keyOf(RunMode mode) {
    return modeKeys[static_cast<std::size_t>(mode)];
}

RunStatement withRemarks(RunStatement s, const RunRemarks &remarks, std::vector<Phrase> &said) {
    const auto text = [&](const char *key) {
        const auto at = remarks.find(key);
        return at == remarks.end() ? std::string() : at->second;
    };
    const auto number = [&](const char *key, double scale = 1) -> std::optional<double> {
        const std::string t = text(key);
        if (t.empty()) return std::nullopt;
        const auto v = numberOf(t);
        if (!v)
            said.push_back(Phrase{
                MARKED("run.said.remark", "The remark '{a}: {b}' cannot be read and counts for nothing."),
                {},
                {key, echoed(t, 40)}});
        return v ? std::optional(*v * scale) : std::nullopt;
    };
    const auto choose = [&](auto &to, const char *key, auto byKey) {
        const std::string t = text(key);
        if (to || t.empty()) return;
        try {
            to = byKey(t);
        } catch (const InputError &) {
            said.push_back(Phrase{
                MARKED("run.said.remark", "The remark '{a}: {b}' cannot be read and counts for nothing."),
                {},
                {key, echoed(t, 40)}});
        }
    };
    const auto fill = [](auto &to, auto from) {
        if (!to) to = from;
    };
    choose(s.mode, "mode", modeByKey);
    choose(s.standard, "correction", standardByKey);
    fill(s.gear, number("gear"));
    const auto kpa = number("ambient_kpa"), c = number("ambient_c"), humidity = number("humidity");
    if (!s.air && kpa && c && humidity) s.air = Weather{*kpa, *c, *humidity};
    fill(s.startIntakeC, number("start_intake_c"));
    fill(s.startCoolantC, number("start_coolant_c"));
    fill(s.startOilC, number("start_oil_c"));
    constexpr double perCent = 0.01;
    fill(s.content, number("content_percent", perCent));
    fill(s.knownWithin, number("known_within_percent", perCent));
    fill(s.smoothedRpm, number("smoothed_rpm"));
    if (s.origin == RunOrigin::file && text("source") == practiceSource) s.origin = RunOrigin::practice;
    for (const auto &[to, key] : {std::pair{&s.note, "note"},
                                  {&s.fuel, "fuel"},
                                  {&s.dyno, "dyno"},
                                  {&s.day, "day"},
                                  {&s.hardware, "hardware"},
                                  {&s.cam, "cam"},
                                  {&s.change, "change"}})
        if (to->empty()) *to = text(key);
    return s;
}

std::vector<std::string> addRuns(Job &job, const std::vector<FoundPull> &pulls, const RunStatement &s) {
    if (pulls.empty())
        throw InputError(s.name, MARKED("expected.a_pull", "a pull: engine speed that goes up or down"),
                         MARKED("found.none", "none"));
    const std::string calibration = calibrationThatRan(job, s.revision, s.name, s.added);
    std::vector<std::string> ids;
    for (std::size_t i = 0; i < pulls.size(); ++i) {
        std::vector<Phrase> said; // was told when the file was read
        RunStatement one = withRemarks(s, pulls[i].remarks, said);
        if (pulls.size() > 1) one.name = s.name + " " + std::to_string(i + 1);
        if (s.order) one.order = *s.order + static_cast<double>(i);
        addDyno(job, one.dyno);
        Run run = runFrom(job, pulls[i].samples, one);
        run.calibration = calibration;
        run.down = pulls[i].down;
        ids.push_back(run.id);
        job.runs.push_back(std::move(run));
    }
    return ids;
}

FoundPull pullFromLog(const LogReview &log, const Episode &episode) {
    const LogTrace &trace = log.trace();
    if (!trace.has(ChannelRole::torque) && !trace.has(ChannelRole::power))
        throw InputError(log.info().name, MARKED("expected.log_torque", "a log with torque or power"),
                         MARKED("found.neither", "neither of them"));
    FoundPull pull;
    pull.down = trace.at(ChannelRole::rpm, episode.to) < trace.at(ChannelRole::rpm, episode.from);
    for (const ChannelRoleDefinition &d : allChannelRoles()) {
        if (d.role == ChannelRole::none || (d.role != ChannelRole::time && !trace.has(d.role))) continue;
        RunColumn c{d.role, std::string(d.key), std::string(d.unit), 1, 0, {}};
        for (std::size_t i = episode.from; i <= episode.to; ++i)
            c.numbers.push_back(d.role == ChannelRole::time ? trace.timeS(i) : trace.at(d.role, i));
        pull.samples.columns.push_back(std::move(c));
    }
    return pull;
}

std::vector<std::pair<double, double>> pointsFromText(std::string_view text) {
    std::vector<std::pair<double, double>> out;
    for (std::size_t line = 1; !text.empty(); ++line) {
        const std::size_t end = std::min(text.find('\n'), text.size());
        std::string row(text.substr(0, end));
        text.remove_prefix(std::min(end + 1, text.size()));
        std::ranges::replace_if(
            row, [](char c) { return std::string_view(",;:\t\r").find(c) != std::string_view::npos; }, ' ');
        std::vector<double> numbers;
        bool good = true;
        for (std::size_t at = row.find_first_not_of(' '); at != std::string::npos && good;
             at = row.find_first_not_of(' ', at)) {
            const std::size_t stop = std::min(row.find(' ', at), row.size());
            const auto v = numberOf(row.substr(at, stop - at));
            good = v.has_value();
            if (v) numbers.push_back(*v);
            at = stop;
        }
        if (good && numbers.empty()) continue; // an empty line
        constexpr std::size_t two = 2;
        if (!good || numbers.size() != two || !(numbers[0] > 0))
            throw InputError(
                "line " + std::to_string(line),
                MARKED("expected.speed_and_value", "an engine speed and a number, such as 3000 120"),
                "'" + echoed(row, 40) + "'");
        out.emplace_back(numbers[0], numbers[1]);
    }
    if (out.size() < 2)
        throw InputError("points",
                         MARKED("expected.two_speeds", "torque or power at two engine speeds at least"),
                         std::to_string(out.size()));
    return out;
}

FoundPull pullFromPoints(std::span<const std::pair<double, double>> points, bool power) {
    FoundPull pull;
    pull.samples.columns.push_back({ChannelRole::rpm, "rpm", "rpm", 1, 0, {}});
    const ChannelRole role = power ? ChannelRole::power : ChannelRole::torque;
    pull.samples.columns.push_back(
        {role, std::string(definitionOf(role).key), power ? "kW" : "N·m", 1, 0, {}});
    for (const auto &[rpm, value] : points) {
        pull.samples.columns[0].numbers.push_back(rpm);
        pull.samples.columns[1].numbers.push_back(value);
    }
    return pull;
}

} // namespace wheelwright
