// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/charts/range_ladder.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "app/charts/drawing.h"
#include "app/shell/theme.h"
#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::app {
namespace {

constexpr int kRow = 26, kHead = 22, kNames = 196, kRight = 18;

QString describeStop(const verdict::Report& report, const pose::FreedomRange& r, bool high) {
    const auto& stop = high ? r.high : r.low;
    const auto& joint = ivrant::at(report.project->joints, r.joint);
    const QString unit = joint.kind->freedomUnit(r.freedom) == "deg" ? "°" : " mm";
    const QString at = QString::fromStdString(base::formatNumber(high ? r.free.high : r.free.low, 2)) + unit;
    if (stop.by == pose::StopBy::Own) return at + ": the joint's own limit";
    if (stop.by == pose::StopBy::Ring)
        return at + ": " + QString::fromStdString(pose::describeRingEnd(*report.project, stop));
    if (stop.by == pose::StopBy::Nothing) return "turns all round";
    const auto name = [&](model::PartSpot s) {
        return QString::fromStdString(model::getPart(*report.project, s).shape->name + " of " +
                                      ivrant::at(report.project->sections, s.section)->name);
    };
    return "stops at " + at + ": " + name(stop.moving.spot) +
           (stop.by == pose::StopBy::Seat ? " sits on " : " meets ") + name(stop.fixed.spot) +
           (stop.clearanceMm ? "; now " + QString::fromStdString(base::formatNumber(*stop.clearanceMm, 2)) + " mm apart"
                             : QString());
}

bool fails(const pose::FreedomRange& r) {
    if (!r.wanted) return r.collides;
    return r.collides || (!r.endless && (r.wanted->high > r.free.high + 0.05 || r.wanted->low < r.free.low - 0.05));
}

} // namespace

RangeLadder::RangeLadder(QWidget* parent) : QAbstractScrollArea(parent) {
    setObjectName("rangeLadder");
    setAccessibleName("Range ladder");
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::StrongFocus);
    viewport()->setMouseTracking(true);
    setMinimumHeight(110);
}

void RangeLadder::show(std::shared_ptr<const verdict::Report> report, const model::JointId& current) {
    m_report = std::move(report);
    m_current = current;
    layoutRows();
    viewport()->update();
}

void RangeLadder::layoutRows() {
    m_rows.clear();
    m_low = -90;
    m_high = 90;
    if (m_report) m_rows = m_report->present.ranges;
    std::stable_sort(m_rows.begin(), m_rows.end(), [](const auto& l, const auto& r) { return fails(l) > fails(r); });
    for (const auto& r : m_rows) {
        if (ivrant::at(m_report->project->joints, r.joint).kind->freedomUnit(r.freedom) == "mm") continue;
        for (double v : {r.free.low, r.free.high, r.wanted ? r.wanted->low : 0.0, r.wanted ? r.wanted->high : 0.0}) {
            m_low = std::min(m_low, std::floor(v / 45) * 45);
            m_high = std::max(m_high, std::ceil(v / 45) * 45);
        }
    }
    m_low = std::max(m_low, -360.0);
    m_high = std::min(m_high, 360.0);
    verticalScrollBar()->setRange(0, std::max(0, kHead + kRow * rowCount() + 4 - viewport()->height()));
    verticalScrollBar()->setPageStep(viewport()->height());
    verticalScrollBar()->setSingleStep(kRow);
}

double RangeLadder::xOf(double value, bool slide) const {
    const double low = slide ? -8 : m_low, high = slide ? 8 : m_high;
    const double t = std::clamp((value - low) / (high - low), 0.0, 1.0);
    return kNames + t * (viewport()->width() - kNames - kRight);
}

QPoint RangeLadder::rowCentre(int row) const {
    return {kNames / 2, kHead + row * kRow + kRow / 2 - verticalScrollBar()->value()};
}

QPoint RangeLadder::endPoint(int row, bool high) const {
    const auto& r = ivrant::at(m_rows, row);
    const bool slide = ivrant::at(m_report->project->joints, r.joint).kind->freedomUnit(r.freedom) == "mm";
    return {static_cast<int>(xOf(high ? r.free.high : r.free.low, slide)), rowCentre(row).y()};
}

