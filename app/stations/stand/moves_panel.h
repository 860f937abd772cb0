// The moves of a model beside its tip rose: which comes nearest to tipping, where on the way, and the model there.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <QTimer>

#include "app/charts/tip_way.h"
#include "core/verdict/report.h"

namespace ivrant::app {

class MovesPanel : public QWidget {
    Q_OBJECT
public:
    explicit MovesPanel(QWidget* parent = nullptr);
    /// The move that was chosen stays so when it is still there; else the one that comes nearest to tipping.
    void setReport(std::shared_ptr<const verdict::Report> report);
    /// To that place of that move; false when there is none of this key.
    bool goTo(const std::string& key);
    [[nodiscard]] const std::optional<stand::Standing>& place() const { return m_place; }
    [[nodiscard]] TipWay* chart() { return m_chart; }
    void play();

signals:
    /// What place() tells has changed.
    void placeChanged();

protected:
    void hideEvent(QHideEvent* event) override;

private:
    [[nodiscard]] const study::MoveTip* chosen() const;
    void choose(int index);
    void showAt(double share);

    std::shared_ptr<const verdict::Report> m_report;
    QComboBox* m_choice;
    TipWay* m_chart;
    QSlider* m_way;
    QPushButton* m_play;
    QLabel* m_told;
    QTimer m_clock;
    std::optional<stand::Standing> m_place;
};

} // namespace ivrant::app
