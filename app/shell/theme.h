// Which colours and which typeface does the window use? The same roles in a light and a dark set.
#pragma once

#include <QColor>
#include <QString>

class QApplication;

namespace ivrant::app {

struct Theme {
    QColor paper, sheet, panel, ink, quiet, rule, brine, ember, straw, moss, onBrine;
    bool dark = false;
};

/// The theme in use.
[[nodiscard]] const Theme& theme();
/// Loads the bundled typeface (once) and applies palette and style sheet.
void applyTheme(QApplication& app, bool dark);

} // namespace ivrant::app
