// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/loop_plan.h"

#include <Eigen/QR>
#include <Eigen/SVD>
#include <algorithm>
#include <functional>
#include <numeric>
#include <queue>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::pose {
namespace {

using geometry::Frame;
using geometry::Vec3;
using parts::JointMotion;
using Matrix = Eigen::MatrixXd;

constexpr double kRankTolerance = 1e-4;
constexpr double kSeenIdle = 1e-6;
constexpr double kShakeDeg = 11; ///< rank is that of a place nearby too, where this one is singular

Screw turnScrew(const Vec3& axis, const Vec3& point) {
    Screw s;
    s << axis, point.cross(axis);
    return s;
}
Screw slideScrew(const Vec3& axis) {
    Screw s;
    s << Vec3::Zero(), axis;
    return s;
}

/// Turns by what they move at kLoopArmMm; slides by their own way.
Screw scaleColumn(const Screw& screw) {
    Screw scaled = screw;
    if (!screw.head<3>().isZero()) scaled.tail<3>() /= kLoopArmMm;
    return scaled;
}

bool isStiff(const parts::JointKind& kind) { return kind.stepDeg > 0; }

class Planner {
public:
    Planner(const Kinematics& kinematics, const JointValues& values, FreedomRef driver)
        : m_kinematics(kinematics), m_project(kinematics.project()), m_tree(kinematics.tree()), m_values(values),
          m_known(m_project.joints.size(), true), m_incident(m_project.sections.size()) {
        m_plan.driver = driver;
        for (std::size_t j = 0; j < m_project.joints.size(); ++j) {
            at(m_incident, m_tree.from[j].section).push_back(static_cast<int>(j));
            at(m_incident, m_tree.to[j].section).push_back(static_cast<int>(j));
        }
    }

    LoopPlan run() {
        m_plan.moved.push_back(m_plan.driver.joint);
        for (const int j : listOnLoops()) {
            if (j == m_plan.driver.joint) continue;
            const auto& kind = *at(m_project.joints, j).kind;
            if (isStiff(kind)) {
                m_plan.stiff.push_back({j, 0});
                continue;
            }
            m_plan.moved.push_back(j);
            m_known[static_cast<std::size_t>(j)] = false;
        }
        if (at(m_project.joints, m_plan.driver.joint).kind->freedomCount() > 1)
            m_known[static_cast<std::size_t>(m_plan.driver.joint)] = false;
        while (std::find(m_known.begin(), m_known.end(), false) != m_known.end()) {
            auto cycles = listCycles();
            if (cycles.empty()) break;
            if (takeSingle(cycles)) continue;
            takeTogether(cycles);
        }
        return std::move(m_plan);
    }

private:
    [[nodiscard]] int otherEnd(int joint, int section) const {
        const int from = at(m_tree.from, joint).section, to = at(m_tree.to, joint).section;
        return section == from ? to : from;
    }
    /// Freedoms of a joint whose values are sought.
    [[nodiscard]] std::vector<FreedomRef> unknownOf(int joint) const {
        std::vector<FreedomRef> list;
        if (at(m_known, joint)) return list;
        for (int f = 0; f < at(m_project.joints, joint).kind->freedomCount(); ++f)
            if (FreedomRef{joint, f} != m_plan.driver) list.push_back({joint, f});
        return list;
    }

    /// Joints that lie on a common loop with the driver: edges of its biconnected component (Tarjan 1972).
    [[nodiscard]] std::vector<int> listOnLoops() const {
        const std::size_t n = m_project.sections.size();
        std::vector<int> depth(n, -1), low(n, 0);
        std::vector<int> stack, found;
        const std::function<void(int, int, int)> visit = [&](int section, int by, int level) {
            at(depth, section) = at(low, section) = level;
            for (const int j : at(m_incident, section)) {
                if (j == by) continue;
                const int other = otherEnd(j, section);
                if (at(depth, other) >= 0) {
                    if (at(depth, other) < level) {
                        stack.push_back(j);
                        at(low, section) = std::min(at(low, section), at(depth, other));
                    }
                    continue;
                }
                const std::size_t before = stack.size();
                stack.push_back(j);
                visit(other, j, level + 1);
                at(low, section) = std::min(at(low, section), at(low, other));
                if (at(low, other) < level) continue;
                const auto begin = stack.begin() + static_cast<std::ptrdiff_t>(before);
                if (stack.size() - before > 1 && std::find(begin, stack.end(), m_plan.driver.joint) != stack.end())
                    found.assign(begin, stack.end());
                stack.erase(begin, stack.end());
            }
        };
        visit(at(m_tree.from, m_plan.driver.joint).section, -1, 0);
        std::sort(found.begin(), found.end());
        found.erase(std::unique(found.begin(), found.end()), found.end());
        return found;
    }

