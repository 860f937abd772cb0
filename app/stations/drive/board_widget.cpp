// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/drive/board_widget.h"

#include <QApplication>
#include <QClipboard>
#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>
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
    lookFromSide();
    if (!m_fitted && m_state) fit();
    update();
}

void BoardWidget::lookFromSide() {
    const bool before = m_side != nullptr;
    m_side = m_wantsSide && m_state ? print::makeElevationState(m_state, m_look.board) : nullptr;
    if (m_side) m_elevation = drive::getElevation(*at(m_state->project->boards, m_look.board));
    if (before != (m_side != nullptr)) m_fitted = false;
}
void BoardWidget::setElevation(bool shown) {
    m_wantsSide = shown;
    lookFromSide();
    if (m_state) fit();
    update();
}
int BoardWidget::planHeight() const { return m_side ? static_cast<int>(height() * m_planShare) : height(); }
QPoint BoardWidget::elevationPixelOf(double xPitches, double outPitches) const {
    return m_sideView.toPixel(xPitches * base::kPitchMm, m_elevation.outSign * outPitches * base::kPitchMm).toPoint();
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

/// Plan and elevation in one scale, what belongs together under each other.
void BoardWidget::fit() {
    if (!m_state || width() < 50) return;
    constexpr double kLeastShare = 0.4, kMostShare = 0.75;
    const QRectF extent = print::findExtent(*m_state, m_look.board).adjusted(-12, -16, 12, 16);
    const double side = m_side ? print::findExtent(*m_side, m_look.board).height() + 24 : 0;
    m_planShare = m_side ? std::clamp(extent.height() / (extent.height() + side), kLeastShare, kMostShare) : 1;
    const int high = planHeight();
    m_view.scale = std::min(width() / extent.width(), high / extent.height());
    if (m_side) m_view.scale = std::min(m_view.scale, (height() - high) / side);
    m_view.scale = std::clamp(m_view.scale, 0.4, 6.0);
    m_view.origin =
        QPointF(width() / 2.0 - extent.center().x() * m_view.scale, high / 2.0 + extent.center().y() * m_view.scale);
    fitSide();
    m_fitted = true;
    update();
}

void BoardWidget::fitSide() {
    if (!m_side) return;
    const QRectF extent = print::findExtent(*m_side, m_look.board);
    m_sideView.scale = m_view.scale;
    m_sideView.origin =
        QPointF(m_view.origin.x(), (planHeight() + height()) / 2.0 + extent.center().y() * m_view.scale);
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
    const QRectF plan(0, 0, width(), planHeight());
    painter.save();
    painter.setClipRect(plan);
    print::paintBoard(painter, plan, *m_state, m_view, look);
    painter.restore();
    if (!m_side) return;
    const QRectF below(0, plan.bottom(), width(), height() - plan.height());
    look.cursor.reset();
    look.layerUm.reset();
    look.layerSign = m_elevation.outSign;
    painter.save();
    painter.setClipRect(below);
    print::paintBoard(painter, below, *m_side, m_sideView, look);
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.setPen(QPen(t.rule, 1));
    painter.drawLine(below.topLeft(), below.topRight());
    painter.setPen(t.quiet);
    painter.drawText(below.adjusted(6, 3, -6, -3), Qt::AlignRight | Qt::AlignTop,
                     QString::fromStdString(m_elevation.name));
    painter.restore();
}

void BoardWidget::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (!m_state) {
        painter.fillRect(rect(), theme().sheet);
        painter.setPen(theme().quiet);
        painter.drawText(rect(), Qt::AlignCenter,
                         "No gear board yet.\nType 24 below and press Enter:\nan axle with a wheel of 24 teeth.\nIt "
                         "needs no bricks yet: type walls when the gearing is right.");
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
    const model::Board& own = *at(m_state->project->boards, m_look.board);
    return std::none_of(own.shafts.begin(), own.shafts.end(), [&](const auto& shaft) { return shaft.id.text == id; }) &&
           std::none_of(own.gears.begin(), own.gears.end(), [&](const auto& gear) { return gear.id.text == id; });
}

QPointF BoardWidget::placeOf(const std::string& id, bool side) const {
    const auto& board = at((side ? m_side : m_state)->seen, m_look.board);
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
    m_inSide = m_side && event->position().y() > planHeight();
    const QPointF mm = (m_inSide ? m_sideView : m_view).toBoard(event->position());
    BoardLook look = m_look;
    if (m_inSide) look.layerUm.reset();
    m_held = print::findAt(m_inSide ? *m_side : *m_state, look, mm);
    m_moving = false;
    m_movedX = m_movedY = 0;
    if (m_held.empty()) {
        if (m_inSide) return choose({});
        m_look.cursor = QPointF(base::umToMm(snap(mm.x(), kHalfUm)), base::umToMm(snap(mm.y(), kHalfUm)));
        choose({});
        update();
        return;
    }
    m_pressedPlace = placeOf(m_held, m_inSide);
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
        const QPointF by = event->position() - m_pressedAt;
        m_view.origin += by;
        m_sideView.origin.rx() += by.x();
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
    const QPointF target = m_pressedPlace + QPointF(by.x(), -by.y()) / (m_inSide ? m_sideView : m_view).scale;
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
    emitDrag(false);
}

void BoardWidget::emitDrag(bool done) {
    if (m_inSide)
        emit dragged(chosen(), m_movedX, 0, m_elevation.outSign * m_movedY, done);
    else
        emit dragged(chosen(), m_movedX, m_movedY, 0, done);
}

void BoardWidget::mouseReleaseEvent(QMouseEvent*) {
    if (m_moving) emitDrag(true);
    m_moving = m_panning = false;
    m_held.clear();
}

void BoardWidget::wheelEvent(QWheelEvent* event) {
    const double factor = std::pow(1.0015, event->angleDelta().y()),
                 scale = std::clamp(m_view.scale * factor, 0.2, 20.0);
    const QPointF mm = m_view.toBoard(event->position());
    m_view.scale = scale;
    m_view.origin = event->position() - QPointF(mm.x() * scale, -mm.y() * scale);
    fitSide();
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
