// Which edits can be taken back? A list of snapshots with the name of the edit that led to each.
#pragma once

#include <deque>
#include <string>

#include "core/model/project.h"

namespace ivrant::model {

class History {
public:
    explicit History(Project project) : m_entries{{"", std::move(project)}} {}

    [[nodiscard]] const Project& current() const { return m_entries[m_cursor].project; }
    void push(std::string name, Project project);
    /// Replaces the newest snapshot when it came from an edit of the same name (dragging), else pushes.
    void pushOrReplace(const std::string& name, Project project);
    [[nodiscard]] bool canUndo() const { return m_cursor > 0; }
    [[nodiscard]] bool canRedo() const { return m_cursor + 1 < m_entries.size(); }
    /// Name of the edit that undo would take back; empty when none.
    [[nodiscard]] std::string undoName() const { return canUndo() ? m_entries[m_cursor].name : ""; }
    [[nodiscard]] std::string redoName() const { return canRedo() ? m_entries[m_cursor + 1].name : ""; }
    void undo() { m_cursor -= canUndo() ? 1 : 0; }
    void redo() { m_cursor += canRedo() ? 1 : 0; }

private:
    struct Entry {
        std::string name;
        Project project;
    };
    static constexpr std::size_t kMost = 1000;
    std::deque<Entry> m_entries;
    std::size_t m_cursor = 0;
};

} // namespace ivrant::model
