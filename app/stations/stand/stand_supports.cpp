// Posts of the base: those that the project has, where more of them would help, kept and taken away.
#include <QHeaderView>
#include <QPainter>
#include <cmath>

#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "app/stations/stand/stand_station.h"
#include "core/base/units.h"

namespace ivrant::app {
namespace {

QString placeText(const model::Project& project, model::PartSpot spot, double heightMm) {
    const auto& part = model::getPart(project, spot);
    return qs(part.shape->name + " (" + part.id.text + ")") + ", " + numberText(heightMm, 0) + " mm up";
}

} // namespace

void StandStation::designSupport() {
    const auto report = m_session.report();
    if (!report || !m_session.isReportCurrent() || !report->present.tipping) return m_session.say("There is nothing to support yet", true);
    m_supporting = true;
    m_outcome->setText("Looking for places for a post …");
    m_design.ask(
        "Posts",
        [report](base::Progress& progress) -> std::optional<study::SupportDesign> {
            auto design = study::calcSupports(*report, report->present, 0, &progress);
            if (!design) return std::nullopt;
            return std::move(design).value();
        },
        [this](study::SupportDesign design) {
            m_supports = std::move(design);
            m_weighing = false;
            showSupports();
        });
}

/// In the place of the bonds until another case is chosen.
void StandStation::showSupports() {
    const auto& design = *m_supports;
    const auto& project = m_session.project();
    QString line = "<b>Posts</b>: " + (design.needed ? QString("it does not stand well") : QString("it stands")) +
                   (project.supports.empty() ? QString(" by itself") : QString(" on its feet and posts")) + "; asked " + numberText(design.wishDeg, 0) +
                   "°. One presses from below; force with the base level, and tilted by that.";
    if (design.spots.empty()) line += "<br>" + qs(design.why).toHtmlEscaped();
    m_outcome->setText(line);
    m_supportRows.clear();
    std::vector<TableRow> rows;
    const auto add = [&](SupportRow row, double level, double tilted) {
        rows.push_back({{row.text, {}}, numberCell(level, 2), numberCell(tilted, 2)});
        m_supportRows.push_back(std::move(row));
    };
    const auto kept = study::checkSupports(*m_session.report());
    for (std::size_t i = 0; i < kept.size(); ++i) {
        const auto& post = kept[i].post;
        const bool touches = kept[i].pose && post.state == stand::PostState::Touches, blocked = kept[i].pose && post.state == stand::PostState::Blocked;
        QString told = "kept: " + qs(study::nameSupport(i));
        if (touches)
            told += " under " + placeText(project, post.part, post.top.z()) + ", in " + qs(kept[i].pose->name) + ": tips at " + numberText(kept[i].tipDeg, 1) +
                    "°, without it at " + numberText(kept[i].withoutDeg, 1) + "°" + (kept[i].needed ? "" : "; not needed");
        else
            told += blocked ? " is in the way in " + qs(kept[i].pose->name) : QString(", nothing lies on it");
        SupportRow row{told, post.top, {}, project.supports[i].id};
        if (touches || blocked) row.part = post.part;
        add(std::move(row), kept[i].restN, kept[i].tiltN);
    }
    for (const auto& support : design.spots) {
        const QString lambda = support.lambda && !std::isinf(*support.lambda) ? ", λ " + numberText(*support.lambda, 2) : QString();
        add({placeText(project, support.spot.part, support.spot.at.z()) + ": tips at " + numberText(support.spot.tipDeg, 1) + "°" +
                 (support.holds ? ", bonds hold" : ", bonds fail") + lambda,
             support.spot.at,
             support.spot.part,
             {}},
            support.spot.restN, support.spot.tiltN);
    }
    std::vector<QVariant> ids;
    for (std::size_t i = 0; i < rows.size(); ++i) ids.emplace_back(static_cast<int>(i));
    fillTable(m_bonds, {"post under", "N level", "N tilted"}, rows, ids);
    m_bonds->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_bonds->setColumnWidth(1, 70);
    m_bonds->setColumnWidth(2, 74);
    m_bonds->resizeRowsToContents();
    m_postRow->setVisible(!m_supportRows.empty());
    if (!m_supportRows.empty()) m_bonds->selectRow(0);
    chooseSupport();
}

const StandStation::SupportRow* StandStation::chosenSupport() const {
    const QVariant id = chosenRowId(m_bonds);
    if (!m_supports || !id.isValid()) return nullptr;
    const auto index = static_cast<std::size_t>(id.toInt());
    return index < m_supportRows.size() ? &m_supportRows[index] : nullptr;
}

void StandStation::chooseSupport() {
    const SupportRow* row = chosenSupport();
    m_keepPost->setEnabled(row && row->kept.empty());
    m_dropPost->setEnabled(row && !row->kept.empty());
    m_session.setMarked(row && row->part ? std::set<model::PartId>{model::getPart(m_session.project(), *row->part).id} : std::set<model::PartId>{});
    m_sheet->refresh();
}

void StandStation::keepPost() {
    const SupportRow* row = chosenSupport();
    if (!row || !row->kept.empty()) return;
    const auto top = row->top;
    m_session.apply("Post under the model", [&](const model::Project& p) { return model::putSupport(p, study::makeSupport(top)); });
}

void StandStation::dropPost() {
    const SupportRow* row = chosenSupport();
    if (!row || row->kept.empty()) return;
    const auto id = row->kept;
    m_session.apply("Take the post away", [&](const model::Project& p) { return model::removeSupport(p, id); });
}

void StandStation::leaveSupports() {
    m_supporting = false;
    m_supports.reset();
    m_postRow->hide();
}

/// Those that the project has, for the model as it is placed, and the places for more.
void StandStation::drawSupports(QPainter& painter, const model::Placed& placed) const {
    const Theme& t = theme();
    const auto draw = [&](const geometry::Vec3& top, const QColor& colour, double width, Qt::PenStyle style) {
        painter.setPen(QPen(colour, width, style));
        const QPointF high = m_sheet->toScreen(top), foot = m_sheet->toScreen({top.x(), top.y(), 0});
        painter.drawLine(high, foot);
        if (style != Qt::SolidLine) return;
        painter.drawLine(foot - QPointF(9, 0), foot + QPointF(9, 0));
        painter.drawLine(high - QPointF(4, 0), high + QPointF(4, 0));
    };
    for (const auto& post : stand::placePosts(placed))
        draw(post.top, post.state == stand::PostState::Touches ? t.moss : post.state == stand::PostState::Blocked ? t.ember : t.quiet, 3.5, Qt::SolidLine);
    if (!m_supports) return;
    const SupportRow* chosen = chosenSupport();
    for (const SupportRow& row : m_supportRows)
        if (row.kept.empty() || &row == chosen)
            draw(row.top, &row == chosen ? t.brine : t.ink, &row == chosen ? 3.5 : 1, &row == chosen ? Qt::SolidLine : Qt::DotLine);
}

} // namespace ivrant::app
