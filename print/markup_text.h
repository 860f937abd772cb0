// SPDX-License-Identifier: GPL-3.0-or-later
// A name as it may stand in HTML and SVG: text, never markup.
#pragma once

#include <QString>
#include <string>

#include "core/base/units.h"

namespace ivrant::print {

/// Escaped for element content and quoted attributes; control characters, which XML does not allow, are shown as '?'.
[[nodiscard]] inline QString markupText(const std::string& text) {
    return QString::fromStdString(base::printable(text)).toHtmlEscaped();
}

} // namespace ivrant::print
