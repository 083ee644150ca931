// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/completion.h"
#include "core/base/error.h"

#include <iostream>

int main(int argc, char **argv) {
    using namespace wheelwright;
    CLI::App app{"Fuel, spark and boost over every fuel content. Numbers are SI; the unit is in the name.\n"
                 "Exit codes: 0 good, 1 findings, 2 bad input.",
                 "wheelwright-cli"};
    app.require_subcommand(1);
    int exitCode = exitGood;
    constexpr std::size_t longest = 300;
    addFuelCommand(app, exitCode);
    addBlendCommand(app, exitCode);
    addVerifyCommand(app, exitCode);
    addReportCommand(app, exitCode);
    addTableCommand(app, exitCode);
    addJobCommand(app, exitCode);
    addTankCommand(app, exitCode);
    addMeasureCommands(app, exitCode);
    addCompareCommands(app, exitCode);
    addFlowCommands(app, exitCode);
    addCalibrationCommands(app, exitCode);
    addHardwareCommands(app, exitCode);
    addPillsCommand(app, exitCode);
    addAirCommand(app);
    addSparkCommand(app, exitCode);
    addLogCommand(app, exitCode);
    addEvidenceCommand(app, exitCode);
    addRunCommand(app, exitCode);
    addSheetCommand(app, exitCode);
    addLadderCommand(app, exitCode);
    addBundleCommand(app, exitCode);
    addHandoverCommand(app, exitCode);
    addLiveCommand(app, exitCode);
    addTrainCommand(app, exitCode);
    addRevisionCommand(app, exitCode);
    addGeneralOptions(app); // after them: the help of all is no option of each
    try {
        app.parse(argc, argv);
    } catch (const CLI::Success &help) {
        return app.exit(help);
    } catch (const CLI::Error &e) {
        // The library's own messages may span lines and repeat what was typed whole; scripts read one line.
        std::cerr << "wheelwright-cli: " << echoed(e.what(), longest) << '\n';
        return exitBadInput;
    } catch (const std::exception &e) {
        std::cerr << "wheelwright-cli: " << echoed(e.what(), 2 * longest) << '\n';
        return exitBadInput;
    }
    std::cout.flush();
    if (!std::cout) {
        std::cerr << "wheelwright-cli: standard output: expected room to write, found none\n";
        return exitBadInput;
    }
    return exitCode;
}
