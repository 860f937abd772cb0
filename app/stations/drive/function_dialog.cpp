// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/drive/function_dialog.h"

#include <QDialogButtonBox>
#include <QFormLayout>

#include "app/shell/table_tools.h"
#include "core/base/units.h"

namespace ivrant::app {

FunctionDialog::FunctionDialog(model::DriveFunction function, const std::vector<model::Joint>& joints, QWidget* parent)
    : QDialog(parent), m_function(std::move(function)),
      m_name(new QLineEdit(QString::fromStdString(m_function.name), this)),
      m_amount(new QLineEdit(numberText(m_function.amount, 3), this)),
      m_radius(new QLineEdit(numberText(m_function.radiusMm, 3), this)),
      m_rate(new QLineEdit(numberText(m_function.ratePerMm, 3), this)),
      m_from(new QLineEdit(numberText(m_function.fromDeg, 3), this)),
      m_travel(new QLineEdit(numberText(m_function.travel, 3), this)),
      m_within(new QLineEdit(m_function.withinS ? numberText(*m_function.withinS, 3) : "", this)),
      m_rpm(new QLineEdit(m_function.wantedRpm ? numberText(*m_function.wantedRpm, 3) : "", this)),
      m_load(new QComboBox(this)), m_joint(new QComboBox(this)),
      m_hold(new QCheckBox("must stay where it is without power", this)),
      m_together(new QCheckBox("may move at the same time as others of its motor", this)),
      m_amountText(new QLabel(this)), m_fromText(new QLabel(this)), m_wrong(new QLabel(this)) {
    setWindowTitle("Function");
    m_form = new QFormLayout(this);
    QFormLayout* form = m_form;
    m_load->addItem("nothing", "none");
    m_load->addItem("friction", "friction");
    m_load->addItem("a weight on a drum", "lift");
    m_load->addItem("an arm with a weight", "arm");
    m_load->addItem("what hangs on a joint of the model", "joint");
    m_load->addItem("a vehicle that climbs", "slope");
    m_load->addItem("an elastic band", "band");
    m_joint->addItem("no joint", "");
    for (const model::Joint& joint : joints)
        m_joint->addItem(QString::fromStdString(joint.name), QString::fromStdString(joint.id.text));
    m_joint->setCurrentIndex(std::max(0, m_joint->findData(QString::fromStdString(m_function.joint.text))));
    m_joint->setToolTip("What the function turns in the model: its weight over the whole travel becomes the load");
    m_load->setCurrentIndex(m_load->findData(model::getLoadKindName(m_function.load)));
    m_hold->setChecked(m_function.mustHold);
    m_together->setChecked(m_function.withOthers);
    m_together->setObjectName("functionTogether");
    m_wrong->setWordWrap(true);
    form->addRow("Name", m_name);
    form->addRow("Against it stands", m_load);
    form->addRow(m_amountText, m_amount);
    form->addRow("Joint", m_joint);
    form->addRow("Radius, mm", m_radius);
    form->addRow("Harder by, N for each mm", m_rate);
    form->addRow(m_fromText, m_from);
    form->addRow("Travel, ° (rack: mm); 0 endless", m_travel);
    form->addRow("Asked: within, s", m_within);
    form->addRow("Asked: at least, rpm (rack: mm/s)", m_rpm);
    form->addRow("", m_hold);
    form->addRow("", m_together);
    form->addRow(m_wrong);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
    form->addRow(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &FunctionDialog::take);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(m_load, &QComboBox::currentIndexChanged, this, &FunctionDialog::showKind);
    const std::pair<QLineEdit*, const char*> named[] = {
        {m_name, "functionName"}, {m_amount, "functionAmount"}, {m_radius, "functionRadius"}, {m_from, "functionFrom"},
        {m_rate, "functionRate"}, {m_travel, "functionTravel"}, {m_within, "functionWithin"}, {m_rpm, "functionRpm"}};
    for (const auto& [edit, name] : named) edit->setObjectName(name);
    m_load->setObjectName("functionLoad");
    m_joint->setObjectName("functionJoint");
    showKind();
}

void FunctionDialog::showKind() {
    const QString kind = m_load->currentData().toString();
    m_amountText->setText(kind == "friction" ? "Torque, N·mm (rack: N)"
                          : kind == "band"   ? "Pull at the start, N"
                                             : "Mass, g");
    m_fromText->setText(kind == "slope"   ? "Slope, °"
                        : kind == "joint" ? "Joint's value at the start, °"
                                          : "Starts above level, °");
    m_form->setRowVisible(m_amount, kind != "none" && kind != "joint");
    m_form->setRowVisible(m_joint, kind == "joint" || !m_function.joint.empty());
    m_form->setRowVisible(m_radius, kind == "lift" || kind == "arm" || kind == "slope" || kind == "band");
    m_form->setRowVisible(m_rate, kind == "band");
    m_form->setRowVisible(m_from, kind == "arm" || kind == "slope" || kind == "joint");
    adjustSize();
}

void FunctionDialog::take() {
    model::DriveFunction next = m_function;
    next.name = m_name->text().trimmed().toStdString();
    next.load = *model::findLoadKind(m_load->currentData().toString().toStdString());
    next.mustHold = m_hold->isChecked();
    next.withOthers = m_together->isChecked();
    const auto read = [&](QLineEdit* edit, double& value) {
        const auto number = base::parseNumber(edit->text().toStdString());
        if (number) {
            value = *number;
            return true;
        }
        m_wrong->setText("'" + edit->text() + "' is no number");
        edit->setFocus();
        return false;
    };
    if (!read(m_amount, next.amount) || !read(m_radius, next.radiusMm) || !read(m_rate, next.ratePerMm) ||
        !read(m_from, next.fromDeg) || !read(m_travel, next.travel))
        return;
    const auto readAsk = [&](QLineEdit* edit, std::optional<double>& value) {
        value.reset();
        if (edit->text().trimmed().isEmpty()) return true;
        double number = 0;
        if (!read(edit, number)) return false;
        value = number;
        return true;
    };
    if (!readAsk(m_within, next.withinS) || !readAsk(m_rpm, next.wantedRpm)) return;
    next.joint = {m_joint->currentData().toString().toStdString()};
    if (next.load == model::LoadKind::Joint && next.joint.empty()) {
        m_wrong->setText("Choose the joint whose weight loads the function");
        m_joint->setFocus();
        return;
    }
    m_function = next;
    accept();
}

} // namespace ivrant::app
