// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/json_guard.h"

namespace ivrant::files {

base::Status guardJson(std::string_view text) {
    int depth = 0;
    std::size_t objects = 0, values = 0;
    bool inString = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (inString) {
            if (c == '\\')
                ++i;
            else if (c == '"')
                inString = false;
            continue;
        }
        switch (c) {
        case '"': inString = true; break;
        case '{': ++objects; [[fallthrough]];
        case '[':
            if (++depth > kMaxDepth)
                return base::Error{
                    "file.depth",
                    "nested deeper than " + std::to_string(kMaxDepth) + " levels at byte " + std::to_string(i), ""};
            break;
        case '}':
        case ']': --depth; break;
        case ',': ++values; break;
        default: break;
        }
        if (objects > kMaxObjects || values > kMaxValues)
            return base::Error{"file.size",
                               "holds more than " + std::to_string(kMaxObjects) + " objects or " +
                                   std::to_string(kMaxValues) + " values",
                               ""};
    }
    return {};
}

} // namespace ivrant::files
