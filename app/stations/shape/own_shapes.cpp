// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/shape/own_shapes.h"

#include <QDialogButtonBox>
#include <QFileDialog>
#include <QFormLayout>
#include <QGroupBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/shell/table_tools.h"
#include "app/shell/theme.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/mesh_import.h"
#include "core/parts/shape_builder.h"

namespace ivrant::app {
namespace {

using geometry::Vec3;

struct Unit {
    const char* name;
    double mm;
};
constexpr Unit kUnits[] = {
    {"1 mm", 1}, {"1 cm", 10}, {"1 m", 1000}, {"1 inch", 25.4}, {"1 stud pitch", base::kPitchMm}};

} // namespace

QLineEdit* OwnShapes::makeField(const char* name, const QString& hint) {
    auto* field = new QLineEdit;
    field->setObjectName(name);
    field->setAccessibleName(hint);
    field->setPlaceholderText(hint);
    return field;
}

OwnShapes::OwnShapes(Session& session, QWidget* parent)
    : QDialog(parent), m_session(session), m_reading(session.jobs()) {
    setWindowTitle("Own shapes");
    setObjectName("ownShapes");
    resize(900, 620);
    m_list = new QListWidget;
    m_list->setObjectName("ownList");
    m_list->setAccessibleName("Own shapes of this project");
    m_message = new QLabel;
    m_message->setObjectName("ownMessage");
    m_message->setWordWrap(true);
    auto* left = new QVBoxLayout;
    auto* about = new QLabel("A closed mesh can stand in for a part that no family makes. It collides as convex pieces "
                             "fitted to it, weighs what you type, and "
                             "connects by the ports that you put on it.");
    about->setWordWrap(true);
    left->addWidget(about);
    left->addWidget(makeReadBox());
    left->addWidget(new QLabel("In this project"));
    left->addWidget(m_list, 1);
    auto* right = new QVBoxLayout;
    right->addWidget(makePortBox(), 1);
    auto* columns = new QHBoxLayout;
    columns->addLayout(left, 2);
    columns->addLayout(right, 3);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close);
    buttons->button(QDialogButtonBox::Close)->setAutoDefault(false);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    auto* layout = new QVBoxLayout(this);
    layout->addLayout(columns, 1);
    layout->addWidget(m_message);
    layout->addWidget(buttons);
    connect(m_list, &QListWidget::currentRowChanged, this, &OwnShapes::showShape);
    connect(&session, &Session::projectChanged, this, &OwnShapes::showList);
    showList();
}

QWidget* OwnShapes::makeReadBox() {
    auto* box = new QGroupBox("Read a mesh");
    auto* form = new QFormLayout(box);
    m_path = makeField("ownPath", "STL, OBJ, glTF or PLY file");
    auto* browse = new QPushButton("Choose…");
    browse->setAutoDefault(false); // Enter in a field must not open it
    connect(browse, &QPushButton::clicked, this, [this] {
        const QString path = QFileDialog::getOpenFileName(this, "Mesh", {}, "Meshes (*.stl *.obj *.gltf *.glb *.ply)");
        if (!path.isEmpty()) setMeshPath(path);
    });
    auto* row = new QHBoxLayout;
    row->addWidget(m_path, 1);
    row->addWidget(browse);
    form->addRow("File", row);
    m_unit = new QComboBox;
    m_unit->setObjectName("ownUnit");
    for (const Unit& unit : kUnits) m_unit->addItem(unit.name, unit.mm);
    m_up = new QComboBox;
    m_up->setObjectName("ownUp");
    m_up->addItems({"z points up", "y points up"});
    auto* how = new QHBoxLayout;
    how->addWidget(m_unit, 1);
    how->addWidget(m_up, 1);
    form->addRow("A unit is", how);
    m_name = makeField("ownName", "name of the shape");
    form->addRow("Name", m_name);
    m_mass = makeField("ownMass", "grams, weighed or guessed");
    form->addRow("Mass g", m_mass);
    m_read = new QPushButton("Read and fit convex pieces");
    m_read->setObjectName("ownRead");
    m_read->setAutoDefault(false);
    connect(m_read, &QPushButton::clicked, this, &OwnShapes::readMesh);
    form->addRow("", m_read);
    return box;
}

void OwnShapes::setMeshPath(const QString& path) {
    m_path->setText(path);
    const auto usual = files::getUsualImport(path.toStdString());
    m_unit->setCurrentIndex(m_unit->findData(usual.mmPerUnit));
    m_up->setCurrentIndex(usual.yUp ? 1 : 0);
    if (m_name->text().isEmpty()) m_name->setText(QFileInfo(path).completeBaseName().toLower().replace('_', ' '));
}

void OwnShapes::say(const QString& text, bool wrong) {
    m_message->setText(text);
    m_message->setStyleSheet(wrong ? "color: " + theme().ember.name() : QString());
}

