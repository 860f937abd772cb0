// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/certificate.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/stand/balance.h"
#include "core/stand/yielding_springs.h"

namespace ivrant::stand {
namespace {

constexpr double kPressStiff = 1; ///< N that a pressed corner is worth beside the limits of the others
constexpr double kGrip = 0.5;
constexpr double kUprightShare = 0.01, kSoft = 0.01;
constexpr std::size_t kEdges = 4;           ///< of the friction pyramid
constexpr std::size_t kWorthParting = 1000; ///< bodies from which on a part of them is tried first
constexpr std::size_t kFew = 8, kPart = 5;  ///< at most an eighth lacks something; a fifth is looked at
constexpr double kNothingN = kBalanceN / 2;

/// What lacks something, a shortest way from each of them to what stands on the ground, and what lies around both until
/// it is about so many.
std::vector<char> findAround(const BondNet& net, const std::vector<int>& lacking, std::size_t wanted) {
    std::vector<std::vector<int>> next(net.bodies.size());
    std::vector<int> towards(net.bodies.size(), -1), open;
    std::vector<char> reached(net.bodies.size(), 0), in(net.bodies.size(), 0);
    const auto reach = [&](int body, int via) {
        if (at(reached, body)) return;
        at(reached, body) = 1;
        at(towards, body) = via;
        open.push_back(body);
    };
    for (const Contact& contact : net.contacts) {
        if (contact.a < 0)
            reach(contact.b, -1);
        else {
            at(next, contact.a).push_back(contact.b);
            at(next, contact.b).push_back(contact.a);
        }
    }
    for (std::size_t k = 0; k < open.size(); ++k)
        for (const int n : at(next, open[k])) reach(n, open[k]);
    std::vector<int> taken;
    const auto take = [&](int body) {
        if (at(in, body)) return false;
        at(in, body) = 1;
        taken.push_back(body);
        return true;
    };
    for (const int from : lacking)
        for (int b = from; b >= 0 && take(b);) b = at(towards, b);
    for (std::size_t k = 0; k < taken.size() && taken.size() < wanted; ++k)
        for (const int n : at(next, taken[k])) take(n);
    return in;
}

/// Under upright loads each ground corner also presses straight up (what its friction edges can do together), and the
/// edges hardly count: springs in the base would thrust against each other without need, and yield.
BondNet pressUpright(BondNet net) {
    for (Contact& contact : net.contacts)
        if (contact.kind == ContactKind::Ground)
            for (const Vec3& corner : contact.corners)
                contact.columns.push_back({corner, contact.normal, Vec3::Zero(), 0, kNoLimit, ColumnRole::Press, -1});
    return net;
}
bool isUpright(const std::vector<BodyLoad>& loads) {
    double across = 0, down = 0;
    for (const BodyLoad& load : loads) {
        across += load.force.head<2>().norm();
        down += std::abs(load.force.z());
    }
    return across <= kUprightShare * down;
}

class Prover {
public:
    Prover(BondNet net, const std::vector<BodyLoad>& loads, const CertificateRequest& request)
        : m_net(std::move(net)), m_request(request), m_balance(m_net, loads) {
        m_springs.A = m_balance.makeMatrix();
        m_springs.load.assign(static_cast<std::size_t>(m_springs.A.rows), 0.0);
        for (std::size_t b = 0; b < m_net.bodies.size(); ++b) m_balance.addLoad(m_springs.load, b, 1);
        for (const ForceColumn* column : m_balance.columns()) {
            const double unit = Balance::unitOf(*column);
            m_springs.low.push_back(column->low / unit);
            m_springs.high.push_back(column->high / unit);
            const double size = column->high < kNoLimit && column->low > -kNoLimit ? column->high / unit : kPressStiff;
            m_springs.stiffness.push_back(size * size);
        }
    }

