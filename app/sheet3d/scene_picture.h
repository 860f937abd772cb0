// SPDX-License-Identifier: GPL-3.0-or-later
// A picture of the model as a request has it: with parts moved away, left out or in other colours. A drag turns it.
#pragma once

#include <QImage>
#include <QTimer>
#include <QWidget>
#include <functional>

#include "app/shell/session.h"
#include "render/picture.h"

namespace ivrant::app {

class ScenePicture : public QWidget {
    Q_OBJECT
public:
    explicit ScenePicture(Session& session, QWidget* parent = nullptr);
    /// `placed`: the session's model in other places; none: as the session has it. The view stays as it is turned,
    /// unless the request has one.
    void show(render::PictureRequest request, std::optional<model::Placed> placed = {});
    void clear();
    [[nodiscard]] render::Turn turn() const { return m_turn; }
    /// Drawn over the picture.
    std::function<void(QPainter&)> overlay;
    [[nodiscard]] QPointF toScreen(const geometry::Vec3& world) const;
    [[nodiscard]] const QImage& lastFrame() const { return m_frame; }

signals:
    void turned(); ///< by the person

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void turnBy(double yaw, double pitch);
    void draw();

    Session& m_session;
    std::shared_ptr<render::Renderer> m_renderer;
    render::PictureRequest m_request;
    // What it shows, whatever becomes of the session's model until it is painted.
    std::shared_ptr<const model::Project> m_project;
    model::Placed m_placed; ///< points into m_project
    std::vector<bonds::SectionBondsPtr> m_bonds;
    render::Turn m_turn{-2.2, 0.5};
    render::Camera m_camera;
    QImage m_frame;
    bool m_stale = true, m_empty = true;
    QPointF m_last;
};

} // namespace ivrant::app
