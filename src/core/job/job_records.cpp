#include "core/job/job_schema.h"
#include "core/tables/table_kind.h"
#include "core/tables/table_text.h"

#include <algorithm>

namespace wheelwright {
namespace {

using D = Dimension;

template <class Record>
struct RecordBuilder {
    std::vector<Record> &(*of)(Job &);

    template <class T>
    RecordField field(std::string key, std::string title, T Record::*member, std::string help) const {
        RecordField f;
        f.key = std::move(key);
        f.title = std::move(title);
        f.help = std::move(help);
        f.read = [list = of, member](const Job &j, std::size_t i) -> FieldContent {
            return list(const_cast<Job &>(j))[i].*member;
        };
        f.write = [list = of, member](Job &j, std::size_t i, const FieldContent &c) {
            list(j)[i].*member = std::get<T>(c);
        };
        return f;
    }
    RecordField number(std::string key, std::string title, D dimension, double least, double most,
                       double Record::*member, std::string help) const {
        RecordField f = field(std::move(key), std::move(title), member, std::move(help));
        f.dimension = dimension;
        f.least = least;
        f.most = most;
        return f;
    }
    RecordField date(std::string key, std::string title, std::string Record::*member,
                     std::string help) const {
        RecordField f = field(std::move(key), std::move(title), member, std::move(help));
        f.date = true;
        return f;
    }
    /// A table as text, exact.
    template <class Of>
    RecordField table(std::string key, std::string title, Of tableOfRecord, std::string help) const {
        RecordField f;
        f.key = std::move(key);
        f.title = std::move(title);
        f.help = std::move(help);
        f.table = true;
        f.read = [list = of, tableOfRecord](const Job &j, std::size_t i) -> FieldContent {
            return tableToText(tableOfRecord(list(const_cast<Job &>(j))[i]));
        };
        f.write = [list = of, tableOfRecord, name = f.key](Job &j, std::size_t i, const FieldContent &c) {
            tableOfRecord(list(j)[i]) =
                tableFromText(std::get<std::string>(c), name + " of record " + std::to_string(i + 1));
        };
        return f;
    }
    template <class Enum>
    RecordField choice(std::string key, std::string title, std::vector<std::string> ids,
                       std::vector<std::string> titles, Enum Record::*member, std::string help) const {
        RecordField f;
        f.key = std::move(key);
        f.title = std::move(title);
        f.help = std::move(help);
        f.choices = ids;
        f.choiceTitles = std::move(titles);
        f.read = [list = of, member, ids](const Job &j, std::size_t i) -> FieldContent {
            return ids[static_cast<std::size_t>(list(const_cast<Job &>(j))[i].*member)];
        };
        f.write = [list = of, member, ids](Job &j, std::size_t i, const FieldContent &c) {
            list(j)[i].*member =
                static_cast<Enum>(std::ranges::find(ids, std::get<std::string>(c)) - ids.begin());
        };
        return f;
    }
    RecordList list(std::string path, std::string title, std::size_t most,
                    std::vector<RecordField> fields) const {
        return {std::move(path),
                std::move(title),
                most,
                std::move(fields),
                [records = of](const Job &j) { return records(const_cast<Job &>(j)).size(); },
                [records = of](Job &j, std::size_t n) { records(j).resize(n); },
                [records = of](const Job &a, const Job &b) {
                    return records(const_cast<Job &>(a)) == records(const_cast<Job &>(b));
                },
                {}};
    }
};

std::vector<RecordList> makeRecordLists() {
    using S = ShelfEntry;
    using T = TankEvent;
    using H = Hydrocarbon;
    using L = FuelLot;
    using R = TubeRecord;
    using M = MixtureEntry;
    const RecordBuilder<S> shelf{[](Job &j) -> std::vector<S> & { return j.shelf; }};
    const RecordBuilder<T> tank{[](Job &j) -> std::vector<T> & { return j.tankEvents; }};
    const RecordBuilder<DeadTimePoint> deadTimes{
        [](Job &j) -> std::vector<DeadTimePoint> & { return j.injectors.deadTimes; }};
    const RecordBuilder<MeasuredInjector> measured{
        [](Job &j) -> std::vector<MeasuredInjector> & { return j.measuredInjectors; }};
    const RecordBuilder<CylinderNeed> needs{
        [](Job &j) -> std::vector<CylinderNeed> & { return j.cylinderNeeds; }};
    const RecordBuilder<PumpPoint> pumpPoints{
        [](Job &j) -> std::vector<PumpPoint> & { return j.supply.points; }};
    const RecordBuilder<FittedPump> pumps{[](Job &j) -> std::vector<FittedPump> & { return j.supply.pumps; }};
    const RecordBuilder<BoostPoint> boostPoints{
        [](Job &j) -> std::vector<BoostPoint> & { return j.boost.points; }};
    const RecordBuilder<PassRecord> passes{
        [](Job &j) -> std::vector<PassRecord> & { return j.mechanical.passes; }};
    const RecordBuilder<H> hydrocarbons{[](Job &j) -> std::vector<H> & { return j.hydrocarbons; }};
    const RecordBuilder<L> lots{[](Job &j) -> std::vector<L> & { return j.lots; }};
    const RecordBuilder<R> tubes{[](Job &j) -> std::vector<R> & { return j.tubes; }};
    const RecordBuilder<M> mixtures{[](Job &j) -> std::vector<M> & { return j.mixtures; }};
    const RecordBuilder<ContentLevel> levels{
        [](Job &j) -> std::vector<ContentLevel> & { return j.calibration.levels; }};
    const RecordBuilder<ExtraTable> extras{[](Job &j) -> std::vector<ExtraTable> & { return j.extras; }};
    const RecordBuilder<Revision> revisions{[](Job &j) -> std::vector<Revision> & { return j.revisions; }};
    const RecordBuilder<CellMark> marks{[](Job &j) -> std::vector<CellMark> & { return j.cellMarks; }};
    const RecordBuilder<CellOrigins> origins{
        [](Job &j) -> std::vector<CellOrigins> & { return j.cellOrigins; }};
    const auto levelTable = [&](CalibratedQuantity q) {
        return levels.table(
            std::string(quantityId(q)), std::string(quantityId(q)),
            [q](ContentLevel &l) -> Table2D & { return l.of(q); }, "Its table, as text.");
    };
    std::vector<std::string> kindIds, kindTitles;
    for (const TableKindDefinition &d : allTableKinds()) {
        kindIds.emplace_back(d.id);
        kindTitles.emplace_back(d.title);
    }
    return {
        // What is referred to stands before what refers to it.
        hydrocarbons.list(
            "fuel.hydrocarbons", "Hydrocarbons", 8,
            {hydrocarbons.field<std::string>("name", "Hydrocarbon", &H::name, "What it is called."),
             hydrocarbons.number("density_kg_m3", "Density", D::density, 600, 1000, &H::densityKgM3,
                                 "At 20 °C."),
             hydrocarbons.number("stoich_afr", "Stoich. AFR", D::airFuelRatio, 10, 18, &H::stoichiometricAfr,
                                 "Air per fuel, by mass."),
             hydrocarbons.number("lhv_mj_kg", "LHV", D::energyPerMass, 30, 50, &H::lowerHeatingValueMjKg,
                                 "Energy without condensing the water."),
             hydrocarbons.number("latent_heat_kj_kg", "Latent heat", D::latentHeat, 100, 1500,
                                 &H::latentHeatKjKg, "Heat taken up in evaporating."),
             hydrocarbons.number("ron", "RON", D::octane, 50, 140, &H::researchOctane,
                                 "Research octane number."),
             hydrocarbons.number("mon", "MON", D::octane, 50, 140, &H::motorOctane, "Motor octane number."),
             hydrocarbons.number("molar_mass_g_mol", "Molar mass", D::molarMass, 60, 200, &H::molarMassGMol,
                                 "100 to 110 is usual."),
             hydrocarbons.number("oxygen", "Oxygen by mass", D::ratio, 0, 0.4, &H::oxygen,
                                 "Oxygenates, as data sheets state them."),
             hydrocarbons.field("leaded", "Leaded", &H::leaded, "Ruins catalysts and oxygen sensors."),
             hydrocarbons.field<std::string>("origin", "Origin", &H::origin,
                                             "Data sheet, measurement or common practice.")}),
        shelf.list(
            "fuel.shelf", "Shelf", 8,
            {shelf.field("name", "Fuel", &S::name, "What it is called."),
             shelf.choice("kind", "Kind", {"pump", "high_ethanol", "methanol", "race_gasoline", "booster"},
                          {"Pump fuel", "High ethanol", "Methanol", "Race gasoline", "Octane booster"},
                          &S::kind, "Decides the cautions and the usual ±."),
             shelf.number("ethanol", "Ethanol", D::content, 0, 1, &S::ethanol,
                          "By test tube rather than by label."),
             shelf.number("methanol", "Methanol", D::content, 0, 1, &S::methanol,
                          "A content sensor cannot tell it from ethanol."),
             shelf.number("content_sigma", "±", D::content, 0, 0.5, &S::contentSigma,
                          "Standard uncertainty of its alcohol. 0: what is usual for its kind."),
             shelf.number("price_per_l", "Price per L", D::none, 0, 1e6, &S::pricePerL, "In your money."),
             shelf.number("left_l", "Left", D::displacement, 0, 1e5, &S::leftL, "0: as much as is wanted."),
             shelf.number("can_l", "Sealed can", D::displacement, 0, 1000, &S::canL, "0: by the litre."),
             shelf.field("in_plans", "Plan with", &S::inPlans, "Pour plans may use it."),
             shelf.field("leaded", "Leaded", &S::leaded, "Ruins catalysts and oxygen sensors."),
             shelf.field("hydrocarbon", "Hydrocarbon", &S::hydrocarbon,
                         "Name of the one in it, from the list of hydrocarbons; empty: the job's gasoline."),
             shelf.number("treat_rate", "Treat rate", D::ratio, 0, 1, &S::treatRate,
                          "Of a booster: volume per volume of fuel."),
             shelf.number("treated_ron", "Treated RON", D::octane, 0, 140, &S::treatedRon,
                          "Octane of fuel treated at that rate, as you know it."),
             shelf.field("supplier", "From", &S::supplier, "Station or supplier."),
             shelf.date("opened", "Opened", &S::opened,
                         "Date, ISO 8601. Alcohol takes up water once opened.")}),
        lots.list(
            "fuel.lots", "Lots", 64,
            {lots.field("label", "Lot", &L::label, "Its name, once only."),
             lots.field("fuel", "Fuel", &L::fuel, "Name of the fuel on the shelf."),
             lots.field("supplier", "From", &L::supplier, "Station or supplier."),
             lots.date("bought", "Bought", &L::bought, "Date, ISO 8601."),
             lots.number("price_per_l", "Price per L", D::none, 0, 1e6, &L::pricePerL, "0: the shelf's."),
             lots.number("left_l", "Left", D::displacement, 0, 1e5, &L::leftL, "Of this lot."),
             lots.date("opened", "Opened", &L::opened, "Date, ISO 8601; empty: sealed."),
             lots.field("note", "Note", &L::note, "Batch, receipt.")}),
        tubes.list("fuel.tubes", "Tube results", 500,
                   {tubes.date("at", "When", &R::at, "ISO 8601."),
                    tubes.field("of", "Of", &R::of, "Label of a lot; empty: what is in the tank."),
                    tubes.number("water", "Water line", D::none, 0.001, 1e4, &R::waterLine,
                                 "Height or volume, any unit."),
                    tubes.number("fuel", "Fuel line", D::none, 0.001, 1e4, &R::fuelLine, "The same unit."),
                    tubes.number("layer", "Layer", D::none, 0, 1e4, &R::layerTop,
                                 "Top of the water-alcohol layer after shaking."),
                    tubes.number("reading", "± reading", D::none, 0, 1e3, &R::reading,
                                 "Standard uncertainty of each reading."),
                    tubes.number("contraction", "Contraction", D::ratio, 0, 0.19, &R::contraction,
                                 "Share of its volume that the layer loses; 0: not corrected."),
                    tubes.number("contraction_sigma", "± contraction", D::ratio, 0, 0.19,
                                 &R::contractionSigma, "Its standard uncertainty."),
                    tubes.field("station", "Station", &R::station, "Where the fuel came from."),
                    tubes.field("batch", "Batch", &R::batch, "Of the fuel."),
                    tubes.field("photo", "Photo", &R::photo, "Path of a picture of the tube."),
                    tubes.field("note", "Note", &R::note, "Who read it, how often.")}),
        mixtures.list("fuel.mixtures", "Mixtures", 8,
                      {mixtures.field("name", "Mixture", &M::name, "What it is called."),
                       mixtures.field("first", "Of", &M::first, "Name of a fuel on the shelf."),
                       mixtures.field("second", "With", &M::second, "Name of another."),
                       mixtures.number("share", "Share of it", D::ratio, 0, 1, &M::share,
                                       "By volume of the mixture. 0 with a booster: its treat rate.")}),
        tank.list(
            "tank.events", "Tank history", 10000,
            {tank.date("at", "When", &T::at, "ISO 8601; may be empty."),
             tank.choice("kind", "What", {"pour", "drain", "burn", "level", "content", "sensor", "tube"},
                         {"Poured in", "Drained", "Burned", "Level read", "Content believed", "Sensor read",
                          "Tube read"},
                         &T::kind,
                         "Level and believed content set what is known anew; readings are opinions."),
             tank.number("litres", "Litres", D::displacement, 0, 2000, &T::litres, "Not used for a content."),
             tank.number("ethanol", "Ethanol", D::content, 0, 1, &T::ethanol,
                         "For what is poured, or measured."),
             tank.field("note", "Note", &T::note, "Station, receipt, how it was measured."),
             tank.number("litres_sigma", "± L", D::displacement, 0, 500, &T::litresSigma,
                         "Standard uncertainty. 0: what is usual for such an event."),
             tank.number("methanol", "Methanol", D::content, 0, 1, &T::methanol, "The same."),
             tank.number("content_sigma", "±", D::content, 0, 0.5, &T::contentSigma,
                         "Standard uncertainty of the content. 0: what is usual."),
             tank.field("hydrocarbon", "Hydrocarbon", &T::hydrocarbon,
                        "Of what is poured; empty: the job's gasoline.")}),
        deadTimes.list("injectors.dead_times", "Dead times", 64,
                       {deadTimes.number("voltage_v", "Voltage", D::voltage, 4, 20, &DeadTimePoint::volts,
                                         "Battery voltage."),
                        deadTimes.number("differential_kpa", "Pressure across", D::pressureDifference, 0,
                                         2000, &DeadTimePoint::differentialKpa, "Where the sheet states it."),
                        deadTimes.number("dead_time_ms", "Dead time", D::duration, 0, 10, &DeadTimePoint::ms,
                                         "Opening delay.")}),
        measured.list("injectors.measured", "Measured injectors", 16,
                      {measured.field("label", "Injector", &MeasuredInjector::label, "Its mark."),
                       measured.number("flow_cc_min", "Flow", D::volumeFlow, 1, 20000,
                                       &MeasuredInjector::flowCcMin, "On the bench.")}),
        needs.list("engine.cylinder_needs", "Cylinders", 16,
                   {needs.field("label", "Cylinder", &CylinderNeed::label, "Its number."),
                    needs.number("need", "Needs", D::none, 0.3, 3, &CylinderNeed::need,
                                 "Fuel against the others: 1 usual, 1.03 where it runs hot or lean.")}),
        pumpPoints.list(
            "supply.pump_points", "Pump data", 200,
            {pumpPoints.field("pump", "Pump", &PumpPoint::pump, "Whose sheet."),
             pumpPoints.number("voltage_v", "Voltage", D::voltage, 4, 30, &PumpPoint::volts, "At the pump."),
             pumpPoints.number("pressure_kpa", "Pressure", D::pressureGauge, 0, 3000, &PumpPoint::pressureKpa,
                               "At its outlet."),
             pumpPoints.number("flow_l_min", "Flow", D::flowLMin, 0, 100, &PumpPoint::flowLMin,
                               "At that voltage and pressure.")}),
        pumps.list(
            "supply.pumps", "Fitted pumps", 8,
            {pumps.field("pump", "Pump", &FittedPump::pump, "Name of the data."),
             pumps.number("count", "So many", D::none, 0, 8, &FittedPump::count, "Alike, side by side.")}),
        boostPoints.list(
            "boost.points", "Boost by solenoid duty", 500,
            {boostPoints.number("duty", "Duty", D::ratio, 0, 1, &BoostPoint::duty, "Of the solenoid."),
             boostPoints.number("boost_kpa", "Boost", D::pressureGauge, -100, 800, &BoostPoint::boostKpa,
                                "That came of it, settled."),
             boostPoints.number("gear", "Gear", D::none, 0, 12, &BoostPoint::gear, "0: not stated."),
             boostPoints.number("content", "Content", D::content, 0, 1, &BoostPoint::content,
                                "Of the fuel then."),
             boostPoints.field("note", "Note", &BoostPoint::note, "Log, weather.")}),
        levels.list("calibration.levels", "Levels of content", 12,
                    {levels.number("content", "Content", D::content, 0, 1, &ContentLevel::content,
                                   "That its tables were calibrated at."),
                     levels.number("window_low", "Used from", D::content, 0, 1, &ContentLevel::windowLow,
                                   "Window sets only."),
                     levels.number("window_high", "Used to", D::content, 0, 1, &ContentLevel::windowHigh,
                                   "Window sets only."),
                     levelTable(CalibratedQuantity::fuel), levelTable(CalibratedQuantity::spark),
                     levelTable(CalibratedQuantity::boost), levelTable(CalibratedQuantity::lambda)}),
        extras.list("calibration.extras", "Other tables", 64,
                    {extras.choice("kind", "Kind", kindIds, kindTitles, &ExtraTable::kind, "What it holds."),
                     extras.field("name", "Name", &ExtraTable::name, "Once only."),
                     extras.table(
                         "table", "Table", [](ExtraTable &e) -> Table2D & { return e.table; }, "As text.")}),
        revisions.list("revisions", "Revisions", 200,
                       {revisions.field("name", "Revision", &Revision::name, "Once only."),
                        revisions.date("at", "When", &Revision::at, "ISO 8601."),
                        revisions.field("note", "Note", &Revision::note, "Why it was kept."),
                        revisions.field("sent", "Sent", &Revision::sent, "Handed to the controller."),
                        [&] {
                            RecordField f =
                                revisions.field("state", "State", &Revision::state, "The calibration, as text.");
                            f.state = true;
                            return f;
                        }()}),
        marks.list("calibration.cell_marks", "Notes and locks", 20000,
                   {marks.field("table", "Table", &CellMark::table, "Path of the table."),
                    marks.number("rpm", "x", D::none, -1000, 30000, &CellMark::rpm, "Its breakpoint."),
                    marks.number("y", "y", D::none, -1000, 30000, &CellMark::y, "Its breakpoint."),
                    marks.field("locked", "Locked", &CellMark::locked, "Edits leave it alone."),
                    marks.field("note", "Note", &CellMark::note, "Anything worth remembering.")}),
        origins.list(
            "calibration.origins", "Origin of cells", 400,
            {origins.field("table", "Table", &CellOrigins::table, "Path of the table."),
             origins.field("codes", "Codes", &CellOrigins::codes, "Run lengths and letters, row by row.")}),
        passes.list(
            "mechanical.passes", "Passes", 500,
            {passes.date("at", "When", &PassRecord::at, "ISO 8601."),
             passes.number("pill_mm", "Main pill", D::length, 0, 20, &PassRecord::pillMm, "That was in."),
             passes.number("exhaust_c", "Exhaust", D::temperature, 0, 1200, &PassRecord::exhaustC,
                           "Hottest; 0: not read."),
             passes.number("power", "Power", D::none, 0, 1e6, &PassRecord::power,
                           "In a measure of your own; 0: not read."),
             passes.field("hard_start", "Hard start", &PassRecord::hardStart, "The bottom end was lean."),
             passes.field("plugs", "Plugs", &PassRecord::plugs, "How they looked."),
             passes.field("oil", "Oil", &PassRecord::oil, "Level, smell, changed."),
             passes.field("note", "Note", &PassRecord::note, "Anything else.")}),
    };
}

template <auto list, auto name>
std::vector<std::string> namesOf(const Job &job) {
    std::vector<std::string> names;
    for (const auto &record : job.*list)
        names.push_back(record.*name);
    return names;
}

// Who refers to a record by its name follows when it gets another.
void follow(std::string &name, const std::string &from, const std::string &to) {
    if (name == from) name = to;
}

void renameHydrocarbon(Job &job, const std::string &from, const std::string &to) {
    for (ShelfEntry &s : job.shelf)
        follow(s.hydrocarbon, from, to);
    for (TankEvent &e : job.tankEvents)
        follow(e.hydrocarbon, from, to);
}

void renameFuel(Job &job, const std::string &from, const std::string &to) {
    for (FuelLot &l : job.lots)
        follow(l.fuel, from, to);
    for (MixtureEntry &m : job.mixtures) {
        follow(m.first, from, to);
        follow(m.second, from, to);
    }
}

void renameLot(Job &job, const std::string &from, const std::string &to) {
    for (TubeRecord &t : job.tubes)
        follow(t.of, from, to);
}

} // namespace

std::span<const RecordList> allRecordLists() {
    static const std::vector<RecordList> lists = [] {
        std::vector<RecordList> made = makeRecordLists();
        const auto of = [&](std::string_view path) -> RecordList & {
            return *std::ranges::find(made, path, &RecordList::path);
        };
        of("fuel.hydrocarbons").renamed = renameHydrocarbon;
        of("fuel.shelf").renamed = renameFuel;
        of("fuel.lots").renamed = renameLot;
        const auto refer = [&](std::string_view list, std::string_view key, auto names) {
            std::ranges::find(of(list).fields, key, &RecordField::key)->names = names;
        };
        const auto unstated = [&](std::string_view list, std::initializer_list<std::string_view> keys) {
            for (const std::string_view key : keys)
                std::ranges::find(of(list).fields, key, &RecordField::key)->zeroIsNone = true;
        };
        unstated("fuel.shelf", {"methanol", "content_sigma", "price_per_l", "left_l", "can_l", "treat_rate",
                                "treated_ron"});
        unstated("fuel.lots", {"price_per_l"});
        unstated("fuel.tubes", {"contraction"});
        unstated("fuel.mixtures", {"share"});
        unstated("injectors.dead_times", {"differential_kpa"});
        unstated("boost.points", {"gear"});
        unstated("mechanical.passes", {"pill_mm", "exhaust_c", "power"});
        unstated("tank.events", {"litres", "litres_sigma", "ethanol", "methanol", "content_sigma"});
        refer("supply.pumps", "pump", [](const Job &job) {
            std::vector<std::string> names;
            for (const PumpPoint &p : job.supply.points)
                if (std::ranges::find(names, p.pump) == names.end()) names.push_back(p.pump);
            return names;
        });
        refer("fuel.shelf", "hydrocarbon", namesOf<&Job::hydrocarbons, &Hydrocarbon::name>);
        refer("tank.events", "hydrocarbon", namesOf<&Job::hydrocarbons, &Hydrocarbon::name>);
        refer("fuel.lots", "fuel", namesOf<&Job::shelf, &ShelfEntry::name>);
        refer("fuel.tubes", "of", namesOf<&Job::lots, &FuelLot::label>);
        refer("fuel.mixtures", "first", namesOf<&Job::shelf, &ShelfEntry::name>);
        refer("fuel.mixtures", "second", namesOf<&Job::shelf, &ShelfEntry::name>);
        return made;
    }();
    return lists;
}

const RecordList *recordListByPath(std::string_view path) {
    const auto at = std::ranges::find(allRecordLists(), path, &RecordList::path);
    return at == allRecordLists().end() ? nullptr : &*at;
}

RecordContents recordsOf(const Job &job, const RecordList &list) {
    RecordContents out(list.size(job));
    for (std::size_t i = 0; i < out.size(); ++i)
        for (const RecordField &f : list.fields)
            out[i].push_back(f.read(job, i));
    return out;
}

void setRecords(Job &job, const RecordList &list, const RecordContents &contents) {
    list.resize(job, 0);
    list.resize(job, contents.size());
    for (std::size_t i = 0; i < contents.size(); ++i)
        for (std::size_t k = 0; k < list.fields.size(); ++k)
            list.fields[k].write(job, i, contents[i][k]);
}

} // namespace wheelwright
