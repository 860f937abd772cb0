// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/equilibrium.h"

#include <algorithm>
#include <cmath>
#include <deque>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/stand/balance.h"

namespace ivrant::stand {
namespace {

constexpr double kPressWeight = 1e-3; ///< how little pressing counts beside the use of limits
constexpr std::size_t kLarge = 1500;  ///< from so many bodies on λ is found less closely, and early
constexpr double kUseSlack = 1.1;
constexpr double kClearGap = 1e-3, kLargeGap = 1e-2;
constexpr double kLargeUseGap = 1e-4; ///< uses are within 0.003 of those at the small gap
constexpr double kDrawnIn = 0.3;      ///< share of the way from the forces of λ to the middle of the bounds
constexpr double kUnsure = 5;         ///< gaps that a share may lack unproven
constexpr int kHardRounds = 20;
constexpr double kBoundaryShare = 1e-3;
constexpr double kMuchFriction = 50; ///< so that nothing slides

class Judge {
public:
    Judge(const BondNet& net, const std::vector<BodyLoad>& loads, const EquilibriumRequest& request,
          bool asWhole = true)
        : m_net(net), m_loads(loads), m_request(request), m_balance(net, loads), m_asWhole(asWhole) {}

    base::Result<Equilibrium> run() {
        m_result.share.assign(m_net.bodies.size(), 1.0);
        for (const int b : m_net.floating) ivrant::at(m_result.share, b) = 0;
        m_result.forces.resize(m_net.contacts.size());
        // λ first: a share of 1 and more for all is a proof that it stands, and saves the other question.
        const bool first = m_request.lambda && m_net.floating.empty() && m_balance.rows() > 0;
        if (first) {
            if (auto st = findLambda(); !st) return st.error();
        }
        const bool proven = first && m_result.lambda && *m_result.lambda <= 1;
        if (m_balance.rows() > 0 && !proven) {
            if (auto st = findFalling(); !st) return st.error();
        }
        listFalling();
        if (m_request.lambda && !m_net.floating.empty()) m_result.lambda = kNoLimit;
        if (m_result.lambda && *m_result.lambda > 1 && !(m_result.stands && std::isinf(*m_result.lambda)))
            m_result.stands = false; // nothing holds above 1, however little
        if (m_result.stands && m_result.lambda && std::isinf(*m_result.lambda))
            m_result.lambda.reset(); // forces were found all the same
        if (m_asWhole && !m_result.stands && (!m_result.lambda || std::isinf(*m_result.lambda)) &&
            m_net.floating.empty())
            m_result.givesWay = findGivesWay();
        if (m_result.givesWay != GivesWay::InParts) return std::move(m_result);
        if (m_balance.rows() > 0 && m_result.stands && m_request.use) {
            if (auto st = findUse(); !st) return st.error();
        }
        findFirstToGo();
        return std::move(m_result);
    }

private:
    [[nodiscard]] ProgramOptions options() const {
        ProgramOptions options;
        options.residual = kBalanceN;
        options.progress = m_request.progress;
        return options;
    }
    base::Result<ProgramResult> solve(const Program& program, const ProgramOptions& options) {
        auto solved = solveProgram(program, options);
        if (!solved) return solved.error();
        if (solved->stopped) return base::Error{"stopped", "stopped", ""};
        m_result.iterations += solved->iterations;
        return solved;
    }

    /// It stands only when every part carries its whole load. What is carried of all together is known to within a gap,
    /// so a part is told to fall when it lacks more than some of those; of one that lacks less, as a light one beside
    /// heavy ones may, nothing is known.
    void listFalling() {
        const double unsure = kUnsure * m_gap * m_balance.total();
        for (std::size_t b = 0; b < m_result.share.size(); ++b) {
            if (m_result.share[b] >= kWholeShare) continue;
            const bool floats = !m_balance.isLoaded(b);
            const bool known = floats || (1 - m_result.share[b]) * m_balance.size(b) > unsure;
            (known ? m_result.falling : m_result.undecided).push_back(static_cast<int>(b));
        }
        m_result.stands = m_result.falling.empty() && m_result.undecided.empty() && m_result.certain;
    }

