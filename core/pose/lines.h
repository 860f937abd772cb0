// SPDX-License-Identifier: GPL-3.0-or-later
// Where do the strings, bands and springs of a project run in a pose, how far are they stretched, what do they pull?
//
// Lines have no weight and no thickness. // At rest a band pulls by its law, a spring pushes by its own, a string pulls
// nothing until somebody does. Each straight piece draws its two ends together with its pull; round pins and eyes get
// what is left over of both sides. Bends rub: past a bend of φ the pull has changed by e^(μφ) (Euler and Eytelwein;
// Meriam and Kraige, Statics, ch. 6). Starting values where nothing was measured. World frame, mm, N; rates per radian
// of a joint that turns, per mm of a slide. docs/derivations/lines.md.
#pragma once

#include <map>
#include <string>

#include "core/model/placed.h"
#include "core/model/validate.h"
#include "core/pose/ground.h"
#include "core/pose/kinematics.h"
#include "core/pose/loop_plan.h"
#include "core/pose/strand_path.h"

namespace ivrant::pose {

// Starting values, not measured.
inline constexpr double kStringFriction = 0.25; ///< on smooth plastic
inline constexpr double kBandPullN = 1;         ///< of one strand stretched to twice its length
inline constexpr double kSpringRateN = 0.5;     ///< a mm

/// A line in one pose.
struct LineState {
    std::string code;       ///< why it has no way: "line.part", "line.port", "line.askew", "line.inside"; else empty
    int guide = -1;         ///< the one it is about
    StrandPath path;        ///< pieces and guides by the line's own numbers
    double woundRad = 0;    ///< on a drum: direction from its axis to where the line meets it
    double stretchMm = 0;   ///< beyond its length, negative: slack. A spring: pressed together
    double pullN = 0;       ///< of one, at rest; below 0 it pushes
    bool beyondLaw = false; ///< further than the last point of its law
    [[nodiscard]] bool hasWay() const { return code.empty(); }
};

/// What one of a line pulls when stretched (a spring: pressed together, and it pushes) by that much; 0 when slack.
/// Between points straight, beyond the last on along the last piece.
struct LawPull {
    double newton = 0;
    bool beyond = false;
};
[[nodiscard]] LawPull calcLaw(const model::Line& line, double lengthMm, double stretchMm);
/// Nobody measured how it pulls.
[[nodiscard]] inline bool hasStartingLaw(const model::Line& line) { return line.law.empty(); }

/// A line can be led through the port, or be tied to it.
[[nodiscard]] bool takesLine(const parts::Port& port, bool tied);

/// The lines of one project, with what does not change from pose to pose looked up once.
class Lines {
public:
    /// Both must outlive it. O(parts), and one pose when a line's length is that of the model as it stands.
    Lines(const model::Project& project, const model::SectionTree& tree);

    [[nodiscard]] std::size_t size() const { return m_lines.size(); }
    [[nodiscard]] const model::Line& line(std::size_t index) const { return m_project->lines[index]; }
    /// When nothing pulls, mm.
    [[nodiscard]] double restLength(std::size_t index) const { return m_lines[index].restMm; }
    /// Sections of its guides, −1 for those that are gone.
    [[nodiscard]] const std::vector<int>& sections(std::size_t index) const { return m_lines[index].sections; }
    [[nodiscard]] const std::vector<model::PartSpot>& spots(std::size_t index) const { return m_lines[index].spots; }

    /// O(guides).
    [[nodiscard]] LineState place(std::size_t index, const std::vector<geometry::Frame>& X_WS) const;
    /// How much longer its way is in `b` than in `a`, what a drum takes up counted, mm.
    [[nodiscard]] double calcLonger(std::size_t index, const LineState& a, const LineState& b) const;

    /// Change of length, by piece, for these velocities of the sections ([ω; v at the world's origin]); mm for one rad
    /// or mm.
    [[nodiscard]] std::vector<double> calcRates(std::size_t index, const LineState& state,
                                                const std::vector<Screw>& speeds) const;
    /// Pull of each piece when the first one has 1 N and everything is drawn towards the last guide, against friction.
    [[nodiscard]] static std::vector<double> calcGrowth(const LineState& state, double friction = kStringFriction);
    /// What a line puts on the sections, with so much pull in each piece (of all abreast).
    void addPulls(std::size_t index, const LineState& state, const std::vector<double>& pieceN,
                  std::vector<Wrench>& onSection) const;
    /// Bands and springs, as they are at rest.
    void addRest(std::size_t index, const LineState& state, std::vector<Wrench>& onSection) const;

    /// The way as points, arcs by chords of at most 20°; a spring as it is wound. For pictures.
    [[nodiscard]] std::vector<geometry::Vec3> listPoints(std::size_t index, const LineState& state,
                                                         const std::vector<geometry::Frame>& X_WS) const;

private:
    [[nodiscard]] geometry::Frame guideFrame(std::size_t index, int guide,
                                             const std::vector<geometry::Frame>& X_WS) const {
        const auto g = static_cast<std::size_t>(guide);
        return at(X_WS, m_lines[index].sections[g]) * m_lines[index].inSection[g];
    }
    struct Known {
        std::vector<model::PartSpot> spots;
        std::vector<int> sections;
        std::vector<geometry::Frame> inSection; ///< of each guide's port
        std::string code;
        int guide = -1;
        double restMm = 0;
    };
    const model::Project* m_project;
    std::vector<Known> m_lines;
};

/// What all bands and springs put on each section in a pose; empty without any.
[[nodiscard]] std::vector<Wrench> calcLinePulls(const model::Placed& placed, const model::SectionTree& tree);

} // namespace ivrant::pose
