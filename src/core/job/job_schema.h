// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/unit.h"
#include "core/job/job.h"

#include <functional>
#include <span>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace wheelwright {

/// The job as lists: every scalar, curve and table once, with its name, unit and range. The job file, the
/// JSON document, the difference of two jobs, validation and the Job view all read these lists, so that a new
/// field is one new line here.

using FieldContent = std::variant<double, bool, std::string>; ///< a choice is held as its id

struct Field {
    std::string path; ///< stable, dotted, units in the last word: "engine.displacement_l"
    Phrase title;     ///< as shown
    Phrase help;      ///< one sentence
    Dimension dimension = Dimension::none;
    double least = 0, most = 0;                ///< for numbers, both allowed
    bool whole = false;                        ///< numbers: whole ones only
    std::vector<std::string> choices;          ///< ids; not empty for a choice
    std::vector<PhraseText> choiceTitles;      ///< as shown, in the same order
    bool inRevision = false;                   ///< belongs to the calibration: goes into revisions
    bool (*calibrates)(const Job &) = nullptr; ///< …of such a job; none: of every one
    PhraseText guarded; ///< why it must come back from a controller as it went; empty: it need not
    PhraseText zero;    ///< numbers: what 0 says in words, and is shown as; empty: a number like others
    std::function<FieldContent(const Job &)> read;
    std::function<void(Job &, const FieldContent &)> write; ///< of the right kind and a known choice
    /// Belongs to the calibration of this job.
    bool isHeldOf(const Job &job) const { return inRevision && (!calibrates || calibrates(job)); }
};

struct CurveField {
    std::string path;
    Phrase title;
    Dimension x = Dimension::none, y = Dimension::none;
    double leastY = 0, mostY = 0;
    double leastX = 0, mostX = 1;
    bool inRevision = false;
    std::function<Curve &(Job &)> of;
    std::function<const Curve &(const Job &)> in;
};

struct TableField {
    std::string path; ///< "calibration.fuel.base"
    Phrase title;
    CalibratedQuantity quantity = CalibratedQuantity::fuel; ///< of the four of the engine alone
    bool top = false;                                       ///< of the top content; of those too
    std::string_view holds; ///< stable: what its cells are: "fuel", "spark_intake"
    Dimension dimension = Dimension::none;
    double least = 0, most = 0; ///< of a cell
    double step = 0;            ///< of one nudge
    TableAxis x, y;
    Table2D &of(Job &job) const; ///< of the four
    const Table2D &of(const Job &job) const;
};

/// One scalar of a record.
struct RecordField {
    std::string key; ///< stable: "price_per_l"
    Phrase title;
    Phrase help;
    Dimension dimension = Dimension::none;
    double least = 0, most = 0;
    bool later = false;      ///< kept since states were first kept: older ones end before it
    bool zeroIsNone = false; ///< 0 says that nothing is stated: shown as nothing, and an empty text means it
    bool date = false;       ///< text that is a date (base/iso_date.h), or empty
    std::string
        refersTo; ///< path of the list that its text names a record of by the first field; may be empty
    std::vector<std::string> choices;
    std::vector<PhraseText> choiceTitles;
    std::function<FieldContent(const Job &, std::size_t)> read; ///< tables and long texts as text
    std::function<void(Job &, std::size_t, const FieldContent &)> write;
    /// Of a Table2D (as text: tables/table_text.h), of the state of a revision (job/revision.h) and of the
    /// numbers of a run (job/run_samples.h); else empty.
    std::function<const Table2D &(const Job &, std::size_t)> tableIn;
    std::function<Table2D &(Job &, std::size_t)> tableOf;
    std::function<const DeferredText &(const Job &, std::size_t)> deferredIn;
    std::function<DeferredText &(Job &, std::size_t)> deferredOf;
    /// Of a long text: throws InputError naming the place that is handed in when it is none that belongs
    /// there.
    std::function<void(std::string_view, const std::string &where)> checkText;

    bool table() const { return static_cast<bool>(tableIn); }
    bool deferred() const { return static_cast<bool>(deferredIn); }
};

