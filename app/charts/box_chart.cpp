// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/charts/box_chart.h"

#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

#include "app/charts/drawing.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/base/at.h"

namespace ivrant::app {
namespace {

constexpr double kBetweenMm = 40; ///< boxes

QString sizeText(const geometry::Vec3& mm) {
    return number(mm.x(), 0) + " × " + number(mm.y(), 0) + " × " + number(mm.z(), 0) + " mm";
}

} // namespace

BoxChart::BoxChart(QWidget* parent) : QWidget(parent) {
    setObjectName("boxChart");
    setAccessibleName("Boxes from above");
    setMinimumSize(240, 160);
    setMouseTracking(true);
}

void BoxChart::show(std::optional<study::PackPlan> plan, double foamMm) {
    m_plan = std::move(plan);
    m_foamMm = foamMm;
    update();
}

bool BoxChart::saveChart(const QString& path) const {
    return saveDrawing(path, size(), "Boxes", [this](QPainter& painter) { paintChart(painter, QRectF(rect())); });
}

std::vector<BoxChart::Drawn> BoxChart::layOut(const QRectF& area) const {
    std::vector<Drawn> drawn;
    if (!m_plan || m_plan->boxes.empty()) return drawn;
    const double top = scaled(20), foot = scaled(22);
    // As many beside each other as give the largest scale.
    const auto& boxes = m_plan->boxes;
    double width = 1, height = 1;
    for (const auto& box : boxes) {
        width = std::max(width, box.insideMm.x());
        height = std::max(height, box.insideMm.y());
    }
    const auto count = static_cast<int>(boxes.size());
    double scale = 0;
    int columns = 1;
    for (int n = 1; n <= count; ++n) {
        const int rows = (count + n - 1) / n;
        const double fits = std::min((area.width() - 8) / (n * width + (n - 1) * kBetweenMm),
                                     (area.height() - rows * (top + foot)) / (rows * height));
        if (fits <= scale) continue;
        scale = fits;
        columns = n;
    }
    if (!(scale > 0)) return drawn;
    for (int b = 0; b < count; ++b) {
        const auto& box = at(boxes, b);
        const QPointF corner(area.left() + 4 + (b % columns) * (width + kBetweenMm) * scale,
                             area.top() + top + (b / columns) * (height * scale + top + foot));
        Drawn one{QRectF(corner, QSizeF(box.insideMm.x() * scale, box.insideMm.y() * scale)), {}};
        for (std::size_t i = 0; i < box.pieces.size(); ++i) {
            const auto& place = box.places[i];
            geometry::Vec3 size = at(m_plan->pieces, box.pieces[i]).size.mm;
            if (place.across) std::swap(size.x(), size.y());
            one.pieces.emplace_back(QRectF(corner + QPointF(place.atMm[0] + m_foamMm, place.atMm[1] + m_foamMm) * scale,
                                           QSizeF(size.x(), size.y()) * scale),
                                    box.pieces[i]);
        }
        drawn.push_back(std::move(one));
    }
    return drawn;
}

void BoxChart::paintChart(QPainter& painter, const QRectF& area) const {
    painter.setRenderHint(QPainter::Antialiasing);
    const auto drawn = layOut(area);
    if (drawn.empty()) {
        painter.setPen(theme().quiet);
        painter.drawText(area, Qt::AlignCenter, "There is nothing to pack yet");
        return;
    }
    for (std::size_t b = 0; b < drawn.size(); ++b) {
        const auto& box = m_plan->boxes[b];
        painter.setPen(theme().ink);
        const double line = painter.fontMetrics().height();
        painter.drawText(QPointF(drawn[b].box.left(), drawn[b].box.top() - 5),
                         "Box " + QString::number(b + 1) + ", " + number(box.massG / 1000, 2) + " kg");
        painter.setBrush(theme().panel);
        painter.setPen(QPen(theme().ink, 2));
        painter.drawRect(drawn[b].box);
        painter.drawText(QPointF(drawn[b].box.left(), drawn[b].box.bottom() + line),
                         "inside " + sizeText(box.insideMm));
        for (const auto& [rect, index] : drawn[b].pieces) {
            const auto& piece = at(m_plan->pieces, index);
            painter.setBrush(piece.fits ? theme().paper : theme().straw);
            painter.setPen(QPen(piece.fits ? theme().brine : theme().ember, 1.5));
            painter.drawRect(rect);
            painter.setPen(theme().ink);
            painter.drawText(rect.adjusted(3, 2, -3, -2), Qt::AlignCenter | Qt::TextWordWrap,
                             qs(piece.name) + (piece.fits ? "" : "\ntoo large"));
        }
    }
}

QString BoxChart::describe(QPointF position) const {
    for (const Drawn& box : layOut(QRectF(rect())))
        for (const auto& [rect, index] : box.pieces)
            if (rect.contains(position)) {
                const auto& piece = at(m_plan->pieces, index);
                return qs(piece.name) + "\n" + sizeText(piece.size.mm) + "\n" + number(piece.massG, 0) + " g, " +
                       QString::number(piece.parts.size()) + (piece.parts.size() == 1 ? " part" : " parts");
            }
    return {};
}

void BoxChart::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    paintChart(painter, QRectF(rect()));
}

void BoxChart::mouseMoveEvent(QMouseEvent* event) {
    QToolTip::showText(event->globalPosition().toPoint(), describe(event->position()), this);
}

} // namespace ivrant::app
