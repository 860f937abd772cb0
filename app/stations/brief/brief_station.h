// SPDX-License-Identifier: GPL-3.0-or-later
// Brief: what was asked for, as sentences that can be measured; the scale of the model and how offsets are built.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>

#include "app/shell/station.h"

class QVBoxLayout;

namespace ivrant::app {

class BriefStation : public Station {
    Q_OBJECT
public:
    explicit BriefStation(Session& session, QWidget* parent = nullptr);

    [[nodiscard]] QString title() const override { return "Brief"; }
    [[nodiscard]] int number() const override { return 1; }
    [[nodiscard]] verdict::Station kind() const override { return verdict::Station::Brief; }
    [[nodiscard]] QString keysText() const override {
        return "pick a measure, compare it, Enter adds the ask · Delete removes the chosen ask";
    }
    void goTo(const verdict::Place& place) override;
    [[nodiscard]] QWidget* focusTarget() override { return m_measure; }

private:
    void makeComposer(QVBoxLayout* column);
    void makeDesks(QVBoxLayout* column);
    void makeCommands();
    void showProject();
    void showAsks();
    void fillPlaces();
    void showFields();
    void showSentence();
    void loadChosen();
    [[nodiscard]] base::Result<model::Ask> composed() const;
    [[nodiscard]] std::optional<model::Ask> chosen() const;
    void put(bool change);
    void removeChosen();
    void importBrief();
    void exportBrief();
    void showScale();
    void showOffsets();

    Session& m_session;
    QComboBox *m_measure, *m_joint, *m_other, *m_section, *m_pose, *m_function, *m_compare, *m_must;
    QLineEdit *m_value, *m_shape;
    QLabel *m_unit, *m_sentence, *m_empty;
    QPushButton *m_add, *m_change, *m_remove;
    QTableWidget* m_asks;
    QCheckBox* m_shown;
    QLineEdit* m_shownOn;
    QTableWidget* m_pairs;
    QLabel* m_scale;
    QLineEdit* m_real;
    QLineEdit* m_offset;
    QTableWidget* m_ways;
};

} // namespace ivrant::app
