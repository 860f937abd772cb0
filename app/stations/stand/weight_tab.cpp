// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/stand/weight_tab.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/shell/plain_labels.h"
#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/mass.h"
#include "core/stand/counterweight.h"
#include "core/study/asked_tip.h"
#include "core/study/stand_cases.h"

namespace ivrant::app {

using geometry::Vec3;

namespace {

constexpr double kMostGram = 5000, kFirstGram = 50;
constexpr double kFirstReachMm = 40; ///< from the centre of gravity, against the fall
constexpr double kGripPx = 18;

} // namespace

WeightTab::WeightTab(Session& session, QWidget* parent)
    : StandTab(session, parent), m_about(makeMarkup(new QLabel(this))), m_told(makeMarkup(new QLabel(this))),
      m_sections(new QTableWidget(this)), m_try(new QPushButton("try a counterweight", this)), m_row(new QWidget(this)),
      m_gram(new QDoubleSpinBox(m_row)) {
    m_about->setWordWrap(true);
    m_sections->setObjectName("sectionWeights");
    m_sections->setAccessibleName("Weights of the sections");
    setUpTable(m_sections, "sections");
    connect(m_sections, &QTableWidget::itemSelectionChanged, this, [this] {
        std::set<model::PartId> parts;
        const QVariant id = chosenRowId(m_sections);
        const int section = id.isValid() ? id.toInt() : -1;
        if (section >= 0 && section < static_cast<int>(m_session.project().sections.size()))
            for (const auto& part : ivrant::at(m_session.project().sections, section)->parts) parts.insert(part.id);
        m_session.setMarked(std::move(parts));
        emit overlayChanged();
    });
    m_try->setObjectName("tryWeight");
    m_try->setCheckable(true);
    m_try->setToolTip("A weight that is dragged over the model, with what becomes of the balance (W)");
    connect(m_try, &QPushButton::toggled, this, &WeightTab::tryWeight);
    makeRow(m_row);
    m_told->setObjectName("weightText");
    m_told->setWordWrap(true);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 4, 0, 0);
    layout->addWidget(m_about);
    layout->addWidget(m_sections, 1);
    layout->addWidget(m_try, 0, Qt::AlignLeft);
    layout->addWidget(m_row);
    layout->addWidget(m_told);
    m_row->hide();
    m_told->hide();
}

void WeightTab::makeRow(QWidget* row) {
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    m_gram->setObjectName("weightGram");
    m_gram->setAccessibleName("Counterweight");
    m_gram->setRange(1, kMostGram);
    m_gram->setDecimals(0);
    m_gram->setSuffix(" g");
    m_gram->setValue(kFirstGram);
    layout->addWidget(m_gram);
    connect(m_gram, &QDoubleSpinBox::valueChanged, this, [this] { tell(); });
    const auto add = [&](const char* name, const QString& caption, const QString& tip, auto slot) {
        auto* button = new QPushButton(caption, row);
        button->setObjectName(name);
        button->setToolTip(tip);
        layout->addWidget(button);
        connect(button, &QPushButton::clicked, this, slot);
    };
    add("smallestWeight", "smallest", "The least that passes at this place, now and on all moves",
        &WeightTab::takeSmallest);
    add("bestWeight", "where least", "The part in which the least weight passes, now and on all moves",
        &WeightTab::takeBest);
    add("putWeight", "put it in", "Fixed in the section under it (Enter)", &WeightTab::putIn);
    layout->addStretch(1);
}

void WeightTab::forget() {
    m_standings.clear();
    m_section = std::min(m_section, std::max(0, static_cast<int>(m_session.project().sections.size()) - 1));
    m_sections->setRowCount(0);
}

void WeightTab::refresh() {
    const auto report = currentReport();
    if (!report) return;
    if (!report->present.tipping) return m_about->setText("There is nothing with weight yet.");
    fillSections(*report);
    if (m_on) findStandings();
    tell();
}