int RangeLadder::rowAt(const QPoint& position) const {
    const int row = (position.y() + verticalScrollBar()->value() - kHead) / kRow;
    return position.y() + verticalScrollBar()->value() >= kHead && row < rowCount() ? row : -1;
}

void RangeLadder::paintEvent(QPaintEvent*) {
    QPainter painter(viewport());
    painter.fillRect(viewport()->rect(), theme().paper);
    painter.setRenderHint(QPainter::Antialiasing);
    if (m_rows.empty()) {
        painter.setPen(theme().quiet);
        painter.drawText(viewport()->rect(), Qt::AlignCenter,
                         m_report ? "No joints yet: bring two movable ports together in Shape and join them (Ctrl+J)."
                                  : "Working out the ranges …");
        return;
    }
    painter.save();
    painter.setClipRect(0, kHead, viewport()->width(), viewport()->height() - kHead);
    painter.translate(0, -verticalScrollBar()->value());
    paintChart(painter, viewport()->rect());
    painter.restore();
    paintScale(painter); // on top, always visible
}

bool RangeLadder::saveChart(const QString& path) const {
    const QSize size(viewport()->width(), kHead + kRow * rowCount() + 8);
    return saveDrawing(path, size, "Range ladder", [&](QPainter& painter) {
        painter.setFont(font());
        paintChart(painter, QRect(QPoint(0, 0), size));
        paintScale(painter);
    });
}

void RangeLadder::paintScale(QPainter& painter) const {
    QFont small = font();
    small.setPointSizeF(8.5);
    painter.setFont(small);
    painter.setPen(theme().quiet);
    const double step = m_high - m_low > 360 ? 90 : 45;
    for (double v = m_low; v <= m_high + 1; v += step)
        painter.drawText(QRectF(xOf(v, false) - 30, 2, 60, kHead - 4), Qt::AlignCenter, QString::number(v) + "°");
}

void RangeLadder::paintChart(QPainter& painter, const QRect&) const {
    const Theme& t = theme();
    const double step = m_high - m_low > 360 ? 90 : 45;
    painter.setPen(QPen(t.rule, 1));
    for (double v = m_low; v <= m_high + 1; v += step)
        painter.drawLine(QPointF(xOf(v, false), kHead), QPointF(xOf(v, false), kHead + kRow * rowCount()));
    for (int i = 0; i < rowCount(); ++i) {
        const auto& r = ivrant::at(m_rows, i);
        const auto& joint = ivrant::at(m_report->project->joints, r.joint);
        const bool slide = joint.kind->freedomUnit(r.freedom) == "mm";
        const double y = kHead + i * kRow, mid = y + kRow / 2.0;
        if (joint.id == m_current)
            painter.fillRect(QRectF(0, y, viewport()->width(), kRow),
                             QColor(t.brine.red(), t.brine.green(), t.brine.blue(), 26));
        const bool bad = fails(r);
        QPolygonF mark;
        if (bad)
            mark << QPointF(8, mid - 4) << QPointF(18, mid - 4) << QPointF(13, mid + 5);
        else
            mark << QPointF(8, mid + 4) << QPointF(18, mid + 4) << QPointF(13, mid - 5);
        painter.setPen(Qt::NoPen);
        painter.setBrush(bad ? t.ember : r.wanted ? t.moss : t.quiet);
        painter.drawPolygon(mark);
        painter.setPen(t.ink);
        const QString name = painter.fontMetrics().elidedText(QString::fromStdString(joint.name), Qt::ElideRight, 118);
        painter.drawText(QRectF(26, y, 120, kRow), Qt::AlignVCenter, name);
        painter.setPen(t.quiet);
        painter.drawText(QRectF(146, y, kNames - 150, kRow), Qt::AlignVCenter,
                         QString::fromUtf8(joint.kind->freedomName(r.freedom).data()));
        const auto band = [&](double low, double high, double h) {
            return QRectF(QPointF(xOf(low, slide), mid - h / 2), QPointF(xOf(high, slide), mid + h / 2));
        };
        const double ownLow = r.own ? r.own->low : m_low, ownHigh = r.own ? r.own->high : m_high;
        painter.setPen(Qt::NoPen);
        painter.setBrush(QBrush(t.ember, Qt::BDiagPattern));
        painter.drawRect(band(ownLow, ownHigh, 7));
        painter.setBrush(t.paper);
        painter.drawRect(band(r.free.low, r.free.high, 9));
        painter.setBrush(QColor(t.brine.red(), t.brine.green(), t.brine.blue(), 130));
        painter.drawRoundedRect(band(r.free.low, r.free.high, 11), 2, 2);
        if (r.wanted) {
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen(t.ink, 1.4));
            painter.drawRoundedRect(band(r.wanted->low, r.wanted->high, 18), 3, 3);
        }
        painter.setPen(QPen(t.ink, 2.2));
        painter.drawLine(QPointF(xOf(r.value, slide), mid - 10), QPointF(xOf(r.value, slide), mid + 10));
    }
}

