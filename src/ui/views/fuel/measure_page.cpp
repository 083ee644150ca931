// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/fuel/measure_page.h"

#include "core/base/error.h"
#include "core/report/fuel_reports.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/fuel/measure_drawings.h"
#include "ui/widgets/card.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include <array>

namespace wheelwright {
namespace {

enum Scale { gasolineScale, fuelScale, ownScale }; // in the order of the box; λ is the last

} // namespace

MeasurePage::MeasurePage(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(makeTube(), 1);
    layout->addWidget(makeSensor(), 1);
    layout->addWidget(makeAfr(), 1);
    (new Refresh(session, this))
        ->on(Refresh::job | Refresh::units | Refresh::state, [this] { refresh(); }, {"fuel.", "tank."})
        .on(Refresh::content, [this] { refreshAfr(); });
}

QLineEdit *MeasurePage::addField(QWidget *card, const char *name, const QString &title, const QString &shown,
                                 const QString &help) {
    auto *edit = new QLineEdit(shown, card);
    edit->setObjectName(QLatin1String(name));
    edit->setAccessibleName(title);
    edit->setToolTip(help);
    static_cast<QFormLayout *>(card->layout())->addRow(title, edit);
    return edit;
}

QWidget *MeasurePage::makeTube() {
    auto *card = makeCard(this);
    auto *form = new QFormLayout(card);
    form->addRow(makeHead(tr("Test tube"), card));
    form->addRow(makeQuiet(
        tr("Water to the first line, fuel to the second, shake, wait until the line is sharp, read the top "
           "of the lower layer at eye level."),
        card));
    for (QLineEdit *edit :
         {addField(card, "water", tr("Water line"), QStringLiteral("50"), tr("Any unit of height or volume")),
          addField(card, "fuel", tr("Fuel line"), QStringLiteral("100"), tr("The same unit")),
          addField(card, "layer", tr("Layer reads"), QStringLiteral("80"),
                   tr("Top of the water-alcohol layer")),
          addField(card, "reading", tr("± of a reading"), fixedText(0.5, 1, m_session.units()),
                   tr("Standard uncertainty"))})
        connect(edit, &QLineEdit::textChanged, this, &MeasurePage::refreshTube);
    m_contraction = new QComboBox(card);
    m_contraction->addItem(tr("Contraction: not corrected"), 0.0);
    m_contraction->addItem(tr("Layer lost 2 %"), 0.02);
    m_contraction->addItem(tr("Layer lost 3.5 %, usual at half"), 0.035);
    m_contraction->setAccessibleName(tr("Contraction of the layer"));
    connect(m_contraction, &QComboBox::activated, this, &MeasurePage::refreshTube);
    form->addRow(m_contraction);
    m_tubeResult = new ReportView(tr("Content by tube"), ReportView::Fit::steady, card, 4);
    connect(m_tubeResult, &ReportView::explained, this,
            [this](const Explanation &x) { m_session.explain(x); });
    form->addRow(m_tubeResult);
    m_tubeOf = new QComboBox(card);
    m_tubeOf->setAccessibleName(tr("What was tested"));
    m_noteTube = new QPushButton(tr("Note it"), card);
    m_noteTube->setProperty("main", true);
    connect(m_noteTube, &QPushButton::clicked, this, &MeasurePage::noteTube);
    form->addRow(m_tubeOf, m_noteTube);
    m_tubeDrawing = new TubeDrawing(card);
    connect(m_tubeDrawing, &TubeDrawing::layerRead, this, [this](double height) {
        field("layer")->setText(text(formatExact(height, Dimension::none, m_session.units())));
    });
    form->addRow(m_tubeDrawing);
    return card;
}

QWidget *MeasurePage::makeSensor() {
    auto *card = makeCard(this);
    auto *form = new QFormLayout(card);
    form->addRow(makeHead(tr("Content sensor"), card));
    form->addRow(makeQuiet(
        tr("Of the frequency kind: 50 Hz is no alcohol, 150 Hz is all of it; the low pulse tells the "
           "fuel's temperature."),
        card));
    for (QLineEdit *edit :
         {addField(card, "hz", tr("Frequency, Hz"), QStringLiteral("100"), tr("By meter or scope")),
          addField(card, "ms", tr("Low pulse, ms"), QString(), tr("Empty: not measured"))})
        connect(edit, &QLineEdit::textChanged, this, &MeasurePage::refreshSensor);
    m_sensorResult = new ReportView(tr("Content by sensor"), ReportView::Fit::steady, card, 5);
    connect(m_sensorResult, &ReportView::explained, this,
            [this](const Explanation &x) { m_session.explain(x); });
    form->addRow(m_sensorResult);
    m_noteSensor = new QPushButton(tr("Note it for the tank"), card);
    m_noteSensor->setProperty("main", true);
    connect(m_noteSensor, &QPushButton::clicked, this, &MeasurePage::noteSensor);
    form->addRow(m_noteSensor);
    m_sensorScale = new ScaleDrawing(tr("The sensor's frequency, drawn"), card);
    form->addRow(m_sensorScale);
    return card;
}

QWidget *MeasurePage::makeAfr() {
    auto *card = makeCard(this);
    auto *form = new QFormLayout(card);
    form->addRow(makeHead(tr("AFR and λ"), card));
    form->addRow(makeQuiet(
        tr("A wideband measures λ and multiplies by the number it has been told. Say which, and read every "
           "other."),
        card));
    connect(addField(card, "afr", tr("The display shows"), fixedText(11, 1, m_session.units()),
                     tr("The number as it stands there")),
            &QLineEdit::textChanged, this, &MeasurePage::refreshAfr);
    m_scale = new QComboBox(card);
    m_scale->addItem(tr("AFR, gasoline scale 14.7"));
    m_scale->addItem(tr("AFR, true for the content looked at"));
    m_scale->addItem(tr("AFR, on a number of its own"));
    m_scale->addItem(tr("λ"));
    m_scale->setAccessibleName(tr("Scale of the display"));
    connect(m_scale, &QComboBox::activated, this, &MeasurePage::refreshAfr);
    form->addRow(m_scale);
    connect(addField(card, "own", tr("Own number"), fixedText(14.7, 1, m_session.units()),
                     tr("Stoichiometry of the third scale")),
            &QLineEdit::textChanged, this, &MeasurePage::refreshAfr);
    m_afrResult = new ReportView(tr("AFR and λ"), ReportView::Fit::steady, card, 7);
    connect(m_afrResult, &ReportView::explained, this,
            [this](const Explanation &x) { m_session.explain(x); });
    form->addRow(m_afrResult);
    m_mixtureScale = new ScaleDrawing(tr("The mixture, drawn"), card);
    form->addRow(m_mixtureScale);
    return card;
}

QLineEdit *MeasurePage::field(const char *name) const {
    return findChild<QLineEdit *>(QLatin1String(name));
}

double MeasurePage::number(const char *name, const QString &title) const {
    const QString typed = field(name)->text().trimmed();
    if (typed.isEmpty()) return 0;
    return parse(typed.toStdString(), Dimension::none, m_session.units(), title.toStdString());
}

void MeasurePage::refresh() {
    if (!m_session.hasJob()) return;
    const QString kept = m_tubeOf->currentText();
    m_tubeOf->clear();
    m_tubeOf->addItem(tr("from the tank"));
    for (const FuelLot &lot : m_session.job().lots)
        m_tubeOf->addItem(text(lot.label));
    m_tubeOf->setCurrentIndex(std::max(0, m_tubeOf->findText(kept)));
    refreshTube();
    refreshSensor();
    refreshAfr();
}

void MeasurePage::refreshTube() {
    m_tube.reset();
    try {
        const TubeReading reading{number("water", tr("Water line")),
                                  number("fuel", tr("Fuel line")),
                                  number("layer", tr("Layer")),
                                  number("reading", tr("± of a reading")),
                                  m_contraction->currentData().toDouble(),
                                  0.01};
        m_tubeResult->show(tubeReport(reading, m_session.job().alcohol == Alcohol::methanol),
                           m_session.units());
        m_tube = reading;
        m_tubeDrawing->show(TubeDrawing::Lines{reading.waterLine, reading.layerTop, reading.fuelLine});
    } catch (const InputError &e) {
        m_tubeDrawing->show({});
        m_tubeResult->say({e.words(), Tone::trouble}, m_session.units());
    }
    m_noteTube->setEnabled(m_tube && !m_session.readOnly());
}

void MeasurePage::refreshSensor() {
    m_sensor.reset();
    try {
        const double hertz = number("hz", tr("Frequency")), pulseMs = number("ms", tr("Low pulse"));
        m_sensorResult->show(sensorReport(hertz, pulseMs), m_session.units());
        m_sensor = readContentSensor(hertz, pulseMs);
        drawSensor(hertz);
    } catch (const InputError &e) {
        drawSensor({});
        m_sensorResult->say({e.words(), Tone::trouble}, m_session.units());
    }
    m_noteSensor->setEnabled(m_sensor && m_sensor->fault == SensorFault::none && !m_session.readOnly());
}

void MeasurePage::drawSensor(std::optional<double> hertz) {
    // What such sensors send between a short and a break, and what it stands for (content_measurement.h).
    constexpr double least = 40, most = 160;
    ScaleDrawing::Scale scale{
        least, most, {}, tr("no signal below"), tr("fault above"), theme().content(0), theme().content(1),
        hertz, {}};
    for (const double at : {50.0, 75.0, 100.0, 125.0, 150.0})
        scale.marks.push_back(
            {at, shown(readContentSensor(at, 0).content, Dimension::content, m_session.units())});
    if (hertz) scale.said = tr("%1 Hz").arg(*hertz);
    m_sensorScale->show(std::move(scale));
}

// Rich is dark, lean is light: the hue belongs to contents.
void MeasurePage::drawMixture() {
    constexpr double least = 0.6, most = 1.2;
    UnitChoice lambda = m_session.units();
    lambda.mixtureScale = MixtureScale::lambda;
    ScaleDrawing::Scale scale{least, most, {}, tr("rich"), tr("lean"), theme().ink, theme().line, {}, {}};
    for (const double at : {0.7, 0.85, 1.0, 1.15})
        scale.marks.push_back({at, shown(at, Dimension::mixture, lambda, false)});
    if (m_lambda > 0) {
        scale.value = m_lambda;
        scale.said = shown(m_lambda, Dimension::mixture, lambda);
    }
    m_mixtureScale->show(std::move(scale));
}

UnitChoice MeasurePage::scaleOf(int choice) const {
    constexpr std::array scales{MixtureScale::gasolineAfr, MixtureScale::trueAfr, MixtureScale::statedAfr,
                                MixtureScale::lambda};
    UnitChoice units = m_session.units();
    units.mixtureScale = scales[static_cast<std::size_t>(choice)];
    units.statedStoichiometry = number("own", tr("Own number"));
    if (choice == ownScale && !(units.statedStoichiometry > 0))
        throw InputError(tr("Own number").toStdString(), MARKED("expected.more_than_0", "more than 0"),
                         field("own")->text().toStdString());
    return units;
}

void MeasurePage::refreshAfr() {
    if (!m_session.hasJob()) return;
    m_lambda = 0;
    try {
        const double read = number("afr", tr("The display"));
        if (!(read > 0))
            throw InputError(tr("The display").toStdString(), MARKED("expected.more_than_0", "more than 0"),
                             field("afr")->text().toStdString());
        m_lambda = fromShown(read, Dimension::mixture, scaleOf(m_scale->currentIndex()));
        const double content = m_session.content();
        const auto stoichiometry = [this](int choice) {
            return toShown(1, Dimension::mixture, scaleOf(choice));
        };
        const std::string named = contentName(content, m_session.job().alcohol == Alcohol::methanol);
        m_afrResult->show(
            mixtureReport(
                m_lambda, content,
                {{MARKED("mixture.gasoline", "gasoline scale"), stoichiometry(gasolineScale)},
                 {{MARKED("mixture.true", "true for {a}"), {}, {named}}, stoichiometry(fuelScale)},
                 {MARKED("mixture.own", "on its own number"), stoichiometry(ownScale)}},
                [lambda = m_lambda, scale = stoichiometry(m_scale->currentIndex()),
                 name = m_scale->currentText().toStdString()] { return explainLambda(lambda, scale, name); }),
            m_session.units());
    } catch (const InputError &e) {
        m_afrResult->say({e.words(), Tone::trouble}, m_session.units());
    }
    drawMixture();
}

// Noted where it will be looked for: the record of the tube, and for the tank what was read, in one step.
void MeasurePage::noteTube() {
    if (!m_tube) return;
    const bool tank = m_tubeOf->currentIndex() <= 0;
    const TubeResult result = tubeContent(*m_tube);
    m_session.perform(tr("Tube: %1").arg(shown(result.content.value, Dimension::content, m_session.units())),
                      [&](Job &job) {
                          TubeRecord record;
                          record.at = m_session.now().toStdString();
                          if (!tank) record.of = m_tubeOf->currentText().toStdString();
                          record.waterLine = m_tube->waterLine;
                          record.fuelLine = m_tube->fuelLine;
                          record.layerTop = m_tube->layerTop;
                          record.reading = m_tube->reading;
                          record.contraction = m_tube->contraction;
                          record.contractionSigma = m_tube->contractionSigma;
                          job.tubes.push_back(record);
                          if (!tank) return;
                          TankEvent event;
                          event.at = record.at;
                          event.kind = TankEventKind::tube;
                          (job.alcohol == Alcohol::methanol ? event.methanol : event.ethanol) =
                              result.content.value;
                          event.contentSigma = std::min(0.5, result.content.sigma);
                          job.tankEvents.push_back(event);
                      });
}

void MeasurePage::noteSensor() {
    if (!m_sensor) return;
    m_session.perform(
        tr("Sensor: %1").arg(shown(m_sensor->content, Dimension::content, m_session.units())), [&](Job &job) {
            TankEvent event;
            event.at = m_session.now().toStdString();
            event.kind = TankEventKind::sensor;
            (job.alcohol == Alcohol::methanol ? event.methanol : event.ethanol) = m_sensor->content;
            event.note = tr("%1 Hz").arg(field("hz")->text()).toStdString();
            job.tankEvents.push_back(event);
        });
}

QString MeasurePage::resultText(const char *of) const {
    const QLatin1String name(of);
    return (name == QLatin1String("tube")     ? m_tubeResult
            : name == QLatin1String("sensor") ? m_sensorResult
                                              : m_afrResult)
        ->words();
}

} // namespace wheelwright