    /// The whole as one rigid body on its ground: what no bond can change.
    [[nodiscard]] GivesWay findGivesWay() const {
        BondNet whole;
        Body body;
        for (const Body& part : m_net.bodies) {
            body.centre += part.massG * part.centre;
            body.massG += part.massG;
        }
        if (!(body.massG > 0)) return GivesWay::InParts;
        body.centre /= body.massG;
        whole.bodies.push_back(body);
        for (const Contact& contact : m_net.contacts) {
            if (contact.kind == ContactKind::Hand) return GivesWay::InParts; // it is held
            if (contact.kind != ContactKind::Ground) continue;
            whole.contacts.push_back(contact);
            whole.contacts.back().b = 0;
        }
        if (whole.contacts.empty()) return GivesWay::InParts;
        std::vector<BodyLoad> load(1);
        for (std::size_t b = 0; b < m_net.bodies.size(); ++b) {
            load[0].force += m_loads[b].force;
            load[0].moment += m_loads[b].moment + (m_net.bodies[b].centre - body.centre).cross(m_loads[b].force);
        }
        EquilibriumRequest request;
        request.lambda = request.use = false;
        const auto stays = [&] {
            const auto solved = Judge(whole, load, request, false).run();
            return solved && solved->stands;
        };
        if (stays()) return GivesWay::InParts;
        for (Contact& contact : whole.contacts)
            for (const Vec3& corner : contact.corners)
                for (const Vec3& side : {Vec3(1, 0, 0), Vec3(-1, 0, 0), Vec3(0, 1, 0), Vec3(0, -1, 0)})
                    contact.columns.push_back({corner, Vec3::UnitZ() + kMuchFriction * side, Vec3::Zero(), 0, kNoLimit,
                                               ColumnRole::Press, -1});
        return stays() ? GivesWay::Slides : GivesWay::Tips;
    }

    base::Status findFalling() {
        Program program = m_balance.makeProgram();
        std::vector<std::size_t> of;
        for (std::size_t b = 0; b < m_net.bodies.size(); ++b) {
            if (!m_balance.isLoaded(b)) continue;
            m_balance.addShareColumn(program.A, b);
            program.u.push_back(m_balance.size(b));
            program.c.push_back(-1);
            program.q.push_back(0);
            of.push_back(b);
        }
        const std::size_t first = program.c.size() - of.size();
        ProgramOptions how = options();
        const double clear = m_net.bodies.size() > kLarge ? kLargeGap : kClearGap;
        how.enough = [&](const std::vector<double>& x, double residual, double gap) {
            if (residual > kBalanceN) return false;
            double carried = 0;
            for (std::size_t k = 0; k < of.size(); ++k) carried += x[first + k];
            // No forces carry more than that and the gap: it falls for certain, and what falls is known well enough.
            if (gap < clear && carried * (1 + gap) < (1 - 2 * kClearGap) * m_balance.total()) {
                if (m_net.bodies.size() > kLarge) return true;
                // Of small models it is found out for every part.
                const double unsure = kUnsure * gap * m_balance.total();
                for (std::size_t k = 0; k < of.size(); ++k)
                    if (const double size = m_balance.size(of[k]);
                        x[first + k] < kWholeShare * size && size - x[first + k] <= unsure)
                        return false;
                return true;
            }
            // All carried: no need to press the gap.
            for (std::size_t k = 0; k < of.size(); ++k)
                if (x[first + k] < (1 - kBoundaryShare / 2) * m_balance.size(of[k])) return false;
            return true;
        };
        const auto solved = solve(program, how);
        if (!solved) return solved.error();
        m_result.residualN = solved->residual;
        m_result.certain = solved->converged;
        m_gap = solved->gap;
        for (std::size_t k = 0; k < of.size(); ++k)
            m_result.share[of[k]] = solved->residual <= kBalanceN ? solved->x[first + k] / m_balance.size(of[k]) : 0;
        readForces(solved->x);
        return {};
    }

    base::Status findLambda() {
        Program program = m_balance.makeProgram();
        program.dense.assign(program.b.size(), 0.0);
        for (std::size_t b = 0; b < m_net.bodies.size(); ++b)
            m_balance.addLoad(program.dense, b, -1 / m_balance.total());
        program.u.push_back(m_request.enoughShare * m_balance.total());
        program.c.push_back(-1);
        program.q.push_back(0);
        const double target = m_request.enoughShare * 0.98 * m_balance.total();
        ProgramOptions how = options();
        how.gap = m_request.gap;
        // Large models: near enough is soon enough, and a hard one is told as "λ ≤" once it is known to stand.
        const bool large = m_net.bodies.size() > kLarge && !m_request.patient;
        bool early = false;
        int round = 0;
        how.enough = [&](const std::vector<double>& x, double residual, double gap) {
            ++round;
            if (residual > kBalanceN) return false;
            if (x.back() >= target || (large && gap < kClearGap)) return true;
            early = large && round >= kHardRounds && x.back() >= m_balance.total();
            return early;
        };
        const auto solved = solve(program, how);
        if (!solved) return solved.error();
        const double share = solved->x.back() / m_balance.total();
        m_result.lambdaAtMost = share >= 0.97 * m_request.enoughShare || !solved->converged || early;
        if (share >= 1) m_carried = {solved->x.begin(), solved->x.end() - 1};
        m_share = share;
        if (share >= 1) { // forces that carry more than the load, brought down to it: a balance as good as any
            readForces(solved->x);
            for (ContactForce& force : m_result.forces)
                for (double* value : {&force.pressN, &force.pullN, &force.shearN, &force.momentNmm, &force.use})
                    *value /= share;
            m_result.residualN = std::max(m_result.residualN, solved->residual);
        }
        if (solved->residual > kBalanceN) return {}; // not known: the other question decides
        m_result.lambda = share > 1e-4 ? 1 / share : kNoLimit;
        return {};
    }