    /// The way with the fewest unknown freedoms from one section to another that does not use `without`.
    [[nodiscard]] std::optional<std::vector<LoopHop>> findWay(int from, int to, int without) const {
        using Cost = std::pair<int, int>; // unknown freedoms, hops
        constexpr Cost kFar{1 << 28, 0};
        std::vector<Cost> cost(m_project.sections.size(), kFar);
        std::vector<int> by(m_project.sections.size(), -1);
        std::priority_queue<std::pair<Cost, int>, std::vector<std::pair<Cost, int>>, std::greater<>> open;
        at(cost, from) = {0, 0};
        open.push({{0, 0}, from});
        while (!open.empty()) {
            const auto [reached, section] = open.top();
            open.pop();
            if (reached > at(cost, section)) continue;
            if (section == to) break;
            for (const int j : at(m_incident, section)) {
                if (j == without) continue;
                const int other = otherEnd(j, section);
                const Cost next{reached.first + static_cast<int>(unknownOf(j).size()), reached.second + 1};
                if (next >= at(cost, other)) continue;
                at(cost, other) = next;
                at(by, other) = j;
                open.push({next, other});
            }
        }
        if (at(cost, to) == kFar) return std::nullopt;
        std::vector<LoopHop> hops;
        for (int section = to; section != from;) {
            const int j = at(by, section);
            hops.push_back({j, at(m_tree.to, j).section == section});
            section = otherEnd(j, section);
        }
        std::reverse(hops.begin(), hops.end());
        return hops;
    }

    [[nodiscard]] std::set<FreedomRef> unknownOf(const LoopCycle& cycle) const {
        std::set<FreedomRef> list;
        for (const LoopHop& hop : cycle.hops)
            for (const FreedomRef f : unknownOf(hop.joint)) list.insert(f);
        return list;
    }

    /// The shortest cycle through each unknown joint, each set of unknowns once, fewest unknowns first.
    [[nodiscard]] std::vector<LoopCycle> listCycles() const {
        std::vector<LoopCycle> cycles;
        std::set<std::set<FreedomRef>> seen;
        for (std::size_t j = 0; j < m_known.size(); ++j) {
            if (m_known[j]) continue;
            const auto joint = static_cast<int>(j);
            const auto way = findWay(m_tree.to[j].section, m_tree.from[j].section, joint);
            if (!way) continue;
            LoopCycle cycle;
            cycle.section = m_tree.from[j].section;
            cycle.hops.push_back({joint, true});
            cycle.hops.insert(cycle.hops.end(), way->begin(), way->end());
            if (!seen.insert(unknownOf(cycle)).second) continue;
            setCentre(cycle);
            cycles.push_back(std::move(cycle));
        }
        std::stable_sort(cycles.begin(), cycles.end(), [&](const LoopCycle& l, const LoopCycle& r) {
            return unknownOf(l).size() < unknownOf(r).size();
        });
        return cycles;
    }
    void setCentre(LoopCycle& cycle) const {
        Frame X = Frame::Identity();
        Vec3 sum = Vec3::Zero();
        for (const LoopHop& hop : cycle.hops) {
            const Frame motion = calcMotion(*at(m_project.joints, hop.joint).kind, at(m_values, hop.joint));
            const Frame across = m_kinematics.before(hop.joint) * motion * m_kinematics.after(hop.joint);
            sum += X * (hop.forward ? m_kinematics.before(hop.joint).translation()
                                    : across.inverse(Eigen::Isometry) * m_kinematics.before(hop.joint).translation());
            X = X * (hop.forward ? across : Frame(across.inverse(Eigen::Isometry)));
        }
        cycle.centre = sum / static_cast<double>(cycle.hops.size());
    }

