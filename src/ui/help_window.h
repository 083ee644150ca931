// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/help_pages.h"

#include <QDialog>
#include <QStringList>

class QLineEdit;
class QListWidget;
class QPushButton;
class QTextBrowser;

namespace wheelwright {

/// The help that ships inside the program: Markdown pages with their pictures, no network. Contents on the
/// left; what is typed over them finds words on every page.
class HelpWindow : public QDialog {
    Q_OBJECT
  public:
    explicit HelpWindow(QWidget *parent = nullptr);
    void
    open(const QString &page); ///< "fuel", or "fuel#2" for its third heading; an unknown page opens the first
    QString page() const { return m_page; }
    void back(); ///< to the page before

    /// The page of the nearest widget upwards that names one.
    static QString pageOf(const QWidget *widget);

  signals:
    void placeWanted(const QString &place); ///< a link to a place in the window was followed
    void tourWanted();

  protected:
    void resizeEvent(QResizeEvent *event) override;
    void showEvent(QShowEvent *event) override;

  private:
    void show(const QString &page, int heading);
    void follow(const QString &link);
    void find(const QString &typed);
    void fitPictures();
    void calmTables();

    QTextBrowser *m_text;
    QLineEdit *m_typed;
    QListWidget *m_list;
    QPushButton *m_back;
    QString m_page;
    QStringList m_before; ///< pages that were open, the last one last
};

} // namespace wheelwright
