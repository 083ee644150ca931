// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/channel_role.h"

#include <string>
#include <vector>

namespace wheelwright {

struct Job;

/// How the content of a whole log is known, where its samples do not say it by themselves.
enum class ContentBasis {
    none,    ///< nobody has said it, and no channel reads it
    channel, ///< mean of the log's own channel
    stated   ///< by the user
};

/// What a job knows of a log: all but its samples, which lie beside the job in the same file and are never
/// changed (store/sample_store.h).
struct LogInfo {
    std::string id;          ///< names its samples by what they are: hexadecimal digits
    std::string name;        ///< of the file that it came from
    std::string sourceHash;  ///< XXH3, 128 bits, of that file
    std::string added;       ///< ISO 8601
    std::string revision;    ///< that it ran with; empty: what the calibration was when it came in
    std::string calibration; ///< fingerprint of that state (calibrationPrint())
    double content = 0;      ///< mean, volume fraction
    ContentBasis contentBasis = ContentBasis::none;
    double rows = 0; ///< of the file
    double beginS = 0, endS = 0;
    std::string note;
    std::string warnings; ///< of its import, a line each

    bool operator==(const LogInfo &) const = default;
};

enum class ChannelKind {
    number,
    clock, ///< seconds, ascending
    words  ///< text: samples are places in `texts`, from 0
};

/// Against what a pressure was measured.
enum class PressureReference { notSaid, absolute, gauge };

/// One channel of a log. Samples are kept as the file has them; what they mean is said here and can be put
/// right later: internal = sample × scale + offset.
struct LogChannel {
    std::string log;  ///< id
    std::string name; ///< as its file calls it
    ChannelRole role = ChannelRole::none;
    std::string unit; ///< as its file writes it
    PressureReference reference = PressureReference::notSaid;
    double scale = 1, offset = 0;
    ChannelKind kind = ChannelKind::number;
    double series = 0; ///< place of its samples in the log, from 0
    double clock = 0;  ///< series that says when they were taken
    std::string
        formula; ///< by which its samples were worked out when the log came in; empty: the file has them
    std::string texts; ///< a line each
    // Of the samples as they are kept, before scale and offset.
    double samples = 0; ///< that are there
    double missing = 0; ///< times of its clock at which there is none
    double least = 0, most = 0, mean = 0;

    double internal(double sample) const { return sample * scale + offset; }

    bool operator==(const LogChannel &) const = default;
};

/// nullptr where the job has no such log.
const LogInfo *logById(const Job &job, std::string_view id);
/// In the order of the job; pointers hold until the job is changed.
std::vector<const LogChannel *> channelsOf(const Job &job, std::string_view id);

/// Removes a log and its channels. Throws InputError where there is none.
void removeLog(Job &job, std::string_view id);

/// The user says what fuel a log ran on; throw InputError where there is no such log, or for no share.
void stateContent(Job &job, std::string_view id, double content);
/// It is again what the log's own channel says, or not known.
void unstateContent(Job &job, std::string_view id);

/// 16 hexadecimal digits that stand for a calibration: of two states they differ, but for one in 10^19. Of
/// stateOf() (revision.h) without origins, notes and locks, which no engine knows of; by
/// fingerprint().
std::string calibrationPrint(std::string_view state);

} // namespace wheelwright
