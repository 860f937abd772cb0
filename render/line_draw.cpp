// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/line_draw.h"

#include <cmath>
#include <deque>
#include <mutex>

#include "core/parts/palette.h"
#include "core/pose/lines.h"

namespace ivrant::render {
namespace {

constexpr std::size_t kMostKept = 400;
constexpr double kThinMm = 0.45; ///< half a string's thickness
constexpr double kLeastMm = 0.02;

int findLineColour(model::LineKind kind) {
    switch (kind) {
    case model::LineKind::String: return parts::findColour("tar");
    case model::LineKind::Band: return parts::findColour("rust");
    default: return parts::findColour("slate");
    }
}

struct DrawnLine {
    std::vector<geometry::Vec3> points;
    double radius = 0;
    int colour = 0;
    model::SectionPtr section;
    bonds::SectionBondsPtr bonds;
};

DrawnLine makeDrawnLine(std::vector<geometry::Vec3> points, double radius, int colour) {
    auto shape = std::make_shared<parts::Shape>();
    shape->name = shape->family = "line";
    for (std::size_t k = 0; k + 1 < points.size(); ++k)
        if ((points[k + 1] - points[k]).norm() > kLeastMm)
            shape->drawn.push_back(geometry::makeCylinder(points[k], points[k + 1], radius));
    model::Part part;
    part.id.text = "line";
    part.shape = std::move(shape);
    part.colour = colour;
    auto section = std::make_shared<model::Section>();
    section->parts.push_back(std::move(part));
    auto bonds = std::make_shared<bonds::SectionBonds>();
    bonds->coveredStuds.resize(1);
    return {std::move(points), radius, colour, std::move(section), std::move(bonds)};
}

DrawnLine getDrawnLine(std::vector<geometry::Vec3> points, double radius, int colour) {
    static std::mutex mutex;
    static std::deque<DrawnLine> kept;
    const std::lock_guard lock(mutex);
    for (const DrawnLine& one : kept)
        if (one.colour == colour && one.radius == radius && one.points == points) return one;
    if (kept.size() >= kMostKept) kept.pop_front();
    kept.push_back(makeDrawnLine(std::move(points), radius, colour));
    return kept.back();
}

} // namespace

std::vector<SectionDraw> makeLineDraws(const model::Placed& placed) {
    std::vector<SectionDraw> draws;
    const model::Project& project = *placed.project;
    if (project.lines.empty()) return draws;
    const auto tree = model::makeTree(project);
    if (!tree) return draws;
    const pose::Lines lines(project, *tree);
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const model::Line& line = lines.line(i);
        auto points = lines.listPoints(i, lines.place(i, placed.X_WS), placed.X_WS);
        if (points.size() < 2) continue;
        // Bands side by side look as thick as they are together.
        const double radius =
            kThinMm * std::sqrt(static_cast<double>(line.count)) * (line.kind == model::LineKind::String ? 1 : 1.4);
        const DrawnLine drawn = getDrawnLine(std::move(points), radius, findLineColour(line.kind));
        draws.push_back({drawn.section, drawn.bonds, geometry::Frame::Identity(), {makeState(drawn.colour)}});
    }
    return draws;
}

} // namespace ivrant::render
