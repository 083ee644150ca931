// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trainer/scenario.h"

namespace wheelwright {
namespace {

std::optional<double> signFileChanged(const Examined &e) {
    return e.firstS("target_off");
}

bool reachedFileChanged(const Examined &e) {
    return stoppedInTime(e, signFileChanged(e));
}

} // namespace

const Scenario &fileChangedScenario() {
    static const Scenario scenario{
        .id = "file_changed",
        .title = MARKED("scenario.file_changed.title", "More boost than you asked for"),
        .goal =
            MARKED("scenario.file_changed.goal",
                   "The calibration was sent this morning. Boost is not what its tables say. Find out why."),
        .hints = {MARKED("scenario.file_changed.hint1", "Compare the target in the log with the tables."),
                  MARKED("scenario.file_changed.hint2",
                         "If the target itself is another, is the file the one that you sent?"),
                  MARKED("scenario.file_changed.hint3", "Read the controller back and compare.")},
        .seed = 17,
        .ethanol = 0.1,
        .faults = {{FaultId::fileChanged, 25}},
        .cause = "file_changed",
        .temptation = "spring_off",
        .confirm = "read_back",
        .parMinutes = 25,
        .signWords = MARKED("scenario.file_changed.sign",
                            "the boost target in the log is another than the tables say."),
        .signS = signFileChanged,
        .goalWords = MARKED("scenario.file_changed.reached",
                            "After the sign no more than one pull, and the tables left as they were"),
        .reached = reachedFileChanged,
        .lesson = MARKED("scenario.file_changed.lesson",
                         "Files change on upload, or the wrong one is loaded. Compare what was sent with "
                         "what came back before the first pull.")};
    return scenario;
}

} // namespace wheelwright
