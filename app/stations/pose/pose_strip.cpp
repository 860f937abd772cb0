// SPDX-License-Identifier: GPL-3.0-or-later
// The strip of poses: kept, named, taken, played from one to another with collisions on the way.
#include <QHBoxLayout>
#include <QInputDialog>
#include <QMenu>
#include <algorithm>
#include <cmath>

#include "app/shell/plain_labels.h"
#include "app/shell/text.h"
#include "app/stations/pose/motion_tab.h"
#include "app/stations/pose/pose_station.h"
#include "core/base/at.h"
#include "core/pose/collide.h"
#include "core/pose/stance.h"

namespace ivrant::app {
namespace {
constexpr double kPlayStep = 0.02; ///< of the way, each tick
} // namespace

void PoseStation::rebuildChips() {
    auto* layout = m_chips->layout();
    while (auto* item = layout->takeAt(0)) {
        if (item->widget()) {
            item->widget()->setObjectName({}); // it lives on until control is back in the event loop
            item->widget()->hide();
            item->widget()->deleteLater();
        }
        delete item;
    }
    layout->addWidget(new QLabel("Poses", m_chips));
    const auto add = [&](const QString& name, bool checked, const QString& tip, const auto& slot) {
        auto* chip = new QPushButton(buttonText(name), m_chips);
        chip->setObjectName("poseChip");
        chip->setProperty("chip", true);
        chip->setCheckable(true);
        chip->setChecked(checked);
        chip->setToolTip(tip);
        connect(chip, &QPushButton::clicked, this, slot);
        layout->addWidget(chip);
        return chip;
    };
    const auto& project = m_session.project();
    const bool looking = !m_session.looksAt().isEmpty();
    const auto present = pose::getValues(project, nullptr);
    const auto isPresent = [&](const model::NamedPose& pose) { return pose::getValues(project, &pose) == present; };
    if (!project.poses.empty()) {
        const auto same = std::find_if(project.poses.begin(), project.poses.end(), isPresent);
        const bool named = !looking && same != project.poses.end();
        add(named ? "as set: " + qs(same->name) : QString("as set"), !looking, "The joints as they are set (Ctrl+.)",
            [this] { lookAway(); });
    }
    for (const auto& pose : project.poses) {
        const auto id = pose.id;
        auto* chip =
            add(qs(pose.name), looking && isPresent(pose),
                "Look at this pose; dragging a joint sets them all so. Right click renames, replaces or removes",
                [this, id] { takePose(id); });
        chip->setContextMenuPolicy(Qt::CustomContextMenu);
        connect(chip, &QPushButton::customContextMenuRequested, this,
                [this, id, chip](QPoint at) { poseMenu(id, chip->mapToGlobal(at)); });
    }
    if (looking) {
        auto* set = new QPushButton("set so", m_chips);
        set->setObjectName("setAsSeen");
        set->setProperty("flat2", true);
        set->setToolTip("The joints are set as they are seen here (Ctrl+Alt+J)");
        connect(set, &QPushButton::clicked, &m_session, &Session::setAsSeen);
        layout->addWidget(set);
    }
    auto* keep = new QPushButton("+ keep", m_chips);
    keep->setObjectName("keepPose");
    keep->setProperty("flat2", true);
    keep->setToolTip("Keep the present pose under a name (C)");
    connect(keep, &QPushButton::clicked, this, &PoseStation::keepPose);
    layout->addWidget(keep);
    if (m_session.project().poses.size() > 1) {
        auto* playButton = new QPushButton("▷", m_chips);
        playButton->setObjectName("playPoses");
        playButton->setAccessibleName("Play to the next pose");
        playButton->setToolTip("Play to the next pose and look for collisions on the way (Space)");
        connect(playButton, &QPushButton::clicked, this, &PoseStation::play);
        layout->addWidget(playButton);
    }
}

void PoseStation::keepPose() {
    std::map<model::JointId, std::vector<double>> values;
    for (const auto& j : m_session.project().joints) values[j.id] = j.value;
    const auto stance = pose::getDefaultStance(m_session.project(), m_session.tree());
    m_session.apply("Keep pose", [&](const model::Project& p) { return model::addPose(p, "", values, stance); });
}

void PoseStation::takePose(const model::PoseId& id) {
    m_play.stop();
    m_session.look(id);
    rebuildChips(); // the click has turned its chip over
    m_sheet->fitAgain();
}

void PoseStation::lookAway() {
    m_play.stop();
    m_session.lookAway();
    rebuildChips();
}

void PoseStation::poseMenu(const model::PoseId& id, QPoint at) {
    QMenu menu(this);
    menu.addAction("Rename", [this, id] {
        const auto& pose = ivrant::at(m_session.project().poses, m_session.project().findPose(id));
        const QString name =
            QInputDialog::getText(this, "Rename pose", "Name", QLineEdit::Normal, QString::fromStdString(pose.name));
        if (!name.isEmpty())
            m_session.apply("Rename pose",
                            [&](const model::Project& p) { return model::renamePose(p, id, name.toStdString()); });
    });
    menu.addAction("Replace by the present pose", [this, id] {
        std::map<model::JointId, std::vector<double>> values;
        for (const auto& j : m_session.project().joints) values[j.id] = j.value;
        const auto stands = ivrant::at(m_session.project().poses, m_session.project().findPose(id)).stands;
        m_session.apply("Replace pose", [&](const model::Project& p) { return model::setPose(p, id, values, stands); });
    });
    stanceMenu(menu, id);
    menu.addAction("Remove", [this, id] {
        m_session.apply("Remove pose", [&](const model::Project& p) { return model::removePose(p, id); });
    });
    menu.exec(at);
}

/// How a pose stands: flat on a section, settled on whatever it falls on, or held in the air.
void PoseStation::stanceMenu(QMenu& menu, const model::PoseId& id) {
    const auto& pose = ivrant::at(m_session.project().poses, m_session.project().findPose(id));
    auto* stands = menu.addMenu("Stands");
    const auto add = [&](const QString& text, const model::Stance& stance) {
        auto* action = stands->addAction(text, this, [this, id, stance] {
            const auto values = ivrant::at(m_session.project().poses, m_session.project().findPose(id)).values;
            m_session.apply("Change how the pose stands",
                            [&](const model::Project& p) { return model::setPose(p, id, values, stance); });
        });
        action->setCheckable(true);
        action->setChecked(pose.stands == stance);
    };
    for (const auto& section : m_session.project().sections) {
        if (section->parts.empty()) continue;
        model::Stance flat;
        flat.kind = model::Stance::Kind::Flat;
        flat.section = section->id;
        add("flat on " + QString::fromStdString(section->name), flat);
    }
    model::Stance settle;
    settle.kind = model::Stance::Kind::Settle;
    add("settled on the table, upright as far as it can", settle);
    add("held in the air", model::Stance{});
}

void PoseStation::play() {
    const auto& project = m_session.project();
    if (m_motion->isVisible()) return m_motion->togglePlay();
    if (m_play.isActive()) return m_play.stop();
    if (project.poses.size() < 2) return m_session.say("Playing needs two poses: keep another one first (C)", true);
    m_move.from = pose::getValues(project, nullptr);
    std::size_t next = 0;
    for (std::size_t q = 0; q < project.poses.size(); ++q)
        if (pose::getValues(project, &project.poses[q]) == m_move.from) next = (q + 1) % project.poses.size();
    m_move.to = pose::getValues(project, &project.poses[next]);
    m_move.target = project.poses[next].id;
    m_move.t = 0;
    m_move.collision.clear();
    m_play.start();
}

void PoseStation::playTick() {
    const auto& project = m_session.project();
    const int q = project.findPose(m_move.target);
    if (q < 0 || m_move.to.size() != project.joints.size()) return m_play.stop();
    m_move.t = std::min(1.0, m_move.t + kPlayStep);
    pose::JointValues values = m_move.from;
    for (std::size_t j = 0; j < values.size(); ++j)
        for (std::size_t k = 0; k < values[j].size() && k < m_move.to[j].size(); ++k)
            values[j][k] += (m_move.to[j][k] - values[j][k]) * m_move.t;
    const auto bodies = pose::makeBodies(project, m_session.tree(), m_session.bonds());
    const auto placed = pose::calcPlaced(project, m_session.tree(), values);
    if (m_move.collision.isEmpty() && !pose::calcCollisions(placed, bodies, 1).empty())
        m_move.collision = " · collides at " + QString::number(std::lround(m_move.t * 100)) + " %";
    const QString name = QString::fromStdString(ivrant::at(project.poses, q).name);
    if (m_move.t < 1) {
        model::ValuesByJoint byId;
        for (std::size_t j = 0; j < values.size(); ++j) byId[project.joints[j].id] = values[j];
        m_session.look("on the way to " + name, byId);
    } else {
        m_session.look(model::PoseId(m_move.target));
    }
    m_status->setText("→ " + name + " " + QString::number(std::lround(m_move.t * 100)) + " %" + m_move.collision);
    if (m_move.t >= 1) {
        m_play.stop();
        m_status->setText("→ " + name + (m_move.collision.isEmpty() ? " · nothing in the way" : m_move.collision));
    }
}

} // namespace ivrant::app
