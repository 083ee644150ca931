// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/limits.h"
#include "core/base/records.h"
#include "core/fuel/blend.h"
#include "core/job/auxiliary_injection.h"
#include "core/job/boost_control.h"
#include "core/job/calibration.h"
#include "core/job/conditions.h"
#include "core/job/content_sensing.h"
#include "core/job/corrections.h"
#include "core/job/engine.h"
#include "core/job/fuel_shelf.h"
#include "core/job/fuel_supply.h"
#include "core/job/handover_setup.h"
#include "core/job/injectors.h"
#include "core/job/ladder_goal.h"
#include "core/job/logs.h"
#include "core/job/mechanical_setup.h"
#include "core/job/revisions.h"
#include "core/job/runs.h"
#include "core/job/spark_delivery.h"
#include "core/job/statements.h"
#include "core/job/tank_setup.h"

#include <string>

namespace wheelwright {

/// One customer's engine with everything about it. A plain value: copy it, change the copy, compare.
/// Copies share lists and tables until one is changed, so that copying costs next to nothing.
/// Invariants are checked by validate() (job_schema.h), which every way into the program calls.
struct Job {
    std::string name = "New job";
    std::string notes;
    Engine engine;
    Injectors injectors;
    Conditions conditions;
    Component gasoline = defaultGasoline();
    Component ethanol = wheelwright::ethanol();
    Component methanol = wheelwright::methanol();
    Records<Hydrocarbon> hydrocarbons;
    Alcohol alcohol = Alcohol::ethanol;
    Calibration calibration;
    TankSetup tank;
    Records<TankEvent> tankEvents;
    Records<ShelfEntry> shelf;
    Records<FuelLot> lots;
    Records<TubeRecord> tubes;
    Records<MixtureEntry> mixtures;
    FuelControl control = FuelControl::controller;
    Records<MeasuredInjector> measuredInjectors;
    Records<CylinderNeed> cylinderNeeds;
    Records<InspectionMark> inspections; ///< in the order in which they were made
    FuelSupply supply;
    BoostControl boost;
    AuxiliaryInjection aux;
    MechanicalSetup mechanical;
    Records<ExtraTable> extras;
    SparkDelivery sparkDelivery;
    ContentSensing contentSensing;
    Records<Revision> revisions;
    Records<CellMark> cellMarks;
    Records<LogInfo> logs;           ///< their samples lie beside the job
    Records<LogChannel> logChannels; ///< of all of them
    SparkSchool sparkSchool = SparkSchool::road;
    Records<Correction> corrections;    ///< of tables from logs, the last one last
    Records<SparkSearch> sparkSearches; ///< where the search for spark stands
    Records<Run> runs;                  ///< in the order in which they came
    Records<Dyno> dynos;
    Vehicle vehicle;
    Records<GearRatio> gears;
    LadderGoal ladder;
    Records<LadderContent> ladderContents;
    Records<LadderFuel> ladderFuels;
    Records<RungPass> ladderPassed; ///< in the order in which they were passed
    Records<RungLook> ladderLooks;
    HandoverSetup handover;
    FuelSystem fuelSystem;
    Consumption consumption;
    Records<Statement> stated; ///< what is no default and no estimate
    Limits limits;             ///< the user's own limits by id; others are the shipped ones

    bool operator==(const Job &) const = default;
};

/// The job's own limit, or the shipped one, and where it comes from (base/limits.h).
double limitOf(const Job &job, std::string_view id);
PhraseText limitOrigin(const Job &job, std::string_view id);

/// Blends of the job's own gasoline, ethanol and methanol.
BlendModel blendModelOf(const Job &job);

/// The fuel of a content: that much of the job's alcohol, the rest its gasoline.
Blend blendAt(const Job &job, double content);

/// A job that passes validate(), with flat tables to begin from. Not a calibration.
Job newJob(std::string name);
/// The tables that a new job begins with, for the fuel and the contents that the job states.
void makeTablesFlat(Job &job);

} // namespace wheelwright
