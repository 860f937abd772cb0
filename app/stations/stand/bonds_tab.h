// SPDX-License-Identifier: GPL-3.0-or-later
// What the bonds carry in the chosen case: what holds, what falls, which bond is asked most, the way of a load to the
// ground.
#pragma once

#include <QLabel>
#include <QTableWidget>

#include "app/stations/stand/case_strip.h"
#include "app/stations/stand/stand_tab.h"
#include "core/files/results_stand.h"

namespace ivrant::app {

class BondsTab : public StandTab {
    Q_OBJECT
public:
    /// `strip`: where cases are chosen.
    BondsTab(Session& session, CaseStrip* strip, QWidget* parent);
    /// The case that is looked at, null while it is worked out.
    [[nodiscard]] const files::SolvedCase* shown() const { return m_solved.get(); }
    void forget() override;
    /// For another project: at rest, nothing in hand.
    void startAnew();
    void choose(const QString& key);
    /// Taken hold of at the chosen parts.
    void carryChosen();
    void nextBond();
    void keepCase();
    void dropCase();
    /// After a choice of parts: the load of the first of them.
    void showWay();
    void drawOverlay(QPainter& painter, const Sheet3d& sheet) const override;
    [[nodiscard]] std::optional<double> findUse(const model::PartId& part) const override;
    [[nodiscard]] bool hasTints() const override { return true; }

signals:
    void chosen(); ///< a case, by the person

protected:
    void refresh() override { solve(false); }

private:
    void showCases() { m_strip->showCases(m_key, m_hands.size()); }
    void solve(bool asked);
    void show();
    void fillBonds();
    void tryEveryStep();
    [[nodiscard]] std::optional<stand::StandCase> findCase() const;
    /// The forces at rest as the verdicts of a large model found them; null when they did not.
    [[nodiscard]] std::shared_ptr<const stand::CaseResult> findKnown() const;
    void drawWay(QPainter& painter, const Sheet3d& sheet) const;
    void drawMostUsed(QPainter& painter, const Sheet3d& sheet) const;

    CaseStrip* m_strip;
    QLabel* m_outcome;
    QTableWidget* m_bonds;
    QString m_key = "standing";
    std::vector<geometry::Vec3> m_hands; ///< of the case "own": where it is carried
    std::shared_ptr<const files::SolvedCase> m_solved;
    std::map<model::PartId, double> m_useOf; ///< of m_solved: most used bond of each part; −1: falls
    std::vector<int> m_way; ///< contacts that a load takes to the ground: of the chosen part, or of the weakest bond
    int m_wayFrom = -1;     ///< the body it begins in
    Live<files::SolvedCase> m_live;
    Live<QString> m_steps;
};

} // namespace ivrant::app
