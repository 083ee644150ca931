// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/fuel_change_proof.h"

#include "core/base/error.h"
#include "core/base/student_t.h"
#include "core/flow/spray.h"
#include "core/study/boost_plan.h"
#include "core/study/content_tables.h"
#include "core/study/extra_tables.h"
#include "core/study/fuel_delivery.h"
#include "core/study/load_axis.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <map>
#include <optional>

namespace wheelwright {
namespace {

using R = ChannelRole;
using Q = CalibratedQuantity;

// Means over the samples of one place of one log: what was, and what was asked for there.
struct AtPlace {
    double measured = 0, expected = 0, count = 0;
    void add(double m, double e) {
        ++count;
        measured += (m - measured) / count;
        expected += (e - expected) / count;
    }
};
using Places = std::map<std::pair<std::size_t, std::size_t>, AtPlace>;

// How two means of a place make a move: a difference, or a share.
using Move = std::function<double(double from, double to)>;
double difference(double from, double to) {
    return to - from;
}
double share(double from, double to) {
    return to / from - 1;
}

void compare(FuelMove &move, const Places &from, const Places &to, double least, const Move &moved) {
    std::vector<double> residuals;
    for (const auto &[place, a] : from) {
        const auto b = to.find(place);
        if (b == to.end() || a.count < least || b->second.count < least) continue;
        const double measured = moved(a.measured, b->second.measured),
                     expected = moved(a.expected, b->second.expected);
        move.measured += measured;
        move.expected += expected;
        residuals.push_back(measured - expected);
    }
    move.places = static_cast<int>(residuals.size());
    constexpr int fewest = 3; // places, to know a scatter
    if (move.places < fewest) {
        move.measured = move.expected = 0;
        move.why = MARKED("fuel_move.few_places", "both logs have been in too few of the same places");
        return;
    }
    const double n = static_cast<double>(residuals.size());
    move.measured /= n;
    move.expected /= n;
    move.residual = move.measured - move.expected;
    double squares = 0;
    for (const double r : residuals)
        squares += (r - move.residual) * (r - move.residual);
    move.sigma = std::sqrt(squares / (n - 1) / n);
    move.verdict = judgeResidual(move.residual, move.around(), move.tolerance);
}

class Prover {
  public:
    Prover(const Study &study, const LogReview &a, const LogReview &b, const FuelSampleOptions &options)
        : m_study(study), m_job(study.job()), m_options(options), m_cells(study),
          m_least(limitOf(study.job(), "evidence.least_hits")) {
        m_logs = {&a, &b};
        for (const LogReview *log : m_logs)
            if (!log->content().known)
                throw InputError(log->info().name,
                                 MARKED("expected.known_content", "a log of a known content"),
                                 Phrase(MARKED("found.content_unknown", "nobody knows it")));
        // Each counts against its own tables; what those were must be known.
        const auto tablesKnown = [](const LogReview &log) { return !log.asked(Q::spark).empty(); };
        m_out.twoCalibrations = a.info().calibration != b.info().calibration;
        if (m_out.twoCalibrations && !(tablesKnown(a) && tablesKnown(b)))
            throw InputError(
                "logs",
                MARKED("expected.known_calibrations",
                       "two logs of one calibration, or of calibrations that are both kept as revisions"),
                Phrase{MARKED("found.two_calibrations", "{a} and {b} ran with different ones"),
                       {},
                       {a.info().name, b.info().name}});
        if (a.content().mean > b.content().mean) std::swap(m_logs[0], m_logs[1]);
        m_out.fromContent = m_logs[0]->content().mean;
        m_out.toContent = m_logs[1]->content().mean;
        m_out.fromLog = m_logs[0]->info().id;
        m_out.toLog = m_logs[1]->info().id;
        const double window = limitOf(m_job, "evidence.content_window");
        if (m_out.toContent - m_out.fromContent < window)
            throw InputError(
                "logs",
                Phrase{MARKED("expected.contents_apart", "contents {0} apart at least"),
                       {{window, Dimension::contentDifference}}},
                Phrase{MARKED("found.contents_of_both", "{0} and {1}"),
                       {{m_out.fromContent, Dimension::content}, {m_out.toContent, Dimension::content}}});
    }

    FuelChangeProof prove() {
        fuel();
        spark();
        boost();
        solenoid();
        spray();
        portInjection();
        return std::move(m_out);
    }

  private:
    FuelMove &begin(std::string_view id, PhraseText title, Dimension dimension, double tolerance) {
        FuelMove &m = m_out.moves.emplace_back();
        m.quantity = id;
        m.title = title;
        m.dimension = dimension;
        m.tolerance = tolerance;
        return m;
    }

