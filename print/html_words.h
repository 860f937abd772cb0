// SPDX-License-Identifier: GPL-3.0-or-later
// Pieces of HTML that the sheets are put together from.
#pragma once

#include <QBuffer>
#include <QImage>
#include <vector>

#include "print/markup_text.h"

namespace ivrant::print {

[[nodiscard]] inline std::string escape(const std::string& text) { return markupText(text).toStdString(); }

/// A row of cells that are HTML already; `attributes` of each cell, with a leading space.
[[nodiscard]] inline std::string row(const std::vector<std::string>& cells, const std::string& tag = "td",
                                     const std::string& attributes = "") {
    std::string out = "<tr>";
    for (const auto& cell : cells) out += "<" + tag + attributes + ">" + cell + "</" + tag + ">";
    return out + "</tr>\n";
}

/// The picture within the page, so many CSS pixels wide.
[[nodiscard]] inline std::string imageTag(const QImage& image, const std::string& alt, int width) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "PNG");
    return "<img width=\"" + std::to_string(width) + "\" alt=\"" + escape(alt) + "\" src=\"data:image/png;base64," +
           bytes.toBase64().toStdString() + "\">";
}

} // namespace ivrant::print
