// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/coverage.h"
#include "ui/widgets/cell_map.h"

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
class CoverageMap : public CellMap {
    Q_OBJECT
  public:
    explicit CoverageMap(Session &session, QWidget *parent = nullptr);
    void show(std::shared_ptr<const Coverage> coverage, std::size_t band, std::vector<bool> reached);
    QString words(std::size_t x, std::size_t y) const override;

  protected:
    void paintHead(QPainter &painter) override;
    void paintCell(QPainter &painter, const QRectF &cell, std::size_t x, std::size_t y) override;
    QString copied(std::size_t x, std::size_t y) const override;

  private:
    QColor hue() const;

    std::shared_ptr<const Coverage> m_coverage;
    std::size_t m_band = 0;
    std::vector<bool> m_reached;
};

} // namespace wheelwright
