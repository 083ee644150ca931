// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/table_target.h"

#include "apps/cli/report.h"
#include "core/base/error.h"
#include "core/base/text.h"
#include "core/job/named_tables.h"
#include "core/job/school_definition.h"
#include "core/job/tank_history.h"
#include "core/tables/table_kind.h"
#include "store/job_editor.h"

namespace wheelwright {

bool isQuantity(const std::string &name, CalibratedQuantity &quantity) {
    for (const CalibratedQuantity q : allQuantities)
        if (name == quantityId(q)) {
            quantity = q;
            return true;
        }
    return false;
}

TableTarget::TableTarget(const Job &job, const std::string &name) {
    const Calibration &c = job.calibration;
    m_level = definitionOf(c.school).levels && !c.levels.empty();
    std::string known;
    constexpr std::string_view extras = "extras.";
    for (const ExtraTable &extra : job.extras) {
        const std::string own = std::string(extras) + extra.name;
        known += own + ", ";
        if (name != own) continue;
        m_extra = extra.name;
        m_field = fieldOf(extra);
        return;
    }
    const auto joinKnown = [&](const std::string &own) {
        known += (known.empty() || known.ends_with(", ") ? "" : ", ") + own;
    };
    for (const CalibratedQuantity q : allQuantities) {
        const std::string id(quantityId(q));
        if (m_level) {
            for (const ContentLevel &l : c.levels) {
                const std::string own = id + "." + exactNumber(l.content);
                joinKnown(own);
                if (name != own) continue;
                m_content = l.content;
                m_field = tableIn(job, q, false);
                m_field.path = "calibration.levels." + exactNumber(l.content) + "." + id;
                m_field.title = {MARKED("table.at_level", "{A} at {0}"),
                                 {{l.content, Dimension::content}},
                                 {},
                                 {quantityTitle(q)}};
                return;
            }
            continue;
        }
        for (const bool top : {false, true}) {
            const std::string own = id + (top ? ".top" : ".base");
            joinKnown(own);
            if (name != own) continue;
            m_field = tableIn(job, q, top);
            return;
        }
    }
    throw InputError("table", verbatim("one of " + known), "'" + name + "'");
}

Table2D &TableTarget::of(Job &job) const {
    if (!m_extra.empty()) return *namedTable(job, m_field.path);
    if (!m_level) return m_field.of(job);
    for (ContentLevel &l : job.calibration.levels)
        if (l.content == m_content) return l.of(m_field.quantity);
    throw InputError("table", verbatim("a level of the job"), m_field.path);
}

JobEdit::JobEdit(const std::string &path, bool write) {
    if (!write) {
        m_before = loadJob(path);
        return;
    }
    JobStore::Options options;
    options.mustWrite = true;
    constexpr int patienceMs = 1000; // two commands of one script, one after the other
    options.patienceMs = patienceMs;
    m_editor = std::make_unique<JobEditor>(JobStore::open(path, options));
    m_before = m_editor->job();
    writeFor(m_before);
}

JobEdit::JobEdit(JobEdit &&) noexcept = default;
JobEdit::~JobEdit() = default;

const JobStore &JobEdit::store() const {
    return m_editor->store();
}

void JobEdit::commit(Job after, const std::string &what, CellOrigin how) {
    if (!m_editor) {
        recordOrigins(m_before, after, how);
        return validate(after);
    }
    const JobChange change = m_editor->plan([&](Job &job) { job = std::move(after); }, {how, false});
    if (!change.empty()) m_editor->write(change, what, timestamp());
}

double contentOrTank(const Job &job, const CLI::Option &option, double asked) {
    const double content = option.count() > 0 ? asked : alcoholOf(tankNow(job).content);
    if (!(content >= 0 && content <= 1))
        throw InputError("--content", verbatim("a volume fraction from 0 to 1"), std::to_string(content));
    return content;
}

} // namespace wheelwright
