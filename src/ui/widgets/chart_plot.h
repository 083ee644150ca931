// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/unit.h"
#include "core/report/report.h"

#include <qcustomplot.h>

#include <vector>

namespace wheelwright {

class Session;

/// One curve or cloud of points, in internal units.
struct ChartSeries {
    QString name{}; ///< written at its end; empty: not written
    std::vector<double> x{}, y{};
    QColor color{};
    Qt::PenStyle line = Qt::SolidLine; ///< Qt::NoPen: points only
    double width = 2;
    QCPScatterStyle::ScatterShape mark = QCPScatterStyle::ssNone;
    std::vector<double> band{}; ///< half height of a wash about it; empty: none
};

/// A level across the chart.
struct ChartLevel {
    QString name;
    double y;
    Qt::PenStyle line = Qt::DashLine;
};

struct Chart {
    QString xTitle{}, yTitle{}; ///< without their units
    Dimension x = Dimension::none, y = Dimension::none;
    double xPercent = 1; ///< 100 shows a plain share in per cent
    std::vector<ChartSeries> series{};
    std::vector<ChartLevel> levels{};
    double bandLow = 0, bandHigh = 0; ///< a wash between two levels where they differ
};

/// A chart of a report: the first line in ink, the others quiet.
Chart chartOf(const ReportChart &chart);

/// A chart of the job's numbers in the shown units. Copies as numbers and as a picture.
class ChartPlot : public QCustomPlot {
    Q_OBJECT
  public:
    ChartPlot(Session &session, const QString &name, const char *helpPage, QWidget *parent = nullptr);
    void show(Chart chart);
    const Chart &chart() const { return m_chart; }

  public slots:
    void copy() const;
    void copyPicture();

  protected:
    void changeEvent(QEvent *event) override;
    void showEvent(QShowEvent *event) override;

  private:
    void draw();
    void addSeries(const ChartSeries &series);
    void addLevel(const ChartLevel &level);
    void addName(const QString &name, double x, double y, Qt::Alignment alignment);
    double freeHeight(double x, double y) const; ///< y, or higher where another name stands
    QString title(const QString &name, Dimension dimension) const;

    Session &m_session;
    Chart m_chart;
};

} // namespace wheelwright
