// SPDX-License-Identifier: GPL-3.0-or-later
// Scales: several pieces of one shape weighed together give the mass of each, in place of the computed one.
#pragma once

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>

#include "app/shell/session.h"

namespace ivrant::app {

class WeighPanel : public QWidget {
    Q_OBJECT
public:
    explicit WeighPanel(Session& session, QWidget* parent = nullptr);
    void showProject();

private:
    void showEach();
    void note();
    void forget();
    [[nodiscard]] std::vector<model::PartId> listParts() const;

    Session& m_session;
    QComboBox* m_shape;
    QSpinBox* m_pieces;
    QDoubleSpinBox* m_gram;
    QLabel* m_each;
    QPushButton *m_note, *m_forget;
    QTableWidget* m_table;
};

} // namespace ivrant::app
