// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/position_work.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/shaft_twist.h"

namespace ivrant::drive {
namespace {

constexpr int kBatteryRounds = 8; ///< the currents settle to a millionth in three or four
constexpr double kWattPerNmmRpm = base::kPi / 30 / 1000;
constexpr int kSpeedRounds = 60, kVoltRounds = 30;

int senseOf(const FunctionState& state) { return state.function->travel < 0 ? -1 : 1; }

/// Torque as a function of the load: straight between what was worked out.
class Pull {
public:
    void add(double nmm, double torque) { m_points.emplace_back(nmm, torque); }
    [[nodiscard]] double at(double nmm) const {
        std::size_t i = 1;
        while (i + 1 < m_points.size() && nmm > m_points[i].first) ++i;
        const auto [x0, y0] = m_points[i - 1];
        const auto [x1, y1] = m_points[i];
        return x1 > x0 ? y0 + (y1 - y0) * (nmm - x0) / (x1 - x0) : y1;
    }

private:
    std::vector<std::pair<double, double>> m_points; ///< by growing load
};

/// One function with what its motors move beside it.
class FunctionWork {
public:
    FunctionWork(const WorkInputs& in, FunctionState& state, const std::vector<FunctionState>& all)
        : m_in(in), m_state(state), m_others(listOthers(all)) {
        state.together = !m_others.empty();
        for (const MotorShare& share : state.motors) m_helped |= share.helps;
    }

    /// `currentA`: of every motor, as it runs now; into `nextA` goes what the function's own draw for it. False: the
    /// train does not say.
    bool run(const std::vector<double>& currentA, std::vector<double>& nextA) {
        m_outsideA = 0;
        for (std::size_t m = 0; m < currentA.size(); ++m)
            if (shareOf(static_cast<int>(m)) < 0) m_outsideA += currentA[m];
        if ((m_pulls.empty() || m_helped) && !findPulls()) return false;
        m_known = true;
        m_state.margin.reset();
        for (std::size_t i = 0; i < m_pulls.size(); ++i) {
            MotorShare& share = m_state.motors[i];
            const MotorLine* line = lineOf(i);
            share.known = line != nullptr;
            m_known &= share.known;
            if (!line) continue;
            const double nmm = findMost(m_pulls[share.helps ? leaderOf(share) : i]);
            share.point = calcWorkingPoint(*line, batteryOf(i, nmm), [&](double) { return m_pulls[i].at(nmm); });
            double& drawn = ivrant::at(nextA, share.motor);
            drawn = std::max(drawn, share.point.currentA);
            if (share.helps) continue;
            const double margin = hasHelp(i) ? calcTeamMargin(i, nmm) : share.point.margin;
            if (share.point.torqueNmm > 1e-9 && (!m_state.margin || margin < *m_state.margin)) m_state.margin = margin;
        }
        return true;
    }

    void finish() {
        if (!m_known) return;
        const double most = findMost(m_pulls.front());
        m_state.speed = speedAt(most);
        m_state.travelS = calcTravelS(makeLoaded(m_state, m_in.inputs), [&](double nmm) {
            return m_state.straight ? speedAt(nmm) : speedAt(nmm) * 6;
        }); // 1 rpm = 6°/s
        findStrains(most);
    }

private:
    [[nodiscard]] int shareOf(int motor) const {
        for (std::size_t i = 0; i < m_state.motors.size(); ++i)
            if (m_state.motors[i].motor == motor) return static_cast<int>(i);
        return -1;
    }
    [[nodiscard]] const MotorState& motorOf(const MotorShare& share) const {
        return ivrant::at(m_in.motors, share.motor);
    }
    [[nodiscard]] const MotorLine* lineOf(std::size_t share) const { return motorOf(m_state.motors[share]).line.get(); }
    [[nodiscard]] std::size_t leaderOf(const MotorShare& share) const {
        return static_cast<std::size_t>(shareOf(share.leader));
    }
    [[nodiscard]] bool hasHelp(std::size_t leader) const {
        const int motor = m_state.motors[leader].motor;
        return std::any_of(m_state.motors.begin(), m_state.motors.end(),
                           [&](const MotorShare& share) { return share.helps && share.leader == motor; });
    }