    base::Result<Certificate> run() {
        Certificate result;
        if (!m_net.floating.empty()) return result;
        prestress();
        if (m_request.start) takeUp(*m_request.start);
        // After an edit little is missing, and that in one place; from rest one round of all leaves little missing.
        SpringState now = lookAt(m_springs);
        const auto whole = [&](int rounds, bool first) -> base::Status {
            const auto found = letSpringsYield(m_springs, {rounds, kBalanceN, first, true, m_request.progress});
            if (!found) return found.error();
            now = *found;
            m_springs.rest = now.wanted;
            result.rounds += now.rounds;
            return {};
        };
        if (!m_request.start)
            if (auto st = whole(1, true); !st) return st.error();
        if (auto st = nearby(now, result.rounds); !st) return st.error();
        if (now.residual > kBalanceN)
            if (auto st = whole(m_request.mostRounds - result.rounds, false); !st) return st.error();
        result.residualN = now.residual;
        result.stands = now.residual <= kBalanceN;
        const auto &low = m_springs.low, &high = m_springs.high;
        for (std::size_t c = 0; c < now.force.size(); ++c)
            if (high[c] < kNoLimit)
                result.largestUse =
                    std::max({result.largestUse, now.force[c] / high[c], low[c] < 0 ? now.force[c] / low[c] : 0.0});
        keep(now.wanted, result.forces);
        return result;
    }

private:
    /// Studs grip: pulled half of what they can and pressed as much, so that small moments and pulls make no spring
    /// yield. The ground presses evenly.
    void prestress() {
        auto& rest = m_springs.rest;
        rest.assign(m_springs.low.size(), 0.0);
        std::size_t edges = 0;
        for (const Contact& contact : m_net.contacts)
            if (contact.kind == ContactKind::Ground) edges += contact.corners.size();
        forEachContact([&](const Contact& contact, std::size_t first) {
            if (contact.kind == ContactKind::Ground)
                for (std::size_t c = 0; c < contact.columns.size(); ++c) {
                    const bool slanted = contact.columns[c].force.head<2>().norm() > 0;
                    const bool both = contact.columns.size() > kEdges * contact.corners.size();
                    const double share = slanted ? (both ? kSoft : 1.0 / kEdges) : 1;
                    rest[first + c] = share * m_balance.total() / static_cast<double>(edges);
                    if (slanted && both) m_springs.stiffness[first + c] *= kSoft;
                }
            if (contact.kind != ContactKind::Studs) return;
            double pull = 0;
            for (std::size_t c = 0; c < contact.columns.size(); ++c)
                if (contact.columns[c].role == ColumnRole::Pull)
                    pull += rest[first + c] = kGrip * contact.columns[c].high;
            for (std::size_t c = 0; c < contact.columns.size(); ++c)
                if (contact.columns[c].role == ColumnRole::Press)
                    rest[first + c] = pull / static_cast<double>(contact.corners.size());
        });
    }
    /// Only the parts near what is missing, and a way from there to the ground, with all other forces kept as they are:
    /// a balance of those few is one of the whole. `now` stays as it was when that does not come out.
    base::Status nearby(SpringState& now, int& rounds) {
        const std::size_t all = m_net.bodies.size();
        if (all < kWorthParting || now.residual <= kBalanceN) return {};
        std::vector<int> lacking;
        for (std::size_t b = 0; b < all; ++b) {
            const int row = m_balance.rowOf(b);
            for (int k = 0; row >= 0 && k < 6; ++k)
                if (std::abs(now.missing[static_cast<std::size_t>(row) + static_cast<std::size_t>(k)]) > kNothingN) {
                    lacking.push_back(static_cast<int>(b));
                    break;
                }
        }
        if (lacking.size() > all / kFew) return {};
        const std::vector<char> in = findAround(m_net, lacking, all / kPart);
        std::vector<int> rowTo(m_springs.load.size(), -1);
        YieldingSprings part;
        for (std::size_t b = 0; b < all; ++b) {
            if (!in[b] || m_balance.rowOf(b) < 0) continue;
            for (int k = 0; k < 6; ++k) {
                const auto row = static_cast<std::size_t>(m_balance.rowOf(b)) + static_cast<std::size_t>(k);
                rowTo[row] = part.A.rows++;
                part.load.push_back(now.missing[row]);
            }
        }
        std::vector<std::size_t> of; // columns
        const SparseMatrix& A = m_springs.A;
        for (std::size_t c = 0; c < m_springs.low.size(); ++c) {
            bool inside = true;
            for (int k = A.starts[c]; k < A.starts[c + 1]; ++k) inside = inside && at(rowTo, at(A.row, k)) >= 0;
            if (!inside || A.starts[c] == A.starts[c + 1]) continue;
            for (int k = A.starts[c]; k < A.starts[c + 1]; ++k) {
                const auto entry = static_cast<std::size_t>(k);
                const int row = at(rowTo, A.row[entry]);
                part.A.add(row, A.value[entry]);
                at(part.load, row) += A.value[entry] * now.force[c];
            }
            part.A.endColumn();
            of.push_back(c);
            part.low.push_back(m_springs.low[c]);
            part.high.push_back(m_springs.high[c]);
            part.stiffness.push_back(m_springs.stiffness[c]);
            part.rest.push_back(now.wanted[c]);
        }
        const auto found =
            letSpringsYield(part, {m_request.mostRounds, kBalanceN / 2, false, true, m_request.progress});
        if (!found) return found.error().code == "stopped" ? base::Status(found.error()) : base::Status();
        rounds += found->rounds;
        if (found->residual > kBalanceN / 2) return {};
        for (std::size_t k = 0; k < of.size(); ++k) m_springs.rest[of[k]] = found->wanted[k];
        now = lookAt(m_springs); // what was cut out is put back and the whole looked at anew
        return {};
    }

