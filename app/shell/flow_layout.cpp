// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/flow_layout.h"

#include <QWidget>
#include <algorithm>

namespace ivrant::app {

FlowLayout::FlowLayout(QWidget* parent, int spacing) : QLayout(parent) {
    setContentsMargins(0, 0, 0, 0);
    setSpacing(spacing);
}

FlowLayout::~FlowLayout() {
    while (QLayoutItem* item = FlowLayout::takeAt(0)) delete item;
}

QLayoutItem* FlowLayout::takeAt(int index) {
    return index >= 0 && index < m_items.size() ? m_items.takeAt(index) : nullptr;
}

int FlowLayout::heightForWidth(int width) const { return layOut({0, 0, width, 0}, false); }

QSize FlowLayout::minimumSize() const {
    QSize size;
    for (const QLayoutItem* item : m_items)
        if (!item->isEmpty()) size = size.expandedTo(item->minimumSize());
    const QMargins margins = contentsMargins();
    return size + QSize(margins.left() + margins.right(), margins.top() + margins.bottom());
}

/// All of it in one line.
QSize FlowLayout::sizeHint() const {
    int width = 0, height = 0;
    for (const QLayoutItem* item : m_items) {
        if (item->isEmpty()) continue;
        width += item->sizeHint().width() + spacing();
        height = std::max(height, item->sizeHint().height());
    }
    const QMargins margins = contentsMargins();
    return QSize(width, height) + QSize(margins.left() + margins.right(), margins.top() + margins.bottom());
}

void FlowLayout::setGeometry(const QRect& rect) {
    QLayout::setGeometry(rect);
    layOut(rect, true);
}

int FlowLayout::layOut(const QRect& rect, bool place) const {
    const QRect inside = rect.marginsRemoved(contentsMargins());
    int x = inside.x(), y = inside.y(), line = 0;
    for (QLayoutItem* item : m_items) {
        if (item->isEmpty()) continue;
        const QSize size(std::min(item->sizeHint().width(), std::max(inside.width(), item->minimumSize().width())),
                         item->sizeHint().height());
        if (x > inside.x() && x + size.width() > inside.right() + 1) {
            x = inside.x();
            y += line + spacing();
            line = 0;
        }
        if (place) item->setGeometry({QPoint(x, y), size});
        x += size.width() + spacing();
        line = std::max(line, size.height());
    }
    return y + line - rect.y() + contentsMargins().bottom();
}

} // namespace ivrant::app
