// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/sheet3d/scene_picture.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "app/shell/theme.h"
#include "print/pictures.h"

namespace ivrant::app {
namespace {
constexpr double kTurnAPixel = 0.008, kTurnAKey = 0.26; ///< rad
constexpr double kSteepest = 1.57;
} // namespace

ScenePicture::ScenePicture(Session& session, QWidget* parent) : QWidget(parent), m_session(session) {
    if (auto made = render::Renderer::create()) m_renderer = *made;
    setMinimumSize(200, 150);
    setFocusPolicy(Qt::StrongFocus);
    setToolTip("Drag, or Shift with the arrow keys, to turn it");
}

void ScenePicture::show(render::PictureRequest request, std::optional<model::Placed> placed) {
    m_request = std::move(request);
    if (m_request.turn) m_turn = *m_request.turn;
    m_empty = false;
    m_project = std::make_shared<const model::Project>(m_session.project());
    m_placed = placed ? std::move(*placed) : m_session.placed();
    m_placed.project = m_project.get();
    m_bonds = m_session.bonds();
    m_stale = true;
    update();
}

void ScenePicture::clear() {
    m_empty = true;
    m_frame = {};
    update();
}

QPointF ScenePicture::toScreen(const geometry::Vec3& world) const {
    const geometry::Vec3 p = m_camera.project(world, width(), height());
    return {p.x(), p.y()};
}

void ScenePicture::draw() {
    m_stale = false;
    if (!m_renderer) return;
    const double ratio = devicePixelRatioF();
    m_request.width = std::max(1, static_cast<int>(width() * ratio));
    m_request.height = std::max(1, static_cast<int>(height() * ratio));
    m_request.turn = m_turn;
    const QColor c = theme().paper;
    m_request.background = {static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()),
                            static_cast<std::uint8_t>(c.blue()), 255};
    const auto scene = render::makeScene(m_placed, m_bonds, m_request);
    m_camera = scene.camera;
    m_camera.mmPerPixel *= ratio;
    m_frame = print::toQImage(m_renderer->draw(scene));
    m_frame.setDevicePixelRatio(ratio);
}

void ScenePicture::paintEvent(QPaintEvent*) {
    if (m_empty) return;
    if (m_stale) draw();
    QPainter painter(this);
    painter.drawImage(0, 0, m_frame);
    painter.setRenderHint(QPainter::Antialiasing);
    if (overlay) overlay(painter);
}

void ScenePicture::resizeEvent(QResizeEvent*) { m_stale = true; }

void ScenePicture::mousePressEvent(QMouseEvent* event) { m_last = event->position(); }
void ScenePicture::mouseMoveEvent(QMouseEvent* event) {
    const QPointF by = event->position() - m_last;
    m_last = event->position();
    turnBy(-by.x() * kTurnAPixel, by.y() * kTurnAPixel);
}
void ScenePicture::keyPressEvent(QKeyEvent* event) {
    if (!(event->modifiers() & Qt::ShiftModifier)) return QWidget::keyPressEvent(event);
    switch (event->key()) {
    case Qt::Key_Left: return turnBy(kTurnAKey, 0);
    case Qt::Key_Right: return turnBy(-kTurnAKey, 0);
    case Qt::Key_Up: return turnBy(0, kTurnAKey);
    case Qt::Key_Down: return turnBy(0, -kTurnAKey);
    default: QWidget::keyPressEvent(event);
    }
}

void ScenePicture::turnBy(double yaw, double pitch) {
    m_turn.yaw += yaw;
    m_turn.pitch = std::clamp(m_turn.pitch + pitch, -kSteepest, kSteepest);
    m_stale = true;
    update();
    emit turned();
}

} // namespace ivrant::app