void WeightTab::fillSections(const verdict::Report& report) {
    const auto& tip = *report.present.tipping;
    m_about->setText("What each section weighs and where its centre is (x, y, height in mm); N·mm: how much it holds "
                     "the model back from falling towards " +
                     numberText(tip.towardDeg, 0) + "°, below 0 it pulls it over. Masses not weighed.");
    std::vector<TableRow> rows;
    std::vector<QVariant> ids;
    for (const auto& weight : stand::listSectionWeights(report.present.placed, tip)) {
        const auto& section = *ivrant::at(m_session.project().sections, weight.section);
        const QString centre = numberText(weight.centre.x(), 0) + ", " + numberText(weight.centre.y(), 0) + ", " +
                               numberText(weight.centre.z(), 0);
        rows.push_back({{qs(section.name), {}},
                        numberCell(weight.massG, 1),
                        {centre, weight.centre.z()},
                        numberCell(weight.holdsNmm, 1)});
        ids.emplace_back(weight.section);
    }
    fillTable(m_sections, {"section", "g", "centre", "N·mm"}, rows, ids);
    m_sections->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_sections->setColumnWidth(1, scaled(56));
    m_sections->setColumnWidth(2, scaled(104));
    m_sections->setColumnWidth(3, scaled(64));
    m_sections->resizeRowsToContents();
}

/// It begins against the fall, low in the heaviest section.
void WeightTab::tryWeight(bool on) {
    const auto report = m_session.report();
    if (on && (!report || !report->present.tipping)) {
        m_session.say("There is nothing to balance yet", true);
        on = false;
    }
    const QSignalBlocker quiet(m_try);
    m_try->setChecked(on);
    m_on = on;
    if (on) {
        const auto& tip = *report->present.tipping;
        double heaviest = -1;
        for (std::size_t s = 0; s < m_session.project().sections.size(); ++s) {
            const double gram = model::calcMass(m_session.placed(), {static_cast<int>(s)}).massG;
            if (gram <= heaviest) continue;
            heaviest = gram;
            m_section = static_cast<int>(s);
        }
        const double away = base::degToRad(tip.towardDeg + 180);
        m_at = tip.centre + kFirstReachMm * Vec3(std::cos(away), std::sin(away), 0);
        findStandings();
    }
    m_row->setVisible(on);
    m_told->setVisible(on);
    tell();
}

/// As it stands now, and all along the moves: the weight has to do for all of them.
void WeightTab::findStandings() {
    const auto report = currentReport();
    m_standings.clear();
    if (!report || !report->present.tipping) return;
    m_standings.push_back({report->present.placed, *report->present.tipping});
    for (const auto& move : report->moves)
        for (auto& standing : study::listStandings(*report, move)) m_standings.push_back(std::move(standing));
}

/// Where the weight is in each of them.
std::vector<Vec3> WeightTab::listPlaces() const {
    const auto s = static_cast<std::size_t>(m_section);
    const Vec3 own = m_session.placed().X_WS[s].inverse() * m_at;
    std::vector<Vec3> at;
    at.reserve(m_standings.size());
    for (const auto& standing : m_standings) at.push_back(standing.placed.X_WS[s] * own);
    return at;
}

std::optional<stand::Tipping> WeightTab::tippingWith(double gram) const {
    const auto report = m_session.report();
    if (!report || !report->present.tipping || m_session.project().sections.empty()) return std::nullopt;
    return stand::calcTippingWith(*report->present.tipping, gram, m_at);
}

std::optional<stand::Tipping> WeightTab::after() const { return m_on ? tippingWith(m_gram->value()) : std::nullopt; }

void WeightTab::tell() {
    emit overlayChanged();
    const auto tipping = after();
    if (!tipping) return;
    const double asked = study::getAskedTipDeg(m_session.project());
    const auto passes = [&](double angleDeg) { return angleDeg >= asked ? ", passes" : ", too little"; };
    const auto& section = *ivrant::at(m_session.project().sections, m_section);
    QString told = "In " + qs(section.name).toHtmlEscaped() + ": tips at <b>" + numberText(tipping->angleDeg, 1) +
                   "°</b> instead of " + numberText(m_session.report()->present.tipping->angleDeg, 1) + "°" +
                   passes(tipping->angleDeg);
    if (m_standings.size() > 1) {
        const auto at = listPlaces();
        double least = 90;
        for (std::size_t i = 1; i < m_standings.size(); ++i)
            least = std::min(least, stand::calcTippingWith(m_standings[i].tipping, m_gram->value(), at[i]).angleDeg);
        told += "; moving: least <b>" + numberText(least, 1) + "°</b>" + passes(least);
    }
    m_told->setText(told);
}

