// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/revision.h"

#include "core/base/error.h"
#include "core/base/text.h"
#include "core/job/named_tables.h"
#include "core/job/old_ceilings.h"
#include "core/job/said_content.h"
#include "core/tables/table_text.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <utility>

namespace wheelwright {
namespace {

// Where the numbers of a table come from, after all tables.
constexpr const char *originsPath = "calibration.origins";

std::string escaped(const std::string &text) {
    std::string out;
    for (const char c : text)
        out += c == '\n'   ? std::string("\\n")
               : c == '\t' ? std::string("\\t")
               : c == '\\' ? "\\\\"
                           : std::string(1, c);
    return out;
}

std::string unescaped(std::string_view text) {
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
        if (text[i] != '\\' || i + 1 == text.size()) {
            out += text[i];
            continue;
        }
        ++i;
        out += text[i] == 'n' ? '\n' : text[i] == 't' ? '\t' : text[i];
    }
    return out;
}

std::string written(const FieldContent &content) {
    if (const double *v = std::get_if<double>(&content)) return exactNumber(*v);
    if (const bool *b = std::get_if<bool>(&content)) return *b ? "true" : "false";
    return escaped(std::get<std::string>(content));
}

FieldContent readAs(const FieldContent &kind, std::string_view text, const std::string &where) {
    if (std::holds_alternative<std::string>(kind)) return unescaped(text);
    if (std::holds_alternative<bool>(kind)) return text == "true";
    double v = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), v);
    if (error != std::errc{} || end != text.data() + text.size())
        throw InputError(where, MARKED("expected.a_number", "a number"), "'" + std::string(text) + "'");
    return v;
}

Table2D asTable(const Curve &curve) {
    return Table2D(curve.axis(), Axis(std::vector<double>{0}), curve.values());
}

// The part up to a tab or the end.
std::string_view cut(std::string_view &line) {
    const std::size_t tab = line.find('\t');
    const std::string_view part = line.substr(0, tab);
    line.remove_prefix(tab == std::string_view::npos ? line.size() : tab + 1);
    return part;
}

void restoreRecord(Job &job, const RecordList &list, std::string_view line, const std::string &where) {
    const std::size_t i = list.size(job);
    list.resize(job, i + 1);
    // An older state ends before what has been added since, which then has its default.
    const auto parts = static_cast<std::size_t>(std::ranges::count(line, '\t')) + 1;
    for (std::size_t k = 0; k < list.fields.size(); ++k) {
        const RecordField &f = list.fields[k];
        if (k >= parts && f.later) continue;
        const FieldContent content = readAs(f.read(job, i), cut(line), where + " " + f.key);
        validate(list, f, i, content);
        f.write(job, i, content);
    }
}

void restoreLine(Job &job, std::string_view line, const std::string &where) {
    const std::string path(cut(line));
    if (path == originsPath) {
        const std::string table = unescaped(cut(line));
        setOriginText(job, table, line, where);
        return;
    }
    if (const Field *field = fieldByPath(path)) {
        const FieldContent content = readAs(field->read(job), line, where);
        validate(*field, content);
        field->write(job, content);
    } else if (const CurveField *curve = curveByPath(path)) {
        const Table2D t = tableFromText(line, where);
        curve->of(job) = Curve(t.x().points(), t.cells(), path);
    } else if (const TableField *table = tableByPath(path)) {
        table->of(job) = tableFromText(line, where);
    } else if (const RecordList *list = recordListByPath(path)) {
        restoreRecord(job, *list, line, where);
    } else {
        throw InputError(
            where, MARKED("expected.path_something_state_holds", "the path of something that a state holds"),
            "'" + path + "'");
    }
}

// Into a job whose held lists are empty.
void restoreLines(Job &job, std::string_view state, const std::string &where) {
    for (int line = 1; !state.empty(); ++line) {
        const std::size_t end = state.find('\n');
        restoreLine(job, state.substr(0, end), where + " line " + std::to_string(line));
        state.remove_prefix(end == std::string_view::npos ? state.size() : end + 1);
    }
}

