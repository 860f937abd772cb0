// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/journal.h"

#include <algorithm>
#include <chrono>
#include <fcntl.h>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <sys/file.h>
#include <unistd.h>

#include "core/files/atomic_file.h"
#include "core/files/project_file.h"

namespace ivrant::files {
namespace {

namespace fs = std::filesystem;
constexpr const char* kSuffix = ".journal";
constexpr const char* kLockSuffix = ".lock";

/// The folder of journals is the person's own: nobody else reads unsaved work.
void makeFolder(const fs::path& folder) {
    std::error_code ec;
    if (fs::create_directories(folder, ec)) fs::permissions(folder, fs::perms::owner_all, ec);
}

} // namespace

JournalLock::JournalLock(const std::string& journalFile) : m_file(journalFile + kLockSuffix) {
    m_descriptor = ::open(m_file.c_str(), O_RDWR | O_CREAT | O_CLOEXEC | O_NOFOLLOW, 0600);
    m_held = m_descriptor >= 0 && ::flock(m_descriptor, LOCK_EX | LOCK_NB) == 0;
}

JournalLock::~JournalLock() {
    if (m_held && m_remove) ::unlink(m_file.c_str());
    if (m_descriptor >= 0) ::close(m_descriptor);
}

Journal::Journal(std::string folder, std::string name) {
    makeFolder(folder);
    m_file = (fs::path(folder) / (name + kSuffix)).string();
    m_lock = std::make_unique<JournalLock>(m_file);
}

base::Status Journal::write(const model::Project& project, const std::string& projectPath, std::uint64_t revision) {
    model::Json head;
    head["journal"] = 2;
    head["path"] = projectPath;
    head["time"] =
        std::chrono::duration_cast<std::chrono::seconds>(std::chrono::system_clock::now().time_since_epoch()).count();
    const std::string content =
        head.dump(-1, ' ', false, model::Json::error_handler_t::replace) + "\n" + writeProject(project);
    const std::lock_guard lock(m_mutex);
    if (m_closed || revision < m_newest) return {};
    makeFolder(fs::path(m_file).parent_path()); // it may have been taken away meanwhile, and its lock with it
    if (std::error_code ec; !m_lock->isHeld() || !fs::exists(m_file + kLockSuffix, ec)) {
        m_lock.reset();
        m_lock = std::make_unique<JournalLock>(m_file);
    }
    auto written = writeFileAtomically(m_file, content);
    if (written) m_newest = revision;
    return written;
}

void Journal::clear() {
    const std::lock_guard lock(m_mutex);
    ::unlink(m_file.c_str());
}

void Journal::close() {
    const std::lock_guard lock(m_mutex);
    m_closed = true;
    ::unlink(m_file.c_str());
    if (m_lock->isHeld()) m_lock->removeAtEnd();
}

std::vector<JournalEntry> listJournals(const std::string& folder) {
    std::vector<JournalEntry> entries;
    std::error_code ec;
    for (const auto& item : fs::directory_iterator(folder, ec)) {
        if (item.path().extension() != kSuffix) continue;
        const auto text = readFile(item.path().string(), kMaxFileBytes);
        if (!text) continue;
        const auto newline = text->find('\n');
        if (newline == std::string::npos) continue;
        const auto head = model::Json::parse(text->substr(0, newline), nullptr, false);
        if (!head.is_object() || !head.value("path", model::Json()).is_string() ||
            !head.value("time", model::Json()).is_number_integer())
            continue;
        auto project = parseProject(std::string_view(*text).substr(newline + 1));
        if (!project) continue;
        const std::string file = item.path().string();
        bool inUse = false;
        if (fs::exists(file + kLockSuffix, ec)) inUse = !JournalLock(file).isHeld();
        entries.push_back({file, head["path"].get<std::string>(), head["time"].get<std::int64_t>(), inUse,
                           std::move(project).value()});
    }
    std::sort(entries.begin(), entries.end(),
              [](const JournalEntry& l, const JournalEntry& r) { return l.savedAtS > r.savedAtS; });
    return entries;
}

std::vector<JournalEntry> findJournals(const std::string& folder) {
    auto entries = listJournals(folder);
    std::erase_if(entries, [](const JournalEntry& entry) { return entry.inUse; });
    return entries;
}

bool discardJournal(const std::string& journalFile) {
    JournalLock lock(journalFile);
    if (!lock.isHeld()) return false;
    lock.removeAtEnd();
    return ::unlink(journalFile.c_str()) == 0;
}

} // namespace ivrant::files