/// Now and on all moves; where that cannot be, now.
void WeightTab::takeSmallest() {
    const auto at = listPlaces();
    for (const std::size_t count : {m_standings.size(), std::min<std::size_t>(1, m_standings.size())}) {
        if (count == 0) break;
        const auto range = stand::calcWeights(std::span(m_standings).first(count), std::span(at).first(count),
                                              study::getAskedTipDeg(m_session.project()));
        const double gram = range ? std::max(1.0, std::ceil(range->low - 1e-9)) : 0;
        if (!range || gram > range->high || gram > kMostGram) continue;
        if (count < m_standings.size())
            m_session.say("Enough as it stands now; on the moves no weight is, at this place");
        return m_gram->setValue(gram);
    }
    m_session.say("No weight passes at this place: drag it away from the fall", true);
}

/// The least of all weights that pass, at the centre of whichever part that is.
void WeightTab::takeBest() {
    const auto report = currentReport();
    if (!report || m_standings.empty()) return;
    const double asked = study::getAskedTipDeg(m_session.project());
    auto proposals = study::listBallast(*report, m_standings, asked);
    const bool onMoves = !proposals.empty();
    if (!onMoves) proposals = study::listBallast(*report, std::span(m_standings).first(1), asked);
    if (proposals.empty()) return m_session.say("No weight in any part passes", true);
    if (!onMoves) m_session.say("Enough as it stands now; on the moves no weight is");
    const auto& best = *std::min_element(proposals.begin(), proposals.end(),
                                         [](const auto& l, const auto& r) { return l.massG < r.massG; });
    m_section = best.section;
    m_at = ivrant::at(m_session.placed().X_WS, best.section) * best.at;
    m_gram->setValue(best.massG);
    tell();
}

void WeightTab::putIn() {
    if (!m_on || m_session.project().sections.empty()) return;
    const auto s = static_cast<std::size_t>(m_section);
    model::Ballast ballast;
    ballast.massG = m_gram->value();
    const Vec3 at = m_session.placed().X_WS[s].inverse() * m_at;
    for (int k = 0; k < 3; ++k) ivrant::at(ballast.atUm, k) = base::mmToUm(at[k]);
    const auto id = m_session.project().sections[s]->id;
    tryWeight(false);
    if (m_session.apply("Counterweight of " + numberText(ballast.massG, 0) + " g",
                        [&](const model::Project& p) { return model::addBallast(p, id, ballast); }))
        m_session.say("Ballast must be enclosed so that it cannot come out; no lead and no loose magnets where "
                      "children can reach.");
}

bool WeightTab::takesDrag(QPointF position, const Sheet3d& sheet) {
    return m_on && QLineF(position, sheet.toScreen(m_at)).length() < kGripPx;
}

/// Over a part it sticks to that part and its section, over paper it moves at its height.
void WeightTab::drag(QPointF position, const Sheet3d& sheet) {
    if (const auto hit = sheet.pick(position)) {
        m_at = hit->point;
        m_section = hit->spot.section;
    } else {
        const auto [origin, direction] = sheet.rayAt(position);
        const Vec3 normal = std::abs(direction.z()) > 0.3 ? Vec3(Vec3::UnitZ())
                                                          : Vec3(Vec3(direction.x(), direction.y(), 0).normalized());
        m_at = origin + direction * (normal.dot(m_at - origin) / normal.dot(direction));
    }
    tell();
}

void WeightTab::drawOverlay(QPainter& painter, const Sheet3d& sheet) const {
    if (!m_on) return;
    const Theme& t = theme();
    const QPointF at = sheet.toScreen(m_at);
    painter.setPen(QPen(t.ink, 1.6));
    painter.setBrush(t.straw);
    painter.drawRoundedRect(QRectF(at - QPointF(9, 9), QSizeF(18, 18)), 4, 4);
    painter.setPen(t.ink);
    painter.drawText(QRectF(at.x() + 16, at.y() - 10, 120, 20), Qt::AlignLeft | Qt::AlignVCenter,
                     numberText(m_gram->value(), 0) + " g, drag");
}

} // namespace ivrant::app
