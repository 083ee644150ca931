// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/log_options.h"

namespace wheelwright {

void addLogOptions(CLI::App *sub, ThroughLogs &a, const std::string &otherwise, bool jobNeeded) {
    sub->add_option("job", a.job, "Job file")->required(jobNeeded);
    sub->add_option("--log", a.logs, "Ids or file names; without it " + otherwise)->delimiter(',');
    sub->add_flag("--json", a.json, "As JSON");
}

} // namespace wheelwright
