#include "core/pose/worst.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <random>

#include "core/base/units.h"
#include "core/pose/stance.h"

namespace ivrant::pose {
namespace {

using base::degToRad;
using geometry::Mat3;
using geometry::Pose;
using geometry::Vec3;

constexpr int kRandomStarts = 5;
constexpr int kMostRounds = 20;
constexpr double kGainNmm = 1e-9;
constexpr double kWorthwhile = 1e-6; ///< share of the need
constexpr std::size_t kSamples = 5;  ///< along a coordinate without closed form
constexpr int kParabolas = 4;
constexpr double kToleranceDeg = 0.05; ///< of such a maximum: the need is off by less than a millionth

double& valueOf(JointValues& values, FreedomRef f) { return values[static_cast<std::size_t>(f.joint)][static_cast<std::size_t>(f.freedom)]; }

struct Coordinate {
    FreedomRef freedom;
    const parts::JointKind* kind;
    model::Range range;
    std::vector<int> moved; ///< of the carried masses, those that this freedom moves as seen from the ground
    bool movesJoint;        ///< it moves the joint looked at and all it carries as one
    double sense;           ///< +1: the side away from the ground is the carried one
};

/// The joint's carried side, and how its moment changes when one freedom changes, without placing the figure anew.
class LoadModel {
public:
    LoadModel(const RangeContext& context, const JointValues& values, const model::Stance& stance, int joint)
        : m_kinematics(*context.project, context.tree), m_joint(joint), m_isBall(context.project->joints[static_cast<std::size_t>(joint)].kind->tilts()) {
        const model::Placed own{context.project, std::vector<Pose>(context.project->sections.size(), Pose::Identity())};
        for (std::size_t s = 0; s < own.X_WS.size(); ++s) m_masses.push_back(model::calcMass(own, {static_cast<int>(s)}));
        const auto& tree = context.tree;
        const auto rootOf = [&](int s) {
            while (tree.parent(s) >= 0) s = tree.parent(s);
            return s;
        };
        const int root = rootOf(tree.from[static_cast<std::size_t>(joint)].section);
        m_ground = stance.kind == model::Stance::Kind::Settle ? root : context.project->findSection(stance.section);
        if (m_ground < 0 || rootOf(m_ground) != root) m_ground = root;
        for (std::size_t s = 0; s < m_masses.size(); ++s)
            if (rootOf(static_cast<int>(s)) == root) m_group.push_back(static_cast<int>(s));
        m_carried = farSide(tree, joint).first;
        model::Placed placed = calcPlaced(*context.project, tree, values);
        applyStance(placed, stance);
        m_down = placed.X_WS[static_cast<std::size_t>(m_ground)].linear().transpose() * -Vec3::UnitZ();
        listCoordinates(context);
        listLinks();
    }

    [[nodiscard]] const std::vector<Coordinate>& coordinates() const { return m_coordinates; }
    [[nodiscard]] const Vec3& down() const { return m_down; }
    [[nodiscard]] bool isBall() const { return m_isBall; }

    /// Places the figure; everything below is about these values.
    void set(const JointValues& values) {
        m_values = values;
        m_X_WS[static_cast<std::size_t>(m_ground)] = Pose::Identity();
        for (Link& link : m_links) bend(link);
        placeFrom(0, m_links.size());
    }
    /// One freedom of the values that are set takes another value: only what lies beyond its joint moves.
    void change(FreedomRef freedom, double value) {
        valueOf(m_values, freedom) = value;
        const auto link = std::find_if(m_links.begin(), m_links.end(), [&](const Link& l) { return l.joint == freedom.joint; });
        if (link == m_links.end()) return;
        bend(*link);
        placeFrom(static_cast<std::size_t>(link - m_links.begin()), link->end);
    }
    [[nodiscard]] const JointValues& values() const { return m_values; }

