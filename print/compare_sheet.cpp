// SPDX-License-Identifier: GPL-3.0-or-later
#include "print/compare_sheet.h"

#include <QBuffer>
#include <QPdfWriter>
#include <QTextDocument>
#include <cmath>

#include "core/base/units.h"
#include "core/files/atomic_file.h"
#include "print/html_words.h"
#include "print/markup_text.h"
#include "print/pictures.h"

namespace ivrant::print {
namespace {

using base::formatNumber;

constexpr int kPicture = 330; ///< pixels wide on the page
constexpr std::size_t kMostRows = 24;

std::string leftRow(const std::vector<std::string>& cells, const std::string& tag = "td") {
    return row(cells, tag, " align=\"left\"");
}

std::string sideText(const std::optional<verdict::JointSide>& side) {
    if (!side) return "no such joint";
    std::string text = side->kind + (side->free ? ", " + formatNumber(side->free->low, 0) + " to " +
                                                      formatNumber(side->free->high, 0) + "°"
                                                : ", endless");
    return text + (side->margin ? ", holds " + base::formatMargin(*side->margin) : "");
}

/// As many rows as the page holds, and how many more there are.
void cut(std::vector<std::string>& rows, std::size_t most) {
    if (rows.size() <= most) return;
    const std::size_t more = rows.size() - most;
    rows.resize(most);
    rows.push_back(leftRow({"and " + std::to_string(more) + " more", "", "", ""}));
}

std::string makeHtml(const verdict::Report& a, const verdict::Comparison& c, const QImage& pictureA,
                     const QImage& pictureB) {
    const std::string head = leftRow({"", escape(c.nameA), escape(c.nameB), "change"}, "th");
    std::string html = "<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><title>" +
                       escape(a.project->name) +
                       "</title></head><body style=\"font-family:Inter,sans-serif;font-size:8.5pt;color:#20303A\">";
    html += "<h2>" + escape(a.project->name) + ": " + escape(c.nameA) + " against " + escape(c.nameB) + "</h2>\n";
    html += "<table width=\"100%\">" +
            leftRow({imageTag(pictureA, c.nameA, kPicture), imageTag(pictureB, c.nameB, kPicture)}) +
            leftRow({"<b>" + escape(c.nameA) + "</b>", "<b>" + escape(c.nameB) + "</b>"}) + "</table>\n";
    html += "<table width=\"100%\" cellpadding=\"2\">" + head;
    for (const auto& f : c.figures) {
        const int decimals = f.unit.empty() ? 0 : 1;
        const std::string unit = f.unit.empty() ? "" : f.unit == "deg" ? "°" : " " + f.unit;
        html += leftRow({escape(f.what), formatNumber(f.a, decimals) + unit, formatNumber(f.b, decimals) + unit,
                         formatNumber(f.b - f.a, decimals)});
    }
    std::vector<std::string> joints, parts;
    for (const auto& j : c.joints)
        if (j.differs())
            joints.push_back(
                leftRow({"<b>" + escape(j.name) + "</b>", escape(sideText(j.a)), escape(sideText(j.b)), ""}));
    for (const auto& l : c.lengths)
        if (std::abs(l.aMm - l.bMm) > 0.05)
            joints.push_back(leftRow({escape(l.from + " to " + l.to), formatNumber(l.aMm, 1) + " mm",
                                      formatNumber(l.bMm, 1) + " mm", formatNumber(l.bMm - l.aMm, 1)}));
    for (const auto& p : c.parts)
        parts.push_back(leftRow({escape(p.shape + " " + p.colour), std::to_string(p.countA), std::to_string(p.countB),
                                 std::to_string(p.countB - p.countA)}));
    cut(joints, kMostRows);
    cut(parts, kMostRows);
    for (const auto& r : joints) html += r;
    for (const auto& r : parts) html += r;
    html += "</table><p>Ranges and holding are the worst over the poses and the wanted ranges. Holding rests on "
            "starting values that nobody has measured, "
            "unless the verdicts say 'measured'.</p></body></html>\n";
    return html;
}

} // namespace

base::Status writeCompareSheet(const verdict::Report& a, const verdict::Report& b,
                               const verdict::Comparison& comparison, const std::string& path) {
    const GuiGuard gui;
    const bool pdf = path.ends_with(".pdf");
    if (!pdf && !path.ends_with(".html"))
        return base::Error{"output.kind", "a comparison is written as .pdf or .html", ""};
    auto drawnA = Pictures::create(a), drawnB = Pictures::create(b);
    if (!drawnA) return drawnA.error();
    if (!drawnB) return drawnB.error();
    const std::string html = makeHtml(a, comparison, (*drawnA)->cover(660, 460), (*drawnB)->cover(660, 460));
    if (!pdf) return files::writeFileAtomically(path, html);
    QBuffer bytes;
    bytes.open(QIODevice::WriteOnly);
    {
        QPdfWriter writer(&bytes);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setPageMargins(QMarginsF(14, 12, 14, 12), QPageLayout::Millimeter);
        writer.setResolution(96);
        writer.setTitle(QString::fromStdString(a.project->name));
        QTextDocument document;
        document.setHtml(QString::fromStdString(html));
        document.setPageSize(QSizeF(writer.width(), writer.height()));
        document.print(&writer);
    }
    return files::writeFileAtomically(path, bytes.data().toStdString());
}

} // namespace ivrant::print