    /// Columns of the unknowns, stacked over the cycles.
    [[nodiscard]] Matrix makeMatrix(const std::vector<LoopCycle>& cycles, const std::vector<FreedomRef>& unknown,
                                    const JointValues& values) const {
        Matrix m =
            Matrix::Zero(static_cast<Eigen::Index>(6 * cycles.size()), static_cast<Eigen::Index>(unknown.size()));
        for (std::size_t c = 0; c < cycles.size(); ++c) {
            LoopTerms terms;
            evaluateCycle(m_kinematics, cycles[c], values, terms);
            for (const LoopTerm& term : terms.terms) {
                const auto found = std::lower_bound(unknown.begin(), unknown.end(), term.freedom);
                if (found == unknown.end() || *found != term.freedom) continue;
                m.block<6, 1>(static_cast<Eigen::Index>(6 * c), found - unknown.begin()) += scaleColumn(term.screw);
            }
        }
        return m;
    }
    [[nodiscard]] static Eigen::Index rankOf(const Matrix& m) {
        Eigen::ColPivHouseholderQR<Matrix> qr(m);
        qr.setThreshold(kRankTolerance);
        return qr.rank();
    }
    /// At a dead point or where all links lie in line rank is lost for that place alone: a place nearby is asked too.
    [[nodiscard]] JointValues shaken(const std::vector<FreedomRef>& unknown) const {
        JointValues values = m_values;
        double k = 1;
        for (const FreedomRef f : unknown) {
            const bool slides = at(m_project.joints, f.joint).kind->freedomUnit(f.freedom) == "mm";
            at(at(values, f.joint), f.freedom) += (slides ? 1 : kShakeDeg) * (0.5 + 0.5 * std::sin(1.7 * k));
            k += 1;
        }
        return values;
    }
    [[nodiscard]] bool isFull(const std::vector<LoopCycle>& cycles, const std::vector<FreedomRef>& unknown) const {
        if (unknown.size() > 6 * cycles.size()) return false;
        const auto n = static_cast<Eigen::Index>(unknown.size());
        return rankOf(makeMatrix(cycles, unknown, m_values)) == n ||
               rankOf(makeMatrix(cycles, unknown, shaken(unknown))) == n;
    }

    void take(std::vector<LoopCycle> cycles, const std::set<FreedomRef>& unknown, bool loose) {
        LoopBlock block;
        block.unknown.assign(unknown.begin(), unknown.end());
        block.cycles = std::move(cycles);
        block.loose = loose;
        if (loose) nameIdle(block);
        for (const FreedomRef f : unknown) m_known[static_cast<std::size_t>(f.joint)] = true;
        m_plan.blocks.push_back(std::move(block));
    }
    bool takeSingle(const std::vector<LoopCycle>& cycles) {
        for (const LoopCycle& cycle : cycles) {
            const auto unknown = unknownOf(cycle);
            if (!isFull({cycle}, {unknown.begin(), unknown.end()})) continue;
            take({cycle}, unknown, false);
            return true;
        }
        return false;
    }
    /// Cycles that share unknowns, one after another, until their screws have full rank; the smallest such set. Without
    /// any the one that is least free is taken as it is.
    void takeTogether(const std::vector<LoopCycle>& cycles) {
        std::vector<LoopCycle> best, last;
        std::set<FreedomRef> bestUnknown, lastUnknown;
        for (const LoopCycle& first : cycles) {
            std::vector<LoopCycle> together{first};
            std::set<FreedomRef> unknown = unknownOf(first);
            std::vector<char> used(cycles.size(), 0);
            used[static_cast<std::size_t>(&first - cycles.data())] = 1;
            bool full = false;
            while (!full) {
                std::size_t next = cycles.size(), fewest = 1000;
                for (std::size_t c = 0; c < cycles.size(); ++c) {
                    if (used[c]) continue;
                    const auto of = unknownOf(cycles[c]);
                    const auto added = static_cast<std::size_t>(
                        std::count_if(of.begin(), of.end(), [&](const FreedomRef f) { return unknown.count(f) == 0; }));
                    if (added == of.size() || added >= fewest) continue;
                    fewest = added;
                    next = c;
                }
                if (next == cycles.size()) break;
                used[next] = 1;
                const auto of = unknownOf(cycles[next]);
                unknown.insert(of.begin(), of.end());
                together.push_back(cycles[next]);
                full = isFull(together, {unknown.begin(), unknown.end()});
            }
            if (full && (best.empty() || unknown.size() < bestUnknown.size())) {
                best = together;
                bestUnknown = unknown;
            }
            if (!full && (last.empty() || unknown.size() > lastUnknown.size())) {
                last = together;
                lastUnknown = unknown;
            }
        }
        if (!best.empty())
            take(std::move(best), bestUnknown, false);
        else
            take(std::move(last), lastUnknown, true);
    }
    /// What moves in the null space of a block's screws; a link that only turns about its own line moves no joint.
    void nameIdle(const LoopBlock& block) {
        const Matrix m = makeMatrix(block.cycles, block.unknown, m_values);
        const Eigen::JacobiSVD<Matrix> svd(m, Eigen::ComputeFullV);
        std::set<FreedomRef> idle, spins;
        for (Eigen::Index k = 0; k < svd.matrixV().cols(); ++k) {
            if (k < svd.singularValues().size() &&
                svd.singularValues()[k] > kRankTolerance * std::max(1.0, svd.singularValues()[0]))
                continue;
            const Eigen::VectorXd v = svd.matrixV().col(k);
            auto& list = movesCentres(block, v) ? idle : spins;
            for (Eigen::Index i = 0; i < v.size(); ++i)
                if (std::abs(v[i]) > kSeenIdle) list.insert(at(block.unknown, i));
        }
        for (const FreedomRef f : idle) spins.erase(f);
        m_plan.idle.insert(m_plan.idle.end(), idle.begin(), idle.end());
        m_plan.spins.insert(m_plan.spins.end(), spins.begin(), spins.end());
    }
    [[nodiscard]] bool movesCentres(const LoopBlock& block, const Eigen::VectorXd& v) const {
        for (const LoopCycle& cycle : block.cycles) {
            LoopTerms terms;
            evaluateCycle(m_kinematics, cycle, m_values, terms);
            Screw speed = Screw::Zero();
            for (std::size_t t = 0; t < terms.terms.size(); ++t) {
                const LoopTerm& term = terms.terms[t];
                const auto found = std::lower_bound(block.unknown.begin(), block.unknown.end(), term.freedom);
                if (found != block.unknown.end() && *found == term.freedom)
                    speed += term.screw * v[found - block.unknown.begin()];
                const bool ends = t + 1 == terms.terms.size() || terms.terms[t + 1].freedom.joint != term.freedom.joint;
                if (!ends || t + 1 == terms.terms.size()) continue;
                // The next joint's centre moves with the link between: any point of its axis will do.
                const Screw& next = terms.terms[t + 1].screw;
                const Vec3 axis = next.head<3>();
                if (axis.norm() < 0.5) continue;
                const Vec3 point = axis.cross(Vec3(next.tail<3>())) / axis.squaredNorm();
                const Vec3 along = Vec3(speed.tail<3>()) + Vec3(speed.head<3>()).cross(point);
                const Vec3 across = along - axis * (axis.dot(along) / axis.squaredNorm());
                if (across.norm() > 1e-3) return true;
            }
        }
        return false;
    }

