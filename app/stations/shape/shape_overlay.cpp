// SPDX-License-Identifier: GPL-3.0-or-later
// What Shape shows in its sheet: ghosts, selection, parts in trouble, ports of the selected part.
#include <QPainter>
#include <set>

#include "app/shell/theme.h"
#include "app/stations/shape/shape_station.h"

#include "core/base/at.h"

namespace ivrant::app {

using geometry::Frame;
using geometry::Vec3;

namespace {

std::array<std::uint8_t, 3> rgb(const QColor& c) {
    return {static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()),
            static_cast<std::uint8_t>(c.blue())};
}

} // namespace

void ShapeStation::findTroubles() {
    m_troubles.clear();
    // One bond is framed where its verdict asks for something: most small parts are meant to sit on one stud.
    std::set<std::string> weak;
    if (const auto report = m_session.report())
        for (const auto& verdict : report->verdicts)
            if (verdict.check == "one-bond" &&
                (verdict.state == verdict::State::Fail || verdict.state == verdict::State::Thin))
                for (const model::PartId& part : verdict.place.parts) weak.insert(part.text);
    for (std::size_t s = 0; s < m_session.bonds().size(); ++s) {
        const auto spot = [&](int p) { return model::PartSpot{static_cast<int>(s), p}; };
        const auto& bonds = *m_session.bonds()[s];
        for (const auto& single : bonds.singles)
            for (int p : single.held)
                if (weak.count(model::getPart(m_session.project(), spot(p)).id.text) > 0)
                    m_troubles[spot(p)] = theme().straw;
        for (int p : bonds.loose) m_troubles[spot(p)] = theme().ember;
        for (const auto& overlap : bonds.overlaps)
            m_troubles[spot(overlap.partA)] = m_troubles[spot(overlap.partB)] = theme().ember;
    }
}

render::PartState ShapeStation::stateOf(model::PartSpot spot, const model::Part& part) const {
    auto state = render::makeState(part.colour);
    const bool other = ivrant::at(m_session.project().sections, spot.section)->id != m_session.currentSection();
    if (other && m_isolate->isChecked())
        state.a = 0;
    else if (other && m_ghost->isChecked())
        state.a = 40;
    if (m_session.selection().count(part.id) > 0) return render::mix(state, rgb(theme().brine), 0.65);
    if (m_session.marked().count(part.id) > 0) return render::mix(state, rgb(theme().ember), 0.6);
    return state;
}

void ShapeStation::drawOverlay(QPainter& painter) const {
    const auto& project = m_session.project();
    // Parts in trouble: an outline of their box on the screen.
    for (const auto& [spot, colour] : m_troubles) {
        const auto& part = model::getPart(project, spot);
        const auto& b = part.shape->bounds;
        const Frame X = m_session.placed().X_WP(spot);
        QPolygonF corners;
        for (int c = 0; c < 8; ++c)
            corners << m_sheet->toScreen(X * Vec3(c & 1 ? b.high.x() : b.low.x(), c & 2 ? b.high.y() : b.low.y(),
                                                  c & 4 ? b.high.z() : b.low.z()));
        painter.setPen(QPen(colour, 1.6, colour == theme().ember ? Qt::SolidLine : Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(corners.boundingRect().adjusted(-2, -2, 2, 2), 3, 3);
    }
    // Ports of a single selected part, by kind: round for studs and cells, square for joints.
    if (m_session.selection().size() == 1) {
        const model::PartIndex index(project);
        const auto spot = index.find(*m_session.selection().begin());
        const Frame X = m_session.placed().X_WP(spot);
        for (const auto& port : model::getPart(project, spot).shape->ports) {
            const QPointF at = m_sheet->toScreen(X * port.origin);
            const bool stud = port.kind == parts::PortKind::Stud,
                       below = port.kind == parts::PortKind::Cell || port.kind == parts::PortKind::Tube;
            painter.setPen(QPen(theme().ink, 1));
            painter.setBrush(stud ? theme().brine : below ? theme().sheet : theme().straw);
            if (stud || below)
                painter.drawEllipse(at, 3.2, 3.2);
            else
                painter.drawRect(QRectF(at - QPointF(3.5, 3.5), QSizeF(7, 7)));
        }
    }
    if (project.partCount() == 0 && !m_hang.active()) {
        painter.setPen(theme().quiet);
        painter.drawText(m_sheet->rect(), Qt::AlignCenter,
                         "An empty sheet. Type a part to begin: \"2x4 plate\", \"brick 1x6 reed\", \"hinge fork\" "
                         "…\nor open the demo from the File menu.");
    }
}

} // namespace ivrant::app
