// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_schema.h"
#include "core/tables/table_text.h"

#include <algorithm>
#include <string>
#include <utility>
#include <vector>

namespace wheelwright {

// What a chapter says of itself: one line a field, beside the struct that holds it. `of` leads from a job to
// the member, const or not: [](auto &j) -> auto & { return j.engine.displacementL; }

/// A scalar, as the others below: stable path, title, what leads to it, help.
template <class Of>
Field scalar(std::string path, std::string title, Of of, std::string help) {
    using Content = std::remove_cvref_t<decltype(of(std::declval<Job &>()))>;
    Field f;
    f.path = std::move(path);
    f.title = std::move(title);
    f.help = std::move(help);
    f.read = [of](const Job &j) -> FieldContent { return of(j); };
    f.write = [of](Job &j, const FieldContent &c) { of(j) = std::get<Content>(c); };
    return f;
}

template <class Of>
Field number(std::string path, std::string title, Dimension dimension, double least, double most, Of of,
             std::string help) {
    Field f = scalar(std::move(path), std::move(title), of, std::move(help));
    f.dimension = dimension;
    f.least = least;
    f.most = most;
    return f;
}

inline Field wholeNumber(Field f) {
    f.whole = true;
    return f;
}

/// Goes into revisions with the calibration.
inline Field held(Field f) {
    f.inRevision = true;
    return f;
}

/// Must come back from a controller as it went, and why.
inline Field guarded(std::string why, Field f) {
    f.inRevision = true;
    f.guarded = std::move(why);
    return f;
}

/// The ids stand in the order of the enumeration.
template <class Of>
Field choice(std::string path, std::string title, std::vector<std::string> ids,
             std::vector<std::string> titles, Of of, std::string help) {
    using Enum = std::remove_cvref_t<decltype(of(std::declval<Job &>()))>;
    Field f;
    f.path = std::move(path);
    f.title = std::move(title);
    f.help = std::move(help);
    f.choices = ids;
    f.choiceTitles = std::move(titles);
    f.read = [of, ids](const Job &j) -> FieldContent { return ids[static_cast<std::size_t>(of(j))]; };
    f.write = [of, ids](Job &j, const FieldContent &c) {
        of(j) = static_cast<Enum>(std::ranges::find(ids, std::get<std::string>(c)) - ids.begin());
    };
    return f;
}

template <class Of>
CurveField curve(std::string path, std::string title, Dimension x, Dimension y, double leastY, double mostY,
                 Of of, double leastX = 0, double mostX = 1) {
    CurveField f;
    f.path = std::move(path);
    f.title = std::move(title);
    f.x = x;
    f.y = y;
    f.leastY = leastY;
    f.mostY = mostY;
    f.leastX = leastX;
    f.mostX = mostX;
    f.of = [of](Job &j) -> Curve & { return of(j); };
    f.in = [of](const Job &j) -> const Curve & { return of(j); };
    return f;
}

inline CurveField held(CurveField f) {
    f.inRevision = true;
    return f;
}

/// The numbers of a component of the fuel: "fuel.ethanol.density_kg_m3" and so on.
template <class Of>
void addComponent(std::vector<Field> &fields, const std::string &path, const std::string &title, Of of) {
    const auto add = [&](const char *key, const char *words, Dimension dimension, double least, double most,
                         double Component::*member, const char *help) {
        fields.push_back(number(
            path + key, title + ": " + words, dimension, least, most,
            [ of, member ](auto &j) -> auto & { return of(j).*member; }, help));
    };
    const auto addText = [&](const char *key, const char *words, std::string Component::*member,
                             const char *help) {
        fields.push_back(scalar(
            path + key, title + ": " + words, [ of, member ](auto &j) -> auto & { return of(j).*member; },
            help));
    };
    addText(".name", "name", &Component::name, "What it is called.");
    add(".density_kg_m3", "density", Dimension::density, 600, 1000, &Component::densityKgM3, "At 20 °C.");
    add(".stoich_afr", "stoichiometric AFR", Dimension::airFuelRatio, 5, 18, &Component::stoichiometricAfr,
        "Air per fuel, by mass.");
    add(".lhv_mj_kg", "lower heating value", Dimension::energyPerMass, 15, 50,
        &Component::lowerHeatingValueMjKg, "Energy without condensing the water.");
    add(".latent_heat_kj_kg", "latent heat", Dimension::latentHeat, 100, 1500, &Component::latentHeatKjKg,
        "Heat taken up in evaporating.");
    add(".ron", "RON", Dimension::octane, 50, 140, &Component::researchOctane, "Research octane number.");
    add(".mon", "MON", Dimension::octane, 50, 140, &Component::motorOctane, "Motor octane number.");
    add(".molar_mass_g_mol", "mean molar mass", Dimension::molarMass, 20, 200, &Component::molarMassGMol,
        "Of a gasoline 100 to 110 is usual.");
    addText(".origin", "origin of these numbers", &Component::origin,
            "Data sheet, measurement or common practice.");
}

/// A list of records: `of` leads from a job to it, const or not.
template <class Record, class Of>
class ListBuilder {
  public:
    explicit ListBuilder(Of of) : m_of(of) {}