    bool need(FuelMove &move, std::initializer_list<R> roles) {
        for (const LogReview *log : m_logs)
            for (const R role : roles)
                if (!log->trace().has(role)) {
                    move.why = Phrase{MARKED("fuel_move.no_channel", "{a} has no channel: {A}"),
                                      {},
                                      {log->info().name},
                                      {definitionOf(role).title}};
                    return false;
                }
        return true;
    }

    std::pair<std::size_t, std::size_t> placeOf(double rpm, double load) const {
        return {m_cells.load().nearest(load), m_cells.rpm().nearest(rpm)};
    }

    // What the engine needed moves as what the tables gave: λ stays where it was asked for.
    void fuel() {
        FuelMove &move = begin("fuel", MARKED("fuel_move.fuel", "Fuel"), Dimension::ratio,
                               limitOf(m_job, "lambda.model.tolerance"));
        if (!need(move, {R::lambda, R::map})) return;
        std::array<Places, 2> places;
        for (std::size_t l = 0; l < 2; ++l) {
            const Study &ran = m_logs[l]->study();
            const std::vector<std::shared_ptr<const LogReview>> one{
                std::shared_ptr<const LogReview>(std::shared_ptr<void>(), m_logs[l])};
            const FuelSamples samples = fuelSamples(ran, one, m_options);
            if (!samples.logs[0].used) {
                move.why = samples.logs[0].why;
                return;
            }
            const double content = m_logs[l]->content().mean;
            const InjectorDemand demand(ran.job(), content, ran.job().conditions.intakeUsualC);
            const Table2D table = ran.blended(Q::fuel, content), lambda = ran.blended(Q::lambda, content);
            for (const FuelSample &s : samples.samples) {
                if (s.supplyAtEnd) continue;
                const double target = lambda.lookup(s.rpm, s.load).value;
                const double given =
                    demand.mm3(table.lookup(s.rpm, s.load).value, {s.rpm, s.loadKpa}, target);
                places[l][placeOf(s.rpm, s.loadKpa)].add(given * (1 + s.error), given);
            }
        }
        compare(move, places[0], places[1], m_least, share);
    }

    // Clean samples with what the calibration asks for there.
    void spark() {
        FuelMove &move = begin("spark", MARKED("fuel_move.spark", "Spark"), Dimension::sparkAngle,
                               limitOf(m_job, "watch.spark"));
        if (!need(move, {R::spark, R::map})) return;
        std::array<Places, 2> places;
        for (std::size_t l = 0; l < 2; ++l) {
            const LogReview &log = *m_logs[l];
            if (log.asked(Q::spark).empty()) {
                move.why = MARKED("fuel_move.no_tables", "the calibration that they ran with is not kept");
                return;
            }
            for (std::size_t i = 0; i < log.trace().size(); ++i) {
                const double spark = log.trace().at(R::spark, i), asked = log.asked(Q::spark)[i];
                if (log.cleaned().kept[i] && spark == spark && asked == asked)
                    places[l][placeOf(log.trace().at(R::rpm, i), log.trace().at(R::map, i))].add(spark,
                                                                                                 asked);
            }
        }
        compare(move, places[0], places[1], m_least, difference);
    }

    // By speed, where a pull has the throttle open.
    template <class Add>
    std::array<Places, 2> inPulls(Add add) const {
        std::array<Places, 2> places;
        constexpr double open = 0.9;
        for (std::size_t l = 0; l < 2; ++l) {
            const LogReview &log = *m_logs[l];
            for (std::size_t i = 0; i < log.trace().size(); ++i) {
                const double throttle = log.trace().at(R::throttle, i), rpm = log.trace().at(R::rpm, i);
                if (!log.watched().inPull(i) || log.watched().fuelCut(i) || !(throttle >= open)) continue;
                add(log, i, places[l][{0, m_cells.rpm().nearest(rpm)}]);
            }
        }
        return places;
    }

    void boost() {
        FuelMove &move = begin("boost", MARKED("fuel_move.boost", "Boost"), Dimension::pressureDifference,
                               limitOf(m_job, "boost.overshoot"));
        if (!need(move, {R::map, R::throttle})) return;
        const auto places = inPulls([](const LogReview &log, std::size_t i, AtPlace &to) {
            const double target = log.watched().boostTarget(i), map = log.trace().at(R::map, i);
            if (target == target && map == map) to.add(map, target);
        });
        compare(move, places[0], places[1], m_least, difference);
    }

    // Expected by a table of duty, else by the curve of logged boost over duty.
    std::optional<double> dutyAt(const LogReview &log, std::size_t i) const {
        const double target = log.watched().boostTarget(i), rpm = log.trace().at(R::rpm, i),
                     content = log.watched().contentAt(i);
        if (target != target || content != content) return {};
        if (const ExtraTable *table = extraInUse(m_job, TableKind::solenoidDuty))
            return table->table.lookup(rpm, target).value;
        const BoostGroup *group = boostGroupFor(m_groups, 0, content);
        if (!group || !group->fit) return {};
        return std::clamp(dutyFor(*group->fit, target - m_job.conditions.ambientKpa), 0.0, 1.0);
    }

