// The counterweight of Stand: dragged over the model, with its result in the rose while it moves; and what is drawn over the sheet.
#include <QPainter>
#include <cmath>

#include "app/sheet3d/plumb.h"
#include "app/shell/table_tools.h"
#include "app/shell/theme.h"
#include "app/stations/stand/stand_station.h"
#include "core/base/units.h"
#include "core/model/mass.h"
#include "core/stand/counterweight.h"

namespace ivrant::app {

using geometry::Vec3;

namespace {

constexpr double kMostGram = 5000;

/// The move that comes nearest to tipping, when it does so on the way.
QString leastOnTheWay(const verdict::Report& report) {
    const verdict::MoveTip* least = nullptr;
    for (const auto& move : report.moves)
        if ((move.joint || move.leastDeg < move.endsDeg - 0.05) && (!least || move.leastDeg < least->leastDeg)) least = &move;
    if (!least) return {};
    return "<br>moving: least " + numberText(least->leastDeg, 1) + "° in " + QString::fromStdString(least->name).toHtmlEscaped() + ", " +
           numberText(100 * least->atShare, 0) + " % of the way";
}

} // namespace

void StandStation::startWeight() {
    const auto report = m_session.report();
    if (!m_weight.on && (!report || !report->present.tipping)) return m_session.say("There is nothing to balance yet", true);
    m_weight.on = !m_weight.on;
    if (m_weight.on) m_movesButton->setChecked(false);
    if (m_weight.on && report) { // against the fall, low in the heaviest section
        const auto& tip = *report->present.tipping;
        double heaviest = -1;
        for (std::size_t s = 0; s < m_session.project().sections.size(); ++s) {
            const double gram = model::calcMass(m_session.placed(), {static_cast<int>(s)}).massG;
            if (gram <= heaviest) continue;
            heaviest = gram;
            m_weight.section = static_cast<int>(s);
        }
        const double away = base::degToRad(tip.towardDeg + 180), reach = 40;
        m_weight.at = tip.centre + Vec3(reach * std::cos(away), reach * std::sin(away), 0);
    }
    m_weightRow->setVisible(m_weight.on);
    m_weightText->setVisible(m_weight.on);
    showRose();
    m_sheet->refresh();
}

/// Over a part it sticks to that part and its section, over paper it moves at its height.
void StandStation::moveWeight(QPointF position) {
    if (const auto hit = m_sheet->pick(position)) {
        m_weight.at = hit->point;
        m_weight.section = hit->spot.section;
    } else {
        const auto [origin, direction] = m_sheet->rayAt(position);
        const Vec3 normal = std::abs(direction.z()) > 0.3 ? Vec3(Vec3::UnitZ()) : Vec3(Vec3(direction.x(), direction.y(), 0).normalized());
        m_weight.at = origin + direction * (normal.dot(m_weight.at - origin) / normal.dot(direction));
    }
    showRose();
    m_sheet->refresh();
}

std::optional<stand::Tipping> StandStation::tippingWithWeight(double gram) const {
    const auto report = m_session.report();
    if (!report || !report->present.tipping || m_session.project().sections.empty()) return std::nullopt;
    return stand::calcTippingWith(*report->present.tipping, gram, m_weight.at);
}

void StandStation::showRose() {
    const auto report = m_session.report();
    if (!report || !report->present.tipping) {
        m_rose->show({}, verdict::kUsualTipDeg, 1);
        m_balance->setText("");
        return;
    }
    const auto& tip = *report->present.tipping;
    const auto after = m_weight.on ? tippingWithWeight(m_weight.gram) : std::nullopt;
    m_rose->show(tip, verdict::kUsualTipDeg, stand::calcTopMm(report->present.placed), after);
    m_balance->setText("<b>" + numberText(tip.massG, 0) + " g</b>, centre " + numberText(tip.centre.z(), 0) + " mm up; tips at <b>" +
                       numberText(tip.angleDeg, 1) + "°</b> towards " + numberText(tip.towardDeg, 0) + "°; asked " + numberText(verdict::kUsualTipDeg, 0) +
                       "° all round (ring); N: push at the top" + leastOnTheWay(*report));
    if (!after) return;
    const auto& section = *m_session.project().sections[static_cast<std::size_t>(m_weight.section)];
    m_weightText->setText("In " + QString::fromStdString(section.name) + ": tips at <b>" + numberText(after->angleDeg, 1) + "°</b> instead of " +
                          numberText(tip.angleDeg, 1) + "°" + (after->angleDeg >= verdict::kUsualTipDeg ? ", passes" : ", too little"));
}

void StandStation::smallestWeight() {
    const auto reaches = [&](double gram) {
        const auto after = tippingWithWeight(gram);
        return after && after->angleDeg >= verdict::kUsualTipDeg;
    };
    // Too much can tip it the other way: the first gram that passes counts.
    for (int gram = 1; gram <= static_cast<int>(kMostGram); ++gram)
        if (reaches(gram)) return m_gram->setValue(gram);
    m_session.say("No weight passes at this place: drag it away from the fall", true);
}

void StandStation::putWeight() {
    if (!m_weight.on || m_session.project().sections.empty()) return;
    const auto s = static_cast<std::size_t>(m_weight.section);
    model::Ballast ballast;
    ballast.massG = m_weight.gram;
    const Vec3 at = m_session.placed().X_WS[s].inverse() * m_weight.at;
    for (int k = 0; k < 3; ++k) ballast.atUm[static_cast<std::size_t>(k)] = base::mmToUm(at[k]);
    const auto id = m_session.project().sections[s]->id;
    m_weight.on = false;
    m_weightRow->hide();
    m_weightText->hide();
    if (m_session.apply("Counterweight of " + numberText(ballast.massG, 0) + " g", [&](const model::Project& p) { return model::addBallast(p, id, ballast); }))
        m_session.say("Ballast must be enclosed so that it cannot come out; no lead and no loose magnets where children can reach.");
}

QPointF StandStation::weightOnScreen() const { return m_sheet->toScreen(m_weight.at); }

void StandStation::drawWeight(QPainter& painter) const {
    const Theme& t = theme();
    const QPointF at = weightOnScreen();
    painter.setPen(QPen(t.ink, 1.6));
    painter.setBrush(t.straw);
    painter.drawRoundedRect(QRectF(at - QPointF(9, 9), QSizeF(18, 18)), 4, 4);
    painter.setPen(t.ink);
    painter.drawText(QRectF(at.x() + 12, at.y() - 10, 120, 20), Qt::AlignLeft | Qt::AlignVCenter, numberText(m_weight.gram, 0) + " g, drag");
}

void StandStation::drawOverlay(QPainter& painter) const {
    const auto report = m_session.report();
    if (!report || !m_session.isReportCurrent()) return;
    if (m_movesButton->isChecked()) { // bonds and weights are those of the pose it stands in
        if (m_moves->place()) drawPlumb(painter, *m_sheet, m_moves->place()->tipping);
        return;
    }
    if (report->present.tipping) drawPlumb(painter, *m_sheet, *report->present.tipping);
    if (m_weight.on) drawWeight(painter);
    if (m_supports) return drawSupports(painter);
    if (!m_solved) return;
    // The bond that is asked most, by name.
    const auto& e = m_solved->result.equilibrium;
    const auto weakest = e.firstToGo ? std::vector<int>{*e.firstToGo} : verdict::listWeakest(m_solved->result, 1);
    if (weakest.empty()) return;
    const auto& contact = m_solved->result.net.contacts[static_cast<std::size_t>(weakest[0])];
    Vec3 middle = Vec3::Zero();
    for (const Vec3& corner : contact.corners) middle += corner / static_cast<double>(contact.corners.size());
    const Theme& t = theme();
    const QPointF at = m_sheet->toScreen(middle);
    const QString line = (e.firstToGo ? "lets go first: " : "asked most: ") +
                         QString::fromStdString(verdict::describeContact(m_session.project(), m_solved->result, weakest[0])) +
                         (e.firstToGo ? QString() : ", " + numberText(100 * e.forces[static_cast<std::size_t>(weakest[0])].use, 0) + " % used");
    const QFontMetricsF metrics(painter.font());
    QRectF box(0, 0, metrics.horizontalAdvance(line) + 14, metrics.height() + 6);
    box.moveTopLeft(QPointF(10, m_sheet->height() - box.height() - 10));
    if (box.width() > m_sheet->width() - 20) box.setWidth(m_sheet->width() - 20);
    const QColor colour = e.firstToGo ? t.ember : t.ink;
    painter.setPen(QPen(colour, 1.2));
    painter.drawLine(at, QPointF(std::clamp(at.x(), box.left() + 8, box.right() - 8), box.top()));
    painter.setBrush(QColor(t.sheet.red(), t.sheet.green(), t.sheet.blue(), 235));
    painter.drawEllipse(at, 4, 4);
    painter.drawRoundedRect(box, 4, 4);
    painter.drawText(box.adjusted(7, 0, -7, 0), Qt::AlignLeft | Qt::AlignVCenter, metrics.elidedText(line, Qt::ElideMiddle, box.width() - 14));
}

} // namespace ivrant::app
