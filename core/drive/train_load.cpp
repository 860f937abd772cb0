// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/train_load.h"

#include <Eigen/SparseLU>
#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::drive {
namespace {

constexpr double kWattPerNmmRpm = base::kPi / 30.0 / 1000.0;
constexpr int kMostRounds = 60;
constexpr int kFewestTeeth = 7;
constexpr double kLooseRadiusMm = 6; ///< of couplings, clutches, a differential's inner wheels; starting value
constexpr double kNoFlow = 1e-9;     ///< of the largest power in the train: less is none

using Matrix = Eigen::SparseMatrix<double>;

class LoadSolver {
public:
    LoadSolver(const Train& train, const TrainMotion& motion, const LoadRequest& request)
        : m_train(train), m_motion(motion), m_request(request), m_relations(static_cast<int>(train.relations.size())) {
        m_result.speedsRpm = motion.speeds(request.speedsRpm);
        m_result.leastNorm = motion.redundant;
        for (const Relation& relation : train.relations) m_gain.emplace_back(relation.terms.size(), 1.0);
    }

    base::Result<LoadResult> run() {
        if (m_relations - static_cast<int>(m_motion.redundant.size()) + m_motion.freedom() != m_train.things)
            return base::Error{"drive.load", "the train's equations do not match its shafts", ""};
        for (int round = 0; round < kMostRounds; ++round) {
            if (!solve()) return base::Error{"drive.load", "the load has no path through the train", ""};
            if (!turnFlow()) {
                finish();
                return m_result;
            }
        }
        return base::Error{"drive.load", "which way the power flows does not settle: two loads are equally strong", ""};
    }

private:
    /// m of a mesh is half its tooth force; what turns without teeth counts as if at kLooseRadiusMm.
    [[nodiscard]] static double weigh(const Relation& relation) {
        const bool teeth = std::any_of(relation.terms.begin(), relation.terms.end(),
                                       [](const Term& term) { return abs(term.factor) >= kFewestTeeth; });
        return teeth ? 1 : 1 / (4 * kLooseRadiusMm * kLooseRadiusMm);
    }
    /// Torques on every thing add up to zero: as many unknowns (one a relation, one a drive) as equations. Closed loops
    /// leave some of them open: of all answers that with the least Σ of squared tooth forces, by its Lagrange
    /// equations.
    bool solve() {
        const bool open = !m_motion.redundant.empty();
        const int unknowns = m_relations + m_motion.freedom(), first = open ? unknowns : 0;
        std::vector<Eigen::Triplet<double>> entries;
        const auto put = [&](int thing, int column, double factor) {
            entries.emplace_back(first + thing, column, factor);
            if (open) entries.emplace_back(column, first + thing, factor);
        };
        for (int r = 0; r < m_relations; ++r) {
            const auto& terms = at(m_train.relations, r).terms;
            for (std::size_t t = 0; t < terms.size(); ++t) {
                const double factor = terms[t].factor.get_d() * at(m_gain, r)[t];
                put(terms[t].thing, r, factor);
                if (terms[t].carrier >= 0) put(terms[t].carrier, r, -terms[t].sense * factor);
            }
            if (open) entries.emplace_back(r, r, weigh(at(m_train.relations, r)));
        }
        int column = m_relations;
        for (int thing : m_motion.independent) put(thing, column++, 1.0);
        const int size = first + m_train.things;
        Matrix matrix(size, size);
        matrix.setFromTriplets(entries.begin(), entries.end());
        Eigen::VectorXd right = Eigen::VectorXd::Zero(size);
        for (const auto& [thing, torque] : m_request.loadsNmm) right(first + thing) -= torque;
        Eigen::SparseLU<Matrix> solver(matrix);
        if (solver.info() != Eigen::Success) return false;
        m_unknowns = solver.solve(right);
        return solver.info() == Eigen::Success && m_unknowns.allFinite();
    }

