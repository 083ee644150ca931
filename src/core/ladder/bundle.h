// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/channel_role.h"
#include "core/job/revision.h"
#include "core/ladder/ladder_status.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// One file of a bundle: its name in the folder, with forward slashes, and its bytes.
struct BundleFile {
    std::string name, bytes;
};

// What stands in a bundle's folder. What somebody has read out of a controller comes back in a folder of its
// own, so that what was sent is never taken for it.
inline constexpr std::string_view bundleHeadName = "bundle.json", bundleReadMeName = "read-me.txt",
                                  bundleMessageName = "message.txt", bundleSettingsName = "settings.json",
                                  bundleTablesFolder = "tables", bundleBackFolder = "back";

/// What a calibration that goes to somebody far away says of itself.
struct BundleHead {
    std::string job, revision; ///< names
    std::string calibration;   ///< its fingerprint (calibrationPrint()): logs that come back are tied by it
    std::string made;          ///< ISO 8601
    std::string rung;          ///< id of what it is for; empty: none
    std::string note;

    bool operator==(const BundleHead &) const = default;
};

/// A channel that a log should hold, and for what.
struct WantedChannel {
    ChannelRole role;
    PhraseText purpose; ///< the gate that asks for it
    bool must = false;  ///< without it nothing can be said of a pull at all
};
/// For the gates of a rung with pulls, by what the job has.
std::vector<WantedChannel> wantedChannels(const Job &job);

/// Keeps the calibration as it is as a revision that was sent, and returns its name: of one that holds the
/// same already, unless another name is given. Throws InputError for a name that another revision has.
std::string keepSent(Job &job, const std::string &name, const std::string &at, const std::string &note);

/// What says which calibration something that came back belongs to.
struct BundleTie {
    std::string revision; ///< name; empty: nothing says it, and somebody must be asked
    bool asked = false;   ///< somebody said so; nothing else did
};
/// By the head of its bundle, by the names of its logs, and by what somebody says (`named`, may be empty).
/// Throws InputError where two of these are of different calibrations, or of one that this job has not got.
BundleTie tieOf(const Job &job, const std::optional<BundleHead> &head,
                const std::vector<std::string> &logNames, const std::string &named);
/// Revisions that were sent, "First, Second".
std::string sentRevisions(const Job &job);

/// The revision whose fingerprint this is; nullptr: none of this job.
const Revision *revisionOf(const Job &job, std::string_view calibration);
/// The revision that is named in full by a text, such as the name of a file, with its fingerprint; nullptr.
const Revision *revisionNamedIn(const Job &job, std::string_view text);

/// What came back of a calibration, held against what was sent.
struct ReadBack {
    std::vector<std::string> compared; ///< paths that came back
    std::vector<Phrase> missing;       ///< guarded settings and tables that did not: not judged
    std::vector<Difference> changed;
    bool alarm() const; ///< a guarded setting came back as another
};
/// sent, back: the job with either. compared: paths that somebody read back.
ReadBack readBackOf(const Job &sent, const Job &back, std::vector<std::string> compared);

/// Green, amber or red of all that came back: red where anything came back changed or a gate failed; amber
/// where something was not read back or not judged. status: nullptr: no rung was asked.
RungLight lightOf(const ReadBack &back, const RungStatus *status);

} // namespace wheelwright
