// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/flow_layout.h"

#include <QWidget>
#include <algorithm>
#include <utility>

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
    int y = inside.y();
    for (qsizetype first = 0; first < m_items.size();) {
        // As many as fit into a line, each in its middle.
        QList<std::pair<QLayoutItem*, QSize>> line;
        int width = 0, height = 0;
        for (; first < m_items.size(); ++first) {
            QLayoutItem* item = m_items[first];
            if (item->isEmpty()) continue;
            const QSize hint = item->sizeHint();
            const QSize size(std::min(hint.width(), std::max(inside.width(), item->minimumSize().width())),
                             hint.height());
            if (!line.isEmpty() && width + size.width() > inside.width()) break;
            line.append({item, size});
            width += size.width() + spacing();
            height = std::max(height, size.height());
        }
        int x = inside.x();
        for (const auto& [item, size] : line) {
            if (place) item->setGeometry({QPoint(x, y + (height - size.height()) / 2), size});
            x += size.width() + spacing();
        }
        y += height + (first < m_items.size() ? spacing() : 0);
    }
    return y - rect.y() + contentsMargins().bottom();
}

} // namespace ivrant::app
