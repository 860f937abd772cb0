// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/theme.h"

#include <QApplication>
#include <QFontDatabase>
#include <QPalette>
#include <QStyleFactory>
#include <algorithm>
#include <cmath>

namespace ivrant::app {
namespace {

Theme g_theme;

Theme makeLight() {
    return {QColor("#F7F4EC"),
            QColor("#FCFAF4"),
            QColor("#F1ECE0"),
            QColor("#20303A"),
            QColor("#56646B"),
            QColor("#D9D1BF"),
            QColor("#1F7A80"),
            QColor("#B8441F"),
            QColor("#8A6400"),
            QColor("#47702F"),
            QColor("#FFFFFF"),
            QColor("#FCFAF4"),
            false};
}

Theme makeDark() {
    return {QColor("#1B2429"),
            QColor("#222D33"),
            QColor("#182025"),
            QColor("#ECE7DA"),
            QColor("#A9B4B8"),
            QColor("#3A474E"),
            QColor("#5CB8BC"),
            QColor("#F08A66"),
            QColor("#E9C05C"),
            QColor("#9CC681"),
            QColor("#10181C"),
            QColor("#4B5A61"),
            true};
}

constexpr double kBasePt = 10.5;

QString makeStyle(const Theme& t) {
    QString s = R"(
* { font-size: @pt; } QLabel#startTitle { font-size: @large; font-weight: 600; }
QMainWindow, QDialog { background: @paper; }
QToolTip { background: @ink; color: @paper; border: none; padding: 4px; }
QWidget#rail, QWidget#slip { background: @panel; }
QWidget#header { background: @sheet; border-bottom: 1px solid @rule; }
QFrame#notice { background: @panel; border-bottom: 2px solid @ember; } QLabel#noticeText { color: @ember; font-weight: 600; }
QWidget#line { background: @lineBack; } QWidget#line QLabel { color: @lineText; }
QWidget#line QPushButton { color: @lineText; background: transparent; border: 1px solid @lineText; padding: 0 6px; }
QLineEdit, QAbstractSpinBox, QComboBox { background: @sheet; color: @ink; border: 1px solid @rule; border-radius: 4px; padding: 3px 6px; selection-background-color: @brine; selection-color: @onBrine; }
QLineEdit:focus, QAbstractSpinBox:focus, QComboBox:focus { border: 1px solid @brine; }
QComboBox::drop-down { border: none; width: 22px; } QComboBox::down-arrow { image: url(:/icons/down@mode.svg); width: 11px; height: 7px; }
QAbstractSpinBox::up-button, QAbstractSpinBox::down-button { border: none; background: transparent; width: 20px; }
QAbstractSpinBox::up-arrow { image: url(:/icons/up@mode.svg); width: 10px; height: 6px; } QAbstractSpinBox::down-arrow { image: url(:/icons/down@mode.svg); width: 10px; height: 6px; }
QLineEdit#ask { border-radius: 13px; padding: 3px 12px; }
QPushButton, QToolButton { background: transparent; color: @ink; border: 1px solid @rule; border-radius: 5px; padding: 4px 10px; }
QPushButton:hover, QToolButton:hover { border-color: @brine; }
QPushButton:focus, QToolButton:focus { border: 1px solid @brine; }
QPushButton:disabled, QToolButton:disabled { color: @quiet; }
QPushButton:checked, QToolButton:checked { background: @brine; color: @onBrine; border-color: @brine; }
QPushButton[chip="true"] { border-radius: 13px; padding: 4px 14px; }
QPushButton[flat2="true"], QToolButton[flat2="true"] { border: 1px solid transparent; color: @brine; }
QPushButton[flat2="true"]:focus, QToolButton[flat2="true"]:focus { border: 1px dotted @brine; }
QToolButton[flat2="true"]:checked { background: transparent; color: @brine; border-bottom: 2px solid @brine; border-radius: 0; }
QTabBar::tab { background: transparent; color: @quiet; padding: 5px 8px; border-bottom: 2px solid transparent; }
QTabBar::tab:selected { color: @brine; border-bottom: 2px solid @brine; }
QTabWidget::pane { border: none; }
QTreeView, QListView, QTableView { background: @sheet; color: @ink; border: none; alternate-background-color: @paper; selection-background-color: @selected; selection-color: @ink; outline: none; }
QTreeView::item, QListView::item { padding: 2px; }
QHeaderView::section { background: @sheet; color: @quiet; border: none; border-bottom: 1px solid @rule; padding: 4px 6px; }
QTableView { gridline-color: @rule; }
QMenuBar { background: @sheet; color: @ink; } QMenuBar::item:selected, QMenu::item:selected { background: @brine; color: @onBrine; }
QMenu { background: @sheet; color: @ink; border: 1px solid @rule; }
QListWidget#askPopup { border: 1px solid @brine; border-radius: 6px; padding: 3px; }
QScrollBar:vertical { background: transparent; width: 10px; } QScrollBar::handle:vertical { background: @rule; border-radius: 5px; min-height: 24px; }
QScrollBar:horizontal { background: transparent; height: 10px; } QScrollBar::handle:horizontal { background: @rule; border-radius: 5px; min-width: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QProgressBar { background: transparent; border: 1px solid @lineText; border-radius: 3px; height: 10px; } QProgressBar::chunk { background: @brine; }
QSplitter::handle { background: @rule; }
QFocusFrame { border: 2px solid @brine; border-radius: 5px; }
)";
    const QColor selected = t.dark ? QColor("#2C4A4E") : QColor("#DDEBE8");
    const std::pair<const char*, QColor> roles[] = {{"@lineBack", t.dark ? QColor("#10181C") : QColor("#20303A")},
                                                    {"@lineText", QColor("#ECE7DA")},
                                                    {"@selected", selected},
                                                    {"@onBrine", t.onBrine},
                                                    {"@paper", t.paper},
                                                    {"@sheet", t.sheet},
                                                    {"@panel", t.panel},
                                                    {"@ink", t.ink},
                                                    {"@quiet", t.quiet},
                                                    {"@rule", t.rule},
                                                    {"@brine", t.brine},
                                                    {"@ember", t.ember}};
    s.replace("@mode", t.dark ? "-dark" : "");
    s.replace("@large", QString::number(1.5 * kBasePt * t.scale) + "pt");
    s.replace("@pt", QString::number(kBasePt * t.scale) + "pt");
    for (const auto& [role, colour] : roles) s.replace(role, colour.name());
    return s;
}

} // namespace

const Theme& theme() { return g_theme; }

int scaled(int pixels) { return static_cast<int>(std::lround(theme().scale * pixels)); }

void applyTheme(QApplication& app, bool dark, double scale) {
    static const bool loaded = [] {
        QFontDatabase::addApplicationFont(":/fonts/Inter-Regular.otf");
        QFontDatabase::addApplicationFont(":/fonts/Inter-SemiBold.otf");
        return true;
    }();
    (void)loaded;
    g_theme = dark ? makeDark() : makeLight();
    g_theme.scale = std::clamp(scale, kLeastScale, kMostScale);
    QApplication::setStyle(QStyleFactory::create("Fusion"));
    QFont font("Inter");
    font.setPointSizeF(kBasePt * g_theme.scale);
    font.setStyleHint(QFont::SansSerif);
    app.setFont(font);
    QPalette palette;
    const Theme& t = g_theme;
    palette.setColor(QPalette::Window, t.paper);
    palette.setColor(QPalette::WindowText, t.ink);
    palette.setColor(QPalette::Base, t.sheet);
    palette.setColor(QPalette::AlternateBase, t.paper);
    palette.setColor(QPalette::Text, t.ink);
    palette.setColor(QPalette::Button, t.panel);
    palette.setColor(QPalette::ButtonText, t.ink);
    palette.setColor(QPalette::Highlight, t.brine);
    palette.setColor(QPalette::HighlightedText, t.onBrine);
    palette.setColor(QPalette::PlaceholderText, t.quiet);
    app.setPalette(palette);
    app.setStyleSheet(makeStyle(t));
}

} // namespace ivrant::app
