#pragma once
#include "core/fuel/pour_request.h"
#include "ui/views/view.h"

class QLabel;
class QLineEdit;
class QTableView;
class QTextBrowser;

namespace wheelwright {

class RecordModel;

/// What is in the tank, what to pour for the content looked at, how long until it shows, and what happens if
/// a fuel is just poured in. Shelf and tank history are edited here.
class FuelView : public View {
    Q_OBJECT
  public:
    explicit FuelView(Session &session, QWidget *parent = nullptr);
    bool showInput(const QString &link) override;
    QString plansText() const;
    QTableView *shelf() { return m_shelf; }
    QTableView *history() { return m_history; }

  protected:
    void changeEvent(QEvent *event) override;

  private:
    QWidget *makeTankCard();
    QWidget *makePlanCard();
    QWidget *makeRecordCard(const QString &title, const QString &hint, const char *list, QTableView *&table);
    void refresh();
    void refreshTank();
    void refreshPlans();
    QString plansHtml() const;
    QString planHtml(const PourPlan &plan, const PourRequest &request) const;
    QString effectHtml() const;

    Session &m_session;
    QLabel *m_tank = nullptr;
    QLabel *m_tankWords = nullptr;
    QLabel *m_planHead = nullptr;
    QLineEdit *m_level = nullptr;
    QTextBrowser *m_plans = nullptr;
    QTableView *m_shelf = nullptr;
    QTableView *m_history = nullptr;
};

} // namespace wheelwright
