// SPDX-License-Identifier: GPL-3.0-or-later
// The look, by numbers: whether it can be read, also without seeing all colours, and whether anything moves.
#include "support/test_window.h"
#include "ui/theme.h"
#include "ui/widgets/verdict_mark.h"

#include <QAbstractAnimation>
#include <QAction>

#include <array>
#include <cmath>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

namespace {

using Linear = std::array<double, 3>;

double toLinear(double v) {
    return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
}

Linear linear(const QColor &c) {
    return {toLinear(c.redF()), toLinear(c.greenF()), toLinear(c.blueF())};
}

// WCAG 2.1, relative luminance and contrast ratio.
double luminance(const QColor &c) {
    const Linear l = linear(c);
    return 0.2126 * l[0] + 0.7152 * l[1] + 0.0722 * l[2];
}

double contrast(const QColor &a, const QColor &b) {
    const double la = luminance(a), lb = luminance(b);
    return (std::max(la, lb) + 0.05) / (std::min(la, lb) + 0.05);
}

// What someone sees who lacks one kind of cones: G. M. Machado, M. M. Oliveira, L. A. F. Fernandes, "A
// physiologically-based model for simulation of color vision deficiency" (2009), table 1, severity 1.0, on
// linear RGB.
struct Vision {
    const char *name;
    std::array<Linear, 3> rows;
};
const std::array visions{
    Vision{"protanopia",
           {{{0.152286, 1.052583, -0.204868},
             {0.114503, 0.786281, 0.099216},
             {-0.003882, -0.048116, 1.051998}}}},
    Vision{
        "deuteranopia",
        {{{0.367322, 0.860646, -0.227968}, {0.280085, 0.672501, 0.047413}, {-0.011820, 0.042940, 0.968881}}}},
    Vision{"tritanopia",
           {{{1.255528, -0.076749, -0.178779},
             {-0.078411, 0.930809, 0.147602},
             {0.004733, 0.691367, 0.303900}}}}};

Linear seen(const QColor &c, const Vision &v) {
    const Linear l = linear(c);
    Linear out{};
    for (std::size_t i = 0; i < 3; ++i)
        out[i] = std::clamp(v.rows[i][0] * l[0] + v.rows[i][1] * l[1] + v.rows[i][2] * l[2], 0.0, 1.0);
    return out;
}

// CIE 1976 L*a*b*, D65, from linear sRGB (IEC 61966-2-1); differences as ΔE*ab.
Linear lab(const Linear &rgb) {
    const double x = (0.4124 * rgb[0] + 0.3576 * rgb[1] + 0.1805 * rgb[2]) / 0.95047;
    const double y = 0.2126 * rgb[0] + 0.7152 * rgb[1] + 0.0722 * rgb[2];
    const double z = (0.0193 * rgb[0] + 0.1192 * rgb[1] + 0.9505 * rgb[2]) / 1.08883;
    const auto f = [](double t) { return t > 216.0 / 24389 ? std::cbrt(t) : (24389.0 / 27 * t + 16) / 116; };
    return {116 * f(y) - 16, 500 * (f(x) - f(y)), 200 * (f(y) - f(z))};
}

double apart(const Linear &a, const Linear &b) {
    const Linear la = lab(a), lb = lab(b);
    return std::hypot(la[0] - lb[0], la[1] - lb[1], la[2] - lb[2]);
}

const std::array looks{Look{}, Look{.shop = true}, Look{.contrast = true},
                       Look{.shop = true, .contrast = true}};

} // namespace

class ThemeTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { dressApplication(); }
    void cleanup() { useTheme({}); }

    // The referee itself: rows sum to 1, so that grey stays grey; published CIELAB of pure red is
    // (53.2, 80.1, 67.2).
    void theSimulationIsSound() {
        for (const Vision &v : visions) {
            for (const Linear &row : v.rows)
                COMPARE_NEAR(row[0] + row[1] + row[2], 1, 2e-6);
            const Linear grey = seen(QColor(128, 128, 128), v);
            QVERIFY(apart(grey, linear(QColor(128, 128, 128))) < 0.01);
        }
        const Linear red = lab(linear(QColor(255, 0, 0)));
        COMPARE_NEAR(red[0], 53.2, 0.1);
        COMPARE_NEAR(red[1], 80.1, 0.1);
        COMPARE_NEAR(red[2], 67.2, 0.1);
        // Red and green of the same luminance, which two of the three cannot tell apart.
        const QColor r(200, 60, 60), g(96, 117, 60);
        QVERIFY(apart(linear(r), linear(g)) > 50);
        QVERIFY(apart(seen(r, visions[1]), seen(g, visions[1])) < 25);
    }

    // WCAG 2.1: AA wants 4.5 for text; high contrast is AAA, 7, and 3 for lines (1.4.11).
    void everyLookCanBeRead() {
        for (const Look &look : looks) {
            useTheme(look);
            const Theme &t = theme();
            for (const QColor &background : {t.paper, t.raised}) {
                for (const QColor &words :
                     {t.ink, t.quiet, t.trouble, t.heed, t.content(0), t.content(0.5), t.content(1)})
                    QVERIFY2(contrast(words, background) >= (look.contrast ? 7 : 4.5),
                             qPrintable(QStringLiteral("%1 on %2: %3")
                                            .arg(words.name(), background.name())
                                            .arg(contrast(words, background))));
                if (look.contrast) QVERIFY(contrast(t.line, background) >= 3);
                QVERIFY(contrast(t.handle(), background) >= 3);
            }
            for (int magnitude = 0; magnitude <= 20; ++magnitude)
                for (const double content : {0.0, 0.5, 1.0}) {
                    const QColor cell = t.shade(content, magnitude / 20.0);
                    QVERIFY(contrast(t.textOn(cell), cell) >= 4.5);
                }
        }
    }

    // Hue is content, and two hues are the sign of a difference: the ends of both are told apart by everyone.
    // ΔE*ab of 2.3 is just seen (Mahy et al. 1994); ten is seen at a glance.
    void huesAreToldApartByEveryone_data() {
        QTest::addColumn<int>("vision");
        for (std::size_t i = 0; i < visions.size(); ++i)
            QTest::newRow(visions[i].name) << static_cast<int>(i);
    }

    void huesAreToldApartByEveryone() {
        QFETCH(int, vision);
        const Vision &v = visions[static_cast<std::size_t>(vision)];
        constexpr double atAGlance = 10;
        for (const Look &look : looks) {
            useTheme(look);
            const Theme &t = theme();
            const auto tell = [&](const QColor &a, const QColor &b) { return apart(seen(a, v), seen(b, v)); };
            QVERIFY2(tell(t.content(0), t.content(1)) > atAGlance,
                     qPrintable(QString::number(tell(t.content(0), t.content(1)))));
            for (const double size : {0.4, 0.7, 1.0})
                QVERIFY2(tell(t.difference(-size), t.difference(size)) > atAGlance,
                         qPrintable(QStringLiteral("%1: %2").arg(size).arg(
                             tell(t.difference(-size), t.difference(size)))));
            // Lightness is magnitude, whoever looks: it goes one way.
            for (const double content : {0.0, 0.5, 1.0})
                for (int i = 1; i <= 10; ++i) {
                    const double before = lab(seen(t.shade(content, (i - 1) / 10.0), v))[0],
                                 now = lab(seen(t.shade(content, i / 10.0), v))[0];
                    QVERIFY(look.shop ? now > before : now < before);
                }
        }
    }

    // A verdict is a shape: without any colour the five are five pictures.
    void verdictsAreShapes() {
        constexpr int size = 24;
        const std::array states{CheckState::proven, CheckState::held, CheckState::notJudged,
                                CheckState::caution, CheckState::failing};
        for (const Look &look : looks) {
            useTheme(look);
            std::vector<QImage> pictures;
            for (const CheckState s : states)
                pictures.push_back(
                    verdictPicture(s, size, 1).toImage().convertToFormat(QImage::Format_Alpha8));
            for (std::size_t a = 0; a < pictures.size(); ++a)
                for (std::size_t b = a + 1; b < pictures.size(); ++b) {
                    int differ = 0;
                    for (int y = 0; y < size; ++y)
                        for (int x = 0; x < size; ++x)
                            differ += std::abs(qAlpha(pictures[a].pixel(x, y)) -
                                               qAlpha(pictures[b].pixel(x, y))) > 100;
                    QVERIFY2(differ >= 12,
                             qPrintable(QStringLiteral("%1 and %2: %3").arg(a).arg(b).arg(differ)));
                }
        }
    }

    // Chosen in the menu, at once, and kept.
    void theMenuChangesTheLookAndItIsKept() {
        {
            TestWindow window;
            window.open(demoFile("thistle"));
            const auto press = [&](const QString &title) {
                for (QAction *a : window.shell.findChildren<QAction *>())
                    if (a->text() == title) return a->trigger();
                QFAIL(qPrintable(title));
            };
            press(QStringLiteral("High contrast"));
            QVERIFY(theme().contrast);
            QCOMPARE(QApplication::palette().color(QPalette::Window), QColor(Qt::white));
            press(QStringLiteral("Dark 'shop' theme"));
            QCOMPARE(QApplication::palette().color(QPalette::Window), QColor(Qt::black));
            press(QStringLiteral("Nothing moves by itself"));
            QCOMPARE(QApplication::cursorFlashTime(), 0);
            QVERIFY(!QApplication::isEffectEnabled(Qt::UI_FadeMenu));
            QCOMPARE(lookKept(window.settings), (Look{true, true, true}));
            press(QStringLiteral("Nothing moves by itself"));
            QVERIFY(QApplication::cursorFlashTime() > 0);
            QCOMPARE(lookKept(window.settings), (Look{true, true, false}));
        }
    }

    // Of our own nothing moves by itself in any case: there is no animation among the window's parts.
    void nothingIsAnimated() {
        TestWindow window;
        window.open(demoFile("thistle"));
        QCOMPARE(window.shell.findChildren<QAbstractAnimation *>().size(), 0);
    }
};

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<ThemeTest>(argc, argv);
}
#include "theme_test.moc"
