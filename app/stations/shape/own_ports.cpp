// SPDX-License-Identifier: GPL-3.0-or-later
// The ports of an own shape: their table, and placing them by a click in the picture.
#include <QGroupBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/shell/plain_labels.h"
#include "app/shell/table_tools.h"
#include "app/stations/shape/own_shapes.h"
#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::app {
namespace {

using geometry::Vec3;

struct Axis {
    const char* name;
    Vec3 way;
};
const Axis kAxes[] = {{"+x", Vec3(1, 0, 0)},  {"-x", Vec3(-1, 0, 0)}, {"+y", Vec3(0, 1, 0)},
                      {"-y", Vec3(0, -1, 0)}, {"+z", Vec3(0, 0, 1)},  {"-z", Vec3(0, 0, -1)}};

constexpr double kNearAxis = 0.98; ///< cosine

QString axisName(const Vec3& v) {
    for (const Axis& axis : kAxes)
        if (axis.way.isApprox(v, 1e-6)) return axis.name;
    return numberText(v.x(), 3) + " " + numberText(v.y(), 3) + " " + numberText(v.z(), 3);
}

std::optional<Vec3> readAxis(const QString& text) {
    for (const Axis& axis : kAxes)
        if (text.trimmed() == axis.name) return axis.way;
    const auto pieces = text.split(' ', Qt::SkipEmptyParts);
    if (pieces.size() != 3) return std::nullopt;
    Vec3 v;
    for (int k = 0; k < 3; ++k) {
        const auto number = base::parseNumber(pieces[k].toStdString());
        if (!number) return std::nullopt;
        v[k] = *number;
    }
    return v;
}

} // namespace

QWidget* OwnShapes::makePortBox() {
    auto* box = new QGroupBox("The shape");
    auto* column = new QVBoxLayout(box);
    m_picture = new PortPicture;
    m_picture->setObjectName("ownPicture");
    connect(m_picture, &PortPicture::placed, this, &OwnShapes::placePort);
    m_view = new QComboBox;
    m_view->setObjectName("ownView");
    m_view->setAccessibleName("Seen from");
    m_view->addItems({"seen from the corner", "from the front", "from the side", "from the top", "from the back"});
    connect(m_view, &QComboBox::currentIndexChanged, this,
            [this](int i) { m_picture->look(static_cast<render::View>(i)); });
    m_facts = makeMarkup(new QLabel);
    m_facts->setObjectName("ownFacts");
    m_facts->setWordWrap(true);
    m_facts->setAlignment(Qt::AlignTop);
    m_ownMass = makeField("ownMassNow", "mass in g");
    connect(m_ownMass, &QLineEdit::editingFinished, this, &OwnShapes::massTyped);
    auto* facts = new QVBoxLayout;
    facts->addWidget(m_facts, 1);
    facts->addWidget(m_view);
    auto* massRow = new QHBoxLayout;
    massRow->addWidget(new QLabel("Mass g"));
    massRow->addWidget(m_ownMass, 1);
    facts->addLayout(massRow);
    auto* top = new QHBoxLayout;
    top->addWidget(m_picture);
    top->addLayout(facts, 1);
    column->addLayout(top);
    auto* about = new QLabel("Ports, where other parts connect: mm from the middle of the underside. A click in the "
                             "picture puts the chosen one there.");
    about->setWordWrap(true);
    column->addWidget(about);
    m_ports = new QTableWidget(0, 7);
    m_ports->setTabKeyNavigation(false);
    m_ports->setObjectName("ownPorts");
    m_ports->setAccessibleName("Ports of the shape");
    m_ports->setHorizontalHeaderLabels({"Name", "Kind", "x", "y", "z", "Points", "Reference"});
    m_ports->verticalHeader()->hide();
    m_ports->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    connect(m_ports, &QTableWidget::cellChanged, this, [this] { // later: it fills the table anew
        if (!m_filling) QMetaObject::invokeMethod(this, &OwnShapes::takePorts, Qt::QueuedConnection);
    });
    connect(m_ports, &QTableWidget::currentCellChanged, this, [this] {
        if (!m_filling) showPicture();
    });
    column->addWidget(m_ports, 1);
    auto* row = new QHBoxLayout;
    const auto button = [&](const char* name, const QString& text, auto slot) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        b->setAutoDefault(false);
        connect(b, &QPushButton::clicked, this, slot);
        row->addWidget(b);
        return b;
    };
    m_addPort = button("ownAddPort", "Add port", &OwnShapes::addPort);
    m_removePort = button("ownRemovePort", "Remove port", &OwnShapes::removePort);
    row->addStretch();
    m_remove = button("ownRemove", "Remove shape", &OwnShapes::removeShape);
    m_take = button("ownTake", "Place it", [this] {
        if (!current()) return;
        emit taken(QString::fromStdString(current()->name));
        accept();
    });
    column->addLayout(row);
    return box;
}

