// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/stand/case_strip.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/shell/plain_labels.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/make/steps.h"
#include "core/pose/kinematics.h"

namespace ivrant::app {

CaseStrip::CaseStrip(Session& session, QWidget* parent)
    : QWidget(parent), m_session(session), m_chips(new QWidget(this)), m_pose(new QComboBox(this)),
      m_step(new QSpinBox(this)) {
    m_pose->setObjectName("standPose");
    m_pose->setAccessibleName("Pose");
    m_pose->setToolTip("The pose in which it is tried");
    m_pose->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    connect(m_pose, &QComboBox::activated, this, [this](int index) {
        const auto id = m_pose->itemData(index).toString().toStdString();
        id.empty() ? m_session.lookAway() : lookAt({id});
    });
    m_step->setObjectName("halfStep");
    m_step->setAccessibleName("Half-built at step");
    m_step->setToolTip("As far as it is built after this step (H)");
    m_step->setRange(1, 1);
    m_step->setMinimumWidth(scaled(104));
    m_step->setKeyboardTracking(false);
    m_step->setPrefix("step ");
    connect(m_step, &QSpinBox::valueChanged, this, [this] { emit caseChosen("half"); });
    auto* every = new QPushButton("every step", this);
    every->setObjectName("everyStep");
    every->setToolTip("Builds it up step by step and stops at the first at which something falls");
    connect(every, &QPushButton::clicked, this, &CaseStrip::everyStepAsked);
    new FlowLayout(m_chips);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(8, 4, 8, 4);
    layout->addWidget(m_pose, 0, Qt::AlignTop);
    layout->addWidget(m_chips, 1);
    layout->addWidget(m_step, 0, Qt::AlignTop);
    layout->addWidget(every, 0, Qt::AlignTop);
}

void CaseStrip::showCases(const QString& key, std::size_t hands) {
    QStringList shown{key, QString::number(hands)};
    for (const model::OwnCase& own : m_session.project().cases) shown << qs(own.id.text) << qs(own.name);
    const auto chips = m_chips->findChildren<QPushButton*>("caseChip");
    if (shown == m_shown) {
        for (auto* chip : chips) chip->setChecked(chip->property("key") == key); // a click turns them over
        return;
    }
    m_shown = shown;
    auto* layout = m_chips->layout();
    while (auto* item = layout->takeAt(0)) {
        if (item->widget()) {
            item->widget()->setObjectName({}); // it lives on until control is back in the event loop
            item->widget()->hide();
            item->widget()->deleteLater();
        }
        delete item;
    }
    const auto add = [&](const QString& itsKey, const QString& name, const QString& tip) {
        auto* chip = new QPushButton(buttonText(name), m_chips);
        chip->setObjectName("caseChip");
        chip->setProperty("chip", true);
        chip->setProperty("key", itsKey);
        chip->setCheckable(true);
        chip->setChecked(itsKey == key);
        chip->setToolTip(tip);
        connect(chip, &QPushButton::clicked, this, [this, itsKey] { emit caseChosen(itsKey); });
        layout->addWidget(chip);
    };
    add("standing", "at rest", "As it stands in the present pose");
    add("slope", "slope", "On ground that leans the way it tips first");
    add("bump", "bump", "In transport: 1.5 g down and 0.5 g sideways, strapped at its feet");
    add("knock", "knock", "A nudge of 1 N at its top, the way it tips first");
    add("carry", "lifted", "By the part nearest its centre of gravity");
    for (const model::OwnCase& own : m_session.project().cases)
        add(qs(own.id.text), qs(own.name), "Your own case; K changes it");
    if (hands > 0)
        add("own", hands > 1 ? QString("%1 hands").arg(hands) : QString("by hand"), "Carried where you said");
    auto* keep = new QPushButton("+", m_chips);
    keep->setObjectName("keepCase");
    keep->setAccessibleName("Keep a case of your own");
    keep->setToolTip("Keep a case of your own, or change the chosen one (K)");
    connect(keep, &QPushButton::clicked, this, &CaseStrip::keepAsked);
    layout->addWidget(keep);
}

void CaseStrip::showProject() {
    const auto& project = m_session.project();
    const QSignalBlocker quietStep(m_step), quietPose(m_pose);
    m_step->setRange(1, std::max(1, static_cast<int>(make::listSteps(project, m_session.tree()).size())));
    const auto present = pose::getValues(project, nullptr);
    const bool looking = !m_session.looksAt().isEmpty();
    m_pose->clear();
    m_pose->addItem("as set", "");
    for (const auto& named : project.poses) {
        m_pose->addItem(qs(named.name), qs(named.id.text));
        if (looking && pose::getValues(project, &named) == present) m_pose->setCurrentIndex(m_pose->count() - 1);
    }
    m_pose->setVisible(m_pose->count() > 1);
}

void CaseStrip::setStep(int step) {
    const QSignalBlocker quiet(m_step);
    m_step->setValue(step);
}

void CaseStrip::nextCase() {
    const auto chips = m_chips->findChildren<QPushButton*>("caseChip");
    for (int i = 0; i < chips.size(); ++i)
        if (chips[i]->isChecked()) return emit caseChosen(chips[(i + 1) % chips.size()]->property("key").toString());
    if (!chips.isEmpty()) emit caseChosen(chips[0]->property("key").toString());
}

void CaseStrip::lookAt(const model::PoseId& id) {
    m_session.look(id);
    emit poseShown();
}

} // namespace ivrant::app
