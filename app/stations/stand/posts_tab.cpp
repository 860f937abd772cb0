// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/stand/posts_tab.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>
#include <cmath>

#include "app/shell/plain_labels.h"
#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/base/units.h"

namespace ivrant::app {
namespace {

QString placeText(const model::Project& project, model::PartSpot spot, double heightMm) {
    const auto& part = model::getPart(project, spot);
    return qs(part.shape->name + " (" + part.id.text + ")") + ", " + numberText(heightMm, 0) + " mm up";
}

QString keptText(const model::Project& project, const study::KeptPost& kept, std::size_t index) {
    const QString name = "kept: " + qs(study::namePost(index));
    if (kept.pose && kept.post.state == stand::PostState::Touches)
        return name + " under " + placeText(project, kept.post.part, kept.post.top.z()) + ", in " +
               qs(kept.pose->name) + ": tips at " + numberText(kept.tipDeg, 1) + "°, without it at " +
               numberText(kept.withoutDeg, 1) + "°" + (kept.needed ? "" : "; not needed");
    if (kept.pose && kept.post.state == stand::PostState::Blocked)
        return name + " is in the way in " + qs(kept.pose->name);
    return name + ", nothing lies on it";
}

QString spotText(const model::Project& project, const study::CheckedPost& support) {
    QString text = placeText(project, support.spot.part, support.spot.at.z()) + ": tips at " +
                   numberText(support.spot.tipDeg, 1) + "°" + (support.holds ? ", bonds hold" : ", bonds fail");
    if (support.lambda && !std::isinf(*support.lambda)) text += ", λ " + numberText(*support.lambda, 2);
    return text;
}

void drawPost(QPainter& painter, const Sheet3d& sheet, const geometry::Vec3& top, const QPen& pen) {
    painter.setPen(pen);
    const QPointF high = sheet.toScreen(top), foot = sheet.toScreen({top.x(), top.y(), 0});
    painter.drawLine(high, foot);
    if (pen.style() != Qt::SolidLine) return;
    painter.drawLine(foot - QPointF(9, 0), foot + QPointF(9, 0));
    painter.drawLine(high - QPointF(4, 0), high + QPointF(4, 0));
}

} // namespace

PostsTab::PostsTab(Session& session, QWidget* parent)
    : StandTab(session, parent), m_about(makeMarkup(new QLabel(this))), m_table(new QTableWidget(this)),
      m_keep(new QPushButton("keep this post", this)), m_drop(new QPushButton("take it away", this)),
      m_live(session.jobs()) {
    m_about->setObjectName("postsText");
    m_about->setWordWrap(true);
    m_table->setObjectName("posts");
    m_table->setAccessibleName("Posts and places for them");
    setUpTable(m_table, "posts");
    m_table->setWordWrap(true);
    m_keep->setObjectName("keepPost");
    m_keep->setToolTip("From now on it is counted in every pose in which a part lies on it (Enter)");
    m_drop->setObjectName("dropPost");
    auto* row = new QHBoxLayout;
    row->addWidget(m_keep);
    row->addWidget(m_drop);
    row->addStretch(1);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 4, 0, 0);
    layout->addWidget(m_about);
    layout->addWidget(m_table, 1);
    layout->addLayout(row);
    connect(m_keep, &QPushButton::clicked, this, &PostsTab::keep);
    connect(m_drop, &QPushButton::clicked, this, &PostsTab::drop);
    connect(m_table, &QTableWidget::itemSelectionChanged, this, &PostsTab::choose);
    choose();
}

void PostsTab::forget() {
    m_live.cancel();
    m_rows.clear();
    m_table->setRowCount(0);
    m_keep->setEnabled(false);
    m_drop->setEnabled(false);
    m_about->setText("…");
}

/// Where that does not take long.
void PostsTab::refresh() {
    const auto report = currentReport();
    if (!report) return;
    if (!report->present.tipping) return m_about->setText("There is nothing to support yet.");
    if (report->project->partCount() <= study::kMostPartsLive) return look();
    m_about->setText("Places for posts of a model this large are looked for when you ask (P).");
}

