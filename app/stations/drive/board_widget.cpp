// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/drive/board_widget.h"

#include <QApplication>
#include <QClipboard>
#include <QKeyEvent>
#include <QMouseEvent>
#include <cmath>

#include "app/charts/drawing.h"
#include "app/shell/theme.h"
#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::app {
namespace {

constexpr std::int64_t kHalfUm = base::kPitchUm / 2;

std::int64_t snap(double mm, std::int64_t stepUm) {
    return std::llround(mm * 1000 / static_cast<double>(stepUm)) * stepUm;
}

} // namespace

BoardWidget::BoardWidget(QWidget* parent) : QWidget(parent) {
    setObjectName("board");
    setAccessibleName("Gear board");
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(320, 240);
    m_look.cursor = QPointF(0, 0);
}

void BoardWidget::show(DriveStatePtr state, int board) {
    const bool other = !m_state || board != m_look.board;
    m_state = std::move(state);
    m_look.board = board;
    if (other) {
        m_look.chosen.clear();
        m_fitted = false;
    }
    if (!m_fitted && m_state) fit();
    update();
}

void BoardWidget::choose(std::set<std::string> ids) {
    if (m_look.chosen == ids) return;
    m_look.chosen = std::move(ids);
    update();
    emit chosenChanged();
}
void BoardWidget::mark(std::set<std::string> ids) {
    m_look.marked = std::move(ids);
    update();
}
void BoardWidget::setLayer(std::optional<std::int64_t> layerUm) {
    m_look.layerUm = layerUm;
    update();
}
void BoardWidget::setSpeeds(std::vector<double> rpm) {
    m_look.speedsRpm = std::move(rpm);
    update();
}
void BoardWidget::setSeconds(double seconds) {
    m_look.seconds = seconds;
    update();
}

void BoardWidget::fit() {
    if (!m_state || width() < 50) return;
    const QRectF extent = print::findExtent(*m_state, m_look.board).adjusted(-12, -16, 12, 16);
    m_view.scale = std::clamp(std::min(width() / extent.width(), height() / extent.height()), 0.4, 6.0);
    m_view.origin = QPointF(width() / 2.0 - extent.center().x() * m_view.scale,
                            height() / 2.0 + extent.center().y() * m_view.scale);
    m_fitted = true;
    update();
}

std::array<std::int64_t, 2> BoardWidget::cursorUm() const {
    return {base::mmToUm(m_look.cursor->x()), base::mmToUm(m_look.cursor->y())};
}

QPoint BoardWidget::pixelOf(double xPitches, double yPitches) const {
    return m_view.toPixel(xPitches * base::kPitchMm, yPitches * base::kPitchMm).toPoint();
}

bool BoardWidget::saveDrawing(const QString& path) const {
    if (!m_state) return false;
    return app::saveDrawing(path, size(), "Gear board", [this](QPainter& painter) { paint(painter); });
}

void BoardWidget::copyPicture() const {
    if (m_state) QApplication::clipboard()->setPixmap(const_cast<BoardWidget*>(this)->grab());
}

void BoardWidget::paint(QPainter& painter) const {
    BoardLook look = m_look;
    const Theme& t = theme();
    look.colours = {t.sheet, t.panel, t.ink, t.quiet, t.rule, t.brine, t.ember};
    print::paintBoard(painter, QRectF(rect()), *m_state, m_view, look);
}

