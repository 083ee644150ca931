// SPDX-License-Identifier: GPL-3.0-or-later
// What can be read of a file that is damaged: see JobStore::salvage.
#include "core/base/error.h"
#include "core/job/named_tables.h"
#include "store/file_bytes.h"
#include "store/job_store.h"
#include "store/old_digests.h"
#include "store/page_rows.h"

#include <algorithm>
#include <set>

namespace wheelwright {
namespace {

constexpr const char *doubtful = "read, but not as its digest says: some of it may be wrong";

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
        readFields();
        for (const CurveField &c : allCurves()) {
            attempt(c.title, c.path, [&](Job &job) {
                if (m_broken.contains(c.path) && m_rows.at(RowTable::curvePoint, c.path).empty())
                    throw InputError(c.path, "its points", "none");
                c.of(job) = curveFrom(m_rows, c);
            });
            m_parts.push_back({c.title, c.path, [&c](Job &to, const Job &from) { c.of(to) = c.in(from); }});
        }
        for (const TableField &t : allTables())
            readTable(tableIn(m_out.job, t.quantity, t.top), t);
        for (const RecordList &l : allRecordLists())
            readList(l);
        if (m_rows.version < rowDigestVersion)
            attempt("Origin of cells", oldOriginsPath, [&](Job &job) { oldOriginsFrom(m_rows, job); });
        attempt("Limits", limitChapter, [&](Job &job) { job.limits = limitsFrom(m_rows); });
        m_parts.push_back({"Limits", "limit", [](Job &to, const Job &from) { to.limits = from.limits; }});
        takeBackWhatContradicts();
        if (m_old && !m_out.lost.empty())
            m_out.lost.emplace_back("the file is of an older version: what came later has its defaults");
        return std::move(m_out);
    }

  private:
    struct Part {
        std::string title, path;
        std::function<void(Job &to, const Job &from)> copy;
    };

    void lose(const std::string &what, const std::string &why) { m_out.lost.push_back(what + ": " + why); }

    // A file of an older version has no digests to compare with.
    void doubt(const std::string &what, const std::string &chapter) {
        if (!m_old && m_broken.contains(chapter)) lose(what, doubtful);
    }

    bool attempt(const std::string &title, const std::string &chapter,
                 const std::function<void(Job &)> &read) {
        Job job = m_out.job; // half a list is worse than none
        try {
            read(job);
        } catch (const InputError &e) {
            lose(title, e.what());
            return false;
        }
        m_out.job = std::move(job);
        doubt(title, chapter);
        return true;
    }

    void readFields() {
        for (const Field &f : allFields()) {
            try {
                if (m_broken.contains(fieldChapter) && m_rows.at(RowTable::field, f.path).empty())
                    lose(f.title, "gone; the default stands in its place");
                f.write(m_out.job, fieldFrom(m_rows, f));
            } catch (const InputError &e) {
                lose(f.title, e.what());
            }
            m_parts.push_back(
                {f.title, f.path, [&f](Job &to, const Job &from) { f.write(to, f.read(from)); }});
        }
        doubt("Settings", fieldChapter);
    }

    void readTable(const TableField &in, const TableField &t) {
        m_parts.push_back({t.title, t.path, [&t](Job &to, const Job &from) { t.of(to) = t.of(from); }});
        try {
            t.of(m_out.job) = tableFrom(m_rows, in);
            doubt(t.title, t.path);
        } catch (const InputError &e) {
            readPartOfTable(in, t, e.what());
        }
    }

    void readPartOfTable(const TableField &in, const TableField &t, const std::string &why) {
        try {
            const auto part = partOfTable(m_rows, in);
            if (!part) return lose(t.title, why);
            validate(in, part->table);
            t.of(m_out.job) = part->table;
            lose(t.title, std::to_string(part->missing) + " of " +
                              std::to_string(part->table.cells().size()) +
                              " cells are gone; in their places stands the nearest that is left");
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
                throw InputError(list.path, "what its digest says", "something else");
            recordsFrom(m_rows, list, whole);
            m_out.job = std::move(whole);
            doubt(list.title, list.path);
            doubtParts(list);
        } catch (const InputError &e) {
            whole = m_out.job;
            const PartOfRecords part = partOfRecords(m_rows, list, whole);
            if (part.kept == 0 && part.dropped == 0) return lose(list.title, "nothing of it is left");
            if (part.kept == 0) return lose(list.title, e.what());
            m_out.job = std::move(whole);
            if (part.dropped == 0) {
                doubt(list.title, list.path);
                return doubtParts(list);
            }
            lose(list.title, std::to_string(part.dropped) + " of " +
                                 std::to_string(part.dropped + part.kept) + " records are gone");
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
                    doubt(list.title + " " + std::to_string(i + 1) + ", " + f.title,
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
        lose(part.title, "does not go with the rest of what is left");
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

    const JobRows &m_rows;
    bool m_old;
    Job m_fresh;
    std::set<std::string> m_broken;
    std::vector<Part> m_parts;
    JobStore::Salvage m_out;
};

bool nothingIn(const JobRows &rows) {
    return std::ranges::all_of(rows.of, [](const std::vector<Row> &r) { return r.empty(); });
}

} // namespace

JobStore::Salvage JobStore::salvage(const std::filesystem::path &path) {
    const std::string name = path.filename().string();
    const auto bytes = [&] {
        try {
            return rolledBackBytes(path);
        } catch (const InputError &e) {
            throw InputError(name, "a job file of which something can be read", e.found());
        }
    }();
    const PageRows pages = rowsFromPages(bytes);
    if (nothingIn(pages.rows))
        throw InputError(name, "a job file of which something can be read",
                         bytes.empty() ? "an empty file" : "no row of a job in it");
    return Salvager(pages, path.stem().string()).salvage();
}

} // namespace wheelwright