    template <class T>
    RecordField field(std::string key, std::string title, T Record::*member, std::string help) const {
        RecordField f = named(std::move(key), std::move(title), std::move(help));
        f.read = [of = m_of, member](const Job &j, std::size_t i) -> FieldContent {
            return of(j)[i].*member;
        };
        f.write = [of = m_of, member](Job &j, std::size_t i, const FieldContent &c) {
            of(j)[i].*member = std::get<T>(c);
        };
        return f;
    }
    RecordField number(std::string key, std::string title, Dimension dimension, double least, double most,
                       double Record::*member, std::string help) const {
        RecordField f = field(std::move(key), std::move(title), member, std::move(help));
        f.dimension = dimension;
        f.least = least;
        f.most = most;
        return f;
    }
    /// A number of which 0 says that nothing is stated.
    RecordField unstated(std::string key, std::string title, Dimension dimension, double least, double most,
                         double Record::*member, std::string help) const {
        RecordField f =
            number(std::move(key), std::move(title), dimension, least, most, member, std::move(help));
        f.zeroIsNone = true;
        return f;
    }
    RecordField date(std::string key, std::string title, std::string Record::*member,
                     std::string help) const {
        RecordField f = field(std::move(key), std::move(title), member, std::move(help));
        f.date = true;
        return f;
    }
    /// The first field of a record of another list, or empty.
    RecordField reference(std::string key, std::string title, std::string Record::*member, std::string list,
                          std::string help) const {
        RecordField f = field(std::move(key), std::move(title), member, std::move(help));
        f.refersTo = std::move(list);
        return f;
    }
    template <class Enum>
    RecordField choice(std::string key, std::string title, std::vector<std::string> ids,
                       std::vector<std::string> titles, Enum Record::*member, std::string help) const {
        RecordField f = named(std::move(key), std::move(title), std::move(help));
        f.choices = ids;
        f.choiceTitles = std::move(titles);
        f.read = [of = m_of, member, ids](const Job &j, std::size_t i) -> FieldContent {
            return ids[static_cast<std::size_t>(of(j)[i].*member)];
        };
        f.write = [of = m_of, member, ids](Job &j, std::size_t i, const FieldContent &c) {
            of(j)[i].*member =
                static_cast<Enum>(std::ranges::find(ids, std::get<std::string>(c)) - ids.begin());
        };
        return f;
    }
    /// `part` leads from a record to its table, const or not. As a field it is text, exact.
    template <class Part>
    RecordField table(std::string key, std::string title, Part part, std::string help) const {
        RecordField f = named(std::move(key), std::move(title), std::move(help));
        f.tableIn = [of = m_of, part](const Job &j, std::size_t i) -> const Table2D & {
            return part(of(j)[i]);
        };
        f.tableOf = [of = m_of, part](Job &j, std::size_t i) -> Table2D & { return part(of(j)[i]); };
        f.read = [in = f.tableIn](const Job &j, std::size_t i) -> FieldContent {
            return tableToText(in(j, i));
        };
        f.write = [to = f.tableOf, name = f.key](Job &j, std::size_t i, const FieldContent &c) {
            to(j, i) = tableFromText(std::get<std::string>(c), name + " of record " + std::to_string(i + 1));
        };
        return f;
    }
    /// A long text that is read when somebody asks for it.
    RecordField deferred(std::string key, std::string title, DeferredText Record::*member,
                         std::string help) const {
        RecordField f = named(std::move(key), std::move(title), std::move(help));
        f.deferredIn = [of = m_of, member](const Job &j, std::size_t i) -> const DeferredText & {
            return of(j)[i].*member;
        };
        f.deferredOf = [of = m_of, member](Job &j, std::size_t i) -> DeferredText & {
            return of(j)[i].*member;
        };
        f.read = [in = f.deferredIn](const Job &j, std::size_t i) -> FieldContent { return in(j, i).text(); };
        f.write = [to = f.deferredOf](Job &j, std::size_t i, const FieldContent &c) {
            to(j, i) = DeferredText(std::get<std::string>(c));
        };
        return f;
    }

    RecordList list(std::string path, std::string title, std::size_t most,
                    std::vector<RecordField> fields) const {
        RecordList l;
        l.path = std::move(path);
        l.title = std::move(title);
        l.most = most;
        l.fields = std::move(fields);
        l.size = [of = m_of](const Job &j) { return of(j).size(); };
        l.resize = [of = m_of](Job &j, std::size_t n) { of(j).resize(n); };
        l.shares = [of = m_of](const Job &a, const Job &b) { return of(a).shares(of(b)); };
        l.same = [of = m_of](const Job &a, const Job &b) { return of(a) == of(b); };
        l.sameRecord = [of = m_of](const Job &a, std::size_t i, const Job &b, std::size_t k) {
            return of(a)[i] == of(b)[k];
        };
        l.ids = [of = m_of](const Job &j) { return of(j).ids(); };
        l.setIds = [of = m_of](Job &j, std::vector<RecordId> ids) { of(j).setIds(std::move(ids)); };
        l.takeIds = [of = m_of](Job &j, const Job &other) {
            std::vector<Record> records = of(std::as_const(j)).values();
            of(j) = of(other);
            of(j) = std::move(records);
        };
        l.insert = [of = m_of](Job &j, std::size_t place, RecordId id) {
            of(j).insertAt(place, Record{}, id);
        };
        l.erase = [of = m_of](Job &j, std::size_t place) { of(j).eraseAt(place); };
        return l;
    }

  private:
    RecordField named(std::string key, std::string title, std::string help) const {
        RecordField f;
        f.key = std::move(key);
        f.title = std::move(title);
        f.help = std::move(help);
        return f;
    }
    Of m_of;
};

/// listOf<Record>([](auto &j) -> auto & { return j.shelf; })
template <class Record, class Of>
ListBuilder<Record, Of> listOf(Of of) {
    return ListBuilder<Record, Of>(of);
}

inline RecordList held(RecordList l) {
    l.inRevision = true;
    return l;
}
inline RecordList guarded(std::string why, RecordList l) {
    l.inRevision = true;
    l.guarded = std::move(why);
    return l;
}
/// Others refer to its records by their first field; `what` says of what: "the name of a hydrocarbon".
inline RecordList referred(std::string what, RecordList l) {
    l.what = std::move(what);
    return l;
}

} // namespace wheelwright
