// SPDX-License-Identifier: GPL-3.0-or-later
// A row of chips or buttons that goes on in the next line where the width ends.
#pragma once

#include <QLayout>
#include <QList>

namespace ivrant::app {

class FlowLayout : public QLayout {
public:
    explicit FlowLayout(QWidget* parent = nullptr, int spacing = 6);
    ~FlowLayout() override;
    void addItem(QLayoutItem* item) override { m_items.append(item); }
    [[nodiscard]] int count() const override { return static_cast<int>(m_items.size()); }
    [[nodiscard]] QLayoutItem* itemAt(int index) const override { return m_items.value(index); }
    QLayoutItem* takeAt(int index) override;
    [[nodiscard]] Qt::Orientations expandingDirections() const override { return {}; }
    [[nodiscard]] bool hasHeightForWidth() const override { return true; }
    [[nodiscard]] int heightForWidth(int width) const override;
    [[nodiscard]] QSize minimumSize() const override;
    [[nodiscard]] QSize sizeHint() const override;
    void setGeometry(const QRect& rect) override;

private:
    /// The height that is used; `place`: the items are put there too.
    int layOut(const QRect& rect, bool place) const;
    QList<QLayoutItem*> m_items;
};

} // namespace ivrant::app
