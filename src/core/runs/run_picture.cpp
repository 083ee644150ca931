// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/runs/run_picture.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace wheelwright {
namespace {

constexpr std::array drawnLanes{ChannelRole::map, ChannelRole::lambda, ChannelRole::spark};

void addLines(RunPicture &to, const std::vector<SeenRun> &runs, const MeasuredRuns &of, bool after) {
    for (std::size_t i = 0; i < runs.size(); ++i) {
        RunPicture::Line line{runs[i], {}, after};
        if (of[i]->run.contentBasis != RunContentBasis::none) line.content = of[i]->run.content;
        to.lines.push_back(std::move(line));
    }
}

template <class Of>
std::optional<double> meanOfSide(const RunPicture &p, bool after, Of of) {
    double sum = 0, count = 0;
    for (const RunPicture::Line &l : p.lines)
        if (const double v = l.after == after ? of(l.run) : std::nan(""); std::isfinite(v)) {
            sum += v;
            ++count;
        }
    return count > 0 ? std::optional(sum / count) : std::nullopt;
}

// "from to": one where only one side is there.
void addPair(std::vector<Phrase> &to, PhraseText title, std::optional<double> before,
             std::optional<double> after, Dimension dimension, int decimals) {
    if (!before && !after) return;
    const Phrase name(title);
    if (before && after)
        to.push_back({MARKED("runs.read.pair", "{A} {0} → {1}"),
                      {{*before, dimension, decimals}, {*after, dimension, decimals}},
                      {},
                      {name}});
    else
        to.push_back({MARKED("runs.read.one", "{A} {0}"),
                      {{before ? *before : *after, dimension, decimals}},
                      {},
                      {name}});
}

} // namespace

std::vector<ChannelRole> RunPicture::lanes() const {
    std::vector<ChannelRole> out;
    for (const ChannelRole role : drawnLanes)
        if (std::ranges::any_of(lines, [role](const Line &l) { return l.run.lanes.contains(role); }))
            out.push_back(role);
    return out;
}

std::vector<double> RunPicture::meanKw(bool after) const {
    std::vector<double> out;
    for (std::size_t k = 0; k < rpm.size(); ++k)
        if (const auto mean = meanOfSide(*this, after, [k](const SeenRun &s) { return s.powerKw[k]; }))
            out.push_back(*mean);
    return out;
}

RunPicture::Reading RunPicture::at(double atRpm) const {
    const auto nearest = std::ranges::min_element(rpm, {}, [atRpm](double v) { return std::abs(v - atRpm); });
    const auto k = static_cast<std::size_t>(nearest - rpm.begin());
    Reading r;
    r.rpm = *nearest;
    const auto power = [k](const SeenRun &s) { return s.powerKw[k]; };
    const auto torque = [k](const SeenRun &s) { return s.torqueNm[k]; };
    r.beforeKw = meanOfSide(*this, false, power);
    r.afterKw = meanOfSide(*this, true, power);
    r.beforeNm = meanOfSide(*this, false, torque);
    r.afterNm = meanOfSide(*this, true, torque);
    if (!gainKw.empty()) r.gainKw = gainKw[k];
    for (const ChannelRole role : lanes()) {
        const auto lane = [&](const SeenRun &s) {
            const auto at = s.lanes.find(role);
            return at == s.lanes.end() ? std::nan("") : at->second[k];
        };
        r.lanes.push_back({role, meanOfSide(*this, false, lane), meanOfSide(*this, true, lane)});
    }
    return r;
}

Phrase RunPicture::Reading::words() const {
    std::vector<Phrase> parts{{MARKED("runs.read.rpm", "{0}"), {{rpm, Dimension::engineSpeed}}}};
    if (gainKw) {
        const Measured gain{gainKw->mean, Dimension::power, 1};
        parts.push_back(gainKw->judged()
                            ? Phrase{MARKED("runs.read.gain", "gain {0} ± {1}"),
                                     {gain, {gainKw->halfWidth(), Dimension::power, 1}}}
                            : Phrase{MARKED("runs.read.gain_alone", "gain {0}, not judged"), {gain}});
    }
    addPair(parts, MARKED("runs.read.power", "power"), beforeKw, afterKw, Dimension::power, 1);
    addPair(parts, MARKED("runs.read.torque", "torque"), beforeNm, afterNm, Dimension::torque, 0);
    for (const Lane &l : lanes)
        addPair(parts, definitionOf(l.role).title, l.before, l.after, definitionOf(l.role).dimension, -1);
    return listed(parts);
}

RunPicture pictureOf(const RunComparison &c, const MeasuredRuns &before, const MeasuredRuns &after) {
    RunPicture p;
    p.rpm = c.rpm;
    p.gainKw = c.gainKw;
    addLines(p, c.before, before, false);
    addLines(p, c.after, after, true);
    return p;
}

RunPicture pictureOf(const MeasuredRuns &runs, bool after, const RunViewing &how) {
    SeenRuns view = seen(runs, how);
    RunPicture p;
    p.rpm = std::move(view.rpm);
    addLines(p, view.runs, runs, after);
    return p;
}

} // namespace wheelwright
