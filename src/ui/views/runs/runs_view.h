// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/views/view.h"

class QComboBox;
class QLabel;
class QPushButton;
class QStackedLayout;

namespace wheelwright {

class RunComparePage;
class CopyTable;
class PageSwitch;
class RunSheetsPage;
class RunTableModel;
class RunDetailsPage;
class RunRoadPage;

/// Power runs as a table of what differs between them, and under it what they say: those before against those
/// after, and the sheets of the day.
class RunsView : public View {
    Q_OBJECT
  public:
    explicit RunsView(Session &session, QWidget *parent = nullptr);
    bool showInput(const QString &link) override;
    void takeFiles(const QStringList &files) override;

    void chooseFiles();
    void takeFromLog(); ///< the pulls of the log that Evidence looks at
    void typePoints();
    void takePoints(const QString &text, bool power);
    void removeSelected();
    void setSides(int side); ///< RunBook::Side of the selected rows
    CopyTable &table() { return *m_table; }
    RunTableModel &model() { return *m_model; }
    RunComparePage &compare() { return *m_compare; }
    RunSheetsPage &sheets() { return *m_sheets; }
    RunDetailsPage &details() { return *m_details; }
    RunRoadPage &road() { return *m_road; }
    PageSwitch &pages() { return *m_pages; }
    QComboBox &filter() { return *m_filter; }

  protected:
    bool eventFilter(QObject *watched, QEvent *event) override;

  private:
    QWidget *makeEmptyState();
    QWidget *makeStation();
    QWidget *makeTableRow();
    void refresh();
    void applyFilter();
    void rowChosen();
    void showDetails();
    std::vector<std::string> selectedIds() const;

    Session &m_session;
    QStackedLayout *m_stack;
    CopyTable *m_table = nullptr;
    RunTableModel *m_model = nullptr;
    QComboBox *m_filter = nullptr;
    bool m_roadWanted = false; ///< the station is open though there is no run yet
    QPushButton *m_remove = nullptr, *m_fromLog = nullptr;
    PageSwitch *m_pages = nullptr;
    RunComparePage *m_compare = nullptr;
    RunSheetsPage *m_sheets = nullptr;
    RunDetailsPage *m_details = nullptr;
    RunRoadPage *m_road = nullptr;
};

} // namespace wheelwright
