// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/logs.h"

#include "core/base/error.h"
#include "core/base/fingerprint.h"
#include "core/job/describe.h"

#include <algorithm>
#include <cstdint>

namespace wheelwright {
namespace {

using D = Dimension;

constexpr std::size_t mostLogs = 500, mostChannels = 20000;
constexpr double mostSamples = 1e12, anyNumber = 1e300;

std::vector<std::string> roleKeys() {
    std::vector<std::string> keys;
    for (const ChannelRoleDefinition &d : allChannelRoles())
        keys.emplace_back(d.key);
    return keys;
}

std::vector<PhraseText> roleTitles() {
    std::vector<PhraseText> titles;
    for (const ChannelRoleDefinition &d : allChannelRoles())
        titles.push_back(d.title);
    return titles;
}

RecordList logList() {
    const auto log = listOf<LogInfo>([](auto &j) -> auto & { return j.logs; });
    return referred(
        MARKED("evidence.logs.what", "the id of a log"),
        log.list(
            MARKED("evidence.logs", "Logs"), mostLogs,
            {log.field(MARKED("evidence.logs.id", "Id"), &LogInfo::id,
                       MARKED("evidence.logs.id.help", "Names its samples by what they are.")),
             log.field(MARKED("evidence.logs.name", "Log"), &LogInfo::name,
                       MARKED("evidence.logs.name.help", "The file that it came from.")),
             log.field(MARKED("evidence.logs.source_hash", "Hash"), &LogInfo::sourceHash,
                       MARKED("evidence.logs.source_hash.help", "XXH3 of 128 bits of that file.")),
             log.date(MARKED("evidence.logs.added", "Came in"), &LogInfo::added,
                      MARKED("evidence.logs.added.help", "ISO 8601.")),
             log.field(MARKED("evidence.logs.revision", "Ran with"), &LogInfo::revision,
                       MARKED("evidence.logs.revision.help",
                              "A revision's name; empty: the calibration as it was when the log came in.")),
             log.field(MARKED("evidence.logs.calibration", "Calibration"), &LogInfo::calibration,
                       MARKED("evidence.logs.calibration.help", "Fingerprint of that state.")),
             log.number(MARKED("evidence.logs.content", "Content"), D::content, 0, 1, &LogInfo::content,
                        MARKED("evidence.logs.content.help", "Of the fuel, on the average.")),
             log.choice(MARKED("evidence.logs.content_basis", "Content by"), {"none", "channel", "stated"},
                        {MARKED("evidence.logs.content_basis.none", "Not known"),
                         MARKED("evidence.logs.content_basis.channel", "Its own channel"),
                         MARKED("evidence.logs.content_basis.stated", "Stated")},
                        &LogInfo::contentBasis,
                        MARKED("evidence.logs.content_basis.help", "How it is known.")),
             log.number(MARKED("evidence.logs.rows", "Rows"), D::count, 0, mostSamples, &LogInfo::rows,
                        MARKED("evidence.logs.rows.help", "Of the file.")),
             log.number(MARKED("evidence.logs.from_s", "From"), D::seconds, -mostSamples, mostSamples,
                        &LogInfo::beginS, MARKED("evidence.logs.from_s.help", "Its first time.")),
             log.number(MARKED("evidence.logs.to_s", "To"), D::seconds, -mostSamples, mostSamples,
                        &LogInfo::endS, MARKED("evidence.logs.to_s.help", "Its last time.")),
             log.field(MARKED("evidence.logs.note", "Note"), &LogInfo::note,
                       MARKED("evidence.logs.note.help", "Anything worth remembering.")),
             log.field(MARKED("evidence.logs.warnings", "Warnings"), &LogInfo::warnings,
                       MARKED("evidence.logs.warnings.help", "Of its import, a line each."))}));
}

RecordList channelList() {
    const auto channel = listOf<LogChannel>([](auto &j) -> auto & { return j.logChannels; });
    const auto plain = [&channel](PhraseText title, double LogChannel::*member, PhraseText help) {
        return channel.number(title, D::none, -anyNumber, anyNumber, member, help);
    };
    const auto count = [&channel](PhraseText title, double LogChannel::*member, PhraseText help) {
        return channel.number(title, D::count, 0, mostSamples, member, help);
    };
    return channel.list(
        MARKED("evidence.channels", "Channels"), mostChannels,
        {channel.reference(MARKED("evidence.channels.log", "Log"), &LogChannel::log, "evidence.logs",
                           MARKED("evidence.channels.log.help", "That it is of.")),
         channel.field(MARKED("evidence.channels.name", "Channel"), &LogChannel::name,
                       MARKED("evidence.channels.name.help", "As its file calls it.")),
         channel.choice(MARKED("evidence.channels.role", "Role"), roleKeys(), roleTitles(), &LogChannel::role,
                        MARKED("evidence.channels.role.help", "What it measures.")),
         channel.field(MARKED("evidence.channels.unit", "Unit"), &LogChannel::unit,
                       MARKED("evidence.channels.unit.help", "As its file writes it.")),
         channel.choice(MARKED("evidence.channels.reference", "Measured against"),
                        {"not_said", "absolute", "gauge"},
                        {MARKED("evidence.channels.reference.not_said", "Not said"),
                         MARKED("evidence.channels.reference.absolute", "Nothing: absolute"),
                         MARKED("evidence.channels.reference.gauge", "The surrounding air")},
                        &LogChannel::reference, MARKED("evidence.channels.reference.help", "Of pressures.")),
         plain(MARKED("evidence.channels.scale", "Scale"), &LogChannel::scale,
               MARKED("evidence.channels.scale.help",
                      "Number in the unit of the role = sample × scale + offset.")),
         plain(MARKED("evidence.channels.offset", "Offset"), &LogChannel::offset,
               MARKED("evidence.channels.offset.help", "Added after the scale.")),
         channel.choice(MARKED("evidence.channels.kind", "Kind"), {"number", "clock", "words"},
                        {MARKED("evidence.channels.kind.number", "Numbers"),
                         MARKED("evidence.channels.kind.clock", "Clock"),
                         MARKED("evidence.channels.kind.words", "Words")},
                        &LogChannel::kind, MARKED("evidence.channels.kind.help", "What its samples are.")),
         count(MARKED("evidence.channels.series", "Series"), &LogChannel::series,
               MARKED("evidence.channels.series.help", "Place of its samples in the log, from 0.")),
         count(MARKED("evidence.channels.clock", "Clock"), &LogChannel::clock,
               MARKED("evidence.channels.clock.help", "Series that says when they were taken.")),
         channel.field(MARKED("evidence.channels.formula", "Formula"), &LogChannel::formula,
                       MARKED("evidence.channels.formula.help", "Of a channel that is worked out.")),
         channel.field(MARKED("evidence.channels.texts", "Texts"), &LogChannel::texts,
                       MARKED("evidence.channels.texts.help", "Of a channel of words, a line each.")),
         count(MARKED("evidence.channels.samples", "Samples"), &LogChannel::samples,
               MARKED("evidence.channels.samples.help", "That are there.")),
         count(MARKED("evidence.channels.missing", "Missing"), &LogChannel::missing,
               MARKED("evidence.channels.missing.help", "Times of its clock without one.")),
         plain(MARKED("evidence.channels.least", "Least"), &LogChannel::least,
               MARKED("evidence.channels.least.help", "As the file has it.")),
         plain(MARKED("evidence.channels.most", "Most"), &LogChannel::most,
               MARKED("evidence.channels.most.help", "As the file has it.")),
         plain(MARKED("evidence.channels.mean", "Mean"), &LogChannel::mean,
               MARKED("evidence.channels.mean.help", "As the file has it."))});
}

} // namespace

Chapter logsChapter() {
    Chapter c;
    c.lists = {logList(), channelList()};
    c.same = [](const Job &a, const Job &b) { return a.logs == b.logs && a.logChannels == b.logChannels; };
    return c;
}

const LogInfo *logById(const Job &job, std::string_view id) {
    const auto at = std::ranges::find(job.logs.values(), id, &LogInfo::id);
    return at == job.logs.end() ? nullptr : &*at;
}

std::vector<const LogChannel *> channelsOf(const Job &job, std::string_view id) {
    std::vector<const LogChannel *> out;
    for (const LogChannel &c : job.logChannels)
        if (c.log == id) out.push_back(&c);
    return out;
}

void removeLog(Job &job, std::string_view id) {
    const std::string gone(id); // may be of a record that goes
    if (!logById(job, gone))
        throw InputError("log", MARKED("expected.id_of_log", "the id of a log of this job"),
                         "'" + echoed(gone, 40) + "'");
    job.logChannels.eraseIf([&gone](const LogChannel &c) { return c.log == gone; });
    job.logs.eraseIf([&gone](const LogInfo &l) { return l.id == gone; });
}

namespace {

LogInfo &logIn(Job &job, std::string_view id) {
    for (std::size_t i = 0; i < job.logs.size(); ++i)
        if (job.logs.values()[i].id == id) return job.logs[i];
    throw InputError("log", MARKED("expected.id_of_log", "the id of a log of this job"),
                     "'" + echoed(std::string(id), 40) + "'");
}

} // namespace

void stateContent(Job &job, std::string_view id, double content) {
    if (!(content >= 0 && content <= 1))
        throw InputError("content", MARKED("expected.content_share", "a content from 0 to 100 %"),
                         exactly(content));
    LogInfo &log = logIn(job, id);
    log.content = content;
    log.contentBasis = ContentBasis::stated;
}

void unstateContent(Job &job, std::string_view id) {
    LogInfo &log = logIn(job, id);
    log.content = 0;
    log.contentBasis = ContentBasis::none;
    for (const LogChannel *c : channelsOf(job, id))
        if (c->role == ChannelRole::ethanol && c->samples > 0) {
            log.content = std::clamp(c->internal(c->mean), 0.0, 1.0);
            log.contentBasis = ContentBasis::channel;
        }
}

std::string calibrationPrint(std::string_view state) {
    std::string heeded; // what the engine runs on
    while (!state.empty()) {
        const std::size_t end = std::min(state.find('\n'), state.size() - 1) + 1;
        const std::string_view line = state.substr(0, end);
        if (!line.starts_with("calibration.origins") && !line.starts_with("calibration.cell_marks"))
            heeded += line;
        state.remove_prefix(end);
    }
    std::uint64_t hash = fingerprint(heeded);
    constexpr std::size_t digits = 16;
    std::string out(digits, '0');
    for (std::size_t i = digits; i-- > 0; hash >>= 4)
        out[i] = "0123456789abcdef"[hash & 0xF];
    return out;
}

} // namespace wheelwright
