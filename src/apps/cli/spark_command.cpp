// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/base/error.h"
#include "core/study/fuel_worth.h"
#include "core/study/spark_estimate.h"

#include <nlohmann/json.hpp>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct EstimateArguments {
    std::string job;
    OperatingPoint at;
    double lambda = 0, intakeC = 0, ratio = 0, sparkDeg = 0;
    std::vector<double> contents;
    CylinderShape shape;
    Charge charge;
    Burn burn;
    bool apply = false, json = false;
};

Json limitOf(const KnockLimit &limit) {
    if (limit.kind == KnockLimit::Kind::never) return nullptr; // asked for by those who script it
    return limit.deg;
}

int bareCylinder(const CLI::App &sub, const EstimateArguments &a) {
    for (const char *needed : {"--octane", "--rpm", "--ivc-kpa", "--ivc-k"})
        if (sub.count(needed) == 0)
            throw InputError("spark estimate", verbatim("a job, or --octane, --rpm, --ivc-kpa and --ivc-k"),
                             std::string("no ") + needed);
    const Cylinder cylinder(a.shape);
    const KnockLimit limit = cylinder.knockLimit(a.charge, a.burn, a.at.rpm);
    Json out{{"knock_limited_deg", limitOf(limit)}, {"best_deg", bestSparkDeg(a.burn)}};
    if (limit.kind == KnockLimit::Kind::always) out["knocks_at_every_spark"] = true;
    if (sub.count("--spark-deg") > 0) {
        const CycleResult r = cylinder.cycle(a.charge, a.burn, a.at.rpm, a.sparkDeg);
        out["peak_kpa"] = r.peakKpa;
        out["work_kpa"] = r.workKpa;
        out["work_j"] = r.workJ;
        out["half_burned_deg"] = r.halfBurnedDeg;
        out["knock_integral"] = r.knockIntegral;
        out["peak_deg"] = r.peakDeg;
    }
    print(out, a.json);
    return exitGood;
}

EstimateAt askedOf(const CLI::App &sub, const EstimateArguments &a) {
    EstimateAt asked;
    const auto take = [&](const char *name, double v, std::optional<double> &to) {
        if (given(sub, name)) to = v;
    };
    take("--lambda", a.lambda, asked.lambda);
    take("--intake-c", a.intakeC, asked.intakeC);
    take("--compression", a.shape.compressionRatio, asked.compressionRatio);
    take("--spark-deg", a.sparkDeg, asked.sparkDeg);
    return asked;
}

Json describe(const SparkEstimate &e, double sigma) {
    Json out{{"knock_limited_deg", limitOf(e.knock)},
             {"best_deg", e.bestDeg},
             {"sigma_deg", sigma},
             {"spark_deg", e.sparkDeg},
             {"peak_kpa", e.cycle.peakKpa},
             {"torque_nm", e.torqueNm},
             {"knock_integral", e.cycle.knockIntegral},
             {"octane_index", e.trapped.charge.octane},
             {"ivc_kpa", e.trapped.charge.pressureKpa},
             {"ivc_k", e.trapped.charge.temperatureK},
             {"cooling_k", e.trapped.coolingK},
             {"lambda", e.breath.lambda},
             {"ve", e.breath.ve},
             {"intake_c", e.breath.intakeC}};
    if (e.knock.kind == KnockLimit::Kind::always) out["knocks_at_every_spark"] = true;
    return out;
}

Json describe(const EstimateSigma &sigma) {
    Json parts = Json::array();
    for (const EstimateSigma::Part &p : sigma.parts)
        parts.push_back({{"what", format(p.title, written())}, {"deg", p.deg}});
    return parts;
}

int estimatePoint(const CLI::App &sub, const EstimateArguments &a, const Job &job) {
    if (sub.count("--content") == 0 || sub.count("--rpm") == 0 || sub.count("--load-kpa") == 0)
        throw InputError("spark estimate",
                         verbatim("--content, --rpm and --load-kpa together, or none of them"), "not all");
    const Study study(job);
    const SparkEstimator estimator(study);
    const EstimateAt asked = askedOf(sub, a);
    const EstimateSigma sigma = estimateSigma(estimator, job, a.at);
    Json out = describe(estimator.at(a.at, asked), sigma.deg);
    out["sigma_parts"] = describe(sigma);
    print(out, a.json);
    return exitGood;
}

Json rowsOf(const EstimateTable &t, const std::vector<double> &values, bool knock) {
    Json rows = Json::array();
    for (std::size_t y = 0; y < t.loadKpa.size(); ++y) {
        Json row = Json::array();
        for (std::size_t x = 0; x < t.rpm.size(); ++x) {
            const std::size_t i = y * t.rpm.size() + x;
            row.push_back(knock && !t.knocks[i] ? Json(nullptr) : Json(values[i]));
        }
        rows.push_back(std::move(row));
    }
    return rows;
}

