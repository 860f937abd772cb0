// SPDX-License-Identifier: GPL-3.0-or-later
// What Pose draws over its 3-D sheet: fans at the joints, the plumb line with the support polygon.
#include <QPainter>
#include <cmath>

#include "app/sheet3d/plumb.h"
#include "app/shell/theme.h"
#include "app/stations/pose/compare_tab.h"
#include "app/stations/pose/lines_tab.h"
#include "app/stations/pose/motion_tab.h"
#include "app/stations/pose/pose_station.h"
#include "app/stations/pose/study_tab.h"
#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::app {

using geometry::Frame;
using geometry::Vec3;

void PoseStation::drawOverlay(QPainter& painter) const {
    const auto report = m_session.report();
    drawCloud(painter);
    drawOther(painter);
    m_motion->draw(painter, *m_sheet);
    m_lines->draw(painter, *m_sheet);
    if (!report || !m_session.isReportCurrent()) return;
    drawPlumb(painter);
    drawSummary(painter);
    if (!m_fans->isChecked() || m_motion->shownPlace()) return;
    const int current = m_session.project().findJoint(m_session.currentJoint());
    for (int j = 0; j < static_cast<int>(m_session.project().joints.size()); ++j)
        if (j != current) drawFan(painter, j, false);
    if (current >= 0) drawFan(painter, current, true);
}

/// Where the tip has been, when that study is shown.
void PoseStation::drawCloud(QPainter& painter) const {
    if (!m_study->isVisible() || m_study->cloud().empty()) return;
    QColor colour = theme().brine;
    colour.setAlpha(90);
    painter.setPen(Qt::NoPen);
    painter.setBrush(colour);
    for (const auto& p : m_study->cloud()) painter.drawEllipse(m_sheet->toScreen(p), 1.3, 1.3);
}

/// The other variant in outline: its sections' corners as boxes' edges, joint centres as rings.
void PoseStation::drawOther(QPainter& painter) const {
    const auto other = m_compare->overlaid();
    if (!other) return;
    painter.setPen(QPen(theme().ember, 1.2));
    painter.setBrush(Qt::NoBrush);
    const auto& placed = other->present.placed;
    for (std::size_t s = 0; s < other->project->sections.size(); ++s) {
        geometry::Bounds bounds;
        for (const auto& part : other->project->sections[s]->parts)
            for (const auto& solid : part.shape->solids)
                bounds.include(geometry::calcBounds(solid.solid, part.place.frame()));
        if (bounds.empty()) continue;
        const auto corner = [&](int bits) {
            const Vec3 p(bits & 1 ? bounds.high.x() : bounds.low.x(), bits & 2 ? bounds.high.y() : bounds.low.y(),
                         bits & 4 ? bounds.high.z() : bounds.low.z());
            return m_sheet->toScreen(placed.X_WS[s] * p);
        };
        for (int a = 0; a < 8; ++a)
            for (const int bit : {1, 2, 4})
                if ((a & bit) == 0) painter.drawLine(corner(a), corner(a | bit));
    }
    for (std::size_t j = 0; j < other->project->joints.size(); ++j) {
        const auto& from = other->tree.from[j];
        const Vec3 centre =
            (at(placed.X_WS, from.section) * pose::calcFromFrame(*other->project, other->tree, static_cast<int>(j)))
                .translation();
        painter.drawEllipse(m_sheet->toScreen(centre), 4, 4);
    }
}

