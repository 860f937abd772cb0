// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/pose/map_tab.h"
#include "app/shell/theme.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QPushButton>
#include <QVBoxLayout>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::app {
namespace {

int bendOf(const model::Joint& joint) { return joint.kind->bendFreedom(); }

} // namespace

MapTab::MapTab(Session& session, QWidget* parent)
    : PoseTab(session, parent), m_chart(new JointMap(this)), m_second(new QComboBox(this)), m_text(new QLabel(this)),
      m_live(session.jobs()) {
    auto* side = new QVBoxLayout;
    auto* label = new QLabel("with", this);
    label->setBuddy(m_second);
    m_second->setObjectName("mapSecond");
    m_second->setAccessibleName("Second joint");
    m_second->setToolTip("The joint whose positions go upwards in the map");
    side->addWidget(label);
    side->addWidget(m_second);
    m_text->setObjectName("mapText");
    m_text->setWordWrap(true);
    m_text->setAlignment(Qt::AlignTop);
    side->addWidget(m_text, 1);
    auto* keep = new QPushButton("save the map …", this);
    keep->setProperty("flat2", true);
    keep->setToolTip("Write the map as SVG or PNG");
    side->addWidget(keep);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 2, 0, 0);
    layout->addWidget(m_chart, 1);
    layout->addLayout(side);
    m_text->setFixedWidth(scaled(200));
    m_chart->setToolTip(
        "filled: free · pale: free but not reached from here · hatched: blocked · empty: beyond its own limit");
    connect(m_second, &QComboBox::activated, this, [this] {
        m_chosen = true;
        refresh();
    });
    connect(m_chart, &JointMap::picked, this, &MapTab::take);
    connect(m_chart, &JointMap::looked, m_text, &QLabel::setText);
    connect(keep, &QPushButton::clicked, this, &MapTab::save);
}

/// All of it is in the tool tip too, where the tab is low.
void MapTab::showText(const QString& text) {
    m_text->setText(text);
    m_text->setToolTip(text);
}

void MapTab::refresh() {
    fillJoints(m_second);
    const int first = currentJoint();
    if (first < 0 || m_session.project().joints.size() < 2) {
        m_chart->clear();
        showText("A map needs two joints.");
        return;
    }
    int second = m_session.project().findJoint({m_second->currentData().toString().toStdString()});
    if (!m_chosen || second == first) { // the one next to it: what it carries, or what carries it
        const auto& tree = m_session.tree();
        second = -1;
        for (std::size_t j = 0; j < m_session.project().joints.size() && second < 0; ++j)
            if (tree.from[j].section == at(tree.to, first).section) second = static_cast<int>(j);
        if (second < 0) second = at(tree.carrier, at(tree.from, first).section);
        if (second < 0) second = first == 0 ? 1 : 0;
        m_second->setCurrentIndex(second);
    }
    const PoseSnapshot s = snapshot();
    pose::MapRequest request;
    request.first = {first, bendOf(at(s.project->joints, first))};
    request.second = {second, bendOf(at(s.project->joints, second))};
    request.firstRange = pose::getMapRange(*s.project, request.first);
    request.secondRange = pose::getMapRange(*s.project, request.second);
    m_shownFirst = request.first;
    m_shownSecond = request.second;
    showText("…");
    m_live.ask(
        "map of two joints",
        [s, request](base::Progress& progress) -> std::optional<pose::TwoJointMap> {
            auto map = pose::calcMap(s.context(), s.values, request, &progress);
            if (!map || progress.stopped()) return std::nullopt;
            return std::move(map).value();
        },
        [this, s](pose::TwoJointMap map) {
            const auto a = map.request.first, b = map.request.second;
            const auto valueIn = [](const pose::JointValues& v, pose::FreedomRef f) {
                return at(at(v, f.joint), f.freedom);
            };
            const auto wanted = [&](pose::FreedomRef f) -> std::optional<model::Range> {
                const auto& joint = at(s.project->joints, f.joint);
                if (joint.wanted.empty()) return std::nullopt;
                return at(joint.wanted, f.freedom);
            };
            std::vector<MapDot> dots;
            for (const auto& pose : s.project->poses) {
                const auto values = pose::getValues(*s.project, &pose);
                dots.push_back({QString::fromStdString(pose.name), valueIn(values, a), valueIn(values, b)});
            }
            showText(QString::fromStdString(base::formatNumber(map.freeShare * 100, 1)) +
                     " % of all positions are free; a click takes one.\nframe: wanted · cross: now · rings: poses");
            m_chart->show(std::move(map), jointName(a.joint), jointName(b.joint), valueIn(s.values, a),
                          valueIn(s.values, b), std::move(dots), wanted(a), wanted(b));
        });
}

void MapTab::take(double first, double second) {
    auto values = pose::getValues(m_session.project(), nullptr);
    const auto set = [&](pose::FreedomRef f, double v) {
        auto& joint = at(values, f.joint);
        at(joint, f.freedom) = v;
        joint = pose::calcNearestValue(*at(m_session.project().joints, f.joint).kind, joint);
    };
    set(m_shownFirst, first);
    set(m_shownSecond, second);
    takeValues("Pose two joints", values);
}

void MapTab::save() {
    const QString path = QFileDialog::getSaveFileName(this, "Map of two joints", "map.svg", "SVG (*.svg);;PNG (*.png)");
    if (path.isEmpty()) return;
    const bool saved = m_chart->saveChart(path);
    m_session.say(saved ? "Map written: " + path : "The map could not be written to " + path, !saved);
}

} // namespace ivrant::app
