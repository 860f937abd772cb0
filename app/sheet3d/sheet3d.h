// SPDX-License-Identifier: GPL-3.0-or-later
// The 3-D sheet: shows the placed model, lets one look around, and hands clicks and drags to the station that owns it.
//
// Look around: right drag turns, middle drag (or Shift with right drag) shifts, wheel zooms at the pointer. Left is the
// station's: a click picks, a drag over empty paper draws a box.
#pragma once

#include <QImage>
#include <QTimer>
#include <QWidget>
#include <functional>
#include <memory>

#include "app/shell/session.h"
#include "render/picture.h"

class QPainter;

namespace ivrant::app {

struct PickHit {
    model::PartSpot spot;
    geometry::Vec3 point = geometry::Vec3::Zero(); ///< world
};

/// What the station wants to know and do. All members may be empty.
struct SheetHooks {
    std::function<render::PartState(model::PartSpot, const model::Part&)> state; ///< colour of a part
    std::function<void(std::vector<render::SectionDraw>&)> extra;                ///< more to draw (a hanging part)
    std::function<void(QPainter&)> overlay;                                      ///< drawn over the picture
    std::function<void(model::PartSpot, Qt::KeyboardModifiers)> clicked;         ///< spot.section −1: paper
    std::function<bool(const PickHit&)> picked; ///< a click on a part, with where; true: it is taken, and no click
    std::function<void(const std::vector<model::PartId>&, Qt::KeyboardModifiers)> boxed;
    std::function<void(QPointF)> hovered;
    std::function<bool(model::PartSpot, QPointF)> dragBegins; ///< true: the station takes the drag
    std::function<void(QPointF)> dragMoves;
    std::function<void()> dragEnds;
};

class Sheet3d : public QWidget {
    Q_OBJECT
public:
    explicit Sheet3d(Session& session, QWidget* parent = nullptr);

    SheetHooks hooks;

    [[nodiscard]] render::Camera& camera() { return m_camera; }
    void look(render::View view);
    void fit();
    void turn(double yaw, double pitch);     ///< the view, by so much, rad
    void zoom(double factor, QPointF about); ///< below 1: nearer; what is at that point of the screen stays there
    /// Fits again unless the person has turned or zoomed the view.
    void fitAgain();
    /// The model in other places than those of the session: a look along a move. None: as the session has it; a change
    /// of the project ends it.
    void showElsewhere(std::optional<model::Placed> placed);
    /// Draws again soon.
    void refresh();
    [[nodiscard]] QPointF toScreen(const geometry::Vec3& world) const;
    [[nodiscard]] std::pair<geometry::Vec3, geometry::Vec3> rayAt(QPointF position) const;
    [[nodiscard]] std::optional<PickHit> pick(QPointF position) const;
    [[nodiscard]] const QImage& lastFrame() const { return m_frame; }
    /// Saves what is shown as PNG; false when it cannot be written.
    bool savePicture(const QString& path);
    /// Gives a station the commands to copy and save what is shown.
    void addPictureCommands(QWidget* station);

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    [[nodiscard]] const model::Placed& placed() const;
    [[nodiscard]] render::Scene makeScene() const;
    void drawFrame(bool refined);
    [[nodiscard]] bool isAllInView() const;
    void boxSelect(Qt::KeyboardModifiers modifiers);
    Session& m_session;
    std::shared_ptr<render::Renderer> m_renderer;
    QString m_trouble;
    std::optional<model::Placed> m_elsewhere;
    render::Camera m_camera;
    QImage m_frame;
    std::optional<render::Scene> m_drawn; ///< what the frame shows
    bool m_stale = true, m_fitted = false;
    bool m_ownView = false; ///< the person has turned or zoomed: resizing no longer fits the view
    double m_frameMs = 0;
    QTimer m_refine, m_repaint;
    enum class Drag { None, Undecided, Station, Box, Orbit, Pan } m_drag = Drag::None;
    QPointF m_pressed, m_last;
    model::PartSpot m_pressedSpot;
};

} // namespace ivrant::app
