// SPDX-License-Identifier: GPL-3.0-or-later
// Where do the keys go? A frame round what the keyboard has led to; the mouse needs none.
#pragma once

#include <QFocusFrame>
#include <QObject>

namespace ivrant::app {

class FocusMark : public QObject {
    Q_OBJECT
public:
    explicit FocusMark(QWidget* window);
    /// None: nothing is marked.
    [[nodiscard]] QWidget* marked() const { return m_frame->widget(); }

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    QWidget* m_window;
    QFocusFrame* m_frame;
};

} // namespace ivrant::app
