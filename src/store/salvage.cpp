// SPDX-License-Identifier: GPL-3.0-or-later
// What can be read of a file that is damaged: see JobStore::salvage.
#include "core/base/error.h"
#include "core/job/named_tables.h"
#include "core/job/statements.h"
#include "store/file_bytes.h"
#include "store/job_store.h"
#include "store/old_digests.h"
#include "store/page_rows.h"

#include <algorithm>
#include <set>

namespace wheelwright {
namespace {

constexpr PhraseText doubtful =
    MARKED("salvage.doubtful", "read, but not as its digest says: some of it may be wrong");

Measured count(std::size_t n) {
    return {static_cast<double>(n), Dimension::count};
}

/// Reads each part of the job by itself, then takes back what does not go with the rest.
class Salvager {
  public:
    Salvager(const PageRows &pages, const std::string &name)
        : m_rows(pages.rows), m_old(pages.version > 0 && pages.version < digestVersion),
          m_fresh(newJob(name)) {
        m_out.job = m_fresh;
        for (const std::string &chapter :
             m_rows.version < rowDigestVersion ? brokenOldChapters(m_rows) : brokenChapters(m_rows))
            m_broken.insert(chapter);
    }

    JobStore::Salvage salvage() {
        constexpr PhraseText limits = MARKED("salvage.limits", "Limits");
        readFields();
        for (const CurveField &c : allCurves()) {
            attempt(c.title, c.path, [&](Job &job) {
                if (m_broken.contains(c.path) && m_rows.at(RowTable::curvePoint, c.path).empty())
                    throw InputError(c.path, MARKED("expected.its_points", "its points"),
                                     MARKED("found.none", "none"));
                c.of(job) = curveFrom(m_rows, c);
            });
            m_parts.push_back({c.title, c.path, [&c](Job &to, const Job &from) { c.of(to) = c.in(from); }});
        }
        for (const TableField &t : allTables())
            readTable(tableIn(m_out.job, t.quantity, t.top), t);
        for (const RecordList &l : allRecordLists())
            readList(l);
        if (m_rows.version < rowDigestVersion)
            attempt(MARKED("salvage.origins", "Origin of cells"), oldOriginsPath,
                    [&](Job &job) { oldOriginsFrom(m_rows, job); });
        attempt(limits, limitChapter, [&](Job &job) { job.limits = limitsFrom(m_rows); });
        m_parts.push_back({limits, "limit", [](Job &to, const Job &from) { to.limits = from.limits; }});
        takeBackWhatContradicts();
        takeStatementsBack();
        if (m_old && !m_out.lost.empty())
            m_out.lost.emplace_back(
                MARKED("salvage.older", "the file is of an older version: what came later has its defaults"));
        return std::move(m_out);
    }

  private:
    struct Part {
        Phrase title;
        std::string path;
        std::function<void(Job &to, const Job &from)> copy;
    };

    void lose(const Phrase &what, const Phrase &why) {
        m_out.lost.emplace_back(MARKED("salvage.lost", "{A}: {B}"), std::vector<Measured>{},
                                std::vector<std::string>{}, std::vector{what, why});
    }

    // A file of an older version has no digests to compare with.
    bool doubt(const Phrase &what, const std::string &chapter) {
        const bool doubts = !m_old && m_broken.contains(chapter);
        if (doubts) {
            lose(what, doubtful);
            m_doubted.insert(chapter);
        }
        return doubts;
    }

    void attempt(const Phrase &title, const std::string &chapter, const std::function<void(Job &)> &read) {
        Job job = m_out.job; // half a list is worse than none
        try {
            read(job);
        } catch (const InputError &e) {
            lose(title, verbatim(e.what()));
            m_gone.insert(chapter);
            return;
        }
        m_out.job = std::move(job);
        doubt(title, chapter);
    }

    void readFields() {
        for (const Field &f : allFields()) {
            try {
                if (m_broken.contains(fieldChapter) && m_rows.at(RowTable::field, f.path).empty()) {
                    lose(f.title, MARKED("salvage.default", "gone; the default stands in its place"));
                    m_gone.insert(f.path);
                }
                f.write(m_out.job, fieldFrom(m_rows, f));
            } catch (const InputError &e) {
                lose(f.title, verbatim(e.what()));
                m_gone.insert(f.path);
            }
            m_parts.push_back(
                {f.title, f.path, [&f](Job &to, const Job &from) { f.write(to, f.read(from)); }});
        }
        if (doubt(MARKED("salvage.settings", "Settings"), fieldChapter))
            for (const Field &f : allFields())
                m_doubted.insert(f.path);
    }

    // Nobody vouches for what stands in a hole, nor for what is left around it, nor for what may be wrong: no
    // verdict rests on it before somebody has said that it is so.
    static Table2D estimates(Table2D table) {
        table.setOrigins(std::vector(table.cells().size(), CellOrigin::estimated));
        return table;
    }

    void readTable(const TableField &in, const TableField &t) {
        m_parts.push_back({t.title, t.path, [&t](Job &to, const Job &from) { t.of(to) = t.of(from); }});
        try {
            t.of(m_out.job) = tableFrom(m_rows, in);
            if (doubt(t.title, t.path)) t.of(m_out.job) = estimates(t.of(m_out.job));
        } catch (const InputError &e) {
            readPartOfTable(in, t, verbatim(e.what()));
        }
    }

