// What is left of unsaved work after a crash?
//
// While a project has unsaved edits, its newest snapshot is kept in a folder of journals, one file per open window,
// written atomically. Saving or closing in order removes the file; what is found at the next start was not saved.
#pragma once

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
    model::Project project;
};

class Journal {
public:
    /// `folder` is made when missing; `name` tells windows apart (letters, digits, '-').
    Journal(std::string folder, std::string name);

    /// Writes the snapshot; whole or not at all; nothing once closed. May be called from a worker thread.
    [[nodiscard]] base::Status write(const model::Project& project, const std::string& projectPath);
    void clear();
    /// Clears for good: a write that is still on its way in another thread leaves nothing behind.
    void close();
    [[nodiscard]] const std::string& file() const { return m_file; }

private:
    std::string m_file;
    std::mutex m_mutex;
    bool m_closed = false;
};

/// Journals that some earlier run left behind, newest first; unreadable ones are skipped and left in place.
[[nodiscard]] std::vector<JournalEntry> findJournals(const std::string& folder);

} // namespace ivrant::files