int estimateTables(const EstimateArguments &a, const Job &job) {
    std::vector<double> contents = a.contents;
    if (contents.empty()) contents = {job.calibration.baseContent, job.calibration.topContent};
    if (a.apply) {
        JobEdit edit(a.job, true);
        edit.commit(withEstimatedCeilings(Study(edit.before()), contents), "Estimate spark",
                    CellOrigin::estimated);
        print({{"job", a.job}, {"contents", contents}}, a.json);
        return exitGood;
    }
    const Study study(job);
    Json tables = Json::array();
    for (const double content : contents) {
        const EstimateTable t = estimateTable(study, content);
        tables.push_back({{"content", t.content},
                          {"sigma_deg", t.sigmaDeg},
                          {"rpm", t.rpm.points()},
                          {"load_kpa", t.loadKpa.points()},
                          {"knock_limited_deg", rowsOf(t, t.knockDeg, true)},
                          {"best_deg", rowsOf(t, t.bestDeg, false)}});
    }
    print({{"tables", tables}}, a.json);
    return exitGood;
}

int estimateSpark(const CLI::App &sub, const EstimateArguments &a) {
    if (a.job.empty()) return bareCylinder(sub, a);
    const Job job = loadJob(a.job);
    const bool point = sub.count("--content") + sub.count("--rpm") + sub.count("--load-kpa") > 0;
    return point ? estimatePoint(sub, a, job) : estimateTables(a, job);
}

int worth(const EstimateArguments &a, const CLI::App &sub) {
    const Job job = loadJob(a.job);
    const Study study(job);
    const FuelWorth w = fuelWorth(study, a.at, askedOf(sub, a));
    Json lines = Json::array();
    for (const WorthLine &line : w.lines)
        lines.push_back({{"what", line.id},
                         {"title", format(line.working.title, written())},
                         {"deg", line.degrees},
                         {"kpa", line.kpa}});
    print({{"base_deg", limitOf(w.base.knock)},
           {"knock_limited_deg", limitOf(w.here.knock)},
           {"best_deg", w.here.bestDeg},
           {"sigma_deg", w.sigmaDeg},
           {"deg_per_kpa", w.degPerKpa},
           {"lines", lines}},
          a.json);
    return exitGood;
}

int shape(const EstimateArguments &a) {
    Job job;
    if (a.apply) {
        JobEdit edit(a.job, true);
        job = edit.before();
        takeKnockShape(job);
        edit.commit(job, "Let spark follow the estimated knock limit", CellOrigin::estimated);
    } else {
        job = loadJob(a.job);
    }
    const std::optional<KnockShares> s = knockShares(Study(job));
    if (!s)
        throw InputError(a.job, verbatim("two fuels that the estimate tells apart by a degree or more"),
                         "less than a degree");
    print({{"rpm", s->at.rpm},
           {"load_kpa", s->at.loadKpa},
           {"contents", s->contents},
           {"shares", s->shares},
           {"middle_content", s->middleContent},
           {"middle_share", s->middle},
           {"middle_without_sensitivity", s->withoutSensitivity},
           {"middle_without_cooling", s->withoutCooling},
           {"middle_mole_fraction", s->moleFraction}},
          a.json);
    return exitGood;
}

void addPlace(CLI::App *sub, EstimateArguments &a, bool required) {
    CLI::Option *content = addNumber(sub, "--content", a.at.content, fraction(), "Alcohol");
    CLI::Option *rpm =
        addNumber(sub, "--rpm", a.at.rpm, between(100, 25000, Dimension::engineSpeed), "Engine speed");
    CLI::Option *load = addNumber(sub, "--load-kpa", a.at.loadKpa, between(5, 1000, Dimension::pressure),
                                  "Manifold pressure, absolute");
    for (CLI::Option *option : {content, rpm, load})
        option->required(required);
    addNumber(sub, "--lambda", a.lambda, between(0.5, 1.5, Dimension::mixture),
              "Instead of the job's target");
    addNumber(sub, "--intake-c", a.intakeC, between(-40, 150, Dimension::temperature),
              "Instead of the job's usual intake air");
}

} // namespace

