// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/train_load.h"

#include <Eigen/SparseLU>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::drive {
namespace {

constexpr double kWattPerNmmRpm = base::kPi / 30.0 / 1000.0;
constexpr int kMostRounds = 60;

using Matrix = Eigen::SparseMatrix<double>;

class LoadSolver {
public:
    LoadSolver(const Train& train, const TrainMotion& motion, const LoadRequest& request)
        : m_train(train), m_motion(motion), m_request(request), m_column(train.relations.size(), -1),
          m_spare(train.relations.size(), 0) {
        for (int relation : motion.redundant) at(m_spare, relation) = 1;
        int column = 0;
        for (std::size_t r = 0; r < train.relations.size(); ++r)
            if (!m_spare[r]) m_column[r] = column++;
        m_columns = column + motion.freedom();
        m_result.speedsRpm = motion.speeds(request.speedsRpm);
        m_result.unknownShare = motion.redundant;
        for (const Relation& relation : train.relations) m_gain.emplace_back(relation.terms.size(), 1.0);
    }

    base::Result<LoadResult> run() {
        if (m_columns != m_train.things)
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
    bool solve() {
        std::vector<Eigen::Triplet<double>> entries;
        for (std::size_t r = 0; r < m_train.relations.size(); ++r) {
            if (m_spare[r]) continue;
            const auto& terms = m_train.relations[r].terms;
            for (std::size_t t = 0; t < terms.size(); ++t) {
                const double factor = terms[t].factor.get_d() * m_gain[r][t];
                entries.emplace_back(terms[t].thing, m_column[r], factor);
                if (terms[t].carrier >= 0)
                    entries.emplace_back(terms[t].carrier, m_column[r], -terms[t].sense * factor);
            }
        }
        int column = m_columns - m_motion.freedom();
        for (int thing : m_motion.independent) entries.emplace_back(thing, column++, 1.0);
        Matrix matrix(m_train.things, m_columns);
        matrix.setFromTriplets(entries.begin(), entries.end());
        Eigen::VectorXd right = Eigen::VectorXd::Zero(m_train.things);
        for (const auto& [thing, torque] : m_request.loadsNmm) right(thing) -= torque;
        Eigen::SparseLU<Matrix> solver(matrix);
        if (solver.info() != Eigen::Success) return false;
        m_unknowns = solver.solve(right);
        return solver.info() == Eigen::Success && m_unknowns.allFinite();
    }

    [[nodiscard]] double torque(std::size_t r, std::size_t t) const {
        return m_spare[r] ? 0.0 : m_train.relations[r].terms[t].factor.get_d() * m_gain[r][t] * m_unknowns(m_column[r]);
    }
    [[nodiscard]] double relativeSpeed(const Term& term) const {
        const double speed = at(m_result.speedsRpm, term.thing);
        return term.carrier < 0 ? speed : speed - term.sense * at(m_result.speedsRpm, term.carrier);
    }
    /// Sets the gains to the present flow; true when any changed.
    bool turnFlow() {
        bool changed = false;
        for (std::size_t r = 0; r < m_train.relations.size() && r < m_request.efficiency.size(); ++r) {
            if (m_spare[r]) continue;
            const auto& terms = m_train.relations[r].terms;
            const Efficiency& efficiency = m_request.efficiency[r];
            for (std::size_t t = 0; t < terms.size(); ++t) {
                // Without the gain: a worm that is pushed back gives a negative one, which would turn the sign it is
                // found by.
                const double power = terms[t].factor.get_d() * m_unknowns(m_column[r]) * relativeSpeed(terms[t]);
                double gain = 1;
                if (power > 0) gain = terms.size() == 2 && t == 0 ? efficiency.backward : efficiency.forward;
                if (gain != m_gain[r][t]) changed = true;
                m_gain[r][t] = gain;
            }
        }
        return changed;
    }
    void count(double power) { (power > 0 ? m_result.inW : m_result.outW) += std::abs(power); }
    void finish() {
        LoadResult& result = m_result;
        std::vector<double> passing(static_cast<std::size_t>(m_train.things), 0.0);
        const auto pass = [&](int thing, double amount) { at(passing, thing) += std::abs(amount) / 2; };
        for (std::size_t r = 0; r < m_train.relations.size(); ++r) {
            auto& list = result.onTerms.emplace_back();
            double sum = 0;
            const auto& terms = m_train.relations[r].terms;
            for (std::size_t t = 0; t < terms.size(); ++t) {
                list.push_back(torque(r, t));
                pass(terms[t].thing, list.back());
                if (terms[t].carrier >= 0) pass(terms[t].carrier, list.back());
                sum += list.back() * relativeSpeed(terms[t]) * kWattPerNmmRpm;
            }
            result.lossW.push_back(std::max(0.0, -sum));
        }
        for (const auto& [thing, load] : m_request.loadsNmm) {
            pass(thing, load);
            count(load * at(result.speedsRpm, thing) * kWattPerNmmRpm);
        }
        int column = m_columns - m_motion.freedom();
        for (int thing : m_motion.independent) {
            const double drive = m_unknowns(column++);
            result.driveNmm[thing] = drive;
            pass(thing, drive);
            count(drive * at(result.speedsRpm, thing) * kWattPerNmmRpm);
        }
        result.carriedNmm = std::move(passing);
    }

    const Train& m_train;
    const TrainMotion& m_motion;
    const LoadRequest& m_request;
    std::vector<int> m_column;
    std::vector<char> m_spare;
    std::vector<std::vector<double>> m_gain;
    int m_columns = 0;
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
