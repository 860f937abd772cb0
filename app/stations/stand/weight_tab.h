// SPDX-License-Identifier: GPL-3.0-or-later
// What each section weighs and does for the balance, and a counterweight to try, dragged over the model.
#pragma once

#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

#include "app/stations/stand/stand_tab.h"
#include "core/stand/ballast.h"

namespace ivrant::app {

class WeightTab : public StandTab {
    Q_OBJECT
public:
    WeightTab(Session& session, QWidget* parent);
    void forget() override;
    /// Begins to try a counterweight, or ends it.
    void tryWeight(bool on);
    [[nodiscard]] bool isTrying() const { return m_on; }
    /// It becomes ballast of the section under it.
    void putIn();
    /// How the model tips with the weight; none: none is tried.
    [[nodiscard]] std::optional<stand::Tipping> after() const;
    void drawOverlay(QPainter& painter, const Sheet3d& sheet) const override;
    bool takesDrag(QPointF position, const Sheet3d& sheet) override;
    void drag(QPointF position, const Sheet3d& sheet) override;

protected:
    void refresh() override;

private:
    void makeRow(QWidget* row);
    void fillSections(const verdict::Report& report);
    void findStandings();
    void tell();
    void takeSmallest();
    void takeBest();
    [[nodiscard]] std::vector<geometry::Vec3> listPlaces() const;
    [[nodiscard]] std::optional<stand::Tipping> tippingWith(double gram) const;

    QLabel *m_about, *m_told;
    QTableWidget* m_sections;
    QPushButton* m_try;
    QWidget* m_row;
    QDoubleSpinBox* m_gram;
    bool m_on = false;
    geometry::Vec3 m_at = geometry::Vec3::Zero(); ///< of the counterweight, world
    int m_section = 0;                            ///< that it sticks to
    std::vector<stand::Standing> m_standings;     ///< now, and on the moves: while a counterweight is tried
};

} // namespace ivrant::app