void emptyHeldLists(Job &job) {
    for (const RecordList &list : allRecordLists())
        if (list.inRevision) list.resize(job, 0);
}

} // namespace

std::string stateOf(const Job &job) {
    std::string out;
    for (const Field &f : allFields())
        if (f.isHeldOf(job)) out += f.path + '\t' + written(f.read(job)) + '\n';
    for (const CurveField &c : allCurves())
        if (c.inRevision) out += c.path + '\t' + tableToText(asTable(c.in(job))) + '\n';
    for (const TableField &t : allTables())
        out += t.path + '\t' + tableToText(t.of(job)) + '\n';
    for (const RecordList &list : allRecordLists()) {
        if (!list.inRevision) continue;
        for (std::size_t i = 0; i < list.size(job); ++i) {
            out += list.path;
            for (const RecordField &f : list.fields)
                out += '\t' + written(f.read(job, i));
            out += '\n';
        }
    }
    for (const auto &[table, codes] : originTexts(job))
        out += originsPath + ('\t' + escaped(table)) + '\t' + codes + '\n';
    return out;
}

Job restored(const Job &job, const Revision &revision) {
    Job out = job;
    // States from before there were other axes do not name them.
    out.calibration.loadAxis = LoadAxis::manifoldPressure;
    out.calibration.boostAxis = BoostAxis::throttle;
    out.injectors.railByLoadKpa = Curve::constant(0); // nor a commanded rail pressure
    emptyHeldLists(out);
    restoreLines(out, revision.state.text(), "revision '" + revision.name + "'");
    spreadOldCeilings(out);
    for (const RecordList &list : allRecordLists())
        if (list.inRevision) list.takeIds(out, job);
    validateStep(job, out); // what it shares with a sound job is sound
    return out;
}

void validateState(std::string_view state, const std::string &where) {
    static const Job fresh = newJob("");
    Job scratch = fresh;
    emptyHeldLists(scratch);
    restoreLines(scratch, state, where);
}

namespace {

void checkName(const Job &job, const std::string &name) {
    if (name.empty())
        throw InputError("revision", MARKED("expected.a_name", "a name"), MARKED("found.nothing", "nothing"));
    if (std::ranges::find(job.revisions, name, &Revision::name) != job.revisions.end())
        throw InputError("revision", MARKED("expected.a_name_of_its_own", "a name of its own"),
                         "'" + name + "' again");
}

void makeCurrent(Job &job, std::size_t place) {
    for (std::size_t i = 0; i < job.revisions.size(); ++i)
        if (job.revisions.values()[i].current != (i == place)) job.revisions[i].current = i == place;
}

} // namespace

void keepRevision(Job &job, const std::string &name, const std::string &at, const std::string &note,
                  bool sent) {
    checkName(job, name);
    Revision kept{.name = name, .at = at, .note = note, .sent = sent, .state = stateOf(job)};
    if (const Revision *from = currentRevision(job)) kept.parent = from->name;
    job.revisions.push_back(std::move(kept));
    makeCurrent(job, job.revisions.size() - 1);
}

void renameRevision(Job &job, std::size_t place, const std::string &name) {
    const std::string was = std::as_const(job).revisions[place].name;
    if (name == was) return;
    checkName(job, name);
    job.revisions[place].name = name;
    for (std::size_t i = 0; i < job.revisions.size(); ++i)
        if (std::as_const(job).revisions[i].parent == was) job.revisions[i].parent = name;
    for (std::size_t i = 0; i < job.logs.size(); ++i)
        if (std::as_const(job).logs[i].revision == was) job.logs[i].revision = name;
    for (std::size_t i = 0; i < job.runs.size(); ++i)
        if (std::as_const(job).runs[i].revision == was) job.runs[i].revision = name;
}

