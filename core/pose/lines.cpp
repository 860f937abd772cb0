// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/lines.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ivrant::pose {

using geometry::Frame;
using geometry::Vec3;
using model::Line;
using model::LineEnd;
using model::LineKind;

LawPull calcLaw(const Line& line, double lengthMm, double stretchMm) {
    if (stretchMm <= 0) return {};
    if (line.law.empty())
        return {line.kind == LineKind::Band ? kBandPullN * stretchMm / std::max(lengthMm, 1e-9)
                                            : kSpringRateN * stretchMm,
                false};
    model::LawPoint before, last; // from nothing on
    for (const model::LawPoint& p : line.law) {
        before = last;
        last = p;
        if (stretchMm > p.mm) continue;
        if (p.mm <= before.mm) return {p.newton, false};
        return {before.newton + (p.newton - before.newton) * (stretchMm - before.mm) / (p.mm - before.mm), false};
    }
    const double rate = last.mm > before.mm ? (last.newton - before.newton) / (last.mm - before.mm) : 0;
    return {last.newton + rate * (stretchMm - last.mm), true};
}

bool takesLine(const parts::Port& port, bool tied) {
    using parts::PortKind;
    switch (port.kind) {
    case PortKind::Eye:
    case PortKind::Hole:
    case PortKind::CrossHole: return true;
    case PortKind::Tube: return port.hollow;
    case PortKind::Stud: return port.hollow || tied;
    case PortKind::Bar:
    case PortKind::BarEnd: return tied;
    default: return false;
    }
}

Lines::Lines(const model::Project& project, const model::SectionTree& tree) : m_project(&project) {
    if (project.lines.empty()) return;
    const model::PartIndex index(project);
    bool asItStands = false;
    for (const Line& line : project.lines) {
        Known known;
        for (const model::Guide& guide : line.guides) {
            const model::PartSpot spot = index.find(guide.part);
            Frame inSection = Frame::Identity();
            std::string code;
            if (spot.section < 0) {
                code = "line.part";
            } else {
                const model::Part& part = model::getPart(project, spot);
                const int port = part.shape->findPort(guide.port);
                if (port < 0)
                    code = "line.port";
                else
                    inSection = part.place.frame() * at(part.shape->ports, port).X_PF();
            }
            if (!code.empty() && known.code.empty()) {
                known.code = code;
                known.guide = static_cast<int>(known.spots.size());
            }
            known.spots.push_back(spot);
            known.sections.push_back(spot.section);
            known.inSection.push_back(inSection);
        }
        known.restMm = line.lengthMm.value_or(0);
        asItStands = asItStands || !line.lengthMm;
        m_lines.push_back(std::move(known));
    }
    if (!asItStands) return;
    const model::Placed placed = calcPlaced(project, tree, getValues(project, nullptr));
    for (std::size_t i = 0; i < m_lines.size(); ++i)
        if (!project.lines[i].lengthMm) m_lines[i].restMm = place(i, placed.X_WS).path.lengthMm;
}

LineState Lines::place(std::size_t index, const std::vector<Frame>& X_WS) const {
    const Known& known = m_lines[index];
    const Line& line = m_project->lines[index];
    LineState state;
    state.code = known.code;
    state.guide = known.guide;
    if (!state.hasWay()) return state;
    std::vector<StrandGuide> guides(known.spots.size());
    for (std::size_t g = 0; g < guides.size(); ++g) {
        const Frame X = at(X_WS, known.sections[g]) * known.inSection[g];
        const model::Guide& from = line.guides[g];
        guides[g] = {X.translation(), X.linear().col(2), from.radiusMm, from.side, from.captive};
    }
    state.path = calcStrandPath(guides, line.closed);
    if (state.path.fault != StrandFault::None) {
        state.code = state.path.fault == StrandFault::Askew ? "line.askew" : "line.inside";
        state.guide = state.path.faultGuide;
        return state;
    }
    if (line.end == LineEnd::Drum && !state.path.pieces.empty()) {
        const Frame X = at(X_WS, known.sections.back()) * known.inSection.back();
        const Vec3 to = X.inverse(Eigen::Isometry) * state.path.pieces.back().b;
        state.woundRad = std::atan2(to.y(), to.x());
    }
    state.stretchMm = state.path.lengthMm - known.restMm;
    if (line.kind == LineKind::String) return state;
    if (line.kind == LineKind::Spring) state.stretchMm = -state.stretchMm;
    const LawPull pull = calcLaw(line, known.restMm, state.stretchMm);
    state.pullN = line.kind == LineKind::Spring ? -pull.newton : pull.newton;
    state.beyondLaw = pull.beyond;
    return state;
}

double Lines::calcLonger(std::size_t index, const LineState& a, const LineState& b) const {
    const Line& line = m_project->lines[index];
    double longer = b.path.lengthMm - a.path.lengthMm;
    if (line.end == LineEnd::Drum) {
        // Where the line meets the drum further on, less of it is wound up.
        const double turned = std::remainder(b.woundRad - a.woundRad, 2 * std::numbers::pi);
        longer -= line.guides.back().radiusMm * line.guides.back().side * turned;
    }
    return longer;
}

