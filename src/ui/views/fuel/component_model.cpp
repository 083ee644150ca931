// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/fuel/component_model.h"

#include "core/base/error.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"

#include <algorithm>
#include <array>

namespace wheelwright {
namespace {

constexpr std::array components{"fuel.gasoline", "fuel.ethanol", "fuel.methanol"};
constexpr std::array keys{".name", ".density_kg_m3", ".stoich_afr",       ".lhv_mj_kg", ".latent_heat_kj_kg",
                          ".ron",  ".mon",           ".molar_mass_g_mol", ".origin"};

} // namespace

ComponentModel::ComponentModel(Session &session, QObject *parent)
    : QAbstractTableModel(parent), m_session(session) {
    const auto renew = [this] {
        beginResetModel();
        endResetModel();
    };
    connect(&session, &Session::jobChanged, this, [renew](const JobChange &change) {
        if (std::ranges::any_of(components, [&](const char *c) { return change.touches(c); })) renew();
    });
    connect(&session, &Session::jobReplaced, this, renew);
    connect(&session, &Session::unitsChanged, this, renew);
}

const Field &ComponentModel::fieldAt(const QModelIndex &index) const {
    return *fieldByPath(std::string(components[static_cast<std::size_t>(index.column())]) +
                        keys[static_cast<std::size_t>(index.row())]);
}

int ComponentModel::rowCount(const QModelIndex &parent) const {
    return parent.isValid() || !m_session.hasJob() ? 0 : static_cast<int>(keys.size());
}

int ComponentModel::columnCount(const QModelIndex &parent) const {
    return parent.isValid() ? 0 : static_cast<int>(components.size());
}

QVariant ComponentModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (role != Qt::DisplayRole) return {};
    if (orientation == Qt::Horizontal) {
        const std::array titles{tr("Gasoline"), tr("Ethanol"), tr("Methanol")};
        return titles[static_cast<std::size_t>(section)];
    }
    // "Gasoline: density"; the heads say gasoline.
    QString words = text(fieldAt(index(section, 0)).title.phrases.back());
    words[0] = words[0].toUpper();
    return words;
}

QVariant ComponentModel::data(const QModelIndex &index, int role) const {
    if (!index.isValid() || !m_session.hasJob()) return {};
    const Field &f = fieldAt(index);
    const FieldContent content = f.read(m_session.job()), shipped = f.read(Job{});
    const auto words = [&](const FieldContent &c) {
        const double *v = std::get_if<double>(&c);
        return v ? text(formatExact(*v, f.dimension, m_session.units())) : text(std::get<std::string>(c));
    };
    if (role == Qt::DisplayRole || role == Qt::EditRole) return words(content);
    if (role == Qt::FontRole && content != shipped) return sansFont(13, true);
    if (role == Qt::ToolTipRole)
        return content == shipped ? text(f.help) : tr("Shipped: %1").arg(words(shipped));
    return {};
}

Qt::ItemFlags ComponentModel::flags(const QModelIndex &index) const {
    const Qt::ItemFlags flags = QAbstractTableModel::flags(index);
    return !index.isValid() || m_session.readOnly() ? flags : flags | Qt::ItemIsEditable;
}

bool ComponentModel::setData(const QModelIndex &index, const QVariant &value, int role) {
    if (role != Qt::EditRole || value == data(index, role)) return false;
    const Field &f = fieldAt(index);
    const Field &origin =
        *fieldByPath(std::string(components[static_cast<std::size_t>(index.column())]) + ".origin");
    try {
        const std::string typed = value.toString().toStdString();
        const bool number = std::holds_alternative<double>(f.read(Job{}));
        const FieldContent content =
            number ? FieldContent(parse(typed, f.dimension, m_session.units(), text(f.title).toStdString()))
                   : FieldContent(typed);
        validate(f, content);
        return m_session.perform(
            QStringLiteral("%1: %2").arg(text(f.title), value.toString()), [&](Job &job) {
                // Numbers of one's own do not come from the shipped source any more.
                if (number && origin.read(job) == origin.read(Job{}))
                    origin.write(job, std::string("Own values; where bold, not the shipped ones"));
                f.write(job, content);
            });
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
        return false;
    }
}

void ComponentModel::resetToShipped(int column) {
    m_session.perform(
        tr("Shipped values: %1").arg(headerData(column, Qt::Horizontal, Qt::DisplayRole).toString()),
        [&](Job &job) {
            for (const char *key : keys) {
                const Field &f =
                    *fieldByPath(std::string(components[static_cast<std::size_t>(column)]) + key);
                f.write(job, f.read(Job{}));
            }
        });
}

} // namespace wheelwright