void RangeLadder::mousePressEvent(QMouseEvent* event) {
    const int row = rowAt(event->pos());
    if (row < 0) return;
    emit jointPicked(ivrant::at(m_rows, row).joint);
    for (bool high : {false, true})
        if (std::abs(endPoint(row, high).x() - event->pos().x()) <= 8) {
            emit stopPicked(row, high);
            return;
        }
}

void RangeLadder::keyPressEvent(QKeyEvent* event) {
    if (!m_report || m_rows.empty()) return;
    int row = 0;
    for (int i = 0; i < rowCount(); ++i)
        if (ivrant::at(m_report->project->joints, ivrant::at(m_rows, i).joint).id == m_current) row = i;
    if (event->key() == Qt::Key_Down)
        emit jointPicked(ivrant::at(m_rows, std::min(row + 1, rowCount() - 1)).joint);
    else if (event->key() == Qt::Key_Up)
        emit jointPicked(ivrant::at(m_rows, std::max(row - 1, 0)).joint);
    else if (event->key() == Qt::Key_Home)
        emit stopPicked(row, false);
    else if (event->key() == Qt::Key_End)
        emit stopPicked(row, true);
    else
        QAbstractScrollArea::keyPressEvent(event);
}

bool RangeLadder::viewportEvent(QEvent* event) {
    if (event->type() == QEvent::ToolTip && m_report) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const int row = rowAt(help->pos());
        if (row >= 0) {
            const auto& r = ivrant::at(m_rows, row);
            QToolTip::showText(help->globalPos(), "low: " + describeStop(*m_report, r, false) +
                                                      "\nhigh: " + describeStop(*m_report, r, true) +
                                                      "\noutlined: wanted · filled: free · hatched: blocked");
        }
        return true;
    }
    return QAbstractScrollArea::viewportEvent(event);
}

void RangeLadder::resizeEvent(QResizeEvent*) { layoutRows(); }

QString RangeLadder::asText() const {
    QString text = "joint\tfreedom\tvalue\tfree low\tfree high\twanted low\twanted high\tstops low\tstops high\n";
    for (const auto& r : m_rows) {
        const auto& joint = ivrant::at(m_report->project->joints, r.joint);
        const auto n = [](double v) { return QString::fromStdString(base::formatNumber(v, 2)); };
        text += QString::fromStdString(joint.name) + "\t" +
                QString::fromUtf8(joint.kind->freedomName(r.freedom).data()) + "\t" + n(r.value) + "\t" +
                n(r.free.low) + "\t" + n(r.free.high) + "\t" + (r.wanted ? n(r.wanted->low) : "") + "\t" +
                (r.wanted ? n(r.wanted->high) : "") + "\t" + describeStop(*m_report, r, false) + "\t" +
                describeStop(*m_report, r, true) + "\n";
    }
    return text;
}

} // namespace ivrant::app
