// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/theme.h"

#include "pages/fonts.h"
#include "ui/text_size.h"
#include "ui/widgets/painted_parts.h"

#include <QApplication>
#include <QFontDatabase>
#include <QSettings>

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

// OKLCH: equal steps look equal, so that lightness can carry a magnitude. Björn Ottosson, "A perceptual color
// space for image processing" (2020), matrices as published there.
QColor fromOklch(double lightness, double chroma, double hueDegrees) {
    const double hue = hueDegrees * 3.14159265358979 / 180;
    const double a = chroma * std::cos(hue), b = chroma * std::sin(hue);
    const double l = std::pow(lightness + 0.3963377774 * a + 0.2158037573 * b, 3);
    const double m = std::pow(lightness - 0.1055613458 * a - 0.0638541728 * b, 3);
    const double s = std::pow(lightness - 0.0894841775 * a - 1.2914855480 * b, 3);
    const auto channel = [](double linear) {
        const double v = linear <= 0.0031308 ? 12.92 * linear : 1.055 * std::pow(linear, 1 / 2.4) - 0.055;
        return static_cast<float>(std::clamp(v, 0.0, 1.0));
    };
    return QColor::fromRgbF(channel(4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s),
                            channel(-1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s),
                            channel(-0.0041960863 * l - 0.7034186147 * m + 1.7076147010 * s));
}

// From slate blue through plum to copper: the way round that stays clear of the greens.
constexpr double slateHue = 252, copperHue = 360 + 48;
double hueOf(double content) {
    return slateHue + (copperHue - slateHue) * content;
}
double chromaOf(double content) {
    return 0.065 + 0.05 * content;
}

Theme makeTheme(const Look &look) {
    Theme t;
    t.shop = look.shop;
    t.contrast = look.contrast;
    t.still = look.still;
    const auto colour = [&](QRgb paper, QRgb shop, QRgb strongPaper, QRgb strongShop) {
        return QColor(look.contrast ? (look.shop ? strongShop : strongPaper) : (look.shop ? shop : paper));
    };
    t.paper = colour(0xf4f1ea, 0x1d2024, 0xffffff, 0x000000);
    t.raised = colour(0xfdfcf9, 0x282c31, 0xffffff, 0x000000);
    t.ink = colour(0x1f2329, 0xeeebe4, 0x000000, 0xffffff);
    t.quiet = colour(0x585b60, 0xb3b2ad, 0x303338, 0xd8d7d3);
    t.line = colour(0xcbc6ba, 0x4a4f56, 0x6e7176, 0x9a9ea5);
    t.trouble = colour(0xa32218, 0xf08474, 0x8a0f08, 0xffa79b);
    t.heed = colour(0x805a08, 0xe0b25a, 0x5e4000, 0xf5cf85);
    return t;
}

Theme &current() {
    static Theme t = makeTheme({});
    return t;
}

double luminance(const QColor &c) {
    const auto linear = [](double v) {
        return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
    };
    return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
}

QString family(const QString &wanted) {
    static const QStringList known = QFontDatabase::families();
    return known.contains(wanted) ? wanted : QFontDatabase::systemFont(QFontDatabase::FixedFont).family();
}

} // namespace

QColor Theme::content(double c) const {
    const double lightness = contrast ? (shop ? 0.80 : 0.42) : (shop ? 0.74 : 0.50);
    return fromOklch(lightness, chromaOf(c), hueOf(c));
}

QColor Theme::shade(double c, double magnitude) const {
    const double m = std::clamp(magnitude, 0.0, 1.0);
    return shop ? fromOklch(0.27 + 0.50 * m, 0.01 + chromaOf(c) * m, hueOf(c))
                : fromOklch(0.965 - 0.50 * m, 0.008 + chromaOf(c) * m, hueOf(c));
}

QColor Theme::plainShade(double magnitude) const {
    const double m = std::clamp(magnitude, 0.0, 1.0);
    constexpr double faint = 0.012, paperHue = 85; // the paper's own tint
    return fromOklch(shop ? 0.27 + 0.50 * m : 0.965 - 0.50 * m, faint, paperHue);
}