/// A list of like records: fuels on the shelf, events of the tank.
struct RecordList {
    std::string path; ///< "fuel.shelf"
    Phrase title;
    std::size_t most = 0; ///< records
    std::vector<RecordField> fields;
    bool inRevision = false;
    PhraseText guarded;
    PhraseText what; ///< what its first field is to those that refer to it: "the name of a hydrocarbon"
    std::function<std::size_t(const Job &)> size;
    std::function<void(Job &, std::size_t)> resize; ///< new ones hold the defaults
    /// Whether two jobs are known to hold the same records without comparing them.
    std::function<bool(const Job &, const Job &)> shares;
    std::function<bool(const Job &, const Job &)> same; ///< by comparing, where it must
    std::function<bool(const Job &, std::size_t, const Job &, std::size_t)> sameRecord;
    std::function<std::span<const RecordId>(const Job &)> ids;
    std::function<void(Job &, std::vector<RecordId>)> setIds; ///< as many as records, ascending
    /// Records that another job has too get the ids that they have there.
    std::function<void(Job &, const Job &other)> takeIds;
    std::function<void(Job &, std::size_t place, RecordId)> insert;
    std::function<void(Job &, std::size_t place)> erase;
};

/// The first fields of a list, each once: what a reference to it may name.
std::vector<std::string> namesIn(const Job &job, std::string_view list);
/// Whoever refers to a record by its first field follows, once no record has the old name any more. An empty
/// name is no name to follow.
void renameReferences(Job &job, std::string_view list, const std::string &from, const std::string &to);

/// The records of a list as plain contents, row by row in the order of its fields, and back.
using RecordContents = std::vector<std::vector<FieldContent>>;
RecordContents recordsOf(const Job &job, const RecordList &list);
void setRecords(Job &job, const RecordList &list, const RecordContents &contents);

/// A part of the job that is described in one file, beside its struct. Adding one is that file and a line in
/// all_chapters.def.
struct Chapter {
    std::vector<Field> fields;
    std::vector<CurveField> curves;
    std::vector<RecordList> lists;
    /// Whether two jobs hold the same of it: quick, since lists and tables that are shared are not compared.
    bool (*same)(const Job &, const Job &) = nullptr;
};
std::span<const Chapter> allChapters();

std::span<const RecordList> allRecordLists();
const RecordList *recordListByPath(std::string_view path);
/// Throws InputError naming list, record (from 1) and key.
void validate(const RecordList &list, const Job &job);
void validate(const RecordList &list, const RecordField &field, std::size_t record,
              const FieldContent &content);

std::span<const Field> allFields();
std::span<const CurveField> allCurves();
std::span<const TableField> allTables();
PhraseText quantityTitle(CalibratedQuantity quantity); ///< "Boost target"

/// nullptr when there is none.
const Field *fieldByPath(std::string_view path);
const CurveField *curveByPath(std::string_view path);
const TableField *tableByPath(std::string_view path);
/// Fuel tables have here the widest range of all meanings, and the unit of a VE.
const TableField &tableOf(CalibratedQuantity quantity, bool top);
/// With the unit, range and step that the job's meaning of its fuel tables gives, and the job's axes.
TableField tableIn(const Job &job, CalibratedQuantity quantity, bool top);
/// The same of another table of the controller.
TableField fieldOf(const ExtraTable &extra);

/// Every field with its default and every list with one record: to ask what kind of content belongs
/// somewhere. Made once, since making a job costs more than asking it.
const Job &sampleJob();

/// Throws InputError when the content is of the wrong kind, not one of the choices, or out of range.
void validate(const Field &field, const FieldContent &content);
void validate(const TableField &field, const Table2D &table);
void validate(const CurveField &field, const Curve &curve);

/// Everything about the job that must hold, field by field and between fields. Throws InputError at the first
/// breach.
void validate(const Job &job);
/// The same for a job that came out of a valid one: what both share is not looked at again.
void validateStep(const Job &before, const Job &after);

} // namespace wheelwright
