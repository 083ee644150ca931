// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/unit.h"
#include "core/fuel/content_measurement.h"

#include <QWidget>

#include <optional>

class QComboBox;
class QLineEdit;
class QPushButton;

namespace wheelwright {

class ReportView;
class ScaleDrawing;
class Session;
class TubeDrawing;

/// Three calculators: test tube, frequency sensor, AFR and λ in named scales. Readings can be noted for the
/// tank or for a lot, each as one change of the job.
class MeasurePage : public QWidget {
    Q_OBJECT
  public:
    explicit MeasurePage(Session &session, QWidget *parent = nullptr);
    QString resultText(const char *of) const; ///< "tube", "sensor", "afr"
    QLineEdit *
    field(const char *name) const; ///< "water", "fuel", "layer", "reading", "contraction", "hz", "ms", "afr"

  private:
    QWidget *makeTube();
    QWidget *makeSensor();
    QWidget *makeAfr();
    QLineEdit *addField(QWidget *card, const char *name, const QString &title, const QString &shown,
                        const QString &help);
    void refresh();
    void refreshTube();
    void refreshSensor();
    void refreshAfr();
    void drawSensor(std::optional<double> hertz);
    void drawMixture();
    void noteTube();
    void noteSensor();
    double number(const char *name, const QString &title) const;
    UnitChoice scaleOf(int choice) const; ///< units with that scale for mixtures

    Session &m_session;
    ReportView *m_tubeResult = nullptr;
    ReportView *m_sensorResult = nullptr;
    ReportView *m_afrResult = nullptr;
    TubeDrawing *m_tubeDrawing = nullptr;
    ScaleDrawing *m_sensorScale = nullptr;
    ScaleDrawing *m_mixtureScale = nullptr;
    QComboBox *m_contraction = nullptr;
    QComboBox *m_tubeOf = nullptr;
    QComboBox *m_scale = nullptr;
    QPushButton *m_noteTube = nullptr;
    QPushButton *m_noteSensor = nullptr;
    std::optional<TubeReading> m_tube;
    std::optional<SensorReading> m_sensor;
    double m_lambda = 0;
};

} // namespace wheelwright