    /// Torque from outside on every rotor that the function's motors move beside it, at its hardest the way it goes
    /// then.
    [[nodiscard]] std::map<int, double> listOthers(const std::vector<FunctionState>& all) const {
        std::map<int, double> loads;
        for (const FunctionState& other : all) {
            if (&other == &m_state || other.loose) continue;
            const int way = wayWith(other);
            if (way == 0) continue;
            const bool friction = other.function->load == model::LoadKind::Friction;
            const double need =
                way == senseOf(other) || friction ? other.hardest.nmm : std::max(0.0, -other.hardest.least);
            loads[other.rotor] -= way * toThing(other, need);
        }
        return loads;
    }
    /// Which way another function goes while this one goes along its travel: ±1; 0: its motors do not move it.
    [[nodiscard]] int wayWith(const FunctionState& other) const {
        for (const MotorShare& share : m_state.motors)
            for (const MotorShare& theirs : other.motors)
                if (theirs.motor == share.motor) return senseOf(m_state) * sgn(share.ratio) * sgn(theirs.ratio);
        return 0;
    }

    /// The motor at `share` turns this way while the function goes along its travel.
    [[nodiscard]] int turnOf(std::size_t share) const { return senseOf(m_state) * sgn(m_state.motors[share].ratio); }

    /// The train under `nmm` against the function's motion, its motors at these speeds; motors that help give `helpNmm`
    /// (by share, positive along their own way).
    [[nodiscard]] base::Result<LoadResult> load(double nmm, const std::vector<double>& rpm,
                                                const std::vector<double>& helpNmm) const {
        LoadRequest request;
        request.efficiency = m_in.net.efficiency;
        request.loadsNmm = m_others;
        for (std::size_t i = 0; i < m_state.motors.size(); ++i) {
            const int rotor = motorOf(m_state.motors[i]).rotor;
            if (m_state.motors[i].helps)
                request.loadsNmm[rotor] += turnOf(i) * helpNmm[i];
            else
                request.speedsRpm[rotor] = rpm[i] * turnOf(i);
        }
        request.loadsNmm[m_state.rotor] -= senseOf(m_state) * toThing(m_state, nmm);
        return calcLoad(m_in.settled.train, m_in.settled.motion, request);
    }
    [[nodiscard]] std::vector<double> atOne() const { return std::vector<double>(m_state.motors.size(), 1.0); }
    [[nodiscard]] std::vector<double> none() const { return std::vector<double>(m_state.motors.size(), 0.0); }
    [[nodiscard]] double asked(const LoadResult& result, std::size_t share) const {
        return result.driveNmm.at(motorOf(m_state.motors[share]).rotor) * turnOf(share);
    }

    /// Torque at each motor where the load is least, none and hardest.
    bool findPulls() {
        std::vector<Pull> pulls(m_state.motors.size());
        const double size = std::max({m_state.hardest.nmm, std::abs(m_state.hardest.least), 1.0});
        for (const double nmm : {-size, 0.0, size}) {
            const auto torques = findTorques(nmm);
            if (torques.empty()) return false;
            for (std::size_t i = 0; i < pulls.size(); ++i) pulls[i].add(nmm, torques[i]);
        }
        m_pulls = std::move(pulls);
        return true;
    }
    /// By share; empty: the train does not say.
    [[nodiscard]] std::vector<double> findTorques(double nmm) const {
        std::vector<double> help = none(), torques = none();
        const int rounds = m_helped ? 2 : 1; // several teams settle with each other
        for (int round = 0; round < rounds; ++round)
            for (std::size_t i = 0; m_helped && i < torques.size(); ++i)
                if (!m_state.motors[i].helps && hasHelp(i) && !shareOut(i, nmm, help)) return {};
        const auto result = load(nmm, atOne(), help);
        if (!result) return {};
        for (std::size_t i = 0; i < torques.size(); ++i)
            torques[i] = m_state.motors[i].helps ? help[i] : asked(*result, i);
        return torques;
    }
    /// The speed of a leader at which it gives what is left to it, all helpers on their lines at that speed.
    bool shareOut(std::size_t leader, double nmm, std::vector<double>& help) const {
        if (!lineOf(leader)) return true;
        bool known = true;
        const auto spare = [&](double rpm) {
            const double own = setHelp(leader, rpm, help);
            const auto result = load(nmm, atOne(), help);
            known &= static_cast<bool>(result);
            return result ? own - asked(*result, leader) : 0;
        };
        if (spare(0) <= 0) return known; // they stall together
        double low = 0, high = std::max(calcSpeedRpm(*lineOf(leader), battery(), 0), 1e-6);
        while (known && spare(high) > 0 && high < 1e9) high *= 2;
        for (int round = 0; known && round < kSpeedRounds && high - low > 1e-9 * high; ++round)
            (spare((low + high) / 2) > 0 ? low : high) = (low + high) / 2;
        setHelp(leader, (low + high) / 2, help);
        return known;
    }
    /// Sets what the helpers of a leader give at its speed; its own torque. All on one battery.
    double setHelp(std::size_t leader, double rpm, std::vector<double>& help) const {
        const double ratio = std::abs(m_state.motors[leader].ratio.get_d());
        const double outsideV = battery().voltage, ohm = m_in.inputs.battery.innerOhm;
        double volts = outsideV, own = 0;
        for (int round = 0; round < kVoltRounds; ++round) {
            double amps = 0;
            for (std::size_t i = 0; i < help.size(); ++i) {
                const MotorShare& share = m_state.motors[i];
                if (!lineOf(i) || (i != leader && !(share.helps && share.leader == m_state.motors[leader].motor)))
                    continue;
                const double torque = calcTorqueNmm(*lineOf(i), volts, rpm * ratio / std::abs(share.ratio.get_d()));
                (i == leader ? own : help[i]) = torque;
                amps += calcCurrentA(*lineOf(i), torque);
            }
            volts = std::max(outsideV - ohm * amps, 1e-3);
        }
        return own;
    }
    /// What they give together at stall over what is asked, both at the leader's shaft.
    [[nodiscard]] double calcTeamMargin(std::size_t leader, double nmm) const {
        std::vector<double> help = none();
        const auto alone = load(nmm, atOne(), help);
        const double own = setHelp(leader, 0, help);
        const auto helped = load(nmm, atOne(), help);
        if (!alone || !helped || !(asked(*alone, leader) > 0)) return 0;
        return (own + asked(*alone, leader) - asked(*helped, leader)) / asked(*alone, leader);
    }

