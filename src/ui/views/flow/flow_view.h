#pragma once
#include "core/flow/headroom.h"
#include "ui/views/view.h"

#include <functional>
#include <vector>

class QCustomPlot;
class QTabWidget;
class QTextBrowser;

namespace wheelwright {

class FieldForm;
class FrontierPlot;
class PageSwitch;
class RecordTable;

/// Will the hardware deliver it? The frontier first; then injectors, pumps, boost control, spray, and
/// mechanical injection, each with what it says about itself.
class FlowView : public View {
    Q_OBJECT
  public:
    explicit FlowView(Session &session, QWidget *parent = nullptr);
    bool showInput(const QString &link) override;
    FrontierPlot *plot() { return m_plot; }
    QString wordsOf(const char *page) const; ///< "frontier", "injectors" …
    void showPage(const char *page);

  protected:
    void showEvent(QShowEvent *event) override;
    void changeEvent(QEvent *event) override;

  private:
    QWidget *makeFrontier();
    QTextBrowser *makeWords(const QString &name, QWidget *parent);
    void explainCheck(const QString &id);
    QWidget *makePage(const char *id, const QString &title, const std::vector<std::string> &prefixes,
                      const std::vector<std::pair<const char *, QString>> &lists);
    void refresh();
    void refreshWords();
    QString frontierHtml() const;
    QString injectorsHtml() const;
    QString pumpsHtml() const;
    QString boostHtml() const;
    QString sprayHtml() const;
    QString pillsHtml() const;

    Session &m_session;
    PageSwitch *m_pages;
    FrontierPlot *m_plot = nullptr;
    Frontier m_frontier;
    struct Words {
        QTextBrowser *browser;
        QString (FlowView::*html)() const;
    };
    std::vector<Words> m_words;
    std::vector<FieldForm *> m_forms;
    struct List {
        std::string path;
        QWidget *page;
        QTabWidget *tabs; ///< nullptr: it stands alone
        RecordTable *table;
    };
    std::vector<List> m_lists;
};

} // namespace wheelwright
