// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/structure.h"

#include <algorithm>
#include <cmath>
#include <deque>
#include <limits>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/groups.h"
#include "core/base/units.h"
#include "core/geometry/hull.h"

namespace ivrant::stand {
namespace {

constexpr double kLevelMm = 0.05;
constexpr double kUpright = 0.99;

Vec3 middleOf(const Contact& contact) {
    Vec3 middle = Vec3::Zero();
    for (const Vec3& corner : contact.corners) middle += corner / static_cast<double>(contact.corners.size());
    return middle;
}
double massOf(const Body& body) {
    double gram = body.massG;
    for (const auto& [hung, at] : body.hung) gram += hung;
    return gram;
}
double pullOf(const Contact& contact) {
    double pull = 0;
    for (const ForceColumn& column : contact.columns)
        if (column.role == ColumnRole::Pull) pull += column.high;
    return pull;
}

/// Opens about each edge of its outline in turn: studs on the far side pull, the weight above helps or not.
class Section {
public:
    Section(const BondNet& net, Neck& neck) : m_net(net), m_neck(neck) {
        std::vector<Eigen::Vector2d> corners;
        for (const int k : neck.contacts)
            for (const Vec3& corner : ivrant::at(net.contacts, k).corners) corners.emplace_back(corner.x(), corner.y());
        m_outline = geometry::calcHull2(std::move(corners));
        Vec3 moment = Vec3::Zero();
        for (const int b : neck.above) {
            const Body& body = ivrant::at(net.bodies, b);
            moment += body.massG * body.centre;
            for (const auto& [gram, at] : body.hung) moment += gram * at;
            neck.massG += massOf(body);
            neck.topMm = std::max(neck.topMm, body.centre.z() - neck.atZ);
        }
        if (neck.massG > 0) m_centre = (moment / neck.massG).head<2>();
        m_armMm = neck.massG > 0 ? moment.z() / neck.massG - neck.atZ : 0;
    }
    /// False when nothing can be said: no area, or nothing above to push at.
    bool calcPush() {
        if (m_outline.size() < 3 || !(m_neck.topMm > 0)) return false;
        double least = std::numeric_limits<double>::infinity();
        for (std::size_t i = 0; i < m_outline.size(); ++i) {
            const Eigen::Vector2d a = m_outline[i], along = (m_outline[(i + 1) % m_outline.size()] - a).normalized();
            const Eigen::Vector2d inward(-along.y(), along.x()); // the outline runs counter-clockwise
            double holdsNmm = base::weightN(m_neck.massG) * inward.dot(m_centre - a);
            for (const int k : m_neck.contacts)
                for (const ForceColumn& column : ivrant::at(m_net.contacts, k).columns)
                    if (column.role == ColumnRole::Pull) holdsNmm += column.high * inward.dot(column.at.head<2>() - a);
            const double push = holdsNmm / m_neck.topMm;
            if (push >= least) continue;
            least = push;
            m_neck.towardDeg = base::radToDeg(std::atan2(-inward.y(), -inward.x()));
        }
        m_neck.pushN = std::max(0.0, least);
        m_neck.shakeG = m_armMm > 0 ? m_neck.pushN * m_neck.topMm / (base::weightN(m_neck.massG) * m_armMm)
                                    : std::numeric_limits<double>::infinity();
        return true;
    }

private:
    const BondNet& m_net;
    Neck& m_neck;
    std::vector<Eigen::Vector2d> m_outline;
    Eigen::Vector2d m_centre = Eigen::Vector2d::Zero();
    double m_armMm = 0; ///< of the centre of what is above, over the level
};

/// Largest flow of pull from one body to the base; what it saturates is the least cut.
class Tug {
public:
    explicit Tug(const BondNet& net) : m_of(net.bodies.size()), m_net(net) {
        for (std::size_t k = 0; k < net.contacts.size(); ++k) {
            const Contact& contact = net.contacts[k];
            if (contact.a < 0) continue;
            ivrant::at(m_of, contact.a).push_back(static_cast<int>(k));
            ivrant::at(m_of, contact.b).push_back(static_cast<int>(k));
            m_capacity.resize(net.contacts.size(), 0);
            m_capacity[k] = pullOf(contact);
        }
        m_capacity.resize(net.contacts.size(), 0);
    }
    /// Force at which `from` comes off; no more is sought once it reaches `enough`. Leaves who came along in `reached`.
    double pull(int from, const std::vector<char>& isBase, double enough) {
        m_flow.assign(m_capacity.size(), 0.0);
        double total = 0;
        while (total < enough) {
            const int end = search(from, isBase);
            if (end < 0) return total;
            double least = enough;
            walk(end, from, [&](int k, double sign) {
                least = std::min(least, ivrant::at(m_capacity, k) - sign * ivrant::at(m_flow, k));
            });
            walk(end, from, [&](int k, double sign) { ivrant::at(m_flow, k) += sign * least; });
            total += least;
        }
        return total;
    }
    std::vector<char> reached;

private:
    /// Flow from a to b counts positive.
    int search(int from, const std::vector<char>& isBase) {
        reached.assign(m_of.size(), 0);
        m_via.assign(m_of.size(), -1);
        std::deque<int> open{from};
        ivrant::at(reached, from) = 1;
        while (!open.empty()) {
            const int at = open.front();
            open.pop_front();
            for (const int k : ivrant::at(m_of, at)) {
                const Contact& contact = ivrant::at(m_net.contacts, k);
                const bool forward = contact.a == at;
                const int next = forward ? contact.b : contact.a;
                const double left = ivrant::at(m_capacity, k) - (forward ? 1 : -1) * ivrant::at(m_flow, k);
                if (ivrant::at(reached, next) || left <= 1e-9) continue;
                ivrant::at(reached, next) = 1;
                ivrant::at(m_via, next) = k;
                if (ivrant::at(isBase, next)) return next;
                open.push_back(next);
            }
        }
        return -1;
    }
    template <typename Visit> void walk(int end, int from, const Visit& visit) const {
        for (int at = end; at != from;) {
            const int k = ivrant::at(m_via, at);
            const Contact& contact = ivrant::at(m_net.contacts, k);
            const bool forward = contact.b == at;
            visit(k, forward ? 1.0 : -1.0);
            at = forward ? contact.a : contact.b;
        }
    }