    void readPartOfTable(const TableField &in, const TableField &t, const Phrase &why) {
        try {
            const auto part = partOfTable(m_rows, in);
            if (!part) return lose(t.title, why);
            validate(in, part->table);
            t.of(m_out.job) = estimates(part->table);
            lose(t.title,
                 {MARKED("salvage.cells",
                         "{0} of {1} cells are gone; in their places stands the nearest that is left"),
                  {count(part->missing), count(part->table.cells().size())}});
        } catch (const InputError &) {
            lose(t.title, why);
        }
    }

    void readList(const RecordList &list) {
        m_parts.push_back({list.title, list.path, [&list](Job &to, const Job &from) {
                               setRecords(to, list, recordsOf(from, list));
                           }});
        Job whole = m_out.job;
        try {
            // A row that is missing would come back as a default that nobody chose.
            if (m_broken.contains(list.path) || digestIsGone(list.path))
                throw InputError(list.path, MARKED("expected.what_its_digest_says", "what its digest says"),
                                 MARKED("found.something_else", "something else"));
            recordsFrom(m_rows, list, whole);
            m_out.job = std::move(whole);
            doubt(list.title, list.path);
            doubtParts(list);
        } catch (const InputError &e) {
            whole = m_out.job;
            const PartOfRecords part = partOfRecords(m_rows, list, whole);
            if (part.kept == 0 && part.dropped == 0)
                return lose(list.title, MARKED("salvage.nothing", "nothing of it is left"));
            if (part.kept == 0) return lose(list.title, verbatim(e.what()));
            m_out.job = std::move(whole);
            if (part.dropped == 0) {
                doubt(list.title, list.path);
                return doubtParts(list);
            }
            lose(list.title, {MARKED("salvage.records", "{0} of {1} records are gone"),
                              {count(part.dropped), count(part.dropped + part.kept)}});
        }
    }

    // With its digest, a list may have gone without a trace.
    bool digestIsGone(const std::string &path) const {
        return m_broken.contains(digestChapter) &&
               std::ranges::none_of(m_rows.in(RowTable::digest),
                                    [&](const Row &row) { return row[0] == RowValue(path); });
    }

    // Tables and long texts of records have digests of their own.
    void doubtParts(const RecordList &list) {
        const auto ids = list.ids(m_out.job);
        for (std::size_t i = 0; i < ids.size(); ++i)
            for (const RecordField &f : list.fields)
                if (f.table() || f.deferred())
                    doubt({MARKED("salvage.part", "{A} {0}, {B}"), {count(i + 1)}, {}, {list.title, f.title}},
                          recordTablePath(list, ids[i], f));
    }

    // Empty: the job holds.
    std::string contradiction() const {
        try {
            validate(m_out.job);
            return {};
        } catch (const InputError &e) {
            return e.where();
        }
    }

    void takeBack(const Part &part) {
        part.copy(m_out.job, m_fresh);
        m_gone.insert(part.path);
        lose(part.title, MARKED("salvage.contradicts", "does not go with the rest of what is left"));
    }

    // The error says where; where that is no part of the job, the last parts go first, since they refer to
    // the others. A fresh job holds, so this ends.
    void takeBackWhatContradicts() {
        std::string where = contradiction();
        std::set<std::string> taken;
        while (!where.empty()) {
            const Part *named = nullptr;
            for (const Part &p : m_parts)
                if (where.starts_with(p.path) && !taken.contains(p.path) &&
                    (!named || p.path.size() > named->path.size()))
                    named = &p;
            for (auto p = m_parts.rbegin(); !named && p != m_parts.rend(); ++p)
                if (!taken.contains(p->path)) named = &*p;
            if (!named) break;
            taken.insert(named->path);
            takeBack(*named);
            where = contradiction();
        }
    }

    // Of fields and curves as of tables: a default says nothing, what may be wrong is an estimate.
    void takeStatementsBack() {
        m_out.job.stated.eraseIf([&](const Statement &s) { return m_gone.contains(s.path); });
        const bool wordsMayBeWrong = !m_old && (m_broken.contains("stated") || digestIsGone("stated"));
        for (Statement &s : m_out.job.stated)
            if (wordsMayBeWrong || m_doubted.contains(s.path)) s.estimated = true;
    }

    const JobRows &m_rows;
    bool m_old;
    Job m_fresh;
    std::set<std::string> m_broken;
    std::set<std::string> m_gone;    // a default stands in its place
    std::set<std::string> m_doubted; // read, and may be wrong
    std::vector<Part> m_parts;
    JobStore::Salvage m_out;
};

bool nothingIn(const JobRows &rows) {
    return std::ranges::all_of(rows.of, [](const std::vector<Row> &r) { return r.empty(); });
}

} // namespace

JobStore::Salvage JobStore::salvage(const std::filesystem::path &path) {
    const std::string name = path.filename().string();
    const MappedFile file = [&] {
        try {
            return rolledBackBytes(path);
        } catch (const InputError &e) {
            throw InputError(
                name,
                MARKED("expected.job_file_which_something_can", "a job file of which something can be read"),
                e.found());
        }
    }();
    const PageRows pages = rowsFromPages(file.bytes());
    if (nothingIn(pages.rows))
        throw InputError(
            name,
            MARKED("expected.job_file_which_something_can", "a job file of which something can be read"),
            file.bytes().empty() ? "an empty file" : "no row of a job in it");
    return Salvager(pages, path.stem().string()).salvage();
}

} // namespace wheelwright
