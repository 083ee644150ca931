// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "session/session.h"
#include "ui/finder.h"
#include "ui/theme.h"
#include "ui/views/view.h"

#include <QMainWindow>

#include <map>

class QLabel;
class QPushButton;
class QScrollArea;
class QSettings;
class QStackedWidget;

namespace wheelwright {

class CautionBar;
class ContentRuler;
class HelpWindow;
class LinePanel;
class NoticeBar;
class Rail;
class TourBar;
class VerifyView;
class WorkingPanel;

/// The window: title, content ruler, rail of stations, the station in front, the working panel.
class Shell : public QMainWindow {
    Q_OBJECT
  public:
    /// Settings keep layout, units, theme and recent files; they are the caller's, so that tests use none of
    /// the user's.
    Shell(Session &session, QSettings &settings, QWidget *parent = nullptr);

    void openPath(const QString &path); ///< a job file, a JSON document, a CSV table or a log
    void openPaths(const QStringList &paths);
    void openDemo(const QString &name = QStringLiteral("thistle"));
    void showStation(const QString &id);
    void showPlace(const QString &place); ///< a station, one of its pages, an input of the job: verify,
                                          ///< fuel/measure, tank.capacity_l
    /// What is in front: enough for another window to show the same.
    struct Place {
        QString station;
        std::map<QString, QString> pages; ///< of the stations that have some: the name of the one in front
        QString help;                     ///< the page of the open help window; empty: closed
        bool panelOnNarrow = false;
    };
    Place place() const;
    void goTo(const Place &place);
    QString station() const;
    /// Made when it is first asked for: most of what a window costs is what nobody has looked at yet. nullptr
    /// for no such station.
    View *view(const QString &id);
    ContentRuler &ruler() { return *m_ruler; }
    NoticeBar &notice() { return *m_notice; }
    WorkingPanel &working() { return *m_working; }
    LinePanel &line() { return *m_line; }
    void setLook(const Look &look); ///< and keeps it
    QString stateWords() const;
    QList<QAction *> allActions() const;

  signals:
    void languageWanted(const QString &code);    ///< another language, which takes another window
    void decimalMarkWanted(const QString &mark); ///< the same of numbers
    void textPercentWanted(int percent);         ///< larger or smaller text, which takes another window

  protected:
    void closeEvent(QCloseEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    bool eventFilter(QObject *watched,
                     QEvent *event) override; ///< of the application: its dialogs fit the screen
    void keyPressEvent(QKeyEvent *event) override;
    void dragEnterEvent(QDragEnterEvent *event) override;
    void dropEvent(QDropEvent *event) override;

  private:
    QWidget *makeHead();
    void makeMenus();
    void makeFileMenu();
    void makeEditMenu();
    void makeViewMenu();
    void makeUnitsMenu();
    void makeHelpMenu();
    QAction *addAction(QMenu *menu, const QString &title, const QKeySequence &keys,
                       const std::function<void()> &run);
    void getJob(View::JobSource from);
    void makeCalibrationMenu();
    void addViewActions(QMenu *menu, bool editing);
    void addViewActions(QMenu *menu, const ViewDefinition &definition, bool editing);
    std::vector<Findable> findables();
    void goToCheck(const QString &id);
    void attempt(const std::function<void()> &work); ///< shows an InputError in the notice bar
    void openOther(const QString &path);
    void newJob();
    void chooseJob();
    void salvageJob(); ///< of a damaged one that is chosen
    void importFile();
    void exportJob();
    void exportTable();
    void importTableFile(const QString &path);
    void importJobDocument(const QString &path);
    void toggleLine();
    void startTour();
    void showCautions(); ///< of the station in front
    void toFocused(const char *slot);
    void goToWorst(double content);
    void goToInput(const QString &link);
    void remember(const QString &path);
    void refreshRecent();
    void refreshState();
    void refreshActions();
    void refreshPanel();
    bool needsTheRoom() const; ///< of the panel, for the station in front
    void togglePanel();
    void restore();

    Session &m_session;
    QSettings &m_settings;
    ContentRuler *m_ruler;
    NoticeBar *m_notice = nullptr;
    CautionBar *m_cautions = nullptr;
    TourBar *m_tour = nullptr;
    LinePanel *m_line = nullptr;
    WorkingPanel *m_working;
    QStackedWidget *m_stack;
    QScrollArea *m_scroll; ///< around all of it, where the window is smaller
    Rail *m_rail;
    QPushButton *m_since, *m_caution;
    QLabel *m_title;
    QLabel *m_state;
    HelpWindow *m_help;
    QMenu *m_recent = nullptr;
    bool m_panelOnNarrow = false; ///< asked for although the window is narrow
    QAction *m_undo = nullptr;
    QAction *m_redo = nullptr;
    QList<QAction *> m_needJob;
    std::map<QString, View *> m_views; ///< those that were made
};

} // namespace wheelwright
