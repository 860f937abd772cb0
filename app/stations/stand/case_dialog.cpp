// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/stand/case_dialog.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/shell/text.h"
#include "app/shell/theme.h"

namespace ivrant::app {
namespace {

QString countParts(std::size_t count) { return QString::number(count) + (count == 1 ? " part" : " parts"); }

enum Held { OnGround, Strapped, KeptHands, ChosenHands };

} // namespace

CaseDialog::CaseDialog(const model::Project& project, model::OwnCase own, std::vector<model::PartId> chosen,
                       QWidget* parent)
    : QDialog(parent), m_own(std::move(own)), m_chosen(std::move(chosen)), m_name(new QLineEdit(qs(m_own.name), this)),
      m_held(new QComboBox(this)), m_pose(new QComboBox(this)), m_pushChosen(new QCheckBox("at the chosen part", this)),
      m_wrong(new QLabel(this)) {
    setWindowTitle(m_own.id.empty() ? "New case" : "Case");
    auto* layout = new QVBoxLayout(this);
    auto* form = new QFormLayout;
    layout->addLayout(form);
    m_name->setObjectName("caseName");
    m_name->setAccessibleName("Name of the case");
    m_name->setPlaceholderText("such as: car boot");
    form->addRow("Name", m_name);
    m_pose->setObjectName("casePose");
    m_pose->addItem("the first pose", "");
    for (const auto& pose : project.poses) {
        m_pose->addItem(qs(pose.name), qs(pose.id.text));
        if (pose.id == m_own.pose) m_pose->setCurrentIndex(m_pose->count() - 1);
    }
    form->addRow("In", m_pose);
    m_held->setObjectName("caseHeld");
    m_held->addItem("stands on the ground", OnGround);
    m_held->addItem("is strapped down at its feet", Strapped);
    if (!m_own.hands.empty()) m_held->addItem("is carried where it was: " + countParts(m_own.hands.size()), KeptHands);
    if (!m_chosen.empty()) m_held->addItem("is carried by the chosen " + countParts(m_chosen.size()), ChosenHands);
    m_held->setCurrentIndex(m_held->findData(!m_own.hands.empty() ? KeptHands : m_own.strapped ? Strapped : OnGround));
    form->addRow("The model", m_held);
    const auto number = [&](const char* name, const QString& label, double value, double least, double most,
                            int decimals, const QString& unit, const QString& tip) {
        auto* box = new QDoubleSpinBox(this);
        box->setObjectName(name);
        box->setAccessibleName(label);
        box->setRange(least, most);
        box->setDecimals(decimals);
        box->setSuffix(unit);
        box->setValue(value);
        box->setMinimumWidth(scaled(170));
        box->setToolTip(tip);
        form->addRow(label, box);
        return box;
    };
    m_toward = number("caseToward", "Towards", m_own.towardDeg, -360, 360, 0, "°",
                      "Way of slope, shaking and push, from x towards y");
    m_slope = number("caseSlope", "Slope of the ground", m_own.slopeDeg, 0, 60, 1, "°", "Falls away that way");
    m_down = number("caseDown", "Pressed down with", m_own.downG, 0, 20, 2, " × its weight",
                    "1: its own weight; a jolt in a car is about 1.5 (not measured)");
    m_aside = number("caseAside", "Shaken sideways with", m_own.asideG, 0, 20, 2, " × its weight",
                     "In transport about 0.5 (not measured)");
    m_push = number("casePush", "Pushed with", m_own.pushN, 0, 1000, 2, " N",
                    "Across, at the highest part or the chosen one");
    m_pushChosen->setObjectName("casePushChosen");
    m_pushChosen->setEnabled(m_chosen.size() == 1 || !m_own.pushed.empty());
    m_pushChosen->setChecked(!m_own.pushed.empty());
    m_pushChosen->setToolTip("Else at the highest part. Choose one part before");
    form->addRow("", m_pushChosen);
    m_wrong->setObjectName("caseWrong");
    layout->addWidget(m_wrong);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
    layout->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &CaseDialog::take);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    m_name->setFocus();
}

void CaseDialog::take() {
    m_own.name = m_name->text().trimmed().toStdString();
    if (m_own.name.empty()) {
        m_wrong->setText("A case needs a name");
        return m_name->setFocus();
    }
    m_own.pose.text = m_pose->currentData().toString().toStdString();
    const int held = m_held->currentData().toInt();
    m_own.strapped = held == Strapped;
    if (held == ChosenHands) m_own.hands = m_chosen;
    if (held == OnGround || held == Strapped) m_own.hands.clear();
    m_own.towardDeg = m_toward->value();
    m_own.slopeDeg = m_slope->value();
    m_own.downG = m_down->value();
    m_own.asideG = m_aside->value();
    m_own.pushN = m_push->value();
    if (!m_pushChosen->isChecked())
        m_own.pushed = {};
    else if (m_chosen.size() == 1)
        m_own.pushed = m_chosen.front();
    accept();
}

} // namespace ivrant::app
