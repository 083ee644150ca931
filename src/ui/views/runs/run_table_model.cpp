// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/runs/run_table_model.h"

#include "session/run_book.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"

#include <QFont>

namespace wheelwright {
namespace {

std::string Run::*written(int column) {
    switch (column) {
    case RunTableModel::fuel:
        return &Run::fuel;
    case RunTableModel::change:
        return &Run::change;
    case RunTableModel::hardware:
        return &Run::hardware;
    case RunTableModel::verdict:
        return &Run::verdict;
    case RunTableModel::next:
        return &Run::next;
    default:
        return nullptr;
    }
}

} // namespace

RunTableModel::RunTableModel(Session &session, QObject *parent)
    : QAbstractTableModel(parent), m_session(session) {
    const auto repaint = [this] {
        if (rowCount() > 0) emit dataChanged(index(0, 0), index(rowCount() - 1, columns - 1));
    };
    // What is selected, and where somebody has scrolled to, stays while the same runs are there.
    const auto take = [this, repaint] {
        std::vector<std::string> ids;
        for (const Run &r : m_session.job().runs.values())
            ids.push_back(r.id);
        if (ids == m_ids) {
            repaint();
        } else {
            beginResetModel();
            m_ids = std::move(ids);
            endResetModel();
        }
        startDifferences();
    };
    connect(&session.runBook(), &RunBook::runsChanged, this, take);
    take();
    connect(&session.runBook(), &RunBook::choiceChanged, this, repaint);
    connect(&session, &Session::unitsChanged, this, repaint);
    connect(&m_differences, &WorkSignals::finished, this, [this, repaint] {
        repaint();
        emit differencesChanged();
    });
}

int RunTableModel::rowCount(const QModelIndex &parent) const {
    return parent.isValid() ? 0 : static_cast<int>(m_ids.size());
}

int RunTableModel::columnCount(const QModelIndex &parent) const {
    return parent.isValid() ? 0 : columns;
}

std::string RunTableModel::idOf(int row) const {
    const std::vector<Run> &runs = m_session.job().runs.values();
    return row >= 0 && row < std::ssize(runs) ? runs[static_cast<std::size_t>(row)].id : std::string();
}

int RunTableModel::rowOf(const std::string &id) const {
    const std::vector<Run> &runs = m_session.job().runs.values();
    const auto at = std::ranges::find(runs, id, &Run::id);
    return at == runs.end() ? -1 : static_cast<int>(at - runs.begin());
}

void RunTableModel::setSelected(const std::string &id) {
    if (m_selected == id) return;
    m_selected = id;
    startDifferences();
}

// Each run against the selected one, heat and weather aside.
void RunTableModel::startDifferences() {
    const auto selected = m_session.runBook().run(m_selected);
    if (!selected) {
        m_differences.forget();
        emit differencesChanged();
        return;
    }
    m_differences.start(m_session.jobVersion(), [job = m_session.job(), runs = m_session.runBook().runs(),
                                                 selected](const WorkControl &control) {
        Causes out;
        const RunDifferenceFinder finder(job);
        for (const auto &r : runs) {
            if (control.stopped()) break;
            out[r->run.id] = finder.between(std::span(&selected, 1), std::span(&r, 1), {true, true}).causes();
        }
        return out;
    });
}

const std::vector<RunCause> &RunTableModel::causesOf(const std::string &id) const {
    static const std::vector<RunCause> none;
    if (!m_differences.result()) return none;
    const auto at = m_differences.result()->find(id);
    return at == m_differences.result()->end() ? none : at->second;
}

QString RunTableModel::differsText(const std::string &id) const {
    if (m_selected.empty() || !m_differences.result() || !m_differences.result()->contains(id)) return {};
    if (id == m_selected) return tr("this one");
    QStringList words;
    for (const RunCause c : causesOf(id))
        words << text(Phrase(titleOf(c)));
    return words.isEmpty() ? tr("the same") : words.join(QStringLiteral(", "));
}

QVariant RunTableModel::textOf(int row, Column column) const {
    const Run &run = m_session.job().runs.values()[static_cast<std::size_t>(row)];
    const UnitChoice &units = m_session.units();
    const auto measured = m_session.runBook().run(run.id);
    switch (column) {
    case side:
        switch (m_session.runBook().side(run.id)) {
        case RunBook::Side::before:
            return tr("before");
        case RunBook::Side::after:
            return tr("after");
        case RunBook::Side::none:
            return {};
        }
        return {};
    case number:
        return text(run.id);
    case name:
        return text(run.name);
    case content:
        return run.contentBasis == RunContentBasis::none
                   ? QVariant()
                   : text(contentName(run.content, m_session.job().alcohol == Alcohol::methanol));
    case peak: {
        if (!measured) return {};
        const RunPeak p = peakOf(measured->curve.rpm, measured->curve.powerKw);
        return tr("%1 at %2")
            .arg(shown(p.value, Dimension::power, units), shown(p.rpm, Dimension::engineSpeed, units));
    }
    case warmth:
        return run.startIntakeC == 0 ? QVariant() : shown(run.startIntakeC, Dimension::temperature, units);
    case mode: {
        const RecordList &list = *recordListByPath("runs.runs");
        const auto field = std::ranges::find(list.fields, "mode", &RecordField::key);
        const QString title = text(Phrase(field->choiceTitles[static_cast<std::size_t>(run.mode)]));
        return run.dyno.empty() ? title : text(run.dyno) + QStringLiteral(", ") + title.toLower();
    }
    case differs:
        return differsText(run.id);
    default:
        return text(run.*written(column));
    }
}

QVariant RunTableModel::data(const QModelIndex &index, int role) const {
    // Between a change of the job and the word of it there are other rows than these.
    if (!index.isValid() || idOf(index.row()).empty()) return {};
    const auto column = static_cast<Column>(index.column());
    const Run &run = m_session.job().runs.values()[static_cast<std::size_t>(index.row())];
    if (role == Qt::DisplayRole || role == Qt::EditRole) return textOf(index.row(), column);
    if (role == Qt::ToolTipRole) {
        const QString trouble = m_session.runBook().trouble(run.id);
        return trouble.isEmpty() ? textOf(index.row(), column) : trouble;
    }
    if (role == Qt::DecorationRole && column == number && run.contentBasis != RunContentBasis::none)
        return theme().content(run.content);
    if (role == Qt::FontRole && column == side) return sansFont(13, true);
    if (role == Qt::ForegroundRole && column == differs && run.id == m_selected) return theme().quiet;
    if (role == Qt::TextAlignmentRole && (column == peak || column == warmth))
        return int(Qt::AlignRight | Qt::AlignVCenter);
    return {};
}

QVariant RunTableModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole) return {};
    switch (static_cast<Column>(section)) {
    case side:
        return tr("Side");
    case number:
        return tr("#");
    case name:
        return tr("Run");
    case fuel:
        return tr("Fuel");
    case content:
        return tr("Content");
    case change:
        return tr("Change");
    case peak:
        return tr("Peak");
    case warmth:
        return tr("Intake");
    case mode:
        return tr("Dyno");
    case differs:
        return tr("Differs in");
    case hardware:
        return tr("Hardware");
    case verdict:
        return tr("Verdict");
    case next:
        return tr("Next");
    case columns:
        break;
    }
    return {};
}

Qt::ItemFlags RunTableModel::flags(const QModelIndex &index) const {
    const Qt::ItemFlags usual = QAbstractTableModel::flags(index);
    return written(index.column()) && !m_session.readOnly() ? usual | Qt::ItemIsEditable : usual;
}

bool RunTableModel::setData(const QModelIndex &index, const QVariant &value, int role) {
    std::string Run::*member = written(index.column());
    if (role != Qt::EditRole || !member) return false;
    const std::string words = value.toString().trimmed().toStdString();
    const auto row = static_cast<std::size_t>(index.row());
    return m_session.perform(tr("Note on run %1").arg(text(idOf(index.row()))),
                             [&](Job &job) { job.runs[row].*member = words; });
}

} // namespace wheelwright
