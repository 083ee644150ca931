// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/completion.h"
#include "core/base/error.h"

#include <algorithm>
#include <initializer_list>
#include <iostream>
#include <stdexcept>
#include <string_view>
#include <vector>

namespace wheelwright {
namespace {

struct Adder {
    void (*add)(CLI::App &app, int &exitCode);
    std::initializer_list<std::string_view> names; ///< of all that it adds
};

const Adder adders[] = {
    {addFuelCommand, {"fuel"}},
    {addBlendCommand, {"blend"}},
    {addVerifyCommand, {"verify"}},
    {addReportCommand, {"report"}},
    {addTableCommand, {"table"}},
    {addJobCommand, {"job"}},
    {addTankCommand, {"tank"}},
    {addMeasureCommands, {"tube", "sensor", "afr"}},
    {addCompareCommands, {"compare", "shelf", "what-if"}},
    {addFlowCommands, {"injector", "pump", "frontier", "spray"}},
    {addCalibrationCommands, {"convert", "bake", "budget", "diff", "regrid"}},
    {addHardwareCommands, {"injector-change", "boost", "spray-cells"}},
    {addPillsCommand, {"pills"}},
    {[](CLI::App &app, int &) { addAirCommand(app); }, {"air"}},
    {addSparkCommand, {"spark"}},
    {addLogCommand, {"log"}},
    {addEvidenceCommand, {"evidence"}},
    {addRunCommand, {"run"}},
    {addSheetCommand, {"sheet"}},
    {addLadderCommand, {"ladder"}},
    {addBundleCommand, {"bundle"}},
    {addHandoverCommand, {"handover"}},
    {addLiveCommand, {"live"}},
    {addTrainCommand, {"train"}},
    {addRevisionCommand, {"revision"}},
};

/// The command of that name, or all of them where none has it: making all costs milliseconds, and a script
/// calls hundreds.
void addCommands(CLI::App &app, int &exitCode, std::string_view named) {
    for (const Adder &a : adders)
        if (std::ranges::find(a.names, named) != a.names.end()) return a.add(app, exitCode);
    for (const Adder &a : adders) {
        const std::size_t before = app.get_subcommands({}).size();
        a.add(app, exitCode);
        const std::vector<CLI::App *> all = app.get_subcommands({});
        if (!std::ranges::equal(
                all.begin() + static_cast<std::ptrdiff_t>(before), all.end(), a.names.begin(), a.names.end(),
                {}, [](const CLI::App *command) { return std::string_view(command->get_name()); }))
            throw std::logic_error(
                "a command is not among the names of what adds it"); // it would not be found
    }
}

} // namespace
} // namespace wheelwright

int main(int argc, char **argv) {
    using namespace wheelwright;
    CLI::App app{"Fuel, spark and boost over every fuel content. Numbers are SI; the unit is in the name.\n"
                 "Exit codes: 0 good, 1 findings, 2 bad input.",
                 "wheelwright-cli"};
    app.require_subcommand(1);
    int exitCode = exitGood;
    constexpr std::size_t longest = 300;
    addCommands(app, exitCode, argc > 1 ? argv[1] : "");
    addGeneralOptions(app); // after them: the help of all is no option of each
    app.footer("WHEELWRIGHT_NOW, where it is set, is the time that is written: 2026-05-16T12:00:00Z, for "
               "scripts that must come out the same again.");
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
