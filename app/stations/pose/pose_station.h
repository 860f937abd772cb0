// SPDX-License-Identifier: GPL-3.0-or-later
// Pose: how far joints move and what stops them, whether they hold, in which poses the figure stands.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTabWidget>
#include <QTableWidget>
#include <QTimer>

#include "app/charts/range_ladder.h"
#include "app/sheet3d/view_bar.h"
#include "app/shell/station.h"
#include "app/stations/pose/pose_drag.h"

class QHBoxLayout;
class QDoubleSpinBox;

namespace ivrant::app {

class PoseTab;
class CompareTab;
class LinesTab;
class MotionTab;
class StudyTab;

class PoseStation : public Station {
    Q_OBJECT
public:
    explicit PoseStation(Session& session, QWidget* parent = nullptr);

    [[nodiscard]] QString title() const override { return "Pose"; }
    [[nodiscard]] verdict::Station kind() const override { return verdict::Station::Pose; }
    [[nodiscard]] int number() const override { return 3; }
    [[nodiscard]] QString keysText() const override {
        return "drag a limb · L the whole limb follows · [ ] step the joint · C keeps the pose · F fans · Space plays "
               "· Home End show what stops";
    }
    void goTo(const verdict::Place& place) override;
    [[nodiscard]] QWidget* focusTarget() override { return m_ladder; }
    [[nodiscard]] Sheet3d* sheet() { return m_sheet; }
    [[nodiscard]] MotionTab* motionTab() { return m_motion; }
    [[nodiscard]] RangeLadder* ladder() { return m_ladder; }
    [[nodiscard]] bool isPlaying() const { return m_play.isActive(); }

private:
    void makeInspector(QHBoxLayout* row);
    void makeCommands();
    void makeHooks();
    void makeTabs();
    void tiltTyped();
    void showProject();
    void showReport();
    void showJoint();
    void showHolding();
    void rebuildChips();
    void drawOverlay(QPainter& painter) const;
    void drawFan(QPainter& painter, int joint, bool current) const;
    void drawPlumb(QPainter& painter) const;
    void drawSummary(QPainter& painter) const;
    void drawCloud(QPainter& painter) const;
    void drawOther(QPainter& painter) const;
    void showMotion();
    void stanceMenu(class QMenu& menu, const model::PoseId& id);
    void saveChart();
    void stepJoint(int direction);
    void valueTyped();
    void wantedTyped();
    void kindChosen(int index);
    void keepPose();
    void takePose(const model::PoseId& id);
    void lookAway();
    void poseMenu(const model::PoseId& id, QPoint at);
    void play();
    void playTick();
    [[nodiscard]] const model::Joint* joint() const;

    Session& m_session;
    Sheet3d* m_sheet;
    ViewBar* m_views = nullptr;
    PoseDrag m_drag;
    RangeLadder* m_ladder;
    QTableWidget* m_holding;
    QTabWidget* m_tabs;
    QDoubleSpinBox* m_tilt = nullptr;
    std::vector<PoseTab*> m_studies;
    CompareTab* m_compare = nullptr;
    MotionTab* m_motion = nullptr;
    LinesTab* m_lines = nullptr;
    StudyTab* m_study = nullptr;
    QWidget* m_chips;
    QLabel* m_status;
    QLabel* m_jointName;
    QComboBox* m_kind;
    QLineEdit* m_value;
    QLineEdit* m_wanted;
    QLabel* m_stopText;
    QAction *m_fans = nullptr, *m_limb = nullptr;
    QTimer m_play;
    struct Move {
        pose::JointValues from, to;
        model::PoseId target;
        double t = 0;
        QString collision;
    } m_move;
};

} // namespace ivrant::app
