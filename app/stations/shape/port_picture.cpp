// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/shape/port_picture.h"

#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "app/shell/theme.h"
#include "core/base/at.h"
#include "core/parts/palette.h"
#include "render/picture.h"

namespace ivrant::app {
namespace {

using geometry::Vec3;

constexpr int kWidth = 300, kHeight = 210;
constexpr double kArrowPx = 26, kDotPx = 4;

/// Where a ray first meets the mesh from outside, and the normal there (Möller and Trumbore 1997).
std::optional<std::pair<Vec3, Vec3>> hitMesh(const geometry::TriangleMesh& mesh, const Vec3& origin,
                                             const Vec3& direction) {
    std::optional<std::pair<Vec3, Vec3>> hit;
    double nearest = 1e300;
    for (const auto& t : mesh.triangles) {
        const Vec3 &a = at(mesh.points, t[0]), &b = at(mesh.points, t[1]), &c = at(mesh.points, t[2]);
        const Vec3 ab = b - a, ac = c - a, across = direction.cross(ac);
        const double det = ab.dot(across);
        if (det < 1e-12) continue; // seen from behind, or edge-on
        const double u = (origin - a).dot(across) / det;
        const Vec3 q = (origin - a).cross(ab);
        const double v = direction.dot(q) / det, way = ac.dot(q) / det;
        if (u < 0 || v < 0 || u + v > 1 || way >= nearest) continue;
        nearest = way;
        hit = {origin + way * direction, ab.cross(ac).normalized()};
    }
    return hit;
}

} // namespace

PortPicture::PortPicture(QWidget* parent) : QWidget(parent) {
    setFixedSize(kWidth, kHeight);
    setCursor(Qt::CrossCursor);
    setToolTip("A click puts the chosen port here");
}

void PortPicture::show(const parts::ShapePtr& shape, int chosen) {
    const bool other = shape != m_shape;
    m_shape = shape;
    m_chosen = chosen;
    if (other) draw();
    update();
}

void PortPicture::look(render::View view) {
    m_view = view;
    draw();
    update();
}

void PortPicture::draw() {
    m_image = {};
    if (!m_shape) return;
    auto renderer = render::Renderer::create();
    m_trouble = renderer ? QString() : QString::fromStdString(renderer.error().message);
    if (!renderer) return;
    const double ratio = devicePixelRatioF();
    const std::string png = render::encodePng(render::drawPart(**renderer, m_shape, parts::findColour("fog"),
                                                               static_cast<int>(kWidth * ratio),
                                                               static_cast<int>(kHeight * ratio), m_view));
    m_image.loadFromData(reinterpret_cast<const uchar*>(png.data()), static_cast<int>(png.size()));
    m_image.setDevicePixelRatio(ratio);
}

QPointF PortPicture::toScreen(const Vec3& p) const {
    const Vec3 pixel = render::makePartCamera(*m_shape, kWidth, kHeight, m_view).project(p, kWidth, kHeight);
    return {pixel.x(), pixel.y()};
}

void PortPicture::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!m_shape || m_image.isNull()) {
        painter.drawText(rect(), Qt::AlignCenter, m_trouble);
        return;
    }
    painter.drawImage(0, 0, m_image);
    const double mmPerPixel = render::makePartCamera(*m_shape, kWidth, kHeight, m_view).mmPerPixel;
    for (std::size_t i = 0; i < m_shape->ports.size(); ++i) {
        const auto& port = m_shape->ports[i];
        const bool chosen = static_cast<int>(i) == m_chosen;
        const QColor colour = chosen ? theme().ember : theme().brine;
        const QPointF from = toScreen(port.origin), to = toScreen(port.origin + port.axis * kArrowPx * mmPerPixel);
        painter.setPen(QPen(colour, chosen ? 2.4 : 1.6));
        painter.drawLine(from, to);
        const QPointF way = to - from;
        if (const double length = std::hypot(way.x(), way.y()); length > 6) {
            const QPointF along = way / length, across(-along.y(), along.x());
            painter.drawLine(to, to - along * 6 + across * 3.5);
            painter.drawLine(to, to - along * 6 - across * 3.5);
        }
        painter.setBrush(theme().sheet);
        painter.drawEllipse(from, kDotPx, kDotPx);
    }
}

void PortPicture::mousePressEvent(QMouseEvent* event) {
    if (!m_shape) return;
    const auto [origin, direction] = render::makePartCamera(*m_shape, kWidth, kHeight, m_view)
                                         .ray(event->position().x(), event->position().y(), kWidth, kHeight);
    if (const auto hit = hitMesh(m_shape->own->mesh, origin, direction)) emit placed(hit->first, hit->second);
}

} // namespace ivrant::app
