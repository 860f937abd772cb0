// SPDX-License-Identifier: GPL-3.0-or-later
// Desk of the Drive station: racks and screws for a travel, and where two wheels mesh.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QTableWidget>
#include <QWidget>

namespace ivrant::app {

class TravelPanel : public QWidget {
    Q_OBJECT
public:
    explicit TravelPanel(QWidget* parent = nullptr);
    [[nodiscard]] QLineEdit* travelEdit() { return m_travel; }

private:
    void listTravels();
    void listFits();

    QLineEdit *m_travel, *m_seconds, *m_force, *m_pair;
    QLabel *m_travelText, *m_fitText;
    QTableWidget *m_travels, *m_fits;
};

} // namespace ivrant::app