    /// As the motors that are not the function's leave it.
    [[nodiscard]] Battery battery() const {
        Battery battery = m_in.inputs.battery;
        battery.voltage = std::max(battery.voltage - battery.innerOhm * m_outsideA, 1e-3);
        return battery;
    }
    /// As all motors but one leave it.
    [[nodiscard]] Battery batteryOf(std::size_t own, double nmm) const {
        Battery left = battery();
        for (std::size_t i = 0; i < m_pulls.size(); ++i)
            if (i != own && lineOf(i)) left.voltage -= left.innerOhm * calcCurrentA(*lineOf(i), m_pulls[i].at(nmm));
        left.voltage = std::max(left.voltage, 1e-3);
        return left;
    }
    /// Lowering costs too where a thread rubs more than the weight pushes.
    [[nodiscard]] double findMost(const Pull& pull) const {
        return pull.at(m_state.hardest.least) > pull.at(m_state.hardest.nmm) ? m_state.hardest.least
                                                                             : m_state.hardest.nmm;
    }
    [[nodiscard]] double speedAt(double nmm) const {
        double sum = 0;
        for (std::size_t i = 0; i < m_pulls.size(); ++i)
            if (!m_state.motors[i].helps)
                sum += std::max(0.0, calcSpeedRpm(*lineOf(i), batteryOf(i, nmm), m_pulls[i].at(nmm))) *
                       std::abs(m_state.motors[i].ratio.get_d());
        return m_state.straight ? sum / 60 * m_state.mmPerUnit : sum; // mm/s or rpm
    }

