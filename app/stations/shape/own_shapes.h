// SPDX-License-Identifier: GPL-3.0-or-later
// Own shapes: closed meshes that stand in for parts which no family makes. Reading one, its mass, its ports, taking it
// into the hand.
#pragma once

#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>

#include "app/shell/live.h"
#include "app/shell/session.h"
#include "app/stations/shape/port_picture.h"
#include "core/parts/own_shape.h"

namespace ivrant::app {

class OwnShapes : public QDialog {
    Q_OBJECT
public:
    explicit OwnShapes(Session& session, QWidget* parent = nullptr);
    /// Fills the field of the mesh's file, as if chosen by the person.
    void setMeshPath(const QString& path);

signals:
    /// The person wants to place this shape.
    void taken(const QString& name);

private:
    [[nodiscard]] static QLineEdit* makeField(const char* name, const QString& hint);
    QWidget* makeReadBox();
    QWidget* makePortBox();
    void readMesh();
    void showList();
    void showShape();
    void fillPorts(const std::vector<parts::OwnPort>& ports, int chosen);
    void putShape(double massG, std::vector<parts::OwnPort> ports);
    void addPort();
    void removePort();
    void placePort(const geometry::Vec3& at, const geometry::Vec3& normal);
    void showPicture();
    void takePorts();
    void massTyped();
    void removeShape();
    void say(const QString& text, bool wrong);
    [[nodiscard]] parts::ShapePtr current() const;

    Session& m_session;
    Live<base::Result<parts::ShapePtr>> m_reading;
    QListWidget* m_list;
    QLineEdit *m_path, *m_name, *m_mass, *m_ownMass;
    QComboBox *m_unit, *m_up;
    QPushButton *m_read, *m_take, *m_remove, *m_addPort, *m_removePort;
    PortPicture* m_picture;
    QComboBox* m_view;
    QLabel *m_facts, *m_message;
    QTableWidget* m_ports;
    bool m_filling = false;
};

} // namespace ivrant::app