    void solenoid() {
        FuelMove &move = begin("solenoid", MARKED("fuel_move.solenoid", "Boost solenoid"), Dimension::ratio,
                               limitOf(m_job, "boost.step.duty"));
        if (!need(move, {R::solenoidDuty, R::throttle})) return;
        m_groups = boostGroups(m_job);
        if (!extraInUse(m_job, TableKind::solenoidDuty) && !boostGroupFor(m_groups, 0, m_out.fromContent)) {
            move.why =
                MARKED("fuel_move.no_duty", "the job has neither a table of duty nor logged boost over duty");
            return;
        }
        const auto places = inPulls([this](const LogReview &log, std::size_t i, AtPlace &to) {
            const double duty = log.trace().at(R::solenoidDuty, i);
            if (const std::optional<double> expected = dutyAt(log, i); expected && duty == duty)
                to.add(duty, *expected);
        });
        compare(move, places[0], places[1], m_least, difference);
    }

    void spray() {
        if (!m_job.aux.fitted) return; // nothing to ask
        constexpr double tenth = 0.1;
        FuelMove &move = begin("spray", MARKED("fuel_move.spray", "Spray"), Dimension::volumeFlow,
                               tenth * sprayFlowCcMin(m_job.aux.spray));
        if (!need(move, {R::sprayFlow, R::map, R::throttle})) return;
        const auto places = inPulls([this](const LogReview &log, std::size_t i, AtPlace &to) {
            const double flow = log.trace().at(R::sprayFlow, i), map = log.trace().at(R::map, i);
            if (flow == flow && map == map) to.add(flow, sprayFlowAt(m_job.aux.spray, map));
        });
        compare(move, places[0], places[1], m_least, difference);
    }

    // Asked wherever somebody has tables of it or a log has the channel.
    void portInjection() {
        const ContentTables shares(m_job, TableKind::portShare);
        const bool logged =
            std::ranges::any_of(m_logs, [](const LogReview *log) { return log->trace().has(R::portShare); });
        if (shares.empty() && !logged) return;
        constexpr double tenth = 0.1;
        FuelMove &move =
            begin("port_injection", MARKED("fuel_move.port_injection", "Share of port injection"),
                  Dimension::ratio, tenth);
        if (!need(move, {R::portShare, R::map})) return;
        if (shares.empty()) {
            move.why =
                MARKED("fuel_move.no_port_tables", "the job has no table of the share of port injection");
            return;
        }
        std::array<Places, 2> places;
        for (std::size_t l = 0; l < 2; ++l) {
            const LogReview &log = *m_logs[l];
            for (std::size_t i = 0; i < log.trace().size(); ++i) {
                const double share = log.trace().at(R::portShare, i), rpm = log.trace().at(R::rpm, i),
                             load = log.trace().at(R::map, i), content = log.watched().contentAt(i);
                if (log.cleaned().kept[i] && share == share && content == content)
                    places[l][placeOf(rpm, load)].add(share, shares.at({content, rpm, load}));
            }
        }
        compare(move, places[0], places[1], m_least, difference);
    }

    const Study &m_study;
    const Job &m_job;
    const FuelSampleOptions &m_options;
    Coverage m_cells;
    double m_least;
    std::array<const LogReview *, 2> m_logs{};
    std::vector<BoostGroup> m_groups;
    FuelChangeProof m_out;
};

} // namespace

double FuelMove::around() const {
    return places > 1 ? studentReach(0.95, places - 1) * sigma : 0;
}

bool FuelChangeProof::all(MoveVerdict verdict) const {
    return std::ranges::all_of(moves, [verdict](const FuelMove &m) { return m.verdict == verdict; });
}
bool FuelChangeProof::any(MoveVerdict verdict) const {
    return std::ranges::any_of(moves, [verdict](const FuelMove &m) { return m.verdict == verdict; });
}

bool FuelChangeProof::holds() const {
    const auto known = [this](std::string_view quantity) {
        return std::ranges::any_of(moves, [&](const FuelMove &m) {
            return m.quantity == quantity && m.verdict == MoveVerdict::asExpected;
        });
    };
    return !any(MoveVerdict::off) && known("fuel") && known("spark");
}

FuelChangeProof proveFuelChange(const Study &study, const LogReview &a, const LogReview &b,
                                const FuelSampleOptions &options) {
    return Prover(study, a, b, options).prove();
}

} // namespace wheelwright
