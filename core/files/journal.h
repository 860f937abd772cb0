// SPDX-License-Identifier: GPL-3.0-or-later
// What is left of unsaved work after a crash?
//
// While a project has unsaved edits, its newest snapshot is kept in a folder of journals, one file per open window,
// written atomically. Saving or closing in order removes the file; what is found at the next start was not saved. A
// window holds a lock beside its journal as long as it lives, however it ends (flock, released by the kernel), so that
// a journal in use is told from one left behind whatever numbers processes have.
#pragma once

#include <cstdint>
#include <memory>
#include <mutex>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/model/project.h"

namespace ivrant::files {

struct JournalEntry {
    std::string file;          ///< the journal's own file
    std::string projectPath;   ///< where the project was last saved; empty: never
    std::int64_t savedAtS = 0; ///< seconds since 1970
    bool inUse = false;        ///< by a window that is still there
    model::Project project;
};

/// A lock that this process holds on a journal; released at the end of its life.
class JournalLock {
public:
    /// Tries at once. Not held when another window, of this process or another, holds it.
    explicit JournalLock(const std::string& journalFile);
    JournalLock(const JournalLock&) = delete;
    JournalLock& operator=(const JournalLock&) = delete;
    ~JournalLock();
    [[nodiscard]] bool isHeld() const { return m_held; }
    /// The lock's own file goes too, at the end.
    void removeAtEnd() { m_remove = true; }

private:
    std::string m_file;
    int m_descriptor = -1;
    bool m_held = false, m_remove = false;
};

class Journal {
public:
    /// `folder` is made when missing; `name` tells windows apart (letters, digits, '-').
    Journal(std::string folder, std::string name);

    /// Writes the snapshot; whole or not at all; nothing once closed, and nothing older than what is there. May be
    /// called from a worker thread. `revision` grows with every snapshot of the window.
    [[nodiscard]] base::Status write(const model::Project& project, const std::string& projectPath,
                                     std::uint64_t revision);
    void clear();
    /// Clears for good: a write that is still on its way in another thread leaves nothing behind.
    void close();
    [[nodiscard]] const std::string& file() const { return m_file; }

private:
    std::string m_file;
    std::mutex m_mutex;
    bool m_closed = false;
    std::uint64_t m_newest = 0;
    std::unique_ptr<JournalLock> m_lock;
};

/// Journals with a whole project, newest first; unreadable ones are skipped and left in place.
[[nodiscard]] std::vector<JournalEntry> listJournals(const std::string& folder);
/// Those that some earlier run left behind.
[[nodiscard]] std::vector<JournalEntry> findJournals(const std::string& folder);
/// Removes a journal left behind, and its lock; false when a window holds it (again) or it cannot be removed.
bool discardJournal(const std::string& journalFile);

} // namespace ivrant::files
