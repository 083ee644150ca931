// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <CLI/CLI.hpp>

namespace wheelwright {

/// Each adds its subcommand to the application. Its work runs after parsing and sets the exit code where it
/// is not 0. Input that cannot be used is thrown as InputError.
void addFuelCommand(CLI::App &app, int &exitCode);
void addBlendCommand(CLI::App &app, int &exitCode);
void addVerifyCommand(CLI::App &app, int &exitCode);
void addReportCommand(CLI::App &app, int &exitCode);
void addTableCommand(CLI::App &app, int &exitCode);
void addJobCommand(CLI::App &app, int &exitCode);
void addTankCommand(CLI::App &app, int &exitCode);
void addMeasureCommands(CLI::App &app, int &exitCode);     ///< tube, sensor, afr
void addFlowCommands(CLI::App &app, int &exitCode);        ///< injector, pump, frontier, spray
void addCalibrationCommands(CLI::App &app, int &exitCode); ///< convert, bake, budget, diff, regrid
void addHardwareCommands(CLI::App &app, int &exitCode);    ///< injector-change, boost, spray-cells
void addPillsCommand(CLI::App &app, int &exitCode);
void addAirCommand(CLI::App &app);
void addSparkCommand(CLI::App &app, int &exitCode);    ///< estimate, worth, shape
void addCompareCommands(CLI::App &app, int &exitCode); ///< compare, shelf, what-if

void addLogCommand(CLI::App &app, int &exitCode); ///< import, map, list, info, remove, export

void addEvidenceCommand(CLI::App &app, int &exitCode);       ///< coverage, visits, proposals
void addProposalCommands(CLI::App *evidence, int &exitCode); ///< fuel, joint: what the tables should become
void addSparkProposalCommands(CLI::App *evidence, int &exitCode); ///< knock, sweep
void addProofCommands(CLI::App *evidence, int &exitCode);         ///< proof, boost
void addCeilingCommand(CLI::App *evidence, int &exitCode);        ///< what spark the engine stands
void addHindsightCommands(CLI::App *evidence, int &exitCode);     ///< taken, learning

void addRunCommand(CLI::App &app, int &exitCode);         ///< import, from-log, type, list, export, remove
void addRunCompareCommands(CLI::App *run, int &exitCode); ///< correct, compare, scatter
void addRunWorthCommands(CLI::App *run,
                         int &exitCode); ///< cam, shape, sweep, contents, worth, dynos, road, coast

void addBundleCommand(CLI::App &app, int &exitCode); ///< out, back
void addTrainCommand(CLI::App &app, int &exitCode);
void addLiveCommand(CLI::App &app, int &exitCode);     ///< map, decode
void addLadderCommand(CLI::App &app, int &exitCode);   ///< plan, status, pass, replan
void addSheetCommand(CLI::App &app, int &exitCode);    ///< show, inspect, fit, remove
void addHandoverCommand(CLI::App &app, int &exitCode); ///< write, check, show

void addRevisionCommand(CLI::App &app, int &exitCode);
void addRecordCommands(CLI::App *job);      ///< get, set, add, remove
void addTankEventCommand(CLI::App *tank);   ///< event
void addShelfEditCommands(CLI::App *shelf); ///< add, edit

inline constexpr int exitGood = 0;
inline constexpr int exitFindings = 1;
inline constexpr int exitBadInput = 2;

} // namespace wheelwright
