// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/parts_page.h"

#include <algorithm>

#include "cli/tables.h"
#include "core/base/units.h"
#include "core/parts/family.h"
#include "core/parts/palette.h"

namespace ivrant::cli {
namespace {

using base::formatNumber;

constexpr const char* kIntroduction = R"(# Parts, ports, joint kinds and colours

This page is printed by `ivrant-cli families --markdown`.

## How to read it
A shape's name is a bag of words and sizes: "2x4 plate", "plate 2 x 4" and "plate 2x4" are the same. Frames are those of
[file-format.md](file-format.md): origin at the centre of the underside of cell (0, 0), 8 mm a cell, a plate 3.2 mm, a brick 9.6 mm high.
Each family is shown for its usual size; other sizes repeat the same ports at every 8 mm:

- `stud i,j` at (8i, 8j, top), axis +z; `cell i,j` at (8i, 8j, 0), axis -z; `tube i,j` at (8i + 4, 8j + 4, 0), axis -z, in parts at least
  2 wide both ways. Studs 4.8 mm across, 1.7 mm high.
- `hole k` and `hole k back` are the two ends of one hole; hole-like ports mate anywhere within their depth (half the part's thickness) in
  steps of 2 mm, axles and pins in plates' holes anywhere. Beams: `hole k` at (8k, 0, 0), axis +y. Bricks with pin holes: `hole k` at (0, 8k + 4, 5.6), axis +x (1x1: y = 0).
- `bar k` of a bar and `at k` of an axle at (8k + 4, 0, 0), axis +x; `end+`, `end-` of bars at their ends; of pins in the middle of each half.

Two ports mate when their origins agree within 0.05 mm, their axes oppose within 0.5 degrees and their kinds fit. Without moving hold: stud in cell or
tube (one alone can turn: "held by one stud"; two between the same parts are rigid), pin in hole (two on different axes), axle in cross hole, stud in pin
hole, bar end in a hollow stud or tube (by friction).

Collision solids have their side faces set in by 0.1 mm; studs that sit in another part are left out; the solids of a joint's two ports do not collide with
each other. Mass = volume of the full shape x 1.05 mg/mm3 x fill factor. **No number on this page has been measured.**

)";

void putTable(std::string& out, const std::vector<std::vector<std::string>>& rows, bool markdown) {
    if (!markdown) {
        out += formatTable(rows);
        return;
    }
    for (std::size_t i = 0; i < rows.size(); ++i) {
        for (const auto& cell : rows[i]) out += "| " + cell + " ";
        out += "|\n";
        if (i > 0) continue;
        for (std::size_t k = 0; k < rows[0].size(); ++k) out += "|---";
        out += "|\n";
    }
}

void describeFamily(std::string& out, const parts::Family& family, bool markdown) {
    const auto shape = parts::makeShape(family.name).value();
    out += (markdown ? "### " : "") + family.name + "\n";
    if (markdown) out += "![" + family.name + "](parts/" + pictureName(family) + ")\n\n";
    out += family.about + " Sizes: " + family.sizesText + ". Fill factor " + formatNumber(family.fillFactor, 2) +
           " (not measured).\n";
    out += "Shown for `" + shape->name + "`: " + formatNumber(shape->massG, 3) + " g, centre of mass " +
           formatPoint(shape->centre) + ".\n\n";
    std::vector<std::vector<std::string>> rows{{"port", "kind", "origin mm", "axis", "reference", "depth mm"}};
    for (const auto& p : shape->ports)
        rows.push_back({p.name, std::string(parts::getPortKindName(p.kind)) + (p.hollow ? ", hollow" : ""),
                        formatPoint(p.origin), formatPoint(p.axis), formatPoint(p.reference),
                        formatNumber(p.depth, 1)});
    putTable(out, rows, markdown);
    out += "\nSolids for collision (mm):\n";
    for (const auto& s : shape->solids) {
        if (s.studPort >= 0) continue;
        const auto b = geometry::calcBounds(s.solid, geometry::Frame::Identity());
        static const char* const kNames[] = {"box", "cylinder", "sphere", "prism", "hull"};
        out += std::string("- ") + kNames[static_cast<int>(s.solid.kind)] + " from " + formatPoint(b.low) + " to " +
               formatPoint(b.high);
        if (s.solid.kind == geometry::SolidKind::Cylinder)
            out += ", axis along " + formatPoint((s.solid.X_PS.linear().col(2).cwiseAbs()).eval()) + ", radius " +
                   formatNumber(s.solid.radius(), 2);
        if (s.solid.kind == geometry::SolidKind::Prism) {
            out += ", corners (y, z):";
            for (const auto& c : s.solid.polygon) {
                const geometry::Vec3 p = s.solid.X_PS * geometry::Vec3(c.x(), c.y(), 0);
                out += " (" + formatNumber(p.y(), 2) + ", " + formatNumber(p.z(), 2) + ")";
            }
        }
        out += "\n";
    }
    out += "\n";
}

std::string optionalNumber(const std::optional<double>& value, int decimals, const char* none) {
    return value ? formatNumber(*value, decimals) : none;
}

std::string ownLimit(const parts::JointKind& kind) {
    if (kind.motion == parts::JointMotion::Ball) return "cone " + formatNumber(kind.coneDeg, 1) + "°, free twist";
    if (kind.motion == parts::JointMotion::Universal)
        return "shafts " + formatNumber(kind.coneDeg, 1) + "° apart, no twist";
    std::string text = !kind.turnLimitDeg ? "none"
                       : kind.turnLowDeg == -*kind.turnLimitDeg
                           ? "±" + formatNumber(*kind.turnLimitDeg, 1) + "°"
                           : formatNumber(kind.turnLowDeg, 1) + " to " + formatNumber(*kind.turnLimitDeg, 1) + "°";
    if (kind.stepDeg > 0) text += ", steps of " + formatNumber(kind.stepDeg, 1) + "°";
    if (kind.motion == parts::JointMotion::TurnSlide) text += "; slide ±" + formatNumber(kind.slideMm, 1) + " mm";
    return text;
}

void describeKinds(std::string& out, bool markdown) {
    std::vector<std::vector<std::string>> rows{
        {"kind", "own limit", "holding N·mm", "pulls out at N", "play ±°", "ports", "good and bad"}};
    for (const auto& kind : parts::getJointKinds()) {
        std::string ports;
        for (const auto& [a, b] : kind.ports)
            ports += (ports.empty() ? "" : "; ") + std::string(parts::getPortKindName(a)) + " + " +
                     std::string(parts::getPortKindName(b));
        rows.push_back({kind.name, ownLimit(kind), formatNumber(kind.holdingNmm, 1),
                        optionalNumber(kind.pullOutN, 1, "-"), formatNumber(kind.playDeg, 1), ports, kind.note});
    }
    putTable(out, rows, markdown);
}

void describePalette(std::string& out, bool markdown) {
    std::vector<std::vector<std::string>> rows{{"colour", "red", "green", "blue"}};
    for (const auto& colour : parts::getPalette())
        rows.push_back(
            {colour.name, std::to_string(colour.rgb[0]), std::to_string(colour.rgb[1]), std::to_string(colour.rgb[2])});
    putTable(out, rows, markdown);
}

} // namespace

std::string pictureName(const parts::Family& family) {
    std::string name = family.name;
    std::replace(name.begin(), name.end(), ' ', '-');
    return name + ".png";
}

std::string formatPartsPage(bool markdown) {
    std::string out = markdown ? kIntroduction : "";
    out += markdown ? "## Joint kinds\nAll starting values, not measured; 60 % of the holding is counted on.\n\n"
                    : "Joint kinds (starting values, not measured)\n";
    describeKinds(out, markdown);
    out += markdown ? "\n## Colours\n\n" : "\nColours\n";
    describePalette(out, markdown);
    out += markdown ? "\n## Families\n\n" : "\nFamilies\n";
    for (const auto& family : parts::getFamilies()) describeFamily(out, family, markdown);
    while (out.ends_with("\n\n")) out.pop_back();
    return out;
}

} // namespace ivrant::cli
