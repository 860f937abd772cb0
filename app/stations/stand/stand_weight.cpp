// The counterweight of Stand: dragged over the model, with its result in the rose while it moves; and what is drawn over the sheet.
#include <QHeaderView>
#include <QPainter>
#include <cmath>

#include "app/sheet3d/plumb.h"
#include "app/shell/table_tools.h"
#include "app/shell/theme.h"
#include "app/stations/stand/stand_station.h"
#include "core/base/units.h"
#include "core/model/mass.h"
#include "core/stand/counterweight.h"
#include "core/study/asked_tip.h"
#include "core/study/case_words.h"

namespace ivrant::app {

using geometry::Vec3;

namespace {

constexpr double kMostGram = 5000;

/// The move that comes nearest to tipping, when it does so on the way.
QString leastOnTheWay(const verdict::Report& report) {
    const study::MoveTip* least = nullptr;
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
        findStandings();
    }
    m_weightRow->setVisible(m_weight.on);
    m_weightText->setVisible(m_weight.on);
    showRose();
    m_sheet->refresh();
}

/// As it stands now, and all along the moves: the weight has to do for all of them.
void StandStation::findStandings() {
    const auto report = m_session.report();
    m_standings.clear();
    if (!report || !m_session.isReportCurrent() || !report->present.tipping) return;
    m_standings.push_back({report->present.placed, *report->present.tipping});
    for (const auto& move : report->moves)
        for (auto& standing : study::listStandings(*report, move)) m_standings.push_back(std::move(standing));
}

/// Where the weight is in each of them.
std::vector<Vec3> StandStation::weightPlaces() const {
    const auto s = static_cast<std::size_t>(m_weight.section);
    const Vec3 own = m_session.placed().X_WS[s].inverse() * m_weight.at;
    std::vector<Vec3> at;
    at.reserve(m_standings.size());
    for (const auto& standing : m_standings) at.push_back(standing.placed.X_WS[s] * own);
    return at;
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
        m_rose->show({}, study::kUsualTipDeg, 1);
        m_balance->setText("");
        return;
    }
    const auto& tip = *report->present.tipping;
    const auto after = m_weight.on ? tippingWithWeight(m_weight.gram) : std::nullopt;
    m_rose->show(tip, study::getAskedTipDeg(m_session.project()), stand::calcTopMm(report->present.placed), after);
    m_balance->setText("<b>" + numberText(tip.massG, 0) + " g</b>, centre " + numberText(tip.centre.z(), 0) + " mm up; tips at <b>" +
                       numberText(tip.angleDeg, 1) + "°</b> towards " + numberText(tip.towardDeg, 0) + "°; asked " +
                       numberText(study::getAskedTipDeg(m_session.project()), 0) + "° all round (ring); N: push at the top" + leastOnTheWay(*report));
    if (!after) return;
    const auto& section = *m_session.project().sections[static_cast<std::size_t>(m_weight.section)];
    QString told = "In " + QString::fromStdString(section.name).toHtmlEscaped() + ": tips at <b>" + numberText(after->angleDeg, 1) + "°</b> instead of " +
                   numberText(tip.angleDeg, 1) + "°" + (after->angleDeg >= study::getAskedTipDeg(m_session.project()) ? ", passes" : ", too little");
    if (m_standings.size() > 1) {
        const auto at = weightPlaces();
        double least = 90;
        for (std::size_t i = 1; i < m_standings.size(); ++i)
            least = std::min(least, stand::calcTippingWith(m_standings[i].tipping, m_weight.gram, at[i]).angleDeg);
        told += "; moving: least <b>" + numberText(least, 1) + "°</b>" + (least >= study::getAskedTipDeg(m_session.project()) ? ", passes" : ", too little");
    }
    m_weightText->setText(told);
}

/// Now and on all moves; where that cannot be, now.
void StandStation::smallestWeight() {
    const auto at = weightPlaces();
    for (const std::size_t count : {m_standings.size(), std::min<std::size_t>(1, m_standings.size())}) {
        if (count == 0) break;
        const auto range = stand::calcWeights(std::span(m_standings).first(count), std::span(at).first(count), study::getAskedTipDeg(m_session.project()));
        const double gram = range ? std::max(1.0, std::ceil(range->low - 1e-9)) : 0;
        if (!range || gram > range->high || gram > kMostGram) continue;
        if (count < m_standings.size()) m_session.say("Enough as it stands now; on the moves no weight is, at this place");
        return m_gram->setValue(gram);
    }
    m_session.say("No weight passes at this place: drag it away from the fall", true);
}

/// The least of all weights that pass, at the centre of whichever part that is.
void StandStation::bestWeight() {
    const auto report = m_session.report();
    if (!report || !m_session.isReportCurrent() || m_standings.empty()) return;
    auto proposals = study::listBallast(*report, m_standings, study::getAskedTipDeg(m_session.project()));
    const bool onMoves = !proposals.empty();
    if (!onMoves) proposals = study::listBallast(*report, std::span(m_standings).first(1), study::getAskedTipDeg(m_session.project()));
    if (proposals.empty()) return m_session.say("No weight in any part passes", true);
    if (!onMoves) m_session.say("Enough as it stands now; on the moves no weight is");
    const auto& best = *std::min_element(proposals.begin(), proposals.end(), [](const auto& l, const auto& r) { return l.massG < r.massG; });
    m_weight.section = best.section;
    m_weight.at = m_session.placed().X_WS[static_cast<std::size_t>(best.section)] * best.at;
    m_gram->setValue(best.massG);
    showRose();
    m_sheet->refresh();
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
    painter.drawText(QRectF(at.x() + 16, at.y() - 10, 120, 20), Qt::AlignLeft | Qt::AlignVCenter, numberText(m_weight.gram, 0) + " g, drag");
}