    /// Each contact that counts, with its first column.
    template <typename Visit> void forEachContact(const Visit& visit) const {
        std::size_t first = 0;
        for (const Contact& contact : m_net.contacts) {
            if (!m_balance.isIn(contact)) continue;
            visit(contact, first);
            first += contact.columns.size();
        }
    }
    static std::array<std::int64_t, 4> keyOf(const Contact& contact) {
        Vec3 middle = Vec3::Zero();
        for (const Vec3& corner : contact.corners) middle += corner / static_cast<double>(contact.corners.size());
        const auto cell = [&](int k) { return static_cast<std::int64_t>(std::llround(middle[k] * 100)); };
        return {cell(0), cell(1), cell(2), static_cast<std::int64_t>(contact.kind)};
    }
    void takeUp(const KeptForces& kept) {
        forEachContact([&](const Contact& contact, std::size_t first) {
            const auto it = kept.values.find(keyOf(contact));
            if (it == kept.values.end() || it->second.size() != contact.columns.size()) return;
            for (std::size_t c = 0; c < it->second.size(); ++c) m_springs.rest[first + c] = it->second[c];
        });
    }
    void keep(const std::vector<double>& wanted, KeptForces& kept) const {
        forEachContact([&](const Contact& contact, std::size_t first) {
            const auto from = wanted.begin() + static_cast<std::ptrdiff_t>(first);
            kept.values[keyOf(contact)].assign(from, from + static_cast<std::ptrdiff_t>(contact.columns.size()));
        });
    }

    const BondNet m_net;
    const CertificateRequest& m_request;
    Balance m_balance;
    YieldingSprings m_springs;
};

} // namespace

base::Result<Certificate> calcCertificate(const BondNet& net, const std::vector<BodyLoad>& loads,
                                          const CertificateRequest& request) {
    if (auto st = checkProblem(net, loads); !st) return st.error();
    return isUpright(loads) ? Prover(pressUpright(net), loads, request).run() : Prover(net, loads, request).run();
}

} // namespace ivrant::stand