void addSparkCommand(CLI::App &app, int &exitCode) {
    CLI::App *spark =
        app.add_subcommand("spark", "Spark that a fuel stands, estimated by the physics of one cylinder");
    spark->require_subcommand(1);

    CLI::App *estimate = spark->add_subcommand(
        "estimate",
        "Knock-limited and best spark: of a job at a place or in every cell, or of a bare cylinder "
        "without a job. An estimate, which evidence overrules");
    auto a = std::make_shared<EstimateArguments>();
    estimate->add_option("job", a->job,
                         "Job file; without it the arguments say a bare cylinder without wall loss");
    addPlace(estimate, *a, false);
    addNumber(
        estimate, "--spark-deg", a->sparkDeg,
        between(latestSparkTried, earliestSparkTried, Dimension::sparkAngle),
        "Spark that pressure, work and torque are worked out at; of a job otherwise the lesser of both");
    addNumbers(estimate, "--contents", a->contents, fraction(),
               "Tables at these contents; otherwise base and top");
    estimate->add_flag("--apply", a->apply,
                       "Put the tables into the job, as ceilings and best spark of origin estimate");
    addNumber(estimate, "--compression", a->shape.compressionRatio, like("engine.compression_ratio"),
              "Compression ratio");
    addNumber(estimate, "--rod-ratio", a->shape.rodRatio, like("engine.rod_ratio"), "Rod over crank radius")
        ->capture_default_str();
    addNumber(estimate, "--cylinder-l", a->shape.displacementL, between(0.01, 5, Dimension::displacement),
              "One cylinder")
        ->capture_default_str();
    addNumber(estimate, "--ivc-deg", a->shape.closedDeg, between(-180, -1), "Intake valve closes, before 0")
        ->capture_default_str();
    addNumber(estimate, "--evo-deg", a->shape.openDeg, between(1, 180), "Exhaust valve opens, after 0")
        ->capture_default_str();
    addNumber(estimate, "--ivc-kpa", a->charge.pressureKpa, between(5, 2000, Dimension::pressure),
              "Pressure when it closes, absolute");
    addNumber(estimate, "--ivc-k", a->charge.temperatureK, between(200, 800), "Temperature then, K");
    addNumber(estimate, "--octane", a->charge.octane, between(20, 200, Dimension::octane), "Octane number");
    addNumber(estimate, "--delay-deg", a->burn.delayDeg, between(0, 60), "Ignition delay")
        ->capture_default_str();
    addNumber(estimate, "--burn-deg", a->burn.durationDeg, between(5, 200), "Length of the burn")
        ->capture_default_str();
    addNumber(estimate, "--heat-kj-kg", a->charge.heatKjKg, between(0, 5000), "Heat of the charge")
        ->capture_default_str();
    estimate->add_flag("--json", a->json, "Print JSON");
    estimate->callback([a, estimate, &exitCode] {
        const std::initializer_list<const char *> bare{
            "--rod-ratio", "--cylinder-l", "--ivc-deg",   "--evo-deg",  "--ivc-kpa",
            "--ivc-k",     "--octane",     "--delay-deg", "--burn-deg", "--heat-kj-kg"};
        if (a->job.empty())
            refuseOptions(*estimate,
                          {"--content", "--load-kpa", "--lambda", "--intake-c", "--contents", "--apply"},
                          verbatim("a job beside it"));
        else
            refuseOptions(*estimate, bare, verbatim("a job, which says it, or it"));
        const bool point =
            estimate->count("--content") + estimate->count("--rpm") + estimate->count("--load-kpa") > 0;
        if (!a->job.empty() && point)
            refuseOptions(*estimate, {"--contents", "--apply"}, verbatim("one place, or it"));
        else if (!a->job.empty())
            refuseOptions(*estimate, {"--lambda", "--intake-c", "--spark-deg", "--compression"},
                          verbatim("--content, --rpm and --load-kpa beside it"));
        exitCode = estimateSpark(*estimate, *a);
    });

    auto w = std::make_shared<EstimateArguments>();
    CLI::App *value = spark->add_subcommand(
        "worth", "What a fuel is worth at a place against the job's base fuel, in degrees and in kPa");
    value->add_option("job", w->job, "Job file")->required();
    addPlace(value, *w, true);
    addNumber(value, "--compression", w->shape.compressionRatio, like("engine.compression_ratio"),
              "Instead of the job's");
    value->add_flag("--json", w->json, "Print JSON");
    value->callback([w, value, &exitCode] { exitCode = worth(*w, *value); });

    auto s = std::make_shared<EstimateArguments>();
    CLI::App *curve = spark->add_subcommand(
        "shape",
        "Share of the spark between base and top fuel that each content gives, by the estimated knock limit");
    curve->add_option("job", s->job, "Job file")->required();
    curve->add_flag("--apply", s->apply, "Make it the job's own weight curve of spark");
    curve->add_flag("--json", s->json, "Print JSON");
    curve->callback([s, &exitCode] { exitCode = shape(*s); });
}

} // namespace wheelwright