    std::vector<std::vector<int>> m_of;
    std::vector<double> m_capacity, m_flow;
    std::vector<int> m_via;
    const BondNet& m_net;
};

std::vector<char> listBase(const BondNet& net) {
    std::vector<char> base(net.bodies.size(), 0);
    bool any = false;
    for (const Contact& contact : net.contacts)
        if (contact.a < 0) {
            ivrant::at(base, contact.b) = 1;
            any = true;
        }
    if (any || net.bodies.empty()) return base;
    const auto lighter = [](const Body& l, const Body& r) { return massOf(l) < massOf(r); };
    ivrant::at(base, std::max_element(net.bodies.begin(), net.bodies.end(), lighter) - net.bodies.begin()) = 1;
    return base;
}

} // namespace

std::vector<Neck> findNecks(const BondNet& net, std::size_t most) {
    std::map<std::int64_t, std::vector<int>> levels;
    for (std::size_t k = 0; k < net.contacts.size(); ++k) {
        const Contact& contact = net.contacts[k];
        if (contact.kind == ContactKind::Studs && contact.a >= 0 && std::abs(contact.normal.z()) > kUpright)
            levels[std::llround(middleOf(contact).z() / kLevelMm)].push_back(static_cast<int>(k));
    }
    std::vector<Neck> necks;
    const auto earth = net.bodies.size();
    for (const auto& [level, contacts] : levels) {
        base::Groups groups(net.bodies.size() + 1);
        std::vector<char> cut(net.contacts.size(), 0);
        for (const int k : contacts) ivrant::at(cut, k) = 1;
        for (std::size_t k = 0; k < net.contacts.size(); ++k)
            if (!cut[k])
                groups.join(net.contacts[k].a < 0 ? earth : static_cast<std::size_t>(net.contacts[k].a),
                            static_cast<std::size_t>(net.contacts[k].b));
        std::map<std::size_t, Neck> byGroup; // what stands on the ground's side by these contacts alone
        for (const int k : contacts) {
            const Contact& contact = ivrant::at(net.contacts, k);
            const auto low = static_cast<std::size_t>(contact.normal.z() > 0 ? contact.a : contact.b),
                       high = static_cast<std::size_t>(contact.normal.z() > 0 ? contact.b : contact.a);
            if (groups.find(low) != groups.find(earth) || groups.find(high) == groups.find(earth)) continue;
            byGroup[groups.find(high)].contacts.push_back(k);
        }
        for (std::size_t b = 0; b < net.bodies.size(); ++b)
            if (const auto it = byGroup.find(groups.find(b)); it != byGroup.end())
                it->second.above.push_back(static_cast<int>(b));
        for (auto& [group, neck] : byGroup) {
            neck.atZ = static_cast<double>(level) * kLevelMm;
            if (Section(net, neck).calcPush()) necks.push_back(std::move(neck));
        }
    }
    std::stable_sort(necks.begin(), necks.end(), [](const Neck& l, const Neck& r) { return l.shakeG < r.shakeG; });
    if (necks.size() > most) necks.resize(most);
    return necks;
}

std::vector<Piece> findPieces(const BondNet& net, double tugN) {
    const std::vector<char> base = listBase(net);
    Tug tug(net);
    std::vector<Piece> pieces;
    std::set<std::vector<int>> seen;
    const std::set<int> floating(net.floating.begin(), net.floating.end());
    for (std::size_t b = 0; b < net.bodies.size(); ++b) {
        if (base[b] || floating.count(static_cast<int>(b)) > 0) continue;
        const double force = tug.pull(static_cast<int>(b), base, tugN);
        if (force >= tugN) continue;
        Piece piece;
        piece.pulled = static_cast<int>(b);
        piece.forceN = force;
        for (std::size_t i = 0; i < net.bodies.size(); ++i)
            if (tug.reached[i]) piece.bodies.push_back(static_cast<int>(i));
        if (piece.bodies.size() < kTugBodies || !seen.insert(piece.bodies).second) continue;
        for (const int i : piece.bodies) piece.massG += massOf(ivrant::at(net.bodies, i));
        for (std::size_t k = 0; k < net.contacts.size(); ++k)
            if (net.contacts[k].a >= 0 &&
                ivrant::at(tug.reached, net.contacts[k].a) != ivrant::at(tug.reached, net.contacts[k].b))
                piece.contacts.push_back(static_cast<int>(k));
        pieces.push_back(std::move(piece));
    }
    std::stable_sort(pieces.begin(), pieces.end(), [](const Piece& l, const Piece& r) {
        return std::pair(l.forceN, -l.massG) < std::pair(r.forceN, -r.massG);
    });
    return pieces;
}

std::vector<FrictionHeld> findFrictionHeld(const BondNet& net) {
    base::Groups firm(net.bodies.size() + 1);
    const auto earth = net.bodies.size();
    const auto sideOf = [&](const Contact& contact) {
        return contact.a < 0 ? earth : static_cast<std::size_t>(contact.a);
    };
    for (const Contact& contact : net.contacts)
        if (contact.kind != ContactKind::Friction && contact.kind != ContactKind::Rest)
            firm.join(sideOf(contact), static_cast<std::size_t>(contact.b));
    // Without ground the largest group is what the others hang on.
    std::map<std::size_t, double> mass;
    for (std::size_t b = 0; b < net.bodies.size(); ++b) mass[firm.find(b)] += massOf(net.bodies[b]);
    if (mass.empty()) return {};
    std::size_t main = firm.find(earth);
    if (mass.count(main) == 0)
        main = std::max_element(mass.begin(), mass.end(), [](const auto& l, const auto& r) {
                   return l.second < r.second;
               })->first;
    std::map<std::size_t, FrictionHeld> found;
    for (std::size_t k = 0; k < net.contacts.size(); ++k) {
        const Contact& contact = net.contacts[k];
        if (contact.kind != ContactKind::Friction) continue; // what merely lies there needs no friction to stay
        for (const std::size_t side : {firm.find(sideOf(contact)), firm.find(static_cast<std::size_t>(contact.b))}) {
            if (side == main || firm.find(sideOf(contact)) == firm.find(static_cast<std::size_t>(contact.b))) continue;
            found[side].contacts.push_back(static_cast<int>(k));
            found[side].holdsN += pullOf(contact);
        }
    }
    std::vector<FrictionHeld> held;
    for (auto& [group, entry] : found) {
        entry.massG = mass[group];
        for (std::size_t b = 0; b < net.bodies.size(); ++b)
            if (firm.find(b) == group) entry.bodies.push_back(static_cast<int>(b));
        held.push_back(std::move(entry));
    }
    return held;
}

} // namespace ivrant::stand
