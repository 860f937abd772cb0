// SPDX-License-Identifier: GPL-3.0-or-later
// Feeds anything to the loader: it must answer with a project or an error, never die; what it accepts must survive a
// round trip to the same text. Run: ./dev fuzz SECONDS
#include <cstdlib>
#include <string_view>

#include "core/files/project_file.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    const auto project = ivrant::files::parseProject(std::string_view(reinterpret_cast<const char*>(data), size));
    if (!project) {
        if (project.error().message.empty()) std::abort();
        return 0;
    }
    const auto text = ivrant::files::writeProject(*project);
    const auto again = ivrant::files::parseProject(text);
    if (!again || ivrant::files::writeProject(*again) != text) std::abort();
    return 0;
}
