// SPDX-License-Identifier: GPL-3.0-or-later
// How is a chart written to a file?
#pragma once

#include <QSize>
#include <QString>
#include <functional>

class QPainter;

namespace ivrant::app {

/// SVG or PNG (twice the resolution) by the ending of the path; false when it cannot be written.
[[nodiscard]] bool saveDrawing(const QString& path, const QSize& size, const QString& title,
                               const std::function<void(QPainter&)>& paint);

} // namespace ivrant::app