void OwnShapes::readMesh() {
    const auto mass = base::parseNumber(m_mass->text().toStdString());
    if (m_path->text().isEmpty()) return say("Choose the mesh's file first", true);
    if (m_name->text().trimmed().isEmpty()) return say("Give the shape a name", true);
    if (!mass || *mass <= 0) return say("Type the mass in grams: weigh the part, or guess it", true);
    const files::MeshImport import{m_unit->currentData().toDouble(), m_up->currentIndex() == 1};
    const std::string path = m_path->text().toStdString(), name = m_name->text().simplified().toLower().toStdString();
    m_read->setEnabled(false);
    say("Reading and fitting convex pieces …", false);
    m_reading.ask(
        "Own shape",
        [path, import, name, massG = *mass](base::Progress& progress) {
            return std::optional(files::importOwnShape(path, import, name, massG, &progress));
        },
        [this](base::Result<parts::ShapePtr> shape) {
            m_read->setEnabled(true);
            if (!shape) return say(QString::fromStdString(shape.error().message), true);
            const parts::ShapePtr read = *shape;
            if (!m_session.apply("Own shape " + QString::fromStdString(read->name),
                                 [&](const model::Project& p) { return model::putOwnShape(p, read); }))
                return say("The project refuses this shape", true);
            m_list->setCurrentRow(m_list->count() - 1);
            say("Read. Now put ports on it, then place it.", false);
        });
}

parts::ShapePtr OwnShapes::current() const {
    const auto& own = m_session.project().ownShapes;
    const int row = m_list->currentRow();
    return row >= 0 && row < static_cast<int>(own.size()) ? at(own, row) : nullptr;
}

void OwnShapes::showList() {
    const int row = m_list->currentRow();
    const QSignalBlocker quiet(m_list);
    m_list->clear();
    for (const auto& shape : m_session.project().ownShapes) m_list->addItem(QString::fromStdString(shape->name));
    m_list->setCurrentRow(std::min(std::max(row, 0), m_list->count() - 1));
    showShape();
}

void OwnShapes::showShape() {
    const auto shape = current();
    for (QWidget* w :
         {static_cast<QWidget*>(m_ownMass), static_cast<QWidget*>(m_ports), static_cast<QWidget*>(m_addPort),
          static_cast<QWidget*>(m_removePort), static_cast<QWidget*>(m_take), static_cast<QWidget*>(m_remove)})
        w->setEnabled(shape != nullptr);
    m_filling = true;
    const int chosen = m_ports->currentRow();
    m_ports->setRowCount(0);
    m_ownMass->clear();
    if (!shape) {
        m_facts->setText("No own shapes yet: read a mesh on the left.");
        m_picture->show(nullptr, -1);
        m_filling = false;
        return;
    }
    const auto& own = *shape->own;
    const Vec3 size = shape->bounds.size();
    m_facts->setText("<b>" + QString::fromStdString(shape->name).toHtmlEscaped() + "</b><br>" +
                     numberText(size.x(), 1) + " × " + numberText(size.y(), 1) + " × " + numberText(size.z(), 1) +
                     " mm<br>" + QString::number(own.mesh.triangles.size()) + " triangles, " +
                     QString::number(own.pieces.size()) + " convex pieces: " + numberText(own.excessShare * 100, 1) +
                     " % more than the mesh; it sticks out of them by " + numberText(own.outsideMm, 2) +
                     " mm at most<br>Density if solid: " +
                     numberText(shape->fillFactor * parts::kDensityGPerMm3 * 1000, 2) + " g/cm³ (mass as typed)");
    m_ownMass->setText(numberText(shape->massG, 3));
    fillPorts(own.ports, chosen);
    m_filling = false;
    showPicture();
}

void OwnShapes::putShape(double massG, std::vector<parts::OwnPort> ports) {
    const auto shape = current();
    const auto next = parts::changeOwnShape(*shape, massG, std::move(ports));
    if (!next) {
        say(QString::fromStdString(next.error().message), true);
        return showShape();
    }
    const auto trial = model::putOwnShape(m_session.project(), *next);
    if (!trial) {
        say(QString::fromStdString(trial.error().message), true);
        return showShape();
    }
    say({}, false);
    m_session.apply("Change " + QString::fromStdString(shape->name),
                    [&](const model::Project& p) { return model::putOwnShape(p, *next); });
}

void OwnShapes::massTyped() {
    const auto shape = current();
    if (!shape || m_ownMass->text() == numberText(shape->massG, 3)) return;
    const auto mass = base::parseNumber(m_ownMass->text().toStdString());
    if (!mass || *mass <= 0) {
        say("Type the mass in grams", true);
        return showShape();
    }
    putShape(*mass, shape->own->ports);
}

void OwnShapes::removeShape() {
    const auto shape = current();
    if (!shape) return;
    const auto trial = model::removeOwnShape(m_session.project(), shape->name);
    if (!trial) return say(QString::fromStdString(trial.error().message), true);
    m_session.apply("Remove " + QString::fromStdString(shape->name),
                    [&](const model::Project& p) { return model::removeOwnShape(p, shape->name); });
}

} // namespace ivrant::app