    base::Status findUse() {
        // No bond is asked more than the model as a whole: the forces stay within λ of the limits, and a little for the
        // solver.
        if (m_result.lambda && *m_result.lambda * kUseSlack < 1) m_balance.setScale(*m_result.lambda * kUseSlack);
        Program program = m_balance.makeProgram();
        for (std::size_t b = 0; b < m_net.bodies.size(); ++b) m_balance.addLoad(program.b, b, 1);
        const auto& columns = m_balance.columns();
        for (std::size_t c = 0; c < columns.size(); ++c) {
            const ForceColumn& column = *columns[c];
            const double unit = Balance::unitOf(column);
            const bool limited = column.high < kNoLimit && column.role != ColumnRole::Press;
            const double cap =
                limited ? column.high / unit : std::max(1e-6, m_balance.total()) / std::sqrt(kPressWeight);
            program.q[c] = 1 / (cap * cap);
            program.c[c] = program.q[c] * m_balance.scale() * column.low / unit;
        }
        program.from = makeStart(program);
        ProgramOptions how = options();
        if (m_net.bodies.size() > kLarge) how.gap = kLargeUseGap;
        const auto solved = solve(program, how);
        if (!solved) return solved.error();
        if (solved->residual > kBalanceN) return {}; // what the first question found stays
        m_result.residualN = std::max(m_result.residualN, solved->residual);
        readForces(solved->x);
        m_balance.setScale(1);
        return {};
    }

    /// The forces of λ brought down to the load, drawn in from the bounds: in balance but for that. Empty when there
    /// are none.
    [[nodiscard]] std::vector<double> makeStart(const Program& program) const {
        if (m_carried.empty()) return {};
        const auto& columns = m_balance.columns();
        std::vector<double> from(columns.size());
        for (std::size_t c = 0; c < columns.size(); ++c) {
            const double low =
                columns[c]->low / Balance::unitOf(*columns[c]); // x counts from it, and it moves with the scale
            const double x = (m_carried[c] + low) / m_share - m_balance.scale() * low, u = program.u[c];
            from[c] = u < kNoLimit ? (1 - kDrawnIn) * std::clamp(x, 0.0, u) + kDrawnIn * u / 2
                                   : std::max(x, kDrawnIn * program.usual);
        }
        return from;
    }

    void readForces(const std::vector<double>& x) {
        std::size_t c = 0;
        for (std::size_t k = 0; k < m_net.contacts.size(); ++k) {
            const Contact& contact = m_net.contacts[k];
            if (!m_balance.isIn(contact)) continue;
            ContactForce force;
            std::vector<double> shear(contact.studs.size() + 1, 0.0); // by stud, the first for a port
            const auto ask = [&](double use, const char* mode) {
                if (use <= force.use) return;
                force.use = use;
                force.mode = mode;
            };
            for (const ForceColumn& column : contact.columns) {
                const double value = m_balance.valueOf(c++, x);
                switch (column.role) {
                case ColumnRole::Press: force.pressN += value * column.force.dot(contact.normal); break;
                case ColumnRole::Pull:
                    force.pullN += value;
                    ask(value / column.high, "pull");
                    break;
                case ColumnRole::Shear: {
                    double& sum = shear[column.stud < 0 ? 0 : static_cast<std::size_t>(column.stud) + 1];
                    sum = std::hypot(sum, value);
                    force.shearN = std::max(force.shearN, sum);
                    ask(std::abs(value) / column.high, "shear"); // two ways, each with its limit
                    break;
                }
                case ColumnRole::Twist:
                case ColumnRole::Bend:
                    force.momentNmm = std::max(force.momentNmm, std::abs(value));
                    ask(std::abs(value) / column.high, column.role == ColumnRole::Twist ? "twist" : "bend");
                    break;
                }
            }
            if (contact.kind == ContactKind::Ground) force.use = 0;
            m_result.forces[k] = force;
        }
    }

