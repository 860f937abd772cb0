// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/atomic_file.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <fstream>
#include <sys/stat.h>
#include <unistd.h>

namespace ivrant::files {
namespace {

namespace fs = std::filesystem;

base::Error failed(const std::string& what, const std::string& path) {
    return {"file.write", "cannot " + what + " '" + path + "': " + std::strerror(errno), path};
}

/// Closes a descriptor when it goes out of scope.
class Descriptor {
public:
    explicit Descriptor(int fd) : m_fd(fd) {}
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(const Descriptor&) = delete;
    ~Descriptor() {
        if (m_fd >= 0) ::close(m_fd);
    }
    [[nodiscard]] int get() const { return m_fd; }
    [[nodiscard]] bool close() {
        const int fd = m_fd;
        m_fd = -1;
        return ::close(fd) == 0;
    }

private:
    int m_fd;
};

bool writeAll(int fd, std::string_view content) {
    while (!content.empty()) {
        const auto n = ::write(fd, content.data(), content.size());
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) return false;
        content.remove_prefix(static_cast<std::size_t>(n));
    }
    return true;
}

/// What newly made files of this process may not be allowed. Asking by umask() would change it for other threads.
mode_t readUmask() {
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);)
        if (line.starts_with("Umask:")) return static_cast<mode_t>(std::strtoul(line.c_str() + 6, nullptr, 8));
    return 022;
}

} // namespace

base::Status writeFileAtomically(const std::string& path, std::string_view content) {
    std::error_code ec;
    fs::path target = path;
    if (fs::is_symlink(target, ec)) target = fs::weakly_canonical(target, ec);
    struct stat old {};
    const bool existed = ::stat(target.c_str(), &old) == 0;
    if (existed && ::access(target.c_str(), W_OK) != 0) return failed("write to", path);
    const std::string aside = target.string() + ".aside-XXXXXX";
    std::string temp = aside;
    Descriptor file(::mkostemp(temp.data(), O_CLOEXEC));
    if (file.get() < 0) return failed("write beside", path);
    if (existed && (old.st_uid != ::geteuid() || old.st_gid != ::getegid())) {
        if (::fchown(file.get(), old.st_uid, old.st_gid) != 0)
            (void)::fchown(file.get(), static_cast<uid_t>(-1), old.st_gid); // as far as allowed
    }
    ::fchmod(file.get(), existed ? (old.st_mode & 07777) : (0666 & ~readUmask()));
    if (!writeAll(file.get(), content) || ::fsync(file.get()) != 0 || !file.close() ||
        ::rename(temp.c_str(), target.c_str()) != 0) {
        const base::Error error = failed("save", path);
        ::unlink(temp.c_str());
        return error;
    }
    const fs::path folder = target.has_parent_path() ? target.parent_path() : fs::path(".");
    const Descriptor directory(::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
    if (directory.get() >= 0) ::fsync(directory.get());
    return {};
}

base::Result<std::string> readFile(const std::string& path, std::size_t mostBytes) {
    const Descriptor file(
        ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK)); // a pipe without a writer would keep us waiting
    if (file.get() < 0) return base::Error{"file.open", "cannot open '" + path + "': " + std::strerror(errno), path};
    struct stat kind {};
    if (::fstat(file.get(), &kind) != 0 || !S_ISREG(kind.st_mode))
        return base::Error{"file.open", "'" + path + "' is " + (S_ISDIR(kind.st_mode) ? "a folder" : "no regular file"),
                           path};
    std::string content;
    char buffer[1 << 16];
    for (;;) {
        const auto n = ::read(file.get(), buffer, sizeof buffer);
        if (n < 0 && errno == EINTR) continue;
        if (n < 0) return base::Error{"file.open", "cannot read '" + path + "': " + std::strerror(errno), path};
        if (n == 0) return content;
        content.append(buffer, static_cast<std::size_t>(n));
        if (content.size() > mostBytes)
            return base::Error{"file.size", "'" + path + "' is larger than " + std::to_string(mostBytes >> 20) + " MB",
                               path};
    }
}

} // namespace ivrant::files