    /// What the need is made of: hinge: need = |lever · down| with lever = axis × Σ m g (r − p); ball: need = |lever × down| with
    /// lever = Σ m g (r − p). N·mm, in the frame of the grounded section.
    [[nodiscard]] Vec3 lever() const { return leverOf(m_moment); }

    /// The lever along one freedom, with what does not change worked out once.
    class Line {
    public:
        Line(const LoadModel& load, const Coordinate& c) : m_load(load), m_c(c), m_now(load.m_values[static_cast<std::size_t>(c.freedom.joint)]) {
            const Pose frame = load.m_kinematics.jointFrame(load.m_X_WS, c.freedom.joint);
            m_frame = frame.linear();
            m_slides = c.kind->freedomUnit(c.freedom.freedom) == "mm";
            m_ball = c.kind->tilts();
            if (m_ball) m_back = calcMotion(*c.kind, m_now).linear().transpose() * m_frame.transpose();
            if (m_slides)
                for (int s : c.moved) m_weight += base::weightN(load.m_masses[static_cast<std::size_t>(s)].massG);
            else if (!c.movesJoint)
                m_part = load.momentAbout(c.moved, frame.translation());
        }
        [[nodiscard]] Vec3 at(double value) const {
            const double change = value - m_now[static_cast<std::size_t>(m_c.freedom.freedom)];
            if (m_slides) return m_c.movesJoint ? m_load.lever() : m_load.leverOf(Vec3(m_load.m_moment + m_weight * m_c.sense * change * m_frame.col(2)));
            const Mat3 turn = turnTo(value, change);
            if (m_c.movesJoint) return turn * m_load.lever();
            return m_load.leverOf(Vec3(m_load.m_moment - m_part + turn * m_part));
        }
        [[nodiscard]] bool isWithinCone(double value) const {
            if (!m_ball || m_c.freedom.freedom == 2) return true;
            return std::hypot(value, m_now[static_cast<std::size_t>(1 - m_c.freedom.freedom)]) <= m_c.kind->coneDeg + 1e-9;
        }

    private:
        /// How the far side turns, seen from the ground, when the freedom takes another value.
        [[nodiscard]] Mat3 turnTo(double value, double change) const {
            if (!m_ball) return Eigen::AngleAxisd(m_c.sense * degToRad(change), m_frame.col(2)).toRotationMatrix();
            std::vector<double> then = m_now;
            then[static_cast<std::size_t>(m_c.freedom.freedom)] = value;
            const Mat3 q = m_frame * calcMotion(*m_c.kind, then).linear() * m_back;
            return m_c.sense > 0 ? q : Mat3(q.transpose());
        }
        const LoadModel& m_load;
        const Coordinate& m_c;
        std::vector<double> m_now;
        Mat3 m_frame, m_back;
        Vec3 m_part = Vec3::Zero();
        double m_weight = 0;
        bool m_slides = false, m_ball = false;
    };

    [[nodiscard]] double need(const Vec3& leverNmm, const Vec3& down) const { return m_isBall ? leverNmm.cross(down).norm() : std::abs(leverNmm.dot(down)); }

    /// The direction within `tilt` (rad) of straight down that makes the need largest.
    [[nodiscard]] Vec3 worstDown(const Vec3& leverNmm, double tilt) const {
        const double size = leverNmm.norm();
        if (tilt <= 0 || size < 1e-12) return m_down;
        Vec3 v = leverNmm / size;
        if (!m_isBall) { // towards ±lever
            if (v.dot(m_down) < 0) v = -v;
            return turnTowards(v, std::min(tilt, std::acos(std::min(1.0, v.dot(m_down)))));
        }
        const double angle = std::acos(std::clamp(v.dot(m_down), -1.0, 1.0)); // ball: towards square to the lever
        const double away = std::min(tilt, std::abs(angle - 0.5 * base::kPi));
        return turnTowards(angle > 0.5 * base::kPi ? v : Vec3(-v), away);
    }

private:
    /// A joint as seen from the ground: it carries section `far` on section `near`, whichever of them it carries in the project.
    struct Link {
        int joint, near, far;
        bool forward;    ///< near is the joint's from-section
        std::size_t end; ///< the links from this one up to here lie beyond it
        Pose X_NF;       ///< for the values that are set
    };