    const Kinematics& m_kinematics;
    const model::Project& m_project;
    const model::SectionTree& m_tree;
    const JointValues& m_values;
    std::vector<bool> m_known;
    std::vector<std::vector<int>> m_incident; ///< joints at each section
    LoopPlan m_plan;
};

} // namespace

void evaluateCycle(const Kinematics& kinematics, const LoopCycle& cycle, const JointValues& values, LoopTerms& into) {
    into.terms.clear();
    Frame X = Frame::Identity();
    const auto add = [&](int joint, int freedom, const Screw& screw, LoopTerm::Base base = LoopTerm::Base::Own) {
        into.terms.push_back({{joint, freedom}, screw, base});
    };
    for (const LoopHop& hop : cycle.hops) {
        const int j = hop.joint;
        const auto& kind = *at(kinematics.project().joints, j).kind;
        const auto& v = at(values, j);
        const Frame motion = calcMotion(kind, v);
        const Frame X_joint =
            hop.forward ? Frame(X * kinematics.before(j))
                        : Frame(X * kinematics.after(j).inverse(Eigen::Isometry) * motion.inverse(Eigen::Isometry));
        const Vec3 p = X_joint.translation() - cycle.centre;
        const double sign = hop.forward ? 1 : -1;
        switch (kind.motion) {
        case JointMotion::Turn: add(j, 0, sign * turnScrew(X_joint.linear().col(2), p)); break;
        case JointMotion::TurnSlide: // the two commute
            add(j, 0, sign * turnScrew(X_joint.linear().col(2), p));
            add(j, 1, sign * slideScrew(X_joint.linear().col(2)));
            break;
        case JointMotion::Ball:
            for (int k = 0; k < 3; ++k)
                add(j, k, sign * turnScrew(X_joint.linear().col(k), p),
                    hop.forward ? LoopTerm::Base::Group : LoopTerm::Base::GroupEnd);
            break;
        case JointMotion::Universal: {
            const Screw first = sign * turnScrew(X_joint.linear().col(0), p);
            const Vec3 axis = X_joint.linear() * (geometry::expMap(Vec3(base::degToRad(v[0]), 0, 0)) * Vec3::UnitY());
            const Screw second = sign * turnScrew(axis, p);
            add(j, hop.forward ? 0 : 1, hop.forward ? first : second);
            add(j, hop.forward ? 1 : 0, hop.forward ? second : first);
            break;
        }
        }
        X = hop.forward ? Frame(X_joint * motion * kinematics.after(j))
                        : Frame(X_joint * kinematics.before(j).inverse(Eigen::Isometry));
    }
    into.round = X;
}

bool LoopPlan::leavesNothingFree() const {
    return idle.empty() &&
           std::none_of(blocks.begin(), blocks.end(), [](const LoopBlock& block) { return block.loose; });
}

LoopPlan planLoops(const Kinematics& kinematics, const JointValues& values, FreedomRef driver) {
    return Planner(kinematics, values, driver).run();
}

} // namespace ivrant::pose
