// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QDialog>

class QTextBrowser;

namespace wheelwright {

/// The help that ships inside the program: Markdown pages, no network.
class HelpWindow : public QDialog {
    Q_OBJECT
  public:
    explicit HelpWindow(QWidget *parent = nullptr);
    /// Name and title of every page.
    static std::vector<std::pair<QString, QString>> pages();
    void open(const QString &page); ///< an unknown page opens the first
    QString page() const { return m_page; }

    /// The page of the nearest widget upwards that names one.
    static QString pageOf(const QWidget *widget);

  private:
    void calmTables();

    QTextBrowser *m_text;
    QString m_page;
};

} // namespace wheelwright
