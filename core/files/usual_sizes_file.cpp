// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/usual_sizes_file.h"

#include <cstdlib>
#include <filesystem>

#include "core/files/atomic_file.h"
#include "core/parts/usual_sizes.h"

namespace ivrant::files {
namespace {
constexpr std::size_t kMostBytes = 1 << 20;
}

std::string getUsualSizesPath() {
    const char* config = std::getenv("XDG_CONFIG_HOME");
    const char* home = std::getenv("HOME");
    const std::filesystem::path folder =
        config && *config ? std::filesystem::path(config) : std::filesystem::path(home ? home : ".") / ".config";
    return (folder / "ivrant" / "usual_sizes.json").string();
}

base::Status loadOwnUsualSizes() {
    const std::string path = getUsualSizesPath();
    std::error_code ec;
    if (!std::filesystem::exists(path, ec)) return {};
    const auto text = readFile(path, kMostBytes);
    if (!text) return text.error();
    auto set = parts::setUsualSizes(*text);
    if (!set)
        return base::Error{set.error().code, "the list of usual sizes in '" + path + "': " + set.error().message,
                           set.error().place};
    return {};
}

} // namespace ivrant::files
