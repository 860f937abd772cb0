#include "core/files/journal.h"

#include <algorithm>
#include <chrono>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <signal.h>
#include <unistd.h>

#include "core/files/atomic_file.h"
#include "core/files/project_file.h"

namespace ivrant::files {
namespace {

namespace fs = std::filesystem;
constexpr const char* kSuffix = ".journal";

bool isRunning(long pid) { return pid > 0 && (::kill(static_cast<pid_t>(pid), 0) == 0 || errno == EPERM); }

} // namespace

Journal::Journal(std::string folder, std::string name) {
    std::error_code ec;
    fs::create_directories(folder, ec);
    m_file = (fs::path(folder) / (name + kSuffix)).string();
}

base::Status Journal::write(const model::Project& project, const std::string& projectPath) {
    model::Json head;
    head["journal"] = 1;
    head["pid"] = static_cast<long>(::getpid());
    head["path"] = projectPath;
    head["time"] = std::chrono::duration_cast<std::chrono::seconds>(std::chrono::system_clock::now().time_since_epoch()).count();
    const std::lock_guard lock(m_mutex);
    if (m_closed) return {};
    return writeFileAtomically(m_file, head.dump(-1, ' ', false, model::Json::error_handler_t::replace) + "\n" + writeProject(project));
}

void Journal::clear() {
    const std::lock_guard lock(m_mutex);
    ::unlink(m_file.c_str());
}

void Journal::close() {
    const std::lock_guard lock(m_mutex);
    m_closed = true;
    ::unlink(m_file.c_str());
}

std::vector<JournalEntry> findJournals(const std::string& folder) {
    std::vector<JournalEntry> entries;
    std::error_code ec;
    for (const auto& item : fs::directory_iterator(folder, ec)) {
        if (item.path().extension() != kSuffix) continue;
        const auto text = readFile(item.path().string(), kMaxFileBytes);
        if (!text) continue;
        const auto newline = text->find('\n');
        if (newline == std::string::npos) continue;
        const auto head = model::Json::parse(text->substr(0, newline), nullptr, false);
        if (!head.is_object() || !head.value("path", model::Json()).is_string() || !head.value("time", model::Json()).is_number_integer()) continue;
        const auto pid = head.value("pid", model::Json(0));
        if (pid.is_number_integer() && pid.get<long>() != ::getpid() && isRunning(pid.get<long>())) continue; // another window is using it
        auto project = parseProject(std::string_view(*text).substr(newline + 1));
        if (!project) continue;
        entries.push_back({item.path().string(), head["path"].get<std::string>(), head["time"].get<std::int64_t>(), std::move(project).value()});
    }
    std::sort(entries.begin(), entries.end(), [](const JournalEntry& l, const JournalEntry& r) { return l.savedAtS > r.savedAtS; });
    return entries;
}

} // namespace ivrant::files