std::vector<double> Lines::calcRates(std::size_t index, const LineState& state,
                                     const std::vector<Screw>& speeds) const {
    const auto speedAt = [&](int guide, const Vec3& p) {
        const Screw& s = at(speeds, at(m_lines[index].sections, guide));
        return Vec3(Vec3(s.tail<3>()) + Vec3(s.head<3>()).cross(p));
    };
    std::vector<double> rates;
    for (const StrandPiece& piece : state.path.pieces)
        rates.push_back(piece.unit.dot(speedAt(piece.to, piece.b) - speedAt(piece.from, piece.a)));
    return rates;
}

std::vector<double> Lines::calcGrowth(const LineState& state, double friction) {
    std::vector<double> growth;
    double bend = 0;
    for (const double one : state.path.bends) {
        bend += one;
        growth.push_back(std::exp(friction * bend));
    }
    return growth;
}

void Lines::addPulls(std::size_t index, const LineState& state, const std::vector<double>& pieceN,
                     std::vector<Wrench>& onSection) const {
    const auto& sections = m_lines[index].sections;
    const auto add = [&](int guide, const Vec3& p, const Vec3& force) {
        Wrench& w = at(onSection, at(sections, guide));
        w.force += force;
        w.moment += p.cross(force);
    };
    for (std::size_t k = 0; k < state.path.pieces.size(); ++k) {
        const StrandPiece& piece = state.path.pieces[k];
        add(piece.from, piece.a, pieceN[k] * piece.unit);
        add(piece.to, piece.b, -pieceN[k] * piece.unit);
    }
}

void Lines::addRest(std::size_t index, const LineState& state, std::vector<Wrench>& onSection) const {
    if (!state.hasWay() || state.pullN == 0) return;
    addPulls(index, state, std::vector<double>(state.path.pieces.size(), state.pullN * m_project->lines[index].count),
             onSection);
}

namespace {

constexpr double kChordRad = 0.35;
constexpr int kCoils = 6, kCoilSides = 8;
constexpr double kCoilMm = 3;

/// A helix from one end to the other.
std::vector<Vec3> listCoil(const Vec3& a, const Vec3& b) {
    const Vec3 way = b - a;
    if (way.norm() < 1e-6) return {a, b};
    const Vec3 u = way.normalized(), e1 = u.unitOrthogonal(), e2 = u.cross(e1);
    std::vector<Vec3> points{a};
    constexpr int kPoints = kCoils * kCoilSides;
    for (int k = 0; k <= kPoints; ++k) {
        const double turn = 2 * std::numbers::pi * k / kCoilSides, share = 0.1 + 0.8 * k / kPoints;
        points.emplace_back(a + share * way + kCoilMm * (std::cos(turn) * e1 + std::sin(turn) * e2));
    }
    points.push_back(b);
    return points;
}

} // namespace

std::vector<Vec3> Lines::listPoints(std::size_t index, const LineState& state, const std::vector<Frame>& X_WS) const {
    std::vector<Vec3> points;
    if (!state.hasWay() || state.path.pieces.empty()) return points;
    const Line& line = m_project->lines[index];
    const auto& pieces = state.path.pieces;
    if (line.kind == LineKind::Spring) return listCoil(pieces.front().a, pieces.back().b);
    const auto addArc = [&](const StrandPiece& in, const StrandPiece& out) {
        const model::Guide& guide = at(line.guides, in.to);
        if (guide.radiusMm <= 0) return;
        const Frame X = guideFrame(index, in.to, X_WS), back = X.inverse(Eigen::Isometry);
        const Vec3 from = back * in.b, to = back * out.a;
        double turn = std::remainder(std::atan2(to.y(), to.x()) - std::atan2(from.y(), from.x()), 2 * std::numbers::pi);
        if (turn * guide.side < -1e-6 && (guide.captive || line.closed)) turn += guide.side * 2 * std::numbers::pi;
        const int steps = static_cast<int>(std::ceil(std::abs(turn) / kChordRad));
        for (int k = 1; k < steps; ++k) {
            const double share = static_cast<double>(k) / steps;
            Vec3 p = Eigen::AngleAxisd(share * turn, Vec3::UnitZ()) * from;
            p.z() = from.z() + share * (to.z() - from.z());
            points.push_back(X * p);
        }
    };
    for (std::size_t k = 0; k < pieces.size(); ++k) {
        if (k > 0) addArc(pieces[k - 1], pieces[k]);
        points.push_back(pieces[k].a);
        points.push_back(pieces[k].b);
    }
    if (line.closed) {
        addArc(pieces.back(), pieces.front());
        points.push_back(pieces.front().a);
    }
    return points;
}

std::vector<Wrench> calcLinePulls(const model::Placed& placed, const model::SectionTree& tree) {
    std::vector<Wrench> pulls;
    if (placed.project->lines.empty()) return pulls;
    const Lines lines(*placed.project, tree);
    pulls.resize(placed.X_WS.size());
    for (std::size_t i = 0; i < lines.size(); ++i)
        if (lines.line(i).kind != LineKind::String) lines.addRest(i, lines.place(i, placed.X_WS), pulls);
    return pulls;
}

} // namespace ivrant::pose
