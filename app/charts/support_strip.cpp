// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/charts/support_strip.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "app/shell/theme.h"

namespace ivrant::app {

SupportStrip::SupportStrip(QWidget* parent) : QWidget(parent) {
    setObjectName("supportStrip");
    setAccessibleName("Which foot stands when");
    setToolTip("filled: the foot carries there");
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void SupportStrip::show(QStringList feet, std::vector<std::vector<char>> stands) {
    m_feet = std::move(feet);
    m_stands = std::move(stands);
    setVisible(!m_stands.empty());
    updateGeometry();
    update();
}

void SupportStrip::setPlace(int place) {
    m_place = place;
    update();
}

int SupportStrip::rowHeight() const { return fontMetrics().height() + 2; }
int SupportStrip::nameWidth() const {
    int wide = 0;
    for (const QString& name : m_feet) wide = std::max(wide, fontMetrics().horizontalAdvance(name));
    return wide + 8;
}
QSize SupportStrip::sizeHint() const {
    return {nameWidth() + 120, std::max(1, static_cast<int>(m_feet.size())) * rowHeight() + 4};
}

double SupportStrip::xOf(int place) const {
    const int count = std::max(1, places() - 1);
    return nameWidth() + static_cast<double>(width() - nameWidth() - 2) * place / count;
}

void SupportStrip::choose(double x) {
    if (places() < 2) return;
    const double share = (x - nameWidth()) / std::max(1, width() - nameWidth() - 2);
    const int place = std::clamp(static_cast<int>(share * (places() - 1) + 0.5), 0, places() - 1);
    setPlace(place);
    emit placeChosen(place);
}

void SupportStrip::mousePressEvent(QMouseEvent* event) { choose(event->position().x()); }
void SupportStrip::mouseMoveEvent(QMouseEvent* event) { choose(event->position().x()); }

void SupportStrip::keyPressEvent(QKeyEvent* event) {
    const int by = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (by == 0 || places() < 2) return QWidget::keyPressEvent(event);
    const int place = std::clamp(m_place + by, 0, places() - 1);
    setPlace(place);
    emit placeChosen(place);
}

void SupportStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    for (int f = 0; f < static_cast<int>(m_feet.size()); ++f) {
        const double top = 2 + f * rowHeight();
        painter.setPen(t.ink);
        painter.drawText(QRectF(0, top, nameWidth(), rowHeight()), Qt::AlignLeft | Qt::AlignVCenter, m_feet[f]);
        painter.setPen(QPen(t.rule, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(xOf(0), top + 3, xOf(places() - 1) - xOf(0), rowHeight() - 6));
        painter.setPen(Qt::NoPen);
        painter.setBrush(t.brine);
        for (int k = 0; k + 1 < places(); ++k)
            if (m_stands[static_cast<std::size_t>(k)][static_cast<std::size_t>(f)])
                painter.drawRect(QRectF(xOf(k), top + 3, xOf(k + 1) - xOf(k) + 0.5, rowHeight() - 6));
    }
    if (places() < 2) return;
    painter.setPen(QPen(hasFocus() ? t.ember : t.ink, 1.5));
    painter.drawLine(QPointF(xOf(m_place), 0), QPointF(xOf(m_place), height()));
}

} // namespace ivrant::app