    [[nodiscard]] double plain(std::size_t r, std::size_t t) const { ///< without loss
        return m_train.relations[r].terms[t].factor.get_d() * m_unknowns(static_cast<int>(r));
    }
    [[nodiscard]] double torque(std::size_t r, std::size_t t) const { return plain(r, t) * m_gain[r][t]; }
    [[nodiscard]] double relativeSpeed(const Term& term) const {
        const double speed = at(m_result.speedsRpm, term.thing);
        return term.carrier < 0 ? speed : speed - term.sense * at(m_result.speedsRpm, term.carrier);
    }
    /// Sets the gains to the present flow; true when any changed.
    bool turnFlow() {
        // Without the gain: a worm that is pushed back gives a negative one, which would turn the sign it is found by.
        const auto power = [&](std::size_t r, std::size_t t) {
            return plain(r, t) * relativeSpeed(m_train.relations[r].terms[t]);
        };
        double most = 0;
        for (std::size_t r = 0; r < m_train.relations.size(); ++r)
            for (std::size_t t = 0; t < m_train.relations[r].terms.size(); ++t)
                most = std::max(most, std::abs(power(r, t)));
        bool changed = false;
        for (std::size_t r = 0; r < m_train.relations.size() && r < m_request.efficiency.size(); ++r) {
            const auto& terms = m_train.relations[r].terms;
            const Efficiency& efficiency = m_request.efficiency[r];
            for (std::size_t t = 0; t < terms.size(); ++t) {
                double gain = 1;
                if (power(r, t) > kNoFlow * most)
                    gain = terms.size() == 2 && t == 0 ? efficiency.backward : efficiency.forward;
                if (gain != m_gain[r][t]) changed = true;
                m_gain[r][t] = gain;
            }
        }
        return changed;
    }
    void count(double power) { (power > 0 ? m_result.inW : m_result.outW) += std::abs(power); }
    void finish() {
        LoadResult& result = m_result;
        for (std::size_t r = 0; r < m_train.relations.size(); ++r) {
            auto& list = result.onTerms.emplace_back();
            double sum = 0;
            const auto& terms = m_train.relations[r].terms;
            for (std::size_t t = 0; t < terms.size(); ++t) {
                list.push_back(torque(r, t));
                sum += list.back() * relativeSpeed(terms[t]) * kWattPerNmmRpm;
            }
            result.lossW.push_back(std::max(0.0, -sum));
        }
        for (const auto& [thing, load] : m_request.loadsNmm) count(load * at(result.speedsRpm, thing) * kWattPerNmmRpm);
        int column = m_relations;
        for (int thing : m_motion.independent) {
            const double drive = m_unknowns(column++);
            result.driveNmm[thing] = drive;
            count(drive * at(result.speedsRpm, thing) * kWattPerNmmRpm);
        }
    }

    const Train& m_train;
    const TrainMotion& m_motion;
    const LoadRequest& m_request;
    int m_relations = 0;
    std::vector<std::vector<double>> m_gain;
    Eigen::VectorXd m_unknowns;
    LoadResult m_result;
};

} // namespace

Efficiency makeWormEfficiency(long starts, double diameterMm, double forward) {
    const double lead = std::atan(static_cast<double>(starts) / diameterMm);
    const double friction = std::atan(std::tan(lead) / forward) - lead;
    return {forward, std::tan(lead - friction) / std::tan(lead)};
}

base::Result<LoadResult> calcLoad(const Train& train, const TrainMotion& motion, const LoadRequest& request) {
    return LoadSolver(train, motion, request).run();
}

double calcPlayRad(const Train& train, const TrainMotion& motion, int output, const std::vector<double>& slack) {
    Motion combination{{output, 1}};
    for (const auto& [thing, factor] : at(motion.motions, output)) {
        combination[thing] -= factor;
        if (sgn(combination[thing]) == 0) combination.erase(thing);
    }
    double sum = 0;
    for (const Share& share : proveZero(train, combination))
        if (static_cast<std::size_t>(share.relation) < slack.size())
            sum += std::abs(share.factor.get_d()) * at(slack, share.relation);
    return sum;
}

} // namespace ivrant::drive