/// In the place of the bonds until a case is chosen.
void StandStation::showWeights() {
    const auto report = m_session.report();
    if (!report || !m_session.isReportCurrent() || !report->present.tipping) return;
    const auto& tip = *report->present.tipping;
    m_outcome->setText(
        "<b>Sections</b>: what each weighs and where its centre is (x, y, height in mm); N·mm: how much it holds the model back from falling towards " +
        numberText(tip.towardDeg, 0) + "°, below 0 it pulls it over. Masses not weighed.");
    std::vector<TableRow> rows;
    const auto weights = stand::listSectionWeights(report->present.placed, tip);
    for (const auto& weight : weights)
        rows.push_back(
            {{QString::fromStdString(m_session.project().sections[static_cast<std::size_t>(weight.section)]->name), {}},
             numberCell(weight.massG, 1),
             {numberText(weight.centre.x(), 0) + ", " + numberText(weight.centre.y(), 0) + ", " + numberText(weight.centre.z(), 0), weight.centre.z()},
             numberCell(weight.holdsNmm, 1)});
    m_bonds->clearSelection();
    std::vector<QVariant> ids;
    for (const auto& weight : weights) ids.emplace_back(weight.section);
    fillTable(m_bonds, {"section", "g", "centre", "N·mm"}, rows, ids);
    m_bonds->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_bonds->setColumnWidth(1, 56);
    m_bonds->setColumnWidth(2, 104);
    m_bonds->setColumnWidth(3, 64);
    m_bonds->resizeRowsToContents();
    m_sheet->refresh();
}

/// From the chosen part; without one from what the weakest bond carries.
void StandStation::findPath() {
    m_path.clear();
    m_pathFrom = -1;
    if (!m_solved) return;
    const auto& net = m_solved->result.net;
    const auto& e = m_solved->result.equilibrium;
    if (!m_session.selection().empty()) {
        const auto spot = model::PartIndex(m_session.project()).find(*m_session.selection().begin());
        for (std::size_t b = 0; b < net.bodies.size(); ++b)
            if (net.bodies[b].spot == spot) m_pathFrom = static_cast<int>(b);
    } else if (const auto weakest = study::listWeakest(m_solved->result, 1); !weakest.empty()) {
        m_pathFrom = net.contacts[static_cast<std::size_t>(weakest[0])].b;
    }
    if (m_pathFrom >= 0) m_path = stand::findLoadPath(net, e, m_pathFrom);
}

/// The way of the load to the ground: wider where more goes through.
void StandStation::drawPath(QPainter& painter) const {
    if (m_path.empty() || m_pathFrom < 0) return;
    const auto& net = m_solved->result.net;
    double most = 1e-9;
    const auto through = [&](int contact) {
        const auto& force = m_solved->result.equilibrium.forces[static_cast<std::size_t>(contact)];
        return force.pressN + force.pullN + force.shearN;
    };
    for (const int contact : m_path) most = std::max(most, through(contact));
    QPointF from = m_sheet->toScreen(net.bodies[static_cast<std::size_t>(m_pathFrom)].centre);
    painter.setBrush(theme().brine);
    for (const int k : m_path) {
        const auto& contact = net.contacts[static_cast<std::size_t>(k)];
        Vec3 middle = Vec3::Zero();
        for (const Vec3& corner : contact.corners) middle += corner / static_cast<double>(contact.corners.size());
        if (contact.corners.empty()) middle = contact.columns.empty() ? net.bodies[static_cast<std::size_t>(contact.b)].centre : contact.columns.front().at;
        const QPointF to = m_sheet->toScreen(middle);
        painter.setPen(QPen(theme().brine, 1.2 + 3 * through(k) / most, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(from, to);
        from = to;
    }
    painter.setPen(Qt::NoPen);
    painter.drawPolygon(QPolygonF{from + QPointF(0, 7), from + QPointF(-6, -4), from + QPointF(6, -4)});
}

void StandStation::drawOverlay(QPainter& painter) const {
    const auto report = m_session.report();
    if (!report || !m_session.isReportCurrent()) return;
    if (m_movesButton->isChecked()) { // bonds and weights are those of the pose it stands in
        if (!m_moves->place()) return;
        drawSupports(painter, m_moves->place()->placed);
        drawPlumb(painter, *m_sheet, m_moves->place()->tipping);
        return;
    }
    if (report->present.tipping) drawPlumb(painter, *m_sheet, *report->present.tipping);
    if (m_weight.on) drawWeight(painter);
    drawSupports(painter, m_session.placed());
    if (m_supports) return;
    if (!m_solved) return;
    drawPath(painter);
    // The bond that is asked most, by name.
    const auto& e = m_solved->result.equilibrium;
    const auto weakest = e.firstToGo ? std::vector<int>{*e.firstToGo} : study::listWeakest(m_solved->result, 1);
    if (weakest.empty()) return;
    const auto& contact = m_solved->result.net.contacts[static_cast<std::size_t>(weakest[0])];
    Vec3 middle = Vec3::Zero();
    for (const Vec3& corner : contact.corners) middle += corner / static_cast<double>(contact.corners.size());
    const Theme& t = theme();
    const QPointF at = m_sheet->toScreen(middle);
    const QString line = (e.firstToGo ? "lets go first: " : "asked most: ") +
                         QString::fromStdString(study::describeContact(m_session.project(), m_solved->result, weakest[0])) +
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
