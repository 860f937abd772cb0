#include "core/stand/certificate.h"

#include <algorithm>
#include <cmath>

#include "core/stand/balance.h"
#include "core/stand/normal_equations.h"

namespace ivrant::stand {
namespace {

constexpr double kPressStiff = 1; ///< N that a pressed corner is worth beside the limits of the others
constexpr double kAtLimit = 1e-4; ///< stiffness that is left to a column at its limit, so that the matrix stays regular
constexpr int kEarly = 4;
constexpr double kHopeless = 0.7;
constexpr double kGrip = 0.5;
constexpr double kUprightShare = 0.01, kSoft = 0.01;
constexpr std::size_t kEdges = 4; ///< of the friction pyramid

constexpr double kArmijo = 1e-4;
constexpr int kMostHalvings = 12;

/// Under upright loads each ground corner also presses straight up (what its friction edges can do together), and the edges hardly count: springs in
/// the base would thrust against each other without need, and yield.
BondNet pressUpright(BondNet net) {
    for (Contact& contact : net.contacts)
        if (contact.kind == ContactKind::Ground)
            for (const Vec3& corner : contact.corners) contact.columns.push_back({corner, contact.normal, Vec3::Zero(), 0, kNoLimit, ColumnRole::Press, -1});
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
        m_A = m_balance.makeMatrix();
        m_load.assign(static_cast<std::size_t>(m_A.rows), 0.0);
        for (std::size_t b = 0; b < m_net.bodies.size(); ++b) m_balance.addLoad(m_load, b, 1);
        for (const ForceColumn* column : m_balance.columns()) {
            const double unit = Balance::unitOf(*column);
            m_low.push_back(column->low / unit);
            m_high.push_back(column->high / unit);
            const double size = column->high < kNoLimit && column->low > -kNoLimit ? column->high / unit : kPressStiff;
            m_weight.push_back(size * size);
        }
    }

    base::Result<Certificate> run() {
        Certificate result;
        if (!m_net.floating.empty()) return result;
        NormalEquations normal(m_A);
        prestress();
        if (m_request.start) takeUp(*m_request.start);
        std::vector<double> y(m_load.size(), 0.0), theta(m_low.size());
        State now = look(y);
        double first = 0;                                          // lacking after the first round
        if (!m_request.start) now.free.assign(now.free.size(), 1); // from rest all springs answer
        for (; result.rounds < m_request.mostRounds && now.residual > kBalanceN; ++result.rounds) {
            if (m_request.progress && m_request.progress->stopped()) return base::Error{"stopped", "stopped", ""};
            for (std::size_t c = 0; c < theta.size(); ++c) theta[c] = m_weight[c] * (now.free[c] ? 1 : kAtLimit);
            if (!normal.factor(theta)) return base::Error{"stand.solver", "the equations of balance could not be solved", ""};
            const std::vector<double> way = normal.solve(now.missing);
            double slope = 0;
            for (std::size_t r = 0; r < way.size(); ++r) slope += way[r] * now.missing[r];
            double length = 1;
            State next;
            std::vector<double> there(y.size());
            for (int halving = 0; halving < kMostHalvings; ++halving, length /= 2) {
                for (std::size_t r = 0; r < y.size(); ++r) there[r] = y[r] + length * way[r];
                next = look(there);
                if (next.value >= now.value + kArmijo * length * slope) break;
            }
            y = there;
            now = std::move(next);
            if (result.rounds == 0) first = now.residual;
            if (result.rounds == kEarly && now.residual > kHopeless * first) break; // what falls does not come nearer
        }
        result.residualN = now.residual;
        result.stands = now.residual <= kBalanceN;
        for (std::size_t c = 0; c < now.f.size(); ++c)
            if (m_high[c] < kNoLimit) result.largestUse = std::max({result.largestUse, now.f[c] / m_high[c], m_low[c] < 0 ? now.f[c] / m_low[c] : 0.0});
        keep(wantedAt(y), result.forces);
        return result;
    }

private:
    /// Studs grip: pulled half of what they can and pressed as much, so that small moments and pulls make no spring yield. The ground presses evenly.
    void prestress() {
        m_start.assign(m_low.size(), 0.0);
        std::size_t edges = 0;
        for (const Contact& contact : m_net.contacts)
            if (contact.kind == ContactKind::Ground) edges += contact.corners.size();
        forEachContact([&](const Contact& contact, std::size_t first) {
            if (contact.kind == ContactKind::Ground)
                for (std::size_t c = 0; c < contact.columns.size(); ++c) {
                    const bool slanted = contact.columns[c].force.head<2>().norm() > 0;
                    const bool both = contact.columns.size() > kEdges * contact.corners.size();
                    const double share = slanted ? (both ? kSoft : 1.0 / kEdges) : 1;
                    m_start[first + c] = share * m_balance.total() / static_cast<double>(edges);
                    if (slanted && both) m_weight[first + c] *= kSoft;
                }
            if (contact.kind != ContactKind::Studs) return;
            double pull = 0;
            for (std::size_t c = 0; c < contact.columns.size(); ++c)
                if (contact.columns[c].role == ColumnRole::Pull) pull += m_start[first + c] = kGrip * contact.columns[c].high;
            for (std::size_t c = 0; c < contact.columns.size(); ++c)
                if (contact.columns[c].role == ColumnRole::Press) m_start[first + c] = pull / static_cast<double>(contact.corners.size());
        });
    }
    [[nodiscard]] std::vector<double> wantedAt(const std::vector<double>& y) const {
        std::vector<double> wanted = m_start;
        for (std::size_t c = 0; c < wanted.size(); ++c) wanted[c] += m_weight[c] * m_A.dotColumn(static_cast<int>(c), y);
        return wanted;
    }
    /// Forces that the multipliers ask for, within their limits, and what the balance then lacks.
    struct State {
        std::vector<double> f, missing;
        std::vector<char> free; ///< strictly within its limits
        double value = 0;       ///< of the dual
        double residual = 0;
    };
    [[nodiscard]] State look(const std::vector<double>& y) const {
        State state;
        state.f.resize(m_low.size());
        state.free.resize(m_low.size());
        state.missing.assign(m_load.size(), 0.0);
        for (std::size_t c = 0; c < m_low.size(); ++c) {
            const double t = m_A.dotColumn(static_cast<int>(c), y), wanted = m_start[c] + m_weight[c] * t;
            const double f = std::clamp(wanted, m_low[c], m_high[c]), moved = f - m_start[c];
            state.f[c] = f;
            state.free[c] = wanted > m_low[c] && wanted < m_high[c] ? 1 : 0;
            state.value -= f * t - 0.5 * moved * moved / m_weight[c];
        }
        m_A.multiply(state.f, state.missing);
        for (std::size_t r = 0; r < y.size(); ++r) {
            state.missing[r] = m_load[r] - state.missing[r];
            state.value += y[r] * m_load[r];
            state.residual = std::max(state.residual, std::abs(state.missing[r]));
        }
        return state;
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
            for (std::size_t c = 0; c < it->second.size(); ++c) m_start[first + c] = it->second[c];
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
    SparseMatrix m_A;
    std::vector<double> m_load, m_low, m_high, m_weight, m_start;
};

} // namespace

base::Result<Certificate> calcCertificate(const BondNet& net, const std::vector<BodyLoad>& loads, const CertificateRequest& request) {
    if (auto st = checkProblem(net, loads); !st) return st.error();
    return isUpright(loads) ? Prover(pressUpright(net), loads, request).run() : Prover(net, loads, request).run();
}

} // namespace ivrant::stand
