// SPDX-License-Identifier: GPL-3.0-or-later
// Driven motions: one joint turns, everything that loops carry along follows; played in the sheet above, with paths,
// and plotted over the turn.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSlider>
#include <QSpinBox>
#include <QTableWidget>
#include <QTimer>

#include "app/charts/support_strip.h"
#include "app/charts/turn_plots.h"
#include "app/stations/pose/pose_tab.h"
#include "core/study/walk.h"

class QPainter;
class QVBoxLayout;

namespace ivrant::app {

class Sheet3d;

class MotionTab : public PoseTab {
    Q_OBJECT
public:
    MotionTab(Session& session, QWidget* parent);

    /// Of the current joint.
    void addMotion();
    /// What is selected in Shape is followed too, or no more.
    void traceSelected();
    /// What is selected in Shape belongs to feet: the model walks on those sections, or no more.
    void footSelected();
    void remove();
    void togglePlay();
    [[nodiscard]] bool isPlaying() const { return m_timer.isActive(); }
    /// Marks the motion that a verdict is about and goes to where it matters; false: it is about none.
    bool goTo(const verdict::Place& place);
    /// The model at the chosen place of the motion; none: it is not being looked at.
    [[nodiscard]] std::optional<model::Placed> shownPlace() const;
    /// Paths, and what meets at the chosen place.
    void draw(QPainter& painter, const Sheet3d& sheet) const;
    [[nodiscard]] bool isMeeting(const model::PartId& id) const { return m_meeting.count(id) > 0; }

protected:
    void refresh() override;
    void hideEvent(QHideEvent* event) override;

private:
    [[nodiscard]] const model::Motion* motion() const;
    [[nodiscard]] std::shared_ptr<const study::MotionStudy> study() const;
    void change(const QString& name, const std::function<void(model::Motion&)>& edit);
    void makeControls(QVBoxLayout* layout);
    void fillBox();
    void showStudy();
    void tell();
    void setPlace(int place);
    void tick();
    void overTyped();
    void takePlace();
    [[nodiscard]] const study::WalkPlace* walkPlace(const study::MotionStudy& study) const;
    [[nodiscard]] std::set<model::PartId> findMeeting() const;
    void saveCsv();

    QComboBox* m_which;
    QLineEdit *m_name, *m_over;
    QSpinBox* m_places;
    QPushButton *m_play, *m_trace, *m_foot, *m_remove, *m_take;
    QSlider* m_slider;
    QLabel *m_at, *m_told;
    QTableWidget* m_joints;
    TurnPlots* m_plots;
    SupportStrip* m_strip;      ///< hidden unless it walks
    QWidget *m_bar, *m_results; ///< hidden without a motion
    QTimer m_timer;
    std::set<model::PartId> m_meeting; ///< at the place that is shown
    int m_place = 0;
    bool m_filling = false;
    bool m_looked = false; ///< the person has moved the slider or played: the sheet shows the place
};

} // namespace ivrant::app
