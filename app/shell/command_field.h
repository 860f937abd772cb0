// SPDX-License-Identifier: GPL-3.0-or-later
// The ask field (Ctrl+K): type what you want; every command, joint, pose and section can be reached from here.
#pragma once

#include <QLineEdit>
#include <QListWidget>
#include <functional>

namespace ivrant::app {

struct CommandEntry {
    QString text; ///< "go Neck 3", "Keep this pose"
    QString shortcut;
    std::function<void()> run;
};

class CommandField : public QLineEdit {
    Q_OBJECT
public:
    /// `entries` is asked anew whenever the field is entered.
    CommandField(std::function<std::vector<CommandEntry>()> entries, QWidget* parent = nullptr);
    [[nodiscard]] QListWidget* popup() { return m_popup; }

protected:
    void focusInEvent(QFocusEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void showMatches();
    void run(int row);
    std::function<std::vector<CommandEntry>()> m_source;
    std::vector<CommandEntry> m_entries;
    std::vector<std::size_t> m_shown;
    QListWidget* m_popup;
};

} // namespace ivrant::app
