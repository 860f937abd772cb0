// SPDX-License-Identifier: GPL-3.0-or-later
// Which colours and which typeface does the window use? The same roles in a light and a dark set.
#pragma once

#include <QColor>
#include <QString>

class QApplication;

namespace ivrant::app {

struct Theme {
    QColor paper, sheet, panel, ink, quiet, rule, brine, ember, straw, moss, onBrine;
    QColor ground; ///< behind models: so light that dark parts stand out from it
    bool dark = false;
    double scale = 1; ///< of all text, and of what is measured by it
};

/// The theme in use.
[[nodiscard]] const Theme& theme();
/// Loads the bundled typeface (once) and applies palette and style sheet. `scale`: of text, kLeastScale to kMostScale.
void applyTheme(QApplication& app, bool dark, double scale = 1);
inline constexpr double kLeastScale = 0.8, kMostScale = 2;
/// A length made for text of the usual size, in the size in use.
[[nodiscard]] int scaled(int pixels);

} // namespace ivrant::app
