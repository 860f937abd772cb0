// SPDX-License-Identifier: GPL-3.0-or-later
// What went wrong that must not be overlooked: a bar over the sheet that stays until it is answered.
#pragma once

#include <QFrame>
#include <QLabel>
#include <QPushButton>

namespace ivrant::app {

class NoticeBar : public QFrame {
    Q_OBJECT
public:
    explicit NoticeBar(QWidget* parent);
    /// Adds a failure; those not answered yet stay. `canSaveElsewhere`: offers to save under another name.
    void show(const QString& text, bool canSaveElsewhere);
    [[nodiscard]] QString text() const { return isHidden() ? QString() : m_text->text(); }
    void dismiss();

signals:
    void saveElsewhere();

private:
    QLabel* m_text;
    QPushButton* m_save;
    QStringList m_waiting;
};

} // namespace ivrant::app