    /// Links in order outwards from the ground, each followed by all beyond it.
    void listLinks() {
        m_X_WS.assign(m_masses.size(), Pose::Identity());
        const auto& tree = m_kinematics.tree();
        std::vector<bool> used(tree.from.size(), false);
        const std::function<void(int)> grow = [&](int near) {
            for (std::size_t j = 0; j < tree.from.size(); ++j) {
                const bool forward = tree.from[j].section == near;
                if (used[j] || tree.isClosing(static_cast<int>(j)) || (!forward && tree.to[j].section != near)) continue;
                used[j] = true;
                const std::size_t index = m_links.size();
                const int far = forward ? tree.to[j].section : tree.from[j].section;
                m_links.push_back({static_cast<int>(j), near, far, forward, 0, Pose::Identity()});
                grow(far);
                m_links[index].end = m_links.size();
            }
        };
        grow(m_ground);
    }
    void bend(Link& link) const {
        const auto j = static_cast<std::size_t>(link.joint);
        const Pose X = m_kinematics.before(link.joint) * calcMotion(*m_kinematics.project().joints[j].kind, m_values[j]) * m_kinematics.after(link.joint);
        link.X_NF = link.forward ? X : X.inverse(Eigen::Isometry);
    }
    void placeFrom(std::size_t first, std::size_t end) {
        for (std::size_t i = first; i < end; ++i)
            m_X_WS[static_cast<std::size_t>(m_links[i].far)] = m_X_WS[static_cast<std::size_t>(m_links[i].near)] * m_links[i].X_NF;
        m_frame = m_kinematics.jointFrame(m_X_WS, m_joint);
        m_moment = momentAbout(m_carried, m_frame.translation());
    }

    /// Sections on the side of a joint away from the ground, and the sense in which they follow its value.
    [[nodiscard]] std::pair<std::vector<int>, double> farSide(const model::SectionTree& tree, int joint) const {
        const auto moved = tree.carriedBy(joint);
        const auto isMoved = [&](int s) { return std::find(moved.begin(), moved.end(), s) != moved.end(); };
        if (!isMoved(m_ground)) return {moved, 1.0};
        std::vector<int> rest;
        for (int s : m_group)
            if (!isMoved(s)) rest.push_back(s);
        return {rest, -1.0};
    }

    void listCoordinates(const RangeContext& context) {
        const auto isIn = [](const std::vector<int>& list, int s) { return std::find(list.begin(), list.end(), s) != list.end(); };
        for (std::size_t j = 0; j < context.project->joints.size(); ++j) {
            const auto& joint = context.project->joints[j];
            if (joint.wanted.empty() || context.tree.isInRing(static_cast<int>(j)) || !isIn(m_group, context.tree.from[j].section)) continue;
            const auto [far, sense] = farSide(context.tree, static_cast<int>(j));
            std::vector<int> moved;
            for (int s : m_carried)
                if (isIn(far, s)) moved.push_back(s);
            if (moved.empty()) continue;
            const bool movesJoint = static_cast<int>(j) != m_joint && isIn(far, context.tree.from[static_cast<std::size_t>(m_joint)].section) &&
                                    isIn(far, context.tree.to[static_cast<std::size_t>(m_joint)].section);
            for (std::size_t f = 0; f < joint.wanted.size(); ++f) {
                model::Range range = joint.wanted[f];
                if (const auto own = calcOwnRange(*joint.kind, {0, 0, 0}, static_cast<int>(f))) {
                    range.low = std::max(range.low, own->low);
                    range.high = std::min(range.high, own->high);
                }
                if (range.low < range.high) m_coordinates.push_back({{static_cast<int>(j), static_cast<int>(f)}, joint.kind, range, moved, movesJoint, sense});
            }
        }
    }