    void findStrains(double nmm) {
        m_state.inW = m_state.outW = m_state.lostW = m_state.mostTwistNmm = m_state.mostToothN = 0;
        if ((nmm == 0 && m_others.empty()) || !(m_state.speed > 0)) return;
        std::vector<double> rpm = atOne(), help = none();
        for (std::size_t i = 0; i < rpm.size(); ++i) {
            if (m_state.motors[i].known) rpm[i] = m_state.motors[i].point.rpm;
            if (m_state.motors[i].helps) help[i] = m_pulls[i].at(nmm);
        }
        const auto result = load(nmm, rpm, help);
        if (!result) return;
        for (double loss : result->lossW) m_state.lostW += loss;
        const std::vector<OuterTorque> outer = listOuter(*result, nmm, help);
        for (const OuterTorque& torque : outer) { // each for itself: a motor and a load may be on one rotor
            const double watt = torque.nmm * ivrant::at(result->speedsRpm, torque.rotor) * kWattPerNmmRpm;
            (watt > 0 ? m_state.inW : m_state.outW) += std::abs(watt);
        }
        findTwist(*result, outer);
        findToothForce(*result);
    }
    [[nodiscard]] std::vector<OuterTorque> listOuter(const LoadResult& result, double nmm,
                                                     const std::vector<double>& help) const {
        std::vector<OuterTorque> outer{{m_state.rotor, -senseOf(m_state) * toThing(m_state, nmm), {}}};
        for (const auto& [rotor, torque] : m_others) outer.push_back({rotor, torque, {}});
        for (std::size_t i = 0; i < m_state.motors.size(); ++i) {
            const MotorState& motor = motorOf(m_state.motors[i]);
            outer.push_back({motor.rotor,
                             m_state.motors[i].helps ? turnOf(i) * help[i] : result.driveNmm.at(motor.rotor),
                             motor.alongMm});
        }
        return outer;
    }
    void findTwist(const LoadResult& result, const std::vector<OuterTorque>& outer) {
        const std::vector<double> twists = calcTwists(m_in.net, result, outer);
        for (std::size_t t = 0; t < twists.size(); ++t)
            if (twists[t] > m_state.mostTwistNmm) {
                m_state.mostTwistNmm = twists[t];
                m_state.mostTwistAt = m_in.net.rotors[t].name;
            }
    }
    void findToothForce(const LoadResult& result) {
        for (std::size_t r = 0; r < m_in.net.relations.size(); ++r) {
            const auto& terms = m_in.net.train.relations[r].terms;
            const RelationKind kind = m_in.net.relations[r].kind;
            if (kind != RelationKind::Mesh && kind != RelationKind::Worm && kind != RelationKind::RackMesh) continue;
            for (std::size_t k = 0; k < terms.size(); ++k) {
                // Force along the pitch line = torque over half the teeth; a rack's and a worm's own follow from their
                // fellow.
                const double teeth = std::abs(terms[k].factor.get_d());
                if ((kind == RelationKind::RackMesh || kind == RelationKind::Worm) && teeth < 7) continue;
                const double force = std::abs(result.onTerms[r][k]) / (teeth / 2);
                if (force <= m_state.mostToothN) continue;
                m_state.mostToothN = force;
                m_state.mostToothAt = m_in.net.relations[r].text;
            }
        }
    }

    const WorkInputs& m_in;
    FunctionState& m_state;
    std::map<int, double> m_others;
    std::vector<Pull> m_pulls; ///< by share
    double m_outsideA = 0;
    bool m_helped = false, m_known = false;
};

} // namespace

double toThing(const FunctionState& state, double nmm) {
    return state.straight ? nmm * state.mmPerUnit / (2 * base::kPi) : nmm;
}

LoadedFunction makeLoaded(const FunctionState& state, const DriveInputs& inputs) {
    const auto arm = inputs.armLoads.find(state.function->id);
    const auto curve = inputs.curves.find(state.function->id);
    auto loaded = resolveLoad(*state.function, arm == inputs.armLoads.end() ? nullptr : &arm->second,
                              curve == inputs.curves.end() ? nullptr : curve->second);
    return state.straight ? makeStraight(std::move(loaded)) : loaded;
}

void calcWork(const WorkInputs& inputs, std::vector<FunctionState>& functions) {
    std::vector<FunctionWork> works;
    works.reserve(functions.size());
    for (FunctionState& function : functions)
        if (!function.motors.empty() && !function.loose) works.emplace_back(inputs, function, functions);
    std::vector<double> idleA;
    for (const MotorState& motor : inputs.motors) idleA.push_back(motor.line ? calcCurrentA(*motor.line, 0) : 0);
    std::vector<double> currentA = idleA;
    std::vector<char> runs(works.size(), 1);
    for (int round = 0; round < kBatteryRounds; ++round) {
        std::vector<double> nextA = idleA; // a motor draws what its hardest function asks
        for (std::size_t w = 0; w < works.size(); ++w) runs[w] = works[w].run(currentA, nextA) ? 1 : 0;
        double change = 0;
        for (std::size_t m = 0; m < nextA.size(); ++m) change = std::max(change, std::abs(nextA[m] - currentA[m]));
        currentA = std::move(nextA);
        if (change < 1e-9) break;
    }
    for (std::size_t w = 0; w < works.size(); ++w)
        if (runs[w]) works[w].finish();
}

} // namespace ivrant::drive