void PostsTab::look() {
    const auto report = weightyReport("There is nothing to support yet");
    if (!report) return;
    m_about->setText("Looking for places for a post …");
    m_live.ask(
        "Posts",
        [report](base::Progress& progress) -> std::optional<study::PostDesign> {
            auto design = study::calcPosts(*report, report->present, 0, &progress);
            if (!design) return std::nullopt;
            return std::move(design).value();
        },
        [this](const study::PostDesign& design) { show(design); });
}

void PostsTab::show(const study::PostDesign& design) {
    const auto& project = m_session.project();
    QString line = "<b>Posts</b>: " + QString(design.needed ? "it does not stand well" : "it stands") +
                   (project.posts.empty() ? " by itself" : " on its feet and posts") + "; asked " +
                   numberText(design.wishDeg, 0) +
                   "°. One presses from below; force with the base level, and tilted by that.";
    if (design.spots.empty()) line += "<br>" + qs(design.why).toHtmlEscaped();
    m_about->setText(line);
    m_rows.clear();
    std::vector<TableRow> cells;
    std::vector<QVariant> ids;
    const auto add = [&](Row row, double level, double tilted) {
        cells.push_back({{row.text, {}}, numberCell(level, 2), numberCell(tilted, 2)});
        ids.emplace_back(static_cast<int>(m_rows.size()));
        m_rows.push_back(std::move(row));
    };
    const auto kept = study::checkPosts(*m_session.report());
    for (std::size_t i = 0; i < kept.size(); ++i) {
        Row row{keptText(project, kept[i], i), kept[i].post.top, {}, project.posts[i].id};
        if (kept[i].pose && kept[i].post.state != stand::PostState::Free) row.part = kept[i].post.part;
        add(std::move(row), kept[i].restN, kept[i].tiltN);
    }
    for (const auto& support : design.spots)
        add({spotText(project, support), support.spot.at, support.spot.part, {}}, support.spot.restN,
            support.spot.tiltN);
    fillTable(m_table, {"post under", "N level", "N tilted"}, cells, ids);
    m_table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_table->setColumnWidth(1, scaled(70));
    m_table->setColumnWidth(2, scaled(74));
    m_table->resizeRowsToContents();
    if (!m_rows.empty()) m_table->selectRow(0);
    choose();
}

const PostsTab::Row* PostsTab::chosen() const {
    const QVariant id = chosenRowId(m_table);
    if (!id.isValid()) return nullptr;
    const auto index = static_cast<std::size_t>(id.toInt());
    return index < m_rows.size() ? &m_rows[index] : nullptr;
}

void PostsTab::choose() {
    const Row* row = chosen();
    m_keep->setEnabled(row && row->kept.empty());
    m_drop->setEnabled(row && !row->kept.empty());
    if (!isVisible()) return;
    m_session.setMarked(row && row->part ? std::set<model::PartId>{model::getPart(m_session.project(), *row->part).id}
                                         : std::set<model::PartId>{});
    emit overlayChanged();
}

void PostsTab::keep() {
    const Row* row = chosen();
    if (!row || !row->kept.empty()) return;
    m_session.apply("Post under the model",
                    [top = row->top](const model::Project& p) { return model::putPost(p, study::makePost(top)); });
}

void PostsTab::drop() {
    const Row* row = chosen();
    if (!row || row->kept.empty()) return;
    m_session.apply("Take the post away",
                    [id = row->kept](const model::Project& p) { return model::removePost(p, id); });
}

void PostsTab::drawOverlay(QPainter& painter, const Sheet3d& sheet) const {
    const Row* here = chosen();
    for (const Row& row : m_rows)
        if (&row == here)
            drawPost(painter, sheet, row.top, QPen(theme().brine, 3.5));
        else if (row.kept.empty())
            drawPost(painter, sheet, row.top, QPen(theme().ink, 1, Qt::DotLine));
}

void drawPosts(QPainter& painter, const Sheet3d& sheet, const model::Placed& placed) {
    const Theme& t = theme();
    for (const auto& post : stand::placePosts(placed))
        drawPost(painter, sheet, post.top,
                 QPen(post.state == stand::PostState::Touches   ? t.moss
                      : post.state == stand::PostState::Blocked ? t.ember
                                                                : t.quiet,
                      3.5));
}

} // namespace ivrant::app
