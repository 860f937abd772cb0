// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/charts/drawing.h"

#include <QBuffer>
#include <QImage>
#include <QPainter>
#include <QSvgGenerator>

#include "app/shell/theme.h"
#include "core/files/atomic_file.h"

namespace ivrant::app {

bool saveDrawing(const QString& path, const QSize& size, const QString& title,
                 const std::function<void(QPainter&)>& paint) {
    QBuffer bytes;
    bytes.open(QIODevice::WriteOnly);
    const auto draw = [&](QPaintDevice& device) {
        QPainter painter(&device);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.fillRect(QRect(QPoint(0, 0), size), theme().paper);
        paint(painter);
    };
    if (path.endsWith(".svg")) {
        QSvgGenerator svg;
        svg.setOutputDevice(&bytes);
        svg.setSize(size);
        svg.setViewBox(QRect(QPoint(0, 0), size));
        svg.setTitle(title.toHtmlEscaped()); // the generator writes it as it is
        draw(svg);
    } else {
        QImage image(size * 2, QImage::Format_RGB32);
        image.setDevicePixelRatio(2);
        draw(image);
        image.save(&bytes, "PNG");
    }
    return files::writeFileAtomically(path.toStdString(), bytes.data().toStdString()).ok();
}

} // namespace ivrant::app
