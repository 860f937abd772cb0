// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/command_field.h"

#include <QFocusEvent>
#include <QKeyEvent>

#include "app/shell/theme.h"

#include "core/base/at.h"

namespace ivrant::app {
namespace {
constexpr int kMost = 12;
}

CommandField::CommandField(std::function<std::vector<CommandEntry>()> entries, QWidget* parent)
    : QLineEdit(parent), m_source(std::move(entries)), m_popup(new QListWidget(parent)) {
    setObjectName("ask");
    setAccessibleName("Ask");
    setPlaceholderText("Ask: range neck 3, parts list, keep …  Ctrl K");
    setToolTip("Every command, joint, pose and section (Ctrl+K)");
    m_popup->setObjectName("askPopup");
    m_popup->setFocusPolicy(Qt::NoFocus);
    m_popup->hide();
    connect(this, &QLineEdit::textEdited, this, &CommandField::showMatches);
    connect(m_popup, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) { run(m_popup->row(item)); });
    installEventFilter(this);
}

void CommandField::focusInEvent(QFocusEvent* event) {
    QLineEdit::focusInEvent(event);
    m_entries = m_source();
    selectAll();
    showMatches();
}

bool CommandField::eventFilter(QObject* watched, QEvent* event) {
    if (watched == this && event->type() == QEvent::FocusOut) m_popup->hide();
    return QLineEdit::eventFilter(watched, event);
}

void CommandField::showMatches() {
    const QStringList words = text().toLower().split(' ', Qt::SkipEmptyParts);
    m_shown.clear();
    m_popup->clear();
    for (std::size_t i = 0; i < m_entries.size() && m_popup->count() < kMost; ++i) {
        const QString entry = m_entries[i].text.toLower();
        bool fits = true;
        for (const QString& word : words)
            fits = fits && (entry.startsWith(word) || entry.contains(" " + word) || entry.contains(":" + word));
        if (!fits) continue;
        m_shown.push_back(i);
        m_popup->addItem(m_entries[i].text + (m_entries[i].shortcut.isEmpty() ? "" : "     " + m_entries[i].shortcut));
    }
    if (m_shown.empty())
        m_popup->addItem("nothing of that name");
    else
        m_popup->setCurrentRow(0);
    const QPoint at = mapTo(m_popup->parentWidget(), QPoint(0, height() + 2));
    m_popup->setGeometry(at.x(), at.y(), std::max(width(), scaled(420)),
                         std::min(scaled(26) * m_popup->count() + 8, scaled(330)));
    m_popup->raise();
    m_popup->show();
}

void CommandField::run(int row) {
    if (row < 0 || row >= static_cast<int>(m_shown.size())) return;
    const auto action = m_entries[ivrant::at(m_shown, row)].run;
    clear();
    m_popup->hide();
    clearFocus();
    action();
}

void CommandField::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
    case Qt::Key_Down: m_popup->setCurrentRow(std::min(m_popup->currentRow() + 1, m_popup->count() - 1)); return;
    case Qt::Key_Up: m_popup->setCurrentRow(std::max(m_popup->currentRow() - 1, 0)); return;
    case Qt::Key_Return:
    case Qt::Key_Enter: run(m_popup->currentRow()); return;
    case Qt::Key_Escape:
        clear();
        m_popup->hide();
        clearFocus();
        return;
    default: QLineEdit::keyPressEvent(event);
    }
}

} // namespace ivrant::app
