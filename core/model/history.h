// SPDX-License-Identifier: GPL-3.0-or-later
// Which edits can be taken back? A list of snapshots with the name of the edit that led to each.
//
// The snapshot in use is whole. The others share with their neighbour towards it every section that is the same, and of
// a section that differs keep only the parts that do; they are put together again when undo or redo comes to them.
// Bounded in number and in bytes: the oldest are forgotten.
#pragma once

#include <deque>
#include <string>

#include "core/model/project.h"

namespace ivrant::model {

class History {
public:
    explicit History(Project project) : m_entries{{"", std::move(project), {}, 0}} {}

    [[nodiscard]] const Project& current() const { return m_entries[m_cursor].project; }
    void push(std::string name, Project project);
    /// Replaces the newest snapshot when it came from an edit of the same name (dragging), else pushes.
    void pushOrReplace(const std::string& name, Project project);
    [[nodiscard]] bool canUndo() const { return m_cursor > 0; }
    [[nodiscard]] bool canRedo() const { return m_cursor + 1 < m_entries.size(); }
    /// Name of the edit that undo would take back; empty when none.
    [[nodiscard]] std::string undoName() const { return canUndo() ? m_entries[m_cursor].name : ""; }
    [[nodiscard]] std::string redoName() const { return canRedo() ? m_entries[m_cursor + 1].name : ""; }
    void undo();
    void redo();
    /// Edits that cannot be taken back any more, since the beginning.
    [[nodiscard]] std::size_t forgotten() const { return m_forgotten; }
    /// What the snapshots hold besides what they share, roughly.
    [[nodiscard]] std::size_t bytes() const;

    static constexpr std::size_t kMost = 1000;
    static constexpr std::size_t kMostBytes = 128u << 20;

private:
    /// A section as what differs from the neighbour's of the same id.
    struct Difference {
        std::size_t section = 0;   ///< in this entry
        std::size_t like = 0;      ///< in the neighbour
        Section head;              ///< all but the parts
        std::size_t same = 0;      ///< parts alike at the beginning
        std::size_t sameAtEnd = 0; ///< and at the end
        std::vector<Part> own;     ///< between them
    };
    struct Entry {
        std::string name;
        Project project; ///< sections with a difference are null
        std::vector<Difference> differences;
        std::size_t bytes = 0;
    };
    static void pack(Entry& entry, const Project& neighbour);
    static void unpack(Entry& entry, const Project& neighbour);

    std::deque<Entry> m_entries;
    std::size_t m_cursor = 0;
    std::size_t m_forgotten = 0;
};

} // namespace ivrant::model
