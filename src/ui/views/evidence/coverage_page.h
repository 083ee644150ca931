// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/coverage.h"

#include <QWidget>

#include <memory>
#include <vector>

namespace wheelwright {

class CoverageMap;
class ReportView;
class Session;

/// Where the engine has been, cell by cell in the content band that is looked at, and band by band in
/// numbers.
class CoveragePage : public QWidget {
    Q_OBJECT
  public:
    explicit CoveragePage(Session &session, QWidget *parent = nullptr);
    CoverageMap &map() { return *m_map; }
    QString words() const;

  signals:
    void tablesWanted();

  private:
    void refresh();
    void refreshReport();

    Session &m_session;
    CoverageMap *m_map;
    ReportView *m_report;
};

/// Cells of one band: open where never, dotted where seen, solid where proven, blank where the engine cannot
/// go. Numbers are samples. Click or Return goes to the cell in the tables.
class CoverageMap : public QWidget {
    Q_OBJECT
  public:
    explicit CoverageMap(Session &session, QWidget *parent = nullptr);
    void show(std::shared_ptr<const Coverage> coverage, std::size_t band, std::vector<bool> reached);
    QRectF box(std::size_t x, std::size_t y) const;
    QString words(std::size_t x, std::size_t y) const;
    QSize sizeHint() const override { return {520, 380}; }
    QSize minimumSizeHint() const override { return {260, 200}; }

  public slots:
    void copy() const;
    void copyPicture();

  signals:
    void cellWanted(double rpm, double loadKpa);

  protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    bool event(QEvent *event) override;

  private:
    bool cellAt(QPointF position, std::size_t &x, std::size_t &y) const;
    void choose(std::size_t x, std::size_t y);

    Session &m_session;
    std::shared_ptr<const Coverage> m_coverage;
    std::size_t m_band = 0;
    std::vector<bool> m_reached;
    std::size_t m_x = 0, m_y = 0;
};

} // namespace wheelwright
