#include "apps/cli/commands.h"
#include "core/error.h"

#include <iostream>

int main(int argc, char **argv) {
    using namespace wheelwright;
    CLI::App app{"Fuel, spark and boost over every fuel content. Numbers are SI; the unit is in the name.\n"
                 "Exit codes: 0 good, 1 findings, 2 bad input.",
                 "wheelwright-cli"};
    app.require_subcommand(1);
    int exitCode = exitGood;
    addFuelCommand(app, exitCode);
    addBlendCommand(app, exitCode);
    addVerifyCommand(app, exitCode);
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
    try {
        app.parse(argc, argv);
    } catch (const CLI::Success &help) {
        return app.exit(help);
    } catch (const CLI::Error &e) {
        // The library's own messages may span lines; scripts read one.
        std::string text = e.what();
        for (char &c : text)
            if (c == '\n') c = ' ';
        std::cerr << "wheelwright-cli: " << text << '\n';
        return exitBadInput;
    } catch (const std::exception &e) {
        std::cerr << "wheelwright-cli: " << e.what() << '\n';
        return exitBadInput;
    }
    std::cout.flush();
    if (!std::cout) {
        std::cerr << "wheelwright-cli: standard output: expected room to write, found none\n";
        return exitBadInput;
    }
    return exitCode;
}