const Revision *currentRevision(const Job &job) {
    const std::vector<Revision> &all = job.revisions.values();
    const auto at = std::ranges::find(all, true, &Revision::current);
    return at == all.end() ? nullptr : &*at;
}

Job takenBack(const Job &job, std::size_t place) {
    Job back = restored(job, job.revisions.values()[place]);
    makeCurrent(back, place);
    return back;
}

void removeRevision(Job &job, std::size_t place) {
    const Revision gone = job.revisions.values()[place];
    for (std::size_t i = 0; i < job.revisions.size(); ++i) {
        const Revision &r = job.revisions.values()[i];
        if (i != place && r.parent == gone.name) job.revisions[i].parent = gone.parent;
        if (gone.current && r.name == gone.parent) job.revisions[i].current = true;
    }
    job.revisions.eraseAt(place);
}

namespace {

// "calibration.levels" of "calibration.levels#1048576.spark"; of another table itself.
std::string listOfTable(const std::string &path) {
    return path.substr(0, path.find('#'));
}

Phrase titleOfTable(const std::string &path) {
    if (const TableField *field = tableByPath(path)) return field->title;
    const RecordList &list = *recordListByPath(listOfTable(path));
    const auto field = std::ranges::find(list.fields, path.substr(path.rfind('.') + 1), &RecordField::key);
    return {MARKED("difference.table", "{A}, {B}"), {}, {}, {list.title, field->title}};
}

} // namespace

namespace {

// A constant by its values, another curve by how many points were moved, and how far at most.
void saySteps(Difference &d, const CurveField &field, const Curve &before, const Curve &after) {
    if (before.axis() != after.axis() || before.values().size() == 1) {
        d.was = saidCurve(field, before);
        d.is = saidCurve(field, after);
        return;
    }
    double points = 0, worst = 0;
    for (std::size_t i = 0; i < before.values().size(); ++i) {
        const double step = after.values()[i] - before.values()[i];
        points += step != 0 ? 1 : 0;
        if (std::abs(step) > std::abs(worst)) worst = step;
    }
    d.is = {MARKED("difference.points", "{0} points, at most {1}"),
            {{points, Dimension::count}, shortly(worst, differenceOf(field.y))}};
}

} // namespace

std::string calibrationThatRan(Job &job, const std::string &revision, const std::string &what,
                               const std::string &at) {
    const std::vector<Revision> &all = job.revisions.values();
    if (!revision.empty()) {
        const auto named = std::ranges::find(all, revision, &Revision::name);
        if (named == all.end())
            throw InputError("revision", MARKED("expected.revision_of_job", "a revision of this job"),
                             "'" + echoed(revision, 40) + "'");
        return calibrationPrint(named->state.text());
    }
    std::string print = calibrationPrint(stateOf(job));
    constexpr std::size_t mostKept = 150; // of the 200 that there may be, some are left to the user
    if (all.size() >= mostKept || std::ranges::any_of(all, [&](const Revision &r) {
            return calibrationPrint(r.state.text()) == print;
        }))
        return print;
    std::string name = "Ran " + what;
    for (int count = 2; std::ranges::find(all, name, &Revision::name) != all.end(); ++count)
        name = "Ran " + what + " " + std::to_string(count);
    keepRevision(job, name, at, "", false);
    return print;
}

RanWith::Found RanWith::find(const std::string &revision, const std::string &calibration) {
    const auto &all = m_job.revisions.values();
    if (const auto named = std::ranges::find(all, revision, &Revision::name);
        !revision.empty() && named != all.end())
        return {true, &*named};
    if (m_print.empty()) m_print = calibrationPrint(stateOf(m_job));
    if (calibration == m_print) return {true, nullptr};
    if (m_kept.empty())
        for (const Revision &r : all)
            m_kept.emplace(calibrationPrint(r.state.text()), &r);
    const auto kept = m_kept.find(calibration);
    return kept == m_kept.end() ? Found{} : Found{true, kept->second};
}

