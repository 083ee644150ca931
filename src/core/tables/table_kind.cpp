// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tables/table_kind.h"

#include "core/base/error.h"

#include <array>

namespace wheelwright {
namespace {

using D = Dimension;

// In the order of the enumeration.
constexpr std::array kinds{
    TableKindDefinition{
        TableKind::sparkIntake, "spark_intake", MARKED("table_kind.spark_intake", "Spark by intake air"),
        MARKED("table_kind.spark_intake.help", "Added to the spark, by intake air temperature and load."),
        D::sparkAngle, -30, 20, 0.5, 0, axes::intakeAir, axes::load},
    TableKindDefinition{
        TableKind::sparkCoolant, "spark_coolant", MARKED("table_kind.spark_coolant", "Spark by coolant"),
        MARKED("table_kind.spark_coolant.help", "Added to the spark, by coolant temperature."), D::sparkAngle,
        -30, 20, 0.5, 0, axes::coolant, axes::none},
    TableKindDefinition{
        TableKind::sparkFuel, "spark_fuel_temperature",
        MARKED("table_kind.spark_fuel_temperature", "Spark by fuel temperature"),
        MARKED("table_kind.spark_fuel_temperature.help", "Added to the spark, by fuel temperature."),
        D::sparkAngle, -30, 20, 0.5, 0, axes::fuel, axes::none},
    TableKindDefinition{TableKind::sparkCylinder, "spark_cylinder",
                        MARKED("table_kind.spark_cylinder", "Spark by cylinder"),
                        MARKED("table_kind.spark_cylinder.help", "Added to the spark of each cylinder."),
                        D::sparkAngle, -30, 20, 0.5, 0, axes::cylinder, axes::none},
    TableKindDefinition{
        TableKind::sparkFallback, "spark_fallback", MARKED("table_kind.spark_fallback", "Fallback spark"),
        MARKED("table_kind.spark_fallback.help", "Spark on a knocking fuel: T = low + q (high − low)."),
        D::sparkAngle, -20, 60, 0.5, 10, axes::engineSpeed, axes::load},
    TableKindDefinition{
        TableKind::sparkCeiling, "spark_ceiling", MARKED("table_kind.spark_ceiling", "Spark ceiling"),
        MARKED("table_kind.spark_ceiling.help",
               "Most spark that a fuel stands, as you know it from pulls or knock: one for each content that "
               "it was found at."),
        D::sparkAngle, -20, 60, 0.5, 40, axes::engineSpeed, axes::load, true},
    TableKindDefinition{
        TableKind::sparkBest, "spark_best", MARKED("table_kind.spark_best", "Best spark"),
        MARKED("table_kind.spark_best.help",
               "Spark for best torque, where a sweep levels off: one for each content that it was found at."),
        D::sparkAngle, -20, 60, 0.5, 40, axes::engineSpeed, axes::load, true},
    TableKindDefinition{TableKind::fuelIntake, "fuel_intake",
                        MARKED("table_kind.fuel_intake", "Fuel by intake air"),
                        MARKED("table_kind.fuel_intake.help", "Fuel added, by intake air temperature."),
                        D::ratio, -0.5, 1, 0.01, 0, axes::intakeAir, axes::none},
    TableKindDefinition{TableKind::fuelCoolant, "fuel_coolant",
                        MARKED("table_kind.fuel_coolant", "Warm-up fuel"),
                        MARKED("table_kind.fuel_coolant.help",
                               "Fuel added while the engine is cold, by coolant temperature."),
                        D::ratio, -0.5, 4, 0.01, 0, axes::coolant, axes::none},
    TableKindDefinition{TableKind::fuelTemperature, "fuel_temperature",
                        MARKED("table_kind.fuel_temperature", "Fuel by fuel temperature"),
                        MARKED("table_kind.fuel_temperature.help", "Fuel added, by its temperature."),
                        D::ratio, -0.5, 1, 0.01, 0, axes::fuel, axes::none},
    TableKindDefinition{
        TableKind::fuelContent, "fuel_content", MARKED("table_kind.fuel_content", "Fuel by content"),
        MARKED("table_kind.fuel_content.help",
               "Fuel added by content, beside everything else. With content in the tables already "
               "it corrects twice."),
        D::ratio, -0.5, 2, 0.01, 0, axes::content, axes::none},
    TableKindDefinition{
        TableKind::cranking, "cranking", MARKED("table_kind.cranking", "Cranking fuel"),
        MARKED("table_kind.cranking.help",
               "Fuel while cranking against a warm engine on gasoline, by coolant and content."),
        D::ratio, 0, 30, 0.05, 1, axes::coolant, axes::content},
    TableKindDefinition{
        TableKind::afterStart, "after_start", MARKED("table_kind.after_start", "After-start fuel"),
        MARKED("table_kind.after_start.help", "Fuel added just after the start, by coolant and content."),
        D::ratio, 0, 10, 0.02, 0, axes::coolant, axes::content},
    TableKindDefinition{TableKind::prime, "prime", MARKED("table_kind.prime", "Prime pulse"),
                        MARKED("table_kind.prime.help", "One pulse at key on, by coolant and content."),
                        D::duration, 0, 200, 0.5, 0, axes::coolant, axes::content},
    TableKindDefinition{
        TableKind::acceleration, "acceleration", MARKED("table_kind.acceleration", "Acceleration fuel"),
        MARKED("table_kind.acceleration.help", "Fuel added while throttle or pressure rises, by its rate "
                                               "(per cent or kPa in a second) and content."),
        D::ratio, 0, 10, 0.02, 0, axes::rate, axes::content},
    TableKindDefinition{
        TableKind::solenoidDuty, "solenoid_duty", MARKED("table_kind.solenoid_duty", "Solenoid duty"),
        MARKED("table_kind.solenoid_duty.help", "Boost solenoid duty by target and engine speed."), D::ratio,
        0, 1, 0.01, 0, axes::engineSpeed, axes::target},
    TableKindDefinition{TableKind::boostCut, "boost_cut", MARKED("table_kind.boost_cut", "Overboost cut"),
                        MARKED("table_kind.boost_cut.help", "Manifold pressure that cuts, by content."),
                        D::pressure, 20, 1000, 2, 300, axes::content, axes::none},
    TableKindDefinition{TableKind::revLimit, "rev_limit", MARKED("table_kind.rev_limit", "Rev limit"),
                        MARKED("table_kind.rev_limit.help", "Engine speed that cuts, by content."),
                        D::engineSpeed, 300, 25000, 50, 7000, axes::content, axes::none},
    TableKindDefinition{
        TableKind::railPressure, "rail_pressure", MARKED("table_kind.rail_pressure", "Rail pressure"),
        MARKED(
            "table_kind.rail_pressure.help",
            "Pressure in the rail that a returnless supply is driven to, over the air around, by speed and "
            "load. It goes before the curve over load and before the regulator."),
        D::pressureGauge, 50, 1500, 10, 300, axes::engineSpeed, axes::load},
    TableKindDefinition{
        TableKind::portShare, "port_share", MARKED("table_kind.port_share", "Share of port injection"),
        MARKED("table_kind.port_share.help",
               "Share of the fuel that injectors at the ports take beside those in the cylinders, one for "
               "each content. The proof of a change of fuel asks for it; what injectors carry is counted as "
               "if there were one set of them."),
        D::ratio, 0, 1, 0.01, 0, axes::engineSpeed, axes::load, true},
};

// Usual breakpoints of an axis, evenly over what an engine sees.
std::vector<double> usualPoints(const TableAxis &axis) {
    if (axis.single()) return {0};
    switch (axis.dimension) {
    case D::temperature:
        return {-20, 0, 20, 40, 60, 80, 100};
    case D::engineSpeed:
        return {1000, 2000, 3000, 4000, 5000, 6000, 7000};
    case D::pressure:
        return {40, 80, 120, 160, 200, 240};
    case D::content:
        return {0, 0.25, 0.5, 0.75, 1};
    default:
        return axis.most <= 16 ? std::vector<double>{1, 2, 3, 4} : std::vector<double>{50, 200, 500, 1000};
    }
}

void requireAxis(const std::string &where, const Axis &points, const TableAxis &axis) {
    if (axis.single()) {
        if (points.size() != 1)
            throw InputError(
                where, MARKED("expected.one_row_this_kind_has_one_axis", "one row: this kind has one axis"),
                std::to_string(points.size()));
        return;
    }
    for (const double v : {points.first(), points.last()})
        if (v < axis.least || v > axis.most)
            throw InputError(where, fromTo(axis.least, axis.most), exactly(v));
}

} // namespace

std::span<const TableKindDefinition> allTableKinds() {
    return kinds;
}

const TableKindDefinition &definitionOf(TableKind kind) {
    return kinds[static_cast<std::size_t>(kind)];
}

TableGroup groupOf(TableKind kind) {
    using enum TableKind;
    switch (kind) {
    case sparkCeiling:
    case sparkBest:
    case sparkFallback:
        return TableGroup::knock;
    case sparkIntake:
    case sparkCoolant:
    case sparkFuel:
    case sparkCylinder:
        return TableGroup::spark;
    case fuelIntake:
    case fuelCoolant:
    case fuelTemperature:
    case fuelContent:
    case railPressure:
    case portShare:
        return TableGroup::fuel;
    case cranking:
    case afterStart:
    case prime:
    case acceleration:
        return TableGroup::starting;
    case solenoidDuty:
    case boostCut:
    case revLimit:
        break;
    }
    return TableGroup::boost;
}

PhraseText titleOf(TableGroup group) {
    constexpr std::array titles{MARKED("table_group.knock", "What the fuel stands"),
                                MARKED("table_group.spark", "Spark corrections"),
                                MARKED("table_group.fuel", "Fuel corrections"),
                                MARKED("table_group.starting", "Starting and throttle"),
                                MARKED("table_group.boost", "Boost and cuts")};
    return titles[static_cast<std::size_t>(group)];
}

ExtraTable newExtraTable(TableKind kind, std::string name) {
    const TableKindDefinition &d = definitionOf(kind);
    Table2D table = Table2D::uniform(Axis(usualPoints(d.x)), Axis(usualPoints(d.y)), d.neutral);
    table.setOrigins(std::vector(table.cells().size(), CellOrigin::assumed));
    return {kind, std::move(name), std::move(table)};
}

void validate(const ExtraTable &extra, const std::string &where) {
    const TableKindDefinition &d = definitionOf(extra.kind);
    requireAxis(where + " x", extra.table.x(), d.x);
    requireAxis(where + " y", extra.table.y(), d.y);
    const std::size_t columns = extra.table.x().size();
    const std::vector<double> &cells = extra.table.cells();
    for (std::size_t i = 0; i < cells.size(); ++i)
        if (!(cells[i] >= d.least && cells[i] <= d.most))
            throw InputError(where + " row " + std::to_string(i / columns + 1) + ", column " +
                                 std::to_string(i % columns + 1),
                             fromTo(d.least, d.most), exactly(cells[i]));
}

} // namespace wheelwright
