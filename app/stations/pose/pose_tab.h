// What every study below Pose's sheet has in common: it is computed in the background, only while it is shown.
#pragma once

#include <QComboBox>
#include <QWidget>

#include "app/shell/live.h"
#include "app/shell/session.h"

namespace ivrant::app {

/// A snapshot that a study works on by itself, on any thread.
struct PoseSnapshot {
    std::shared_ptr<const model::Project> project;
    model::SectionTree tree;
    std::vector<bonds::SectionBondsPtr> bonds;
    model::Stance stance;
    pose::JointValues values;
    [[nodiscard]] pose::RangeContext context() const { return pose::makeRangeContext(*project, tree, bonds); }
};

class PoseTab : public QWidget {
    Q_OBJECT
public:
    PoseTab(Session& session, QWidget* parent) : QWidget(parent), m_session(session) {}
    /// The project or the present joint changed: compute anew if shown, else when shown next.
    void projectChanged() {
        m_stale = true;
        if (isVisible()) refreshNow();
    }

protected:
    void showEvent(QShowEvent* event) override {
        QWidget::showEvent(event);
        if (m_stale) refreshNow();
    }
    virtual void refresh() = 0;

    [[nodiscard]] PoseSnapshot snapshot() const;
    /// Sets several joints of the model, as one entry of the undo list.
    void takeValues(const QString& name, const pose::JointValues& values);
    [[nodiscard]] int currentJoint() const { return m_session.project().findJoint(m_session.currentJoint()); }
    /// Fills a box with the joints' names, keeping the choice where it can.
    void fillJoints(QComboBox* box) const;
    [[nodiscard]] QString jointName(int joint) const;

    Session& m_session;

private:
    void refreshNow() {
        m_stale = false;
        refresh();
    }
    bool m_stale = true;
};

} // namespace ivrant::app