    void findFirstToGo() {
        if (m_result.falling.empty()) return;
        std::vector<char> falls(m_net.bodies.size(), 0);
        for (const int b : m_result.falling) ivrant::at(falls, b) = 1;
        for (std::size_t k = 0; k < m_net.contacts.size(); ++k) {
            const Contact& contact = m_net.contacts[k];
            if (contact.a < 0 || ivrant::at(falls, contact.a) == ivrant::at(falls, contact.b)) continue;
            if (!m_result.firstToGo || m_result.forces[k].use > ivrant::at(m_result.forces, *m_result.firstToGo).use)
                m_result.firstToGo = static_cast<int>(k);
        }
    }

    const BondNet& m_net;
    const std::vector<BodyLoad>& m_loads;
    const EquilibriumRequest& m_request;
    Balance m_balance;
    Equilibrium m_result;
    std::vector<double> m_carried; ///< what balances m_share times the load; empty when that is less than the load
    double m_share = 0;
    double m_gap = 0; ///< of what is carried, relative
    bool m_asWhole;   ///< ask how the whole gives way
};

} // namespace

std::vector<BodyLoad> calcLoads(const BondNet& net, const Vec3& accelerationG) {
    std::vector<BodyLoad> loads(net.bodies.size());
    for (std::size_t b = 0; b < loads.size(); ++b) {
        const Body& body = net.bodies[b];
        loads[b].force = base::weightN(body.massG) * accelerationG;
        for (const auto& [gram, at] : body.hung) {
            const Vec3 force = base::weightN(gram) * accelerationG;
            loads[b].force += force;
            loads[b].moment += (at - body.centre).cross(force);
        }
    }
    return loads;
}

void addPush(std::vector<BodyLoad>& loads, const BondNet& net, int body, const Vec3& at, const Vec3& forceN) {
    BodyLoad& load = ivrant::at(loads, body);
    load.force += forceN;
    load.moment += (at - ivrant::at(net.bodies, body).centre).cross(forceN);
}

base::Status checkProblem(const BondNet& net, const std::vector<BodyLoad>& loads) {
    if (net.bodies.empty()) return base::Error{"stand.empty", "there are no parts to stand", ""};
    double total = 0;
    for (const BodyLoad& load : loads) total += load.force.norm();
    if (!(total > kWeightless))
        return base::Error{"stand.empty", "nothing has weight: a model without mass neither stands nor falls", ""};
    for (const Contact& contact : net.contacts)
        for (const ForceColumn& column : contact.columns)
            if (!(column.high > column.low))
                return base::Error{"stand.limits", "a bond that holds nothing: its limit must be above 0", ""};
    return {};
}

base::Result<Equilibrium> calcEquilibrium(const BondNet& net, const std::vector<BodyLoad>& loads,
                                          const EquilibriumRequest& request) {
    if (auto st = checkProblem(net, loads); !st) return st.error();
    return Judge(net, loads, request).run();
}

std::vector<int> findLoadPath(const BondNet& net, const Equilibrium& equilibrium, int body) {
    // Breadth first over contacts that press or pull, strongest first: the fewest steps to the ground.
    std::vector<std::vector<int>> of(net.bodies.size());
    for (std::size_t k = 0; k < net.contacts.size(); ++k) {
        if (net.contacts[k].a >= 0) ivrant::at(of, net.contacts[k].a).push_back(static_cast<int>(k));
        ivrant::at(of, net.contacts[k].b).push_back(static_cast<int>(k));
    }
    const auto strength = [&](int k) {
        const ContactForce& force = ivrant::at(equilibrium.forces, k);
        return force.pressN + force.pullN + force.shearN;
    };
    std::vector<int> via(net.bodies.size(), -1), path;
    std::vector<char> seen(net.bodies.size(), 0);
    std::deque<int> open{body};
    ivrant::at(seen, body) = 1;
    while (!open.empty()) {
        const int at = open.front();
        open.pop_front();
        auto& contacts = ivrant::at(of, at);
        std::stable_sort(contacts.begin(), contacts.end(), [&](int l, int r) { return strength(l) > strength(r); });
        for (const int k : contacts) {
            const Contact& contact = ivrant::at(net.contacts, k);
            if (strength(k) < 1e-6 && contact.kind != ContactKind::Hand) continue;
            if (contact.a < 0) {
                path.push_back(k);
                for (int back = at; back != body;) {
                    const int step = ivrant::at(via, back);
                    path.push_back(step);
                    const Contact& c = ivrant::at(net.contacts, step);
                    back = c.a == back ? c.b : c.a;
                }
                std::reverse(path.begin(), path.end());
                return path;
            }
            const int next = contact.a == at ? contact.b : contact.a;
            if (ivrant::at(seen, next)) continue;
            ivrant::at(seen, next) = 1;
            ivrant::at(via, next) = k;
            open.push_back(next);
        }
    }
    return path;
}

} // namespace ivrant::stand
