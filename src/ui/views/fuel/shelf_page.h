// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QWidget>

class QTabWidget;
class QTableView;

namespace wheelwright {

class ComponentModel;
class RecordTable;
class ReportView;
class Session;

/// The fuels within reach, what must be known before they are poured, and what stands behind them: lots, tube
/// results, mixtures, hydrocarbons and components.
class ShelfPage : public QWidget {
    Q_OBJECT
  public:
    explicit ShelfPage(Session &session, QWidget *parent = nullptr);
    bool showInput(const QString &link);
    RecordTable *shelf() { return m_shelf; }
    QString flagsText() const;
    ComponentModel *components() { return m_components; }

  protected:
    void changeEvent(QEvent *event) override;

  private:
    QWidget *makeComponents();
    void refresh();

    Session &m_session;
    RecordTable *m_shelf = nullptr;
    ReportView *m_flags = nullptr;
    QTabWidget *m_tabs = nullptr;
    ComponentModel *m_components = nullptr;
    QTableView *m_componentView = nullptr;
};

} // namespace wheelwright
