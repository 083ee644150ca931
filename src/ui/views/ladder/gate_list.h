// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ladder/ladder_status.h"
#include "ui/widgets/copy_table.h"

#include <QAbstractTableModel>

namespace wheelwright {

class Session;

/// What the gates of a rung say, a line each: shape and word of the verdict, the gate, what was found.
class GateList : public CopyTable {
    Q_OBJECT
  public:
    explicit GateList(Session &session, QWidget *parent = nullptr);
    void setStatus(const RungStatus *status); ///< nullptr: nothing is asked of it
    const GateResult *chosen() const;         ///< nullptr: none
    void choose(std::size_t row);

  signals:
    void chosenChanged();

  private:
    class Model;
    Model *m_model;
};

} // namespace wheelwright
