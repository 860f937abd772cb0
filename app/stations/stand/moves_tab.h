// SPDX-License-Identifier: GPL-3.0-or-later
// The moves of a model: which comes nearest to tipping, where on the way, and the model there.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <QTimer>

#include "app/charts/tip_way.h"
#include "app/stations/stand/stand_tab.h"

namespace ivrant::app {

class MovesTab : public StandTab {
    Q_OBJECT
public:
    MovesTab(Session& session, QWidget* parent);
    void forget() override;
    void drawOverlay(QPainter& painter, const Sheet3d& sheet) const override;
    /// To that place of that move; false when there is none of this key.
    bool goTo(const std::string& key);
    /// The model there; overlayChanged tells when it is another.
    [[nodiscard]] const std::optional<stand::Standing>& place() const { return m_place; }
    [[nodiscard]] TipWay* chart() { return m_chart; }
    void play();

protected:
    /// The move that was chosen stays so when it is still there; else the one that comes nearest to tipping.
    void refresh() override;
    void hideEvent(QHideEvent* event) override;

private:
    [[nodiscard]] const study::MoveTip* chosen() const;
    void choose(int index);
    void showAt(double share);

    ReportPtr m_report;
    QString m_asked; ///< key of the move to show next; empty: the one that is shown
    QComboBox* m_choice;
    TipWay* m_chart;
    QSlider* m_way;
    QPushButton* m_play;
    QLabel* m_told;
    QTimer m_clock;
    std::optional<stand::Standing> m_place;
};

} // namespace ivrant::app