    [[nodiscard]] Vec3 momentAbout(const std::vector<int>& sections, const Vec3& p) const {
        Vec3 moment = Vec3::Zero();
        for (int s : sections) {
            const auto& mass = m_masses[static_cast<std::size_t>(s)];
            moment += base::weightN(mass.massG) * (m_X_WS[static_cast<std::size_t>(s)] * mass.centre - p);
        }
        return moment;
    }
    [[nodiscard]] Vec3 leverOf(const Vec3& moment) const { return m_isBall ? moment : Vec3(m_frame.linear().col(2).cross(moment)); }

    [[nodiscard]] Vec3 turnTowards(const Vec3& target, double angle) const {
        Vec3 across = target - target.dot(m_down) * m_down;
        across = across.norm() > 1e-12 ? Vec3(across.normalized()) : m_down.unitOrthogonal();
        return std::cos(angle) * m_down + std::sin(angle) * across;
    }

    Kinematics m_kinematics;
    int m_joint, m_ground = 0;
    bool m_isBall;
    std::vector<model::MassPoint> m_masses; ///< per section, in its own frame
    std::vector<int> m_group, m_carried;
    Vec3 m_down;
    std::vector<Coordinate> m_coordinates;
    std::vector<Link> m_links;
    JointValues m_values;
    std::vector<Pose> m_X_WS; ///< in the frame of the grounded section
    Pose m_frame = Pose::Identity();
    Vec3 m_moment = Vec3::Zero();
};

/// Largest |A + B cos θ + C sin θ| over the range: at an end, or where the derivative vanishes.
double findBestTurn(const LoadModel::Line& line, const Coordinate& c, const Vec3& down) {
    const auto at = [&](double v) { return line.at(v).dot(down); };
    const double y0 = at(0), y90 = at(90), y180 = at(180);
    const double a = 0.5 * (y0 + y180), b = 0.5 * (y0 - y180), s = y90 - a;
    const auto amount = [&](double deg) { return std::abs(a + b * std::cos(degToRad(deg)) + s * std::sin(degToRad(deg))); };
    double best = c.range.low;
    const auto offer = [&](double deg) {
        if (deg >= c.range.low && deg <= c.range.high && amount(deg) > amount(best)) best = deg;
    };
    offer(c.range.high);
    const double peak = base::radToDeg(std::atan2(s, b));
    for (int turn = -3; turn <= 3; ++turn) offer(peak + 180.0 * turn);
    return best;
}

/// Samples, then a few parabolas through the best three (successive parabolic interpolation; Brent 1973, ch. 5).
double findBestSampled(const LoadModel& load, const LoadModel::Line& line, const Coordinate& c, const Vec3& down, double old) {
    struct Sample {
        double v, amount;
    };
    const auto look = [&](double v) { return Sample{v, line.isWithinCone(v) ? load.need(line.at(v), down) : -1.0}; };
    const double stride = (c.range.high - c.range.low) / (kSamples - 1);
    std::array<Sample, kSamples> samples;
    std::size_t best = 0;
    for (std::size_t i = 0; i < kSamples; ++i) {
        samples[i] = look(c.range.low + stride * static_cast<double>(i));
        if (samples[i].amount > samples[best].amount) best = i;
    }
    Sample top = look(old);
    if (samples[best].amount > top.amount) top = samples[best];
    Sample left = samples[best == 0 ? 0 : best - 1], middle = samples[best], right = samples[std::min<std::size_t>(best + 1, kSamples - 1)];
    if (best == 0) middle = look(left.v + 0.1 * stride);
    if (best == kSamples - 1) middle = look(right.v - 0.1 * stride);
    for (int i = 0; i < kParabolas; ++i) {
        if (middle.amount < left.amount || middle.amount < right.amount || left.amount < 0 || right.amount < 0) break; // largest at an end
        const double dl = middle.v - left.v, dr = middle.v - right.v;
        const double bottom = dl * (middle.amount - right.amount) - dr * (middle.amount - left.amount);
        if (std::abs(bottom) < 1e-15) break;
        const double v = middle.v - 0.5 * (dl * dl * (middle.amount - right.amount) - dr * dr * (middle.amount - left.amount)) / bottom;
        if (!(v > left.v && v < right.v) || std::abs(v - middle.v) < kToleranceDeg) break;
        const Sample there = look(v);
        if (there.amount < middle.amount) {
            (v < middle.v ? left : right) = there;
            continue;
        }
        (v < middle.v ? right : left) = middle;
        middle = there;
    }
    return middle.amount > top.amount ? middle.v : top.v;
}

/// Maximises one freedom after another until nothing gains; the load model ends in the pose found.
double climb(LoadModel& load, JointValues values, double tilt, Vec3& down) {
    load.set(values);
    down = load.worstDown(load.lever(), tilt);
    double best = load.need(load.lever(), down);
    for (int round = 0; round < kMostRounds; ++round) {
        const double before = best;
        for (const Coordinate& c : load.coordinates()) {
            const double value = valueOf(values, c.freedom);
            const bool tilts = c.kind->tilts() && c.freedom.freedom < 2;
            const bool turns = !tilts && c.kind->freedomUnit(c.freedom.freedom) == "deg";
            const LoadModel::Line line(load, c);
            const double found = turns && !load.isBall() ? findBestTurn(line, c, down) : findBestSampled(load, line, c, down, value);
            if (!line.isWithinCone(found) || load.need(line.at(found), down) <= best * (1 + kWorthwhile) + kGainNmm) continue;
            valueOf(values, c.freedom) = found;
            load.change(c.freedom, found);
            best = load.need(load.lever(), down);
        }
        down = load.worstDown(load.lever(), tilt);
        best = load.need(load.lever(), down);
        if (best - before <= kWorthwhile * before) break;
    }
    return best;
}

} // namespace

double calcNeed(const RangeContext& context, const JointValues& values, const model::Stance& stance, int joint, const Vec3& down) {
    LoadModel load(context, values, stance, joint);
    load.set(values);
    return load.need(load.lever(), down);
}

WorstLoad calcWorstLoad(const RangeContext& context, const JointValues& values, const model::Stance& stance, int joint, double tiltDeg,
                        const model::JointStrength& strength) {
    LoadModel load(context, values, stance, joint);
    const double tilt = degToRad(std::clamp(tiltDeg, 0.0, 45.0));
    WorstLoad worst;
    worst.joint = joint;
    worst.stance = stance;
    worst.needNmm = -1;
    const auto tryFrom = [&](auto share) {
        JointValues start = values;
        load.set(values);
        for (const Coordinate& c : load.coordinates()) {
            double& v = valueOf(start, c.freedom);
            const double old = v;
            v = c.range.low + share() * (c.range.high - c.range.low);
            if (calcOwnExcess(*c.kind, start[static_cast<std::size_t>(c.freedom.joint)]) > 1e-9) v = std::clamp(old, c.range.low, c.range.high);
        }
        Vec3 down;
        const double need = climb(load, std::move(start), tilt, down);
        if (need <= worst.needNmm + kGainNmm) return;
        worst.needNmm = need;
        worst.values = load.values();
        worst.down = down;
    };
    tryFrom([] { return 0.5; });
    if (!load.coordinates().empty()) {
        tryFrom([] { return 0.0; });
        tryFrom([] { return 1.0; });
        std::mt19937 random(20260611); // the same starts every time
        for (int i = 0; i < kRandomStarts; ++i) tryFrom([&] { return static_cast<double>(random()) / static_cast<double>(std::mt19937::max()); });
    }
    worst.tiltDeg = base::radToDeg(std::acos(std::clamp(worst.down.dot(load.down()), -1.0, 1.0)));
    worst.have = strength.holding;
    worst.margin = calcHoldMargin(worst.needNmm, worst.have.value);
    return worst;
}

} // namespace ivrant::pose
