// SPDX-License-Identifier: GPL-3.0-or-later
// Tip rose: how far the model may lean in every direction before it falls, seen from above, against what is asked.
#pragma once

#include <QWidget>
#include <optional>

#include "core/stand/tipping.h"

namespace ivrant::app {

class TipRose : public QWidget {
    Q_OBJECT
public:
    explicit TipRose(QWidget* parent = nullptr);
    /// `after`: the same with a change that is being tried. `topMm`: height of the push that is told.
    void show(std::optional<stand::Tipping> tipping, double askedDeg, double topMm,
              std::optional<stand::Tipping> after = {});
    void paintChart(QPainter& painter, const QRectF& area) const;
    [[nodiscard]] bool saveChart(const QString& path) const;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::optional<stand::Tipping> m_tipping, m_after;
    double m_askedDeg = 8, m_topMm = 1;
};

} // namespace ivrant::app