void BoardWidget::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (!m_state) {
        painter.fillRect(rect(), theme().sheet);
        painter.setPen(theme().quiet);
        painter.drawText(rect(), Qt::AlignCenter,
                         "No gear board yet.\nType 24 below and press Enter:\na board with a wheel of 24 teeth is "
                         "begun.\nIt needs no bricks.");
        return;
    }
    paint(painter);
    if (hasFocus()) {
        painter.setPen(QPen(theme().brine, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void BoardWidget::resizeEvent(QResizeEvent*) { fit(); }

bool BoardWidget::isPart(const std::string& id) const {
    const int rotor = m_state->report.net.findRotor(id);
    return rotor >= 0 && at(m_state->report.net.rotors, rotor).board < 0;
}

QPointF BoardWidget::placeOf(const std::string& id) const {
    const auto& board = at(m_state->seen, m_look.board);
    for (const auto& shaft : board.shafts)
        if (shaft.id.text == id) return {base::umToMm(shaft.atUm[0]), base::umToMm(shaft.atUm[1])};
    for (const auto& gear : board.gears)
        if (gear.id.text == id) return {base::umToMm(gear.atUm[0]), base::umToMm(gear.atUm[1])};
    return {};
}

void BoardWidget::mousePressEvent(QMouseEvent* event) {
    setFocus();
    if (!m_state) return;
    m_pressedAt = event->position();
    if (event->button() == Qt::MiddleButton || event->button() == Qt::RightButton) {
        m_panning = true;
        return;
    }
    const QPointF mm = m_view.toBoard(event->position());
    m_held = print::findAt(*m_state, m_look, mm);
    m_moving = false;
    m_movedX = m_movedY = 0;
    if (m_held.empty()) {
        m_look.cursor = QPointF(base::umToMm(snap(mm.x(), kHalfUm)), base::umToMm(snap(mm.y(), kHalfUm)));
        choose({});
        update();
        return;
    }
    m_pressedPlace = placeOf(m_held);
    auto ids = m_look.chosen;
    if (event->modifiers().testFlag(Qt::ControlModifier)) {
        if (ids.erase(m_held) == 0) ids.insert(m_held);
    } else if (ids.count(m_held) == 0) {
        ids = {m_held};
    }
    choose(std::move(ids));
}

void BoardWidget::mouseMoveEvent(QMouseEvent* event) {
    if (!m_state) return;
    if (m_panning) {
        m_view.origin += event->position() - m_pressedAt;
        m_pressedAt = event->position();
        update();
        return;
    }
    if (m_held.empty() || !event->buttons().testFlag(Qt::LeftButton)) return;
    const QPointF by = event->position() - m_pressedAt;
    if (!m_moving && by.manhattanLength() < QApplication::startDragDistance()) return;
    m_moving = true;
    // The held shaft goes to holes and half pitches; with Shift up and down by plates, with Alt anywhere to 0.1 mm.
    const bool plates = event->modifiers().testFlag(Qt::ShiftModifier),
               freely = event->modifiers().testFlag(Qt::AltModifier);
    const QPointF target = m_pressedPlace + QPointF(by.x(), -by.y()) / m_view.scale;
    const std::int64_t x = snap(target.x(), freely ? 100 : kHalfUm), y = snap(target.y(), freely   ? 100
                                                                                          : plates ? base::kPlateUm
                                                                                                   : kHalfUm);
    std::int64_t dx = x - base::mmToUm(m_pressedPlace.x()), dy = y - base::mmToUm(m_pressedPlace.y());
    if (isPart(m_held)) { // parts stand where their section's grid says: by whole steps from there
        dx = snap(base::umToMm(dx), freely ? 100 : kHalfUm);
        dy = snap(base::umToMm(dy), freely ? 100 : plates ? base::kPlateUm : kHalfUm);
    }
    if (dx == m_movedX && dy == m_movedY) return;
    m_movedX = dx;
    m_movedY = dy;
    emit dragged(chosen(), dx, dy, false);
}

void BoardWidget::mouseReleaseEvent(QMouseEvent*) {
    if (m_moving) emit dragged(chosen(), m_movedX, m_movedY, true);
    m_moving = m_panning = false;
    m_held.clear();
}

void BoardWidget::wheelEvent(QWheelEvent* event) {
    const double factor = std::pow(1.0015, event->angleDelta().y()),
                 scale = std::clamp(m_view.scale * factor, 0.2, 20.0);
    const QPointF mm = m_view.toBoard(event->position());
    m_view.scale = scale;
    m_view.origin = event->position() - QPointF(mm.x() * scale, -mm.y() * scale);
    m_fitted = true;
    update();
}

void BoardWidget::keyPressEvent(QKeyEvent* event) {
    const std::int64_t step = event->modifiers().testFlag(Qt::ShiftModifier) ? kHalfUm : base::kPitchUm;
    std::int64_t dx = 0, dy = 0;
    switch (event->key()) {
    case Qt::Key_Left: dx = -step; break;
    case Qt::Key_Right: dx = step; break;
    case Qt::Key_Up: dy = step; break;
    case Qt::Key_Down: dy = -step; break;
    case Qt::Key_Escape: choose({}); return;
    default:
        // Letters and digits always go to the typed line.
        if (const QString text = event->text(); !text.isEmpty() && text[0].isPrint() &&
                                                !event->modifiers().testFlag(Qt::ControlModifier) && !text[0].isSpace())
            emit typed(text);
        else
            QWidget::keyPressEvent(event);
        return;
    }
    if (m_look.chosen.empty()) {
        *m_look.cursor += QPointF(base::umToMm(dx), base::umToMm(dy));
        update();
    } else {
        emit nudged(dx, dy);
    }
}

} // namespace ivrant::app