QColor Theme::difference(double step) const {
    constexpr double less = 165, more = 330, most = 0.14; // hues in degrees, chroma
    const double m = std::clamp(std::abs(step), 0.0, 1.0);
    const double hue = step < 0 ? less : more;
    return shop ? fromOklch(0.24 + 0.42 * m, most * m, hue) : fromOklch(0.985 - 0.40 * m, most * m, hue);
}

QColor Theme::textOn(const QColor &background) const {
    // The better of both contrasts: (L1 + 0.05) / (L2 + 0.05), WCAG 2.1.
    const double l = luminance(background);
    return 1.05 / (l + 0.05) > (l + 0.05) / 0.05 ? QColor(Qt::white) : QColor(Qt::black);
}

QPalette Theme::palette() const {
    QPalette p;
    p.setColor(QPalette::Window, paper);
    p.setColor(QPalette::Base, raised);
    p.setColor(QPalette::AlternateBase, paper);
    p.setColor(QPalette::Button, raised);
    p.setColor(QPalette::ToolTipBase, raised);
    for (QPalette::ColorRole role :
         {QPalette::WindowText, QPalette::Text, QPalette::ButtonText, QPalette::ToolTipText})
        p.setColor(role, ink);
    p.setColor(QPalette::PlaceholderText, quiet);
    p.setColor(QPalette::Highlight, content(0.5));
    p.setColor(QPalette::HighlightedText, textOn(content(0.5)));
    p.setColor(QPalette::Link, content(0));
    p.setColor(QPalette::LinkVisited, content(0));
    p.setColor(QPalette::Mid, line);
    for (QPalette::ColorRole role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
        p.setColor(QPalette::Disabled, role, quiet);
    return p;
}

QString Theme::styleSheet() const {
    return QStringLiteral(R"(
QWidget { font-family: "%1"; font-size: %9px; }
QToolTip { color: %2; background: %3; border: 1px solid %4; padding: 4px; }
QMenuBar { background: %5; } QMenuBar::item { padding: 4px 10px; background: transparent; }
QMenuBar::item:selected { background: %4; }
QMenu { background: %3; border: 1px solid %4; } QMenu::item { padding: 5px 28px 5px 22px; }
QMenu::item:selected { background: %6; color: %7; }
QMenu::separator { height: 1px; background: %4; margin: 4px 8px; }
QPushButton { background: %3; border: 1px solid %4; border-radius: 3px; padding: 5px 12px; }
QPushButton:hover, QPushButton:focus { border-color: %6; }
QPushButton[quietly="true"] { border-color: transparent; background: transparent; color: %8; padding: 2px 8px; }
QPushButton[quietly="true"]:hover, QPushButton[quietly="true"]:focus { border-color: %6; color: %2; }
QPushButton:checked { background: %6; color: %7; border-color: %6; }
QPushButton[page="true"] { border: none; border-bottom: 3px solid transparent; border-radius: 0; background: transparent;
    padding: 4px 14px; font-size: %10px; }
QPushButton[page="true"]:checked { color: %2; border-bottom: 3px solid %6; font-weight: bold; }
QPushButton[page="true"]:focus { color: %6; }
QTabWidget::pane { border: 1px solid %4; background: %3; top: -1px; }
QTabBar::tab { padding: 4px 12px; border: none; color: %8; background: transparent; }
QTabBar::tab:selected { color: %2; border-bottom: 2px solid %6; }
QPushButton[main="true"] { background: %6; color: %7; border-color: %6; font-weight: bold; padding: 7px 16px; }
QPushButton[main="true"]:disabled { background: %5; color: %8; border-color: %4; }
QPushButton[main="true"]:focus { border: 2px solid %2; padding: 6px 15px; }
QLineEdit, QComboBox, QPlainTextEdit { background: %3; border: 1px solid %4; border-radius: 2px; padding: 3px 5px; }
QComboBox::drop-down { border: none; width: 20px; } QComboBox::down-arrow { image: url(:/icons/down.svg); width: 11px; }
QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus { border: 1px solid %6; }
QLineEdit:read-only { background: %5; }
QLineEdit[known="unknown"], QComboBox[known="unknown"], QLineEdit[known="estimated"], QComboBox[known="estimated"] { border: 1px dashed %8; }
QLineEdit[known="unknown"][empty="false"], QComboBox[known="unknown"], QLineEdit[known="estimated"][empty="false"], QComboBox[known="estimated"] { color: %8; }
QScrollArea, QScrollArea > QWidget#qt_scrollarea_viewport > QWidget { border: none; background: transparent; }
QScrollArea > QWidget#qt_scrollarea_viewport > QFrame[card="true"] { background: %3; border: 1px solid %4; border-radius: 4px; }
QFrame[card="true"] { background: %3; border: 1px solid %4; border-radius: 4px; }
QCheckBox::indicator, QTableView::indicator, QListView::indicator { width: 13px; height: 13px; border: 1px solid %8; background: %3; }
QCheckBox::indicator:checked, QTableView::indicator:checked, QListView::indicator:checked { image: url(:/icons/check.svg); }
QLabel[quiet="true"] { color: %8; } QLabel[head="true"] { font-weight: bold; font-size: %10px; } QLabel[answer="true"] { font-weight: bold; font-size: %11px; }
QDialogButtonBox { dialogbuttonbox-buttons-have-icons: 0; }
QScrollBar { background: transparent; border: none; margin: 0; }
QScrollBar:vertical { width: 12px; } QScrollBar:horizontal { height: 12px; }
QScrollBar::handle { background: %12; border-radius: 3px; margin: 2px; }
QScrollBar::handle:vertical { min-height: 26px; } QScrollBar::handle:horizontal { min-width: 26px; }
QScrollBar::handle:hover { background: %8; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
QStatusBar { background: %5; border-top: 1px solid %4; } QStatusBar::item { border: none; }
QHeaderView::section { background: %5; border: none; border-bottom: 1px solid %4; padding: 3px; }
)")
        .arg(sansFont(13).family(), ink.name(), raised.name(), line.name(), paper.name(), content(0.5).name(),
             textOn(content(0.5)).name(), quiet.name())
        .arg(fontPixels(13))
        .arg(fontPixels(14))
        .arg(fontPixels(20))
        .arg(handle().name());
}

// Seen against what lies under it, 3 : 1 and more (WCAG 2.1, 1.4.11), and quieter than any text.
QColor Theme::handle() const {
    constexpr double of = 0.75;
    const auto mixed = [&](float text, float ground) {
        return static_cast<float>(of * text + (1 - of) * ground);
    };
    return QColor::fromRgbF(mixed(quiet.redF(), paper.redF()), mixed(quiet.greenF(), paper.greenF()),
                            mixed(quiet.blueF(), paper.blueF()));
}

const Theme &theme() {
    return current();
}

void useTheme(const Look &look) {
    tellOfPaintedParts();
    current() = makeTheme(look);
    QApplication::setFont(sansFont(13));
    qApp->setPalette(current().palette());
    qApp->setStyleSheet(current().styleSheet());
    static const int usualFlash = QApplication::cursorFlashTime();
    QApplication::setCursorFlashTime(look.still ? 0 : usualFlash);
    for (const Qt::UIEffect effect : {Qt::UI_AnimateMenu, Qt::UI_FadeMenu, Qt::UI_AnimateCombo,
                                      Qt::UI_AnimateTooltip, Qt::UI_FadeTooltip, Qt::UI_AnimateToolBox})
        QApplication::setEffectEnabled(effect, !look.still);
}

Look usedLook() {
    return {current().shop, current().contrast, current().still};
}

Look lookKept(const QSettings &settings) {
    const auto chosen = [&](const char *key) { return settings.value(QLatin1String(key), false).toBool(); };
    return {chosen("shopTheme"), chosen("highContrast"), chosen("lessMotion")};
}

void loadFonts() {
    loadPageFonts();
    QApplication::setFont(sansFont(13));
}

QFont sansFont(int pixelSize, bool bold) {
    QFont f(family(QStringLiteral("Wheelwright Sans")));
    f.setPixelSize(fontPixels(pixelSize));
    f.setBold(bold);
    return f;
}

QFont monoFont(int pixelSize, bool bold) {
    QFont f(family(QStringLiteral("Wheelwright Mono")));
    f.setPixelSize(fontPixels(pixelSize));
    f.setBold(bold);
    return f;
}

} // namespace wheelwright