void OwnShapes::fillPorts(const std::vector<parts::OwnPort>& ports, int chosen) {
    m_ports->setRowCount(static_cast<int>(ports.size()));
    for (int r = 0; r < m_ports->rowCount(); ++r) {
        const auto& port = ivrant::at(ports, r);
        const auto put = [&](int column, const QString& text) {
            m_ports->setItem(r, column, new QTableWidgetItem(text));
        };
        put(0, QString::fromStdString(port.name));
        auto* kinds = new QComboBox;
        for (const auto kind : parts::listOwnPortKinds())
            kinds->addItem(QString::fromUtf8(parts::getPortKindName(kind).data()), static_cast<int>(kind));
        kinds->setCurrentIndex(kinds->findData(static_cast<int>(port.kind)));
        connect(kinds, &QComboBox::activated, this, &OwnShapes::takePorts, Qt::QueuedConnection);
        m_ports->setCellWidget(r, 1, kinds);
        for (int k = 0; k < 3; ++k) put(2 + k, numberText(port.at[k], 3));
        put(5, axisName(port.axis));
        put(6, axisName(port.reference));
    }
    m_ports->resizeColumnsToContents();
    m_ports->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    if (m_ports->rowCount() > 0) m_ports->setCurrentCell(std::clamp(chosen, 0, m_ports->rowCount() - 1), 0);
}

void OwnShapes::showPicture() { m_picture->show(current(), m_ports->currentRow()); }

/// The chosen port moves to a point of the surface, to a hundredth, and points out of it: along an axis where that is
/// near.
void OwnShapes::placePort(const Vec3& at, const Vec3& normal) {
    const auto shape = current();
    const int row = m_ports->currentRow();
    if (!shape || row < 0) return say("Add a port first, then click where it belongs", true);
    auto ports = shape->own->ports;
    auto& port = ivrant::at(ports, row);
    port.at = (at * 100).array().round() / 100;
    port.axis = (normal * 1000).array().round() / 1000;
    for (const Axis& axis : kAxes)
        if (axis.way.dot(normal) > kNearAxis) port.axis = axis.way;
    port.reference = std::abs(port.axis.normalized().x()) < 0.9 ? Vec3::UnitX() : Vec3::UnitZ();
    putShape(shape->massG, std::move(ports));
}

void OwnShapes::addPort() {
    const auto shape = current();
    if (!shape) return;
    auto ports = shape->own->ports;
    parts::OwnPort port;
    for (int i = 0;; ++i) {
        port.name = "port " + std::to_string(i);
        if (std::none_of(ports.begin(), ports.end(), [&](const auto& p) { return p.name == port.name; })) break;
    }
    port.at = Vec3(0, 0, std::round(shape->bounds.high.z() * 1000) / 1000);
    ports.push_back(port);
    putShape(shape->massG, std::move(ports));
    m_ports->setCurrentCell(m_ports->rowCount() - 1, 0);
}

void OwnShapes::removePort() {
    const auto shape = current();
    const int row = m_ports->currentRow();
    if (!shape || row < 0) return say("Select the port to remove", true);
    auto ports = shape->own->ports;
    ports.erase(ports.begin() + row);
    putShape(shape->massG, std::move(ports));
}

void OwnShapes::takePorts() {
    const auto shape = current();
    if (m_filling || !shape) return;
    std::vector<parts::OwnPort> ports;
    for (int r = 0; r < m_ports->rowCount(); ++r) {
        parts::OwnPort port;
        const auto text = [&](int column) {
            return m_ports->item(r, column) ? m_ports->item(r, column)->text() : QString();
        };
        port.name = text(0).simplified().toStdString();
        port.kind =
            static_cast<parts::PortKind>(qobject_cast<QComboBox*>(m_ports->cellWidget(r, 1))->currentData().toInt());
        for (int k = 0; k < 3; ++k) {
            const auto mm = base::parseNumber(text(2 + k).toStdString());
            if (!mm) {
                say("Port '" + text(0) + "': " + QString::fromStdString(mm.error().message), true);
                return showShape();
            }
            port.at[k] = *mm;
        }
        const auto axis = readAxis(text(5)), reference = readAxis(text(6));
        if (!axis || !reference) {
            say("Port '" + text(0) + "': a direction is +x, -y … or three numbers such as 0 0.6 0.8", true);
            return showShape();
        }
        port.axis = *axis;
        port.reference = *reference;
        if (port.axis.normalized().cross(port.reference).norm() < 1e-3) port.reference = port.axis.unitOrthogonal();
        ports.push_back(std::move(port));
    }
    putShape(shape->massG, std::move(ports));
}

} // namespace ivrant::app