std::optional<Job> jobThatRan(const Job &job, const std::string &revision, const std::string &calibration) {
    const RanWith::Found found = RanWith(job).find(revision, calibration);
    if (!found.known) return std::nullopt;
    return found.revision ? restored(job, *found.revision) : job;
}

bool isGuarded(std::string_view path) {
    if (const Field *f = fieldByPath(path)) return !f->guarded.empty();
    const RecordList *l = recordListByPath(path);
    return l && !l->guarded.empty();
}

std::vector<Difference> differencesOf(const Job &before, const Job &after) {
    const JobChange change = difference(before, after);
    std::vector<Difference> out;
    const auto add = [&](const std::string &path, const Phrase &title, Phrase was,
                         Phrase is) -> Difference & {
        Difference d;
        d.path = path;
        d.title = title;
        d.before = std::move(was);
        d.after = std::move(is);
        d.guarded = isGuarded(path);
        return out.emplace_back(std::move(d));
    };
    for (const auto &f : change.fields) {
        const Field &field = *fieldByPath(f.path);
        Difference &d =
            add(f.path, field.title, verbatim(written(f.step.before)), verbatim(written(f.step.after)));
        d.was = saidContent(field, f.step.before);
        d.is = saidContent(field, f.step.after);
    }
    for (const auto &c : change.curves) {
        const CurveField &field = *curveByPath(c.path);
        Difference &d = add(c.path, field.title, verbatim(tableToText(asTable(c.step.before))),
                            verbatim(tableToText(asTable(c.step.after))));
        saySteps(d, field, c.step.before, c.step.after);
    }
    for (const auto &t : change.cells) {
        Difference d;
        d.path = t.path;
        const Table2D &table = *tableAt(before, t.path);
        d.columns = table.x().size();
        d.steps.resize(table.cells().size());
        for (const JobChange::Cell &c : t.cells) {
            if (c.after == c.before) continue; // where a number comes from is no difference between two files
            ++d.cells;
            d.steps[c.at.y * d.columns + c.at.x] = c.after - c.before;
            if (std::abs(c.after - c.before) <= std::abs(d.worst)) continue;
            d.worst = c.after - c.before;
            d.rpm = table.x()[c.at.x];
            d.y = table.y()[c.at.y];
        }
        if (d.cells == 0) continue;
        d.title = titleOfTable(t.path);
        d.after = {MARKED("difference.cells", "{0} cells"),
                   {{static_cast<double>(d.cells), Dimension::count}}};
        d.guarded = isGuarded(listOfTable(t.path));
        out.push_back(std::move(d));
    }
    for (const auto &t : change.tables)
        add(t.path, titleOfTable(t.path), {}, MARKED("difference.breakpoints", "other breakpoints")).is =
            MARKED("difference.breakpoints", "other breakpoints");
    for (const auto &r : change.records) {
        const RecordList &list = *recordListByPath(r.path);
        const auto records = [&](const Job &job) {
            return Phrase{MARKED("difference.records", "{0} records"),
                          {{static_cast<double>(list.size(job)), Dimension::none}}};
        };
        Difference &d = add(r.path, list.title, records(before), records(after));
        d.was = d.before;
        d.is = d.after;
    }
    const auto limit = [](const std::optional<double> &own) {
        return own ? verbatim(exactNumber(*own)) : Phrase{MARKED("difference.shipped", "shipped")};
    };
    for (const auto &l : change.limits) {
        const LimitDefinition &of = limitById(l.id);
        const auto said = [&of](const std::optional<double> &own) {
            return own ? Phrase{MARKED("sheet.value.number", "{0}"), {shortly(*own, of.dimension)}}
                       : Phrase{MARKED("difference.shipped", "shipped")};
        };
        Difference &d = add("limit:" + l.id, of.title, limit(l.step.before), limit(l.step.after));
        d.was = said(l.step.before);
        d.is = said(l.step.after);
    }
    return out;
}

} // namespace wheelwright
