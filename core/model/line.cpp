// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/line.h"

#include <cmath>

#include "core/model/edits_common.h"

namespace ivrant::model {
namespace {

using base::Error;
using base::Status;

bool isWithin(double value, double low, double high) { return std::isfinite(value) && value >= low && value <= high; }

Status checkGuide(const Guide& guide, const std::string& place) {
    if (guide.part.empty() || guide.port.empty())
        return Error{"line.guide", "a guide is a port of a part", place + "/part"};
    if (!isWithin(guide.radiusMm, 0, kMostRadiusMm))
        return Error{"line.radius", "a guide's radius is from 0 to 200 mm", place + "/radius"};
    if (guide.radiusMm > 0 ? std::abs(guide.side) != 1 : guide.side != 0)
        return Error{"line.side", "a round guide has the line on its left or right, an eye on neither",
                     place + "/side"};
    return {};
}

Status checkLaw(const Line& line, const std::string& place) {
    if (line.law.size() > kMostLawPoints) return Error{"line.law", "at most 60 points", place + "/law"};
    double mm = 0, newton = 0;
    for (std::size_t k = 0; k < line.law.size(); ++k) {
        const LawPoint& p = line.law[k];
        if (!isWithin(p.mm, 0, kMostLengthMm) || !isWithin(p.newton, 0, kMostPullN) || (k > 0 && p.mm <= mm) ||
            p.newton < newton)
            return Error{"line.law", "points of mm and N are expected, each further and not weaker than the one before",
                         place + "/law/" + std::to_string(k)};
        mm = p.mm;
        newton = p.newton;
    }
    if (!line.law.empty() && (mm <= 0 || newton <= 0))
        return Error{"line.law", "a law needs a point with some stretch and some force", place + "/law"};
    return {};
}

Status checkLine(const Line& line, const std::string& place) {
    if (line.name.empty()) return Error{"edit.name", "a line needs a name", place + "/name"};
    if (line.guides.size() < 2 || line.guides.size() > kMostGuides)
        return Error{"line.guides", "a line runs from one guide to another, past 60 at most", place + "/guides"};
    for (std::size_t g = 0; g < line.guides.size(); ++g)
        if (auto st = checkGuide(line.guides[g], place + "/guides/" + std::to_string(g)); !st) return st;
    const bool knotted = !line.closed;
    if (knotted && (line.guides.front().radiusMm > 0 || (line.end != LineEnd::Drum && line.guides.back().radiusMm > 0)))
        return Error{"line.side", "a line begins and ends at a point: only a drum at its end is round",
                     place + "/guides"};
    if (line.lengthMm && !isWithin(*line.lengthMm, 1, kMostLengthMm))
        return Error{"line.length", "a length from 1 mm to 100 m is expected", place + "/length_mm"};
    if (line.count < 1 || line.count > kMostLinesAbreast)
        return Error{"line.count", "1 to 50 side by side", place + "/count"};
    if (line.kind != LineKind::String && line.end != LineEnd::Tied)
        return Error{"line.end", "only a string is pulled by a hand or a drum", place + "/end"};
    if (line.end == LineEnd::Drum && line.guides.back().radiusMm <= 0)
        return Error{"line.end", "a drum is a round guide: its radius is expected", place + "/end"};
    if (line.closed && line.kind != LineKind::Band)
        return Error{"line.end", "only a band goes round as a loop", place + "/closed"};
    if (line.kind == LineKind::Spring && line.guides.size() != 2)
        return Error{"line.guides", "a spring stands between two guides", place + "/guides"};
    if (!isWithin(line.travelMm, 0, kMostLengthMm))
        return Error{"line.travel", "a travel from 0 to 100 m is expected", place + "/travel_mm"};
    if (auto st = checkLaw(line, place); !st) return st;
    if (line.works && (line.works->joint.empty() || !isWithin(line.works->from, -kMostTravel, kMostTravel) ||
                       !isWithin(line.works->to, -kMostTravel, kMostTravel)))
        return Error{"line.works", "a line works a joint from one value to another", place + "/works"};
    return {};
}

constexpr auto listLines = [](Project & project) -> auto& { return project.lines; };

} // namespace

const char* getLineKindName(LineKind kind) {
    switch (kind) {
    case LineKind::String: return "string";
    case LineKind::Band: return "band";
    default: return "spring";
    }
}
const char* getLineEndName(LineEnd end) {
    switch (end) {
    case LineEnd::Tied: return "tied";
    case LineEnd::Hand: return "hand";
    default: return "drum";
    }
}

Status checkLines(const Project& project) {
    for (std::size_t i = 0; i < project.lines.size(); ++i)
        if (auto st = checkLine(project.lines[i], "/lines/" + std::to_string(i)); !st) return st;
    return {};
}

EditResult putLine(const Project& project, Line line) {
    if (line.works && project.findJoint(line.works->joint) < 0) return detail::noSuch("joint", line.works->joint.text);
    const PartIndex index(project);
    for (const Guide& guide : line.guides) {
        const PartSpot spot = index.find(guide.part);
        if (spot.section < 0) return detail::noSuch("part", guide.part.text);
        if (getPart(project, spot).shape->findPort(guide.port) < 0) return detail::noSuch("port", guide.port);
    }
    return detail::putEntry(project, listLines, "l", std::move(line));
}
EditResult removeLine(const Project& project, const LineId& id) { return detail::dropEntry(project, listLines, id); }

} // namespace ivrant::model
