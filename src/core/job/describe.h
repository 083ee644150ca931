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

/// A scalar whose title is made up of others.
template <class Of>
Field scalarAt(std::string path, Phrase title, Of of, Phrase help) {
    using Content = std::remove_cvref_t<decltype(of(std::declval<Job &>()))>;
    Field f;
    f.path = std::move(path);
    f.title = std::move(title);
    f.help = std::move(help);
    f.read = [of](const Job &j) -> FieldContent { return of(j); };
    f.write = [of](Job &j, const FieldContent &c) { of(j) = std::get<Content>(c); };
    return f;
}

/// A scalar, as the others below: title, what leads to it, help. The id of the title is the path, which
/// stays.
template <class Of>
Field scalar(PhraseText title, Of of, PhraseText help) {
    return scalarAt(std::string(title.id), title, of, help);
}

inline Field ranged(Dimension dimension, double least, double most, Field f) {
    f.dimension = dimension;
    f.least = least;
    f.most = most;
    return f;
}

template <class Of>
Field number(PhraseText title, Dimension dimension, double least, double most, Of of, PhraseText help) {
    return ranged(dimension, least, most, scalar(title, of, help));
}

/// A number of which 0 is no quantity: "not stated", "all that the limits allow".
inline Field zeroIs(PhraseText words, Field f) {
    f.zero = words;
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

/// The same where jobs of this kind alone are calibrated by it.
inline Field held(bool (*by)(const Job &), Field f) {
    f.inRevision = true;
    f.calibrates = by;
    return f;
}

/// Must come back from a controller as it went, and why.
inline Field guarded(PhraseText why, Field f) {
    f.inRevision = true;
    f.guarded = why;
    return f;
}

/// The ids stand in the order of the enumeration.
template <class Of>
Field choice(PhraseText title, std::vector<std::string> ids, std::vector<PhraseText> titles, Of of,
             PhraseText help) {
    using Enum = std::remove_cvref_t<decltype(of(std::declval<Job &>()))>;
    Field f;
    f.path = title.id;
    f.title = title;
    f.help = help;
    f.choices = ids;
    f.choiceTitles = std::move(titles);
    f.read = [of, ids](const Job &j) -> FieldContent { return ids[static_cast<std::size_t>(of(j))]; };
    f.write = [of, ids](Job &j, const FieldContent &c) {
        of(j) = static_cast<Enum>(std::ranges::find(ids, std::get<std::string>(c)) - ids.begin());
    };
    return f;
}

template <class Of>
CurveField curve(PhraseText title, Dimension x, Dimension y, double leastY, double mostY, Of of,
                 double leastX = 0, double mostX = 1) {
    CurveField f;
    f.path = title.id;
    f.title = title;
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
void addComponent(std::vector<Field> &fields, const std::string &path, PhraseText component, Of of) {
    const auto titled = [component](PhraseText words) {
        return Phrase{MARKED("component.title", "{A}: {B}"), {}, {}, {component, words}};
    };
    const auto add = [&](const char *key, PhraseText words, Dimension dimension, double least, double most,
                         double Component::*member, PhraseText help) {
        fields.push_back(ranged(dimension, least, most,
                                scalarAt(
                                    path + key, titled(words),
                                    [ of, member ](auto &j) -> auto & { return of(j).*member; }, help)));
    };
    const auto addText = [&](const char *key, PhraseText words, std::string Component::*member,
                             PhraseText help) {
        fields.push_back(scalarAt(
            path + key, titled(words), [ of, member ](auto &j) -> auto & { return of(j).*member; }, help));
    };
    addText(".name", MARKED("component.name", "name"), &Component::name,
            MARKED("component.name.help", "What it is called."));
    add(".density_kg_m3", MARKED("component.density", "density"), Dimension::density, 600, 1000,
        &Component::densityKgM3, MARKED("component.density.help", "At 20 °C."));
    add(".stoich_afr", MARKED("component.stoich_afr", "stoichiometric AFR"), Dimension::airFuelRatio, 5, 18,
        &Component::stoichiometricAfr, MARKED("component.stoich_afr.help", "Air per fuel, by mass."));
    add(".lhv_mj_kg", MARKED("component.lhv", "lower heating value"), Dimension::energyPerMass, 15, 50,
        &Component::lowerHeatingValueMjKg,
        MARKED("component.lhv.help", "Energy without condensing the water."));
    add(".latent_heat_kj_kg", MARKED("component.latent_heat", "latent heat"), Dimension::latentHeat, 100,
        1500, &Component::latentHeatKjKg,
        MARKED("component.latent_heat.help", "Heat taken up in evaporating."));
    add(".ron", MARKED("component.ron", "RON"), Dimension::octane, 50, 140, &Component::researchOctane,
        MARKED("component.ron.help", "Research octane number."));
    add(".mon", MARKED("component.mon", "MON"), Dimension::octane, 50, 140, &Component::motorOctane,
        MARKED("component.mon.help", "Motor octane number."));
    add(".molar_mass_g_mol", MARKED("component.molar_mass", "mean molar mass"), Dimension::molarMass, 20, 200,
        &Component::molarMassGMol, MARKED("component.molar_mass.help", "Of a gasoline 100 to 110 is usual."));
    addText(".origin", MARKED("component.origin", "origin of these numbers"), &Component::origin,
            MARKED("component.origin.help", "Data sheet, measurement or common practice."));
}

/// A list of records: `of` leads from a job to it, const or not.
template <class Record, class Of>
class ListBuilder {
  public:
    explicit ListBuilder(Of of) : m_of(of) {}

    template <class T>
    RecordField field(PhraseText title, T Record::*member, PhraseText help) const {
        RecordField f = named(title, help);
        f.read = [of = m_of, member](const Job &j, std::size_t i) -> FieldContent {
            return of(j)[i].*member;
        };
        f.write = [of = m_of, member](Job &j, std::size_t i, const FieldContent &c) {
            of(j)[i].*member = std::get<T>(c);
        };
        return f;
    }
    RecordField number(PhraseText title, Dimension dimension, double least, double most,
                       double Record::*member, PhraseText help) const {
        RecordField f = field(title, member, help);
        f.dimension = dimension;
        f.least = least;
        f.most = most;
        return f;
    }
    /// A number of which 0 says that nothing is stated.
    RecordField unstated(PhraseText title, Dimension dimension, double least, double most,
                         double Record::*member, PhraseText help) const {
        RecordField f = number(title, dimension, least, most, member, help);
        f.zeroIsNone = true;
        return f;
    }
    RecordField date(PhraseText title, std::string Record::*member, PhraseText help) const {
        RecordField f = field(title, member, help);
        f.date = true;
        return f;
    }
    /// The first field of a record of another list, or empty.
    RecordField reference(PhraseText title, std::string Record::*member, std::string list,
                          PhraseText help) const {
        RecordField f = field(title, member, help);
        f.refersTo = std::move(list);
        return f;
    }
    template <class Enum>
    RecordField choice(PhraseText title, std::vector<std::string> ids, std::vector<PhraseText> titles,
                       Enum Record::*member, PhraseText help) const {
        RecordField f = named(title, help);
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
    RecordField table(PhraseText title, Part part, PhraseText help) const {
        RecordField f = named(title, help);
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
    template <class Check>
    RecordField deferred(PhraseText title, DeferredText Record::*member, Check check, PhraseText help) const {
        RecordField f = named(title, help);
        f.checkText = check;
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

    RecordList list(PhraseText title, std::size_t most, std::vector<RecordField> fields) const {
        RecordList l;
        l.path = title.id;
        l.title = title;
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
    RecordField named(PhraseText title, PhraseText help) const {
        RecordField f;
        f.key = title.id.substr(title.id.rfind('.') + 1); // "fuel.shelf.name": of the list, then its own
        f.title = title;
        f.help = help;
        return f;
    }
    Of m_of;
};

/// The id of a list's title is its path; those of its fields are that path, a dot and the key.
/// listOf<Record>([](auto &j) -> auto & { return j.shelf; })
template <class Record, class Of>
ListBuilder<Record, Of> listOf(Of of) {
    return ListBuilder<Record, Of>(of);
}

/// Added to a list after states of it were kept.
inline RecordField later(RecordField f) {
    f.later = true;
    return f;
}

inline RecordList held(RecordList l) {
    l.inRevision = true;
    return l;
}
inline RecordList guarded(PhraseText why, RecordList l) {
    l.inRevision = true;
    l.guarded = why;
    return l;
}
/// Others refer to its records by their first field; `what` says of what: "the name of a hydrocarbon".
inline RecordList referred(PhraseText what, RecordList l) {
    l.what = what;
    return l;
}

} // namespace wheelwright
