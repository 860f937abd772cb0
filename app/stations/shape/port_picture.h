// SPDX-License-Identifier: GPL-3.0-or-later
// Picture of an own shape with its ports; a click puts the chosen port where the surface is hit.
#pragma once

#include <QImage>
#include <QWidget>

#include "core/parts/own_shape.h"
#include "render/camera.h"

namespace ivrant::app {

class PortPicture : public QWidget {
    Q_OBJECT
public:
    explicit PortPicture(QWidget* parent = nullptr);
    /// `chosen`: index of the port to emphasise, −1 for none.
    void show(const parts::ShapePtr& shape, int chosen);
    void look(render::View view);
    /// Where a point of the shape is in the widget.
    [[nodiscard]] QPointF toScreen(const geometry::Vec3& p) const;

signals:
    /// A place on the surface (mm) and the direction out of it.
    void placed(const geometry::Vec3& at, const geometry::Vec3& normal);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    void draw();
    parts::ShapePtr m_shape;
    int m_chosen = -1;
    render::View m_view = render::View::Corner;
    QImage m_image;
    QString m_trouble;
};

} // namespace ivrant::app
