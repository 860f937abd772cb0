// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/settle.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/at.h"

namespace ivrant::drive {
namespace {

constexpr double kAlike = 1e-6; ///< of the larger one: asks that differ by less are the same

class Settler {
public:
    Settler(const Train& train, const std::vector<int>& motors, const std::vector<Resistance>& all,
            const std::vector<Efficiency>& efficiency)
        : m_train(train), m_motors(motors), m_efficiency(efficiency) {
        for (const Resistance& one : all) { // loads of one thing add up
            const auto same = std::find_if(m_all.begin(), m_all.end(),
                                           [&](const Resistance& other) { return other.rotor == one.rotor; });
            if (same == m_all.end())
                m_all.push_back(one);
            else
                *same = {one.rotor, same->nmm + one.nmm, same->rests || one.rests};
        }
    }

    Settled run() {
        std::vector<int> drivers = m_motors;
        for (const Resistance& one : m_all)
            if (one.rests) drivers.push_back(one.rotor);
        Settled settled{m_train, solveTrain(m_train, drivers), drivers, {}};
        if (!isOpen(settled.motion)) return settled;
        // What resists most rests, unless the train is stronger.
        std::vector<Resistance> order = m_all;
        std::stable_sort(order.begin(), order.end(), [](const auto& a, const auto& b) { return a.nmm > b.nmm; });
        std::set<std::vector<int>> tried;
        for (;;) {
            drivers = m_motors;
            for (const Resistance& one : order) drivers.push_back(one.rotor);
            TrainMotion motion = solveTrain(m_train, drivers);
            const auto load = calcLoad(m_train, motion, makeRequest(motion));
            if (!load) return settled;
            const bool again = tried.insert(motion.independent).second;
            const auto worst = again ? findGiving(*load, order) : order.end();
            if (worst == order.end()) return finish(std::move(motion), *load, drivers);
            std::rotate(worst, worst + 1, order.end());
        }
    }

private:
    [[nodiscard]] bool isMotor(int thing) const {
        return std::find(m_motors.begin(), m_motors.end(), thing) != m_motors.end();
    }
    [[nodiscard]] bool isMoved(const TrainMotion& motion, int thing) const {
        const Motion& of = at(motion.motions, thing);
        return std::any_of(of.begin(), of.end(), [&](const auto& entry) { return isMotor(entry.first); });
    }
    /// Does a motor move something by as much as something else rests?
    [[nodiscard]] bool isOpen(const TrainMotion& motion) const {
        return std::any_of(m_all.begin(), m_all.end(), [&](const Resistance& one) {
            const Motion& of = at(motion.motions, one.rotor);
            return isMoved(motion, one.rotor) &&
                   std::any_of(of.begin(), of.end(), [&](const auto& entry) { return !isMotor(entry.first); });
        });
    }
    [[nodiscard]] LoadRequest makeRequest(const TrainMotion& motion) const {
        LoadRequest request;
        request.efficiency = m_efficiency;
        for (const int motor : m_motors) request.speedsRpm[motor] = 1;
        const std::vector<double> speeds = motion.speeds(request.speedsRpm);
        for (const Resistance& one : m_all)
            if (const double speed = at(speeds, one.rotor); speed != 0)
                request.loadsNmm[one.rotor] = -std::copysign(one.nmm, speed);
        return request;
    }
    /// Of what rests: that which the train pushes furthest beyond what it resists.
    [[nodiscard]] static std::vector<Resistance>::iterator findGiving(const LoadResult& load,
                                                                      std::vector<Resistance>& order) {
        auto worst = order.end();
        double most = 0;
        for (auto one = order.begin(); one != order.end(); ++one) {
            const auto held = load.driveNmm.find(one->rotor);
            if (held == load.driveNmm.end()) continue;
            const double push = std::abs(held->second), beyond = push - one->nmm;
            if (beyond <= kAlike * std::max(push, one->nmm) || beyond <= most) continue;
            most = beyond;
            worst = one;
        }
        return worst;
    }

    [[nodiscard]] Settled finish(TrainMotion motion, const LoadResult& load, const std::vector<int>& drivers) const {
        std::vector<int> alike; // that rest and are on the point of giving way
        for (const Resistance& one : m_all) {
            const auto held = load.driveNmm.find(one.rotor);
            if (held == load.driveNmm.end() || isMotor(one.rotor)) continue;
            if (one.nmm - std::abs(held->second) <= kAlike * one.nmm && hasFellow(motion, one.rotor))
                alike.push_back(one.rotor);
        }
        Settled settled{m_train, std::move(motion), {}, alike};
        for (const int thing : alike) settled.train.relations.push_back(makeEven(settled.motion, alike, thing));
        for (const int thing : drivers) {
            const auto one =
                std::find_if(m_all.begin(), m_all.end(), [&](const Resistance& r) { return r.rotor == thing; });
            const bool free = one != m_all.end() && one->nmm == 0 && !one->rests; // nothing keeps it at rest
            const bool goes = std::find(alike.begin(), alike.end(), thing) != alike.end();
            if (isMotor(thing) || (!free && !goes)) settled.drivers.push_back(thing);
        }
        settled.motion = solveTrain(settled.train, settled.drivers);
        return settled;
    }
    /// Something loaded that motors move gets what this one does not.
    [[nodiscard]] bool hasFellow(const TrainMotion& motion, int thing) const {
        return std::any_of(m_all.begin(), m_all.end(), [&](const Resistance& other) {
            return other.rotor != thing && isMoved(motion, other.rotor) && sgn(motion.ratio(other.rotor, thing)) != 0;
        });
    }
    /// d/dq Σ ω² = 0 for the speed q of `thing`, over what rests alike and what moves instead.
    [[nodiscard]] Relation makeEven(const TrainMotion& motion, const std::vector<int>& alike, int thing) const {
        Relation row{{{thing, 1}}};
        for (const Resistance& other : m_all) {
            if (std::find(alike.begin(), alike.end(), other.rotor) != alike.end() || isMotor(other.rotor)) continue;
            if (const Rational way = motion.ratio(other.rotor, thing); sgn(way) != 0)
                row.terms.push_back({other.rotor, way});
        }
        return row;
    }

    const Train& m_train;
    const std::vector<int>& m_motors;
    const std::vector<Efficiency>& m_efficiency;
    std::vector<Resistance> m_all;
};

} // namespace

Settled settleTrain(const Train& train, const std::vector<int>& motors, const std::vector<Resistance>& all,
                    const std::vector<Efficiency>& efficiency) {
    return Settler(train, motors, all, efficiency).run();
}

} // namespace ivrant::drive
