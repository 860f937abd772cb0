// SPDX-License-Identifier: GPL-3.0-or-later
// How does a PDF that is written already get bookmarks?
#pragma once

#include <string>
#include <vector>

#include "core/base/result.h"

namespace ivrant::print {

struct Bookmark {
    int level = 0; ///< 0: a chapter; one deeper than the one before at most
    std::string title;
    int page = 1;         ///< from 1
    double shareDown = 0; ///< of the page, 0 its top
};

/// The same document with these bookmarks, shown when it is opened. With the qpdf library; ISO 32000-1, 12.3.3. Error
/// "pdf.write" for bytes that are no PDF or pages that are not there.
[[nodiscard]] base::Result<std::string> addBookmarks(std::string_view pdf, const std::vector<Bookmark>& bookmarks);

} // namespace ivrant::print