void PoseStation::drawFan(QPainter& painter, int joint, bool current) const {
    const Theme& t = theme();
    const auto& tree = m_session.tree();
    const auto j = static_cast<std::size_t>(joint);
    const Frame X_WF =
        at(m_session.placed().X_WS, tree.from[j].section) * pose::calcFromFrame(m_session.project(), tree, joint);
    const QPointF centre = m_sheet->toScreen(X_WF.translation());
    painter.setPen(QPen(current ? t.ink : t.quiet, current ? 2 : 1.2));
    painter.setBrush(t.sheet);
    painter.drawEllipse(centre, current ? 5 : 3, current ? 5 : 3);
    if (!current) return;
    const auto& kind = *m_session.project().joints[j].kind;
    for (const auto& range : m_session.report()->present.ranges) {
        if (range.joint != joint || kind.freedomUnit(range.freedom) == "mm" || (kind.tilts() && range.freedom == 2))
            continue;
        // The fan lies in the plane of the motion; its zero is the direction to the carried weight, turned back by the
        // value.
        const auto carried = model::calcMass(m_session.placed(), tree.carriedBy(joint));
        Frame frame = X_WF;
        if (kind.tilts())
            frame.linear() =
                geometry::makeAxisFrame(Vec3::Zero(), X_WF.linear().col(range.freedom), X_WF.linear().col(2)).linear();
        const Vec3 arm = frame.inverse() * carried.centre;
        const double zero = std::atan2(arm.y(), arm.x()) - base::degToRad(range.value);
        const double radius = 70 * m_sheet->camera().mmPerPixel;
        const auto point = [&](double degrees, double r) {
            const double a = zero + base::degToRad(degrees);
            return m_sheet->toScreen(frame * Vec3(r * std::cos(a), r * std::sin(a), 0));
        };
        const auto sector = [&](double low, double high, double r) {
            QPolygonF polygon;
            polygon << centre;
            for (int i = 0; i <= 48; ++i) polygon << point(low + (high - low) * i / 48, r);
            return polygon;
        };
        const double ownLow = range.own ? range.own->low : -180, ownHigh = range.own ? range.own->high : 180;
        painter.setPen(Qt::NoPen);
        painter.setBrush(QBrush(t.ember, Qt::BDiagPattern));
        if (range.free.low > ownLow + 0.05) painter.drawPolygon(sector(ownLow, range.free.low, radius * 0.9));
        if (range.free.high < ownHigh - 0.05) painter.drawPolygon(sector(range.free.high, ownHigh, radius * 0.9));
        painter.setBrush(QColor(t.brine.red(), t.brine.green(), t.brine.blue(), kind.tilts() ? 45 : 80));
        painter.drawPolygon(sector(range.free.low, range.free.high, radius));
        if (range.wanted && range.wanted->high > range.wanted->low) {
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen(t.ink, 1.4));
            painter.drawPolygon(sector(range.wanted->low, range.wanted->high, radius * 1.06));
        }
        painter.setPen(QPen(t.ink, 2));
        painter.drawLine(centre, point(range.value, radius));
    }
    painter.setPen(t.ink);
    const QFontMetrics metrics(painter.font());
    const QString name = QString::fromStdString(m_session.project().joints[j].name);
    const QRectF box(centre.x() + 12, centre.y() + 8, metrics.horizontalAdvance(name) + 12, metrics.height() + 4);
    painter.setBrush(QColor(t.sheet.red(), t.sheet.green(), t.sheet.blue(), 220));
    painter.setPen(QPen(t.rule, 1));
    painter.drawRoundedRect(box, 4, 4);
    painter.setPen(t.ink);
    painter.drawText(box, Qt::AlignCenter, name);
}

/// What is known about the current joint, in the sheet's upper right corner.
void PoseStation::drawSummary(QPainter& painter) const {
    const auto* j = joint();
    if (!j) return;
    const auto& report = *m_session.report();
    const int index = m_session.project().findJoint(j->id);
    QStringList lines;
    for (const auto& range : report.present.ranges) {
        if (range.joint != index) continue;
        const QString unit = j->kind->freedomUnit(range.freedom) == "deg" ? "°" : " mm";
        const auto text = [&](const model::Range& r) {
            return QString::fromStdString(base::formatNumber(r.low, 1) + " to " + base::formatNumber(r.high, 1)) + unit;
        };
        QString line =
            (j->kind->freedomCount() > 1 ? QString::fromUtf8(j->kind->freedomName(range.freedom).data()) + ": "
                                         : QString()) +
            "free " + (range.endless ? "all round" : text(range.free));
        if (range.wanted) line += ", wanted " + text(*range.wanted);
        lines << line;
    }
    const auto& load = at(report.present.loads, index);
    lines << QString::fromStdString("needs " + base::formatNumber(load.needNmm, 1) + ", has " +
                                    base::formatNumber(load.have.value, 1) +
                                    (load.have.measured ? " N·mm (measured)" : " N·mm (starting value)"));
    const QFontMetrics metrics(painter.font());
    const int height = metrics.height() + 2, width = 420, left = m_sheet->width() - width - 14;
    QFont bold = painter.font();
    bold.setBold(true);
    painter.save();
    painter.setFont(bold);
    painter.setPen(theme().ink);
    painter.drawText(QRect(left, 10, width, height), Qt::AlignRight,
                     QString::fromStdString(j->name + " · " + j->kind->name));
    bold.setBold(false);
    painter.setFont(bold);
    painter.setPen(theme().ink);
    for (int i = 0; i < lines.size(); ++i)
        painter.drawText(QRect(left, 10 + height * (i + 1), width, height), Qt::AlignRight, lines[i]);
    painter.restore();
}

void PoseStation::drawPlumb(QPainter& painter) const {
    if (m_session.report()->present.tipping) app::drawPlumb(painter, *m_sheet, *m_session.report()->present.tipping);
}

} // namespace ivrant::app
