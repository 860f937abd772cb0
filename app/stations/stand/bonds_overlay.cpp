// SPDX-License-Identifier: GPL-3.0-or-later
// What the bonds tab draws over the sheet: the way of a load to the ground, and the bond that is asked most by name.
#include <cmath>

#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "app/stations/stand/bonds_tab.h"
#include "core/base/at.h"
#include "core/study/case_words.h"

namespace ivrant::app {

using geometry::Vec3;

namespace {

Vec3 middleOf(const stand::Contact& contact, const stand::BondNet& net) {
    if (contact.corners.empty())
        return contact.columns.empty() ? ivrant::at(net.bodies, contact.b).centre : contact.columns.front().at;
    Vec3 middle = Vec3::Zero();
    for (const Vec3& corner : contact.corners) middle += corner / static_cast<double>(contact.corners.size());
    return middle;
}

} // namespace

std::optional<double> BondsTab::findUse(const model::PartId& part) const {
    const auto found = m_useOf.find(part);
    return found == m_useOf.end() ? std::nullopt : std::optional(found->second);
}

/// From the chosen part; without one from what the weakest bond carries.
void BondsTab::showWay() {
    m_way.clear();
    m_wayFrom = -1;
    if (!m_solved) return;
    const auto& net = m_solved->result.net;
    if (!m_session.selection().empty()) {
        const auto spot = model::PartIndex(m_session.project()).find(*m_session.selection().begin());
        for (std::size_t b = 0; b < net.bodies.size(); ++b)
            if (net.bodies[b].spot == spot) m_wayFrom = static_cast<int>(b);
    } else if (const auto weakest = study::listWeakest(m_solved->result, 1); !weakest.empty()) {
        m_wayFrom = ivrant::at(net.contacts, weakest[0]).b;
    }
    if (m_wayFrom >= 0) m_way = stand::findLoadPath(net, m_solved->result.equilibrium, m_wayFrom);
    emit overlayChanged();
}

void BondsTab::drawOverlay(QPainter& painter, const Sheet3d& sheet) const {
    if (!m_solved) return;
    drawWay(painter, sheet);
    drawMostUsed(painter, sheet);
}

/// Wider where more goes through.
void BondsTab::drawWay(QPainter& painter, const Sheet3d& sheet) const {
    if (m_way.empty() || m_wayFrom < 0) return;
    const auto& net = m_solved->result.net;
    double most = 1e-9;
    const auto through = [&](int contact) {
        const auto& force = ivrant::at(m_solved->result.equilibrium.forces, contact);
        return force.pressN + force.pullN + force.shearN;
    };
    for (const int contact : m_way) most = std::max(most, through(contact));
    QPointF from = sheet.toScreen(ivrant::at(net.bodies, m_wayFrom).centre);
    painter.setBrush(theme().brine);
    for (const int k : m_way) {
        const QPointF to = sheet.toScreen(middleOf(ivrant::at(net.contacts, k), net));
        painter.setPen(QPen(theme().brine, 1.2 + 3 * through(k) / most, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(from, to);
        from = to;
    }
    painter.setPen(Qt::NoPen);
    painter.drawPolygon(QPolygonF{from + QPointF(0, 7), from + QPointF(-6, -4), from + QPointF(6, -4)});
}

void BondsTab::drawMostUsed(QPainter& painter, const Sheet3d& sheet) const {
    const auto& e = m_solved->result.equilibrium;
    const auto weakest = e.firstToGo ? std::vector<int>{*e.firstToGo} : study::listWeakest(m_solved->result, 1);
    if (weakest.empty()) return;
    const auto& net = m_solved->result.net;
    const QPointF at = sheet.toScreen(middleOf(ivrant::at(net.contacts, weakest[0]), net));
    const QString line =
        (e.firstToGo ? "lets go first: " : "asked most: ") +
        qs(study::describeContact(m_session.project(), m_solved->result, weakest[0])) +
        (e.firstToGo ? QString() : ", " + numberText(100 * ivrant::at(e.forces, weakest[0]).use, 0) + " % used");
    const Theme& t = theme();
    const QFontMetricsF metrics(painter.font());
    QRectF box(0, 0, metrics.horizontalAdvance(line) + 14, metrics.height() + 6);
    box.moveTopLeft(QPointF(10, sheet.height() - box.height() - 10));
    if (box.width() > sheet.width() - 20) box.setWidth(sheet.width() - 20);
    const QColor colour = e.firstToGo ? t.ember : t.ink;
    painter.setPen(QPen(colour, 1.2));
    painter.drawLine(at, QPointF(std::clamp(at.x(), box.left() + 8, box.right() - 8), box.top()));
    painter.setBrush(QColor(t.sheet.red(), t.sheet.green(), t.sheet.blue(), 235));
    painter.drawEllipse(at, 4, 4);
    painter.drawRoundedRect(box, 4, 4);
    painter.drawText(box.adjusted(7, 0, -7, 0), Qt::AlignLeft | Qt::AlignVCenter,
                     metrics.elidedText(line, Qt::ElideMiddle, box.width() - 14));
}

} // namespace ivrant::app
