// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/worst.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <random>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/pose/load_model.h"

namespace ivrant::pose {
namespace {

using base::degToRad;
using geometry::Vec3;

constexpr int kRandomStarts = 5;
constexpr int kMostRounds = 20;
constexpr double kGainNmm = 1e-9;
constexpr double kWorthwhile = 1e-6; ///< share of the need
constexpr std::size_t kSamples = 5;  ///< along a coordinate without closed form
constexpr int kParabolas = 4;
constexpr double kToleranceDeg = 0.05; ///< of such a maximum: the need is off by less than a millionth

/// Largest |A + B cos θ + C sin θ| over the range: at an end, or where the derivative vanishes.
double findBestTurn(const LoadModel::Line& line, const Coordinate& c, const Vec3& down) {
    const auto at = [&](double v) { return line.at(v).dot(down); };
    const double y0 = at(0), y90 = at(90), y180 = at(180);
    const double a = 0.5 * (y0 + y180), b = 0.5 * (y0 - y180), s = y90 - a;
    const auto amount = [&](double deg) {
        return std::abs(a + b * std::cos(degToRad(deg)) + s * std::sin(degToRad(deg)));
    };
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
double findBestSampled(const LoadModel& load, const LoadModel::Line& line, const Coordinate& c, const Vec3& down,
                       double old) {
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
    Sample left = samples[best == 0 ? 0 : best - 1], middle = samples[best],
           right = samples[std::min<std::size_t>(best + 1, kSamples - 1)];
    if (best == 0) middle = look(left.v + 0.1 * stride);
    if (best == kSamples - 1) middle = look(right.v - 0.1 * stride);
    for (int i = 0; i < kParabolas; ++i) {
        if (middle.amount < left.amount || middle.amount < right.amount || left.amount < 0 || right.amount < 0)
            break; // largest at an end
        const double dl = middle.v - left.v, dr = middle.v - right.v;
        const double bottom = dl * (middle.amount - right.amount) - dr * (middle.amount - left.amount);
        if (std::abs(bottom) < 1e-15) break;
        const double v =
            middle.v -
            0.5 * (dl * dl * (middle.amount - right.amount) - dr * dr * (middle.amount - left.amount)) / bottom;
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
            const double found =
                turns && !load.isBall() ? findBestTurn(line, c, down) : findBestSampled(load, line, c, down, value);
            if (!line.isWithinCone(found) || load.need(line.at(found), down) <= best * (1 + kWorthwhile) + kGainNmm)
                continue;
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

double calcNeed(const RangeContext& context, const JointValues& values, const model::Stance& stance, int joint,
                const Vec3& down) {
    LoadModel load(context, values, stance, joint);
    load.set(values);
    return load.need(load.lever(), down);
}

WorstLoad calcWorstLoad(const RangeContext& context, const JointValues& values, const model::Stance& stance, int joint,
                        double tiltDeg, const model::JointStrength& strength) {
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
            if (calcOwnExcess(*c.kind, ivrant::at(start, c.freedom.joint)) > 1e-9)
                v = std::clamp(old, c.range.low, c.range.high);
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
        for (int i = 0; i < kRandomStarts; ++i)
            tryFrom([&] { return static_cast<double>(random()) / static_cast<double>(std::mt19937::max()); });
    }
    worst.tiltDeg = base::radToDeg(std::acos(std::clamp(worst.down.dot(load.down()), -1.0, 1.0)));
    worst.have = strength.holding;
    worst.margin = calcHoldMargin(worst.needNmm, worst.have.value);
    return worst;
}

namespace {

constexpr std::size_t kStandingSamples = 5, kEdgeSamples = 9;
constexpr int kStandingRounds = 3;

/// The largest need over the tilts of a set within `tilt` (rad), and the way the weight pulls then.
std::pair<double, Vec3> findWorstTilt(const LoadModel& load, const StandSet& set, double tilt) {
    const Vec3 lever = load.lever();
    const double most = std::tan(tilt);
    std::pair<double, Vec3> best{-1, -set.axes.col(2)};
    const auto offer = [&](const Eigen::Vector2d& u) {
        const Vec3 down = (set.axes * Vec3(u.x(), u.y(), -1)).normalized();
        if (const double need = load.need(lever, down); need > best.first) best = {need, down};
    };
    const auto isInside = [&](const Eigen::Vector2d& u) {
        for (std::size_t i = 0; i < set.polygon.size(); ++i) {
            const Eigen::Vector2d edge = set.polygon[(i + 1) % set.polygon.size()] - set.polygon[i],
                                  to = u - set.polygon[i];
            if (edge.x() * to.y() - edge.y() * to.x() < -1e-12) return false;
        }
        return u.norm() <= most + 1e-12;
    };
    offer(Eigen::Vector2d::Zero());
    const Vec3 free = set.axes.transpose() * load.worstDown(lever, tilt); // whatever falls over
    if (free.z() < 0)
        if (const Eigen::Vector2d u = free.head<2>() / -free.z(); isInside(u)) offer(u);
    for (std::size_t i = 0; i < set.polygon.size(); ++i) {
        const Eigen::Vector2d p = set.polygon[i], edge = set.polygon[(i + 1) % set.polygon.size()] - p;
        // The part of the edge within the circle |u| = tan(tilt): ends, and samples between.
        const double a = edge.squaredNorm(), b = p.dot(edge), c = p.squaredNorm() - most * most, root = b * b - a * c;
        if (a < 1e-18 || root < 0) continue;
        const double from = std::max(0.0, (-b - std::sqrt(root)) / a), to = std::min(1.0, (-b + std::sqrt(root)) / a);
        for (std::size_t k = 0; from <= to && k < kEdgeSamples; ++k)
            offer(p + edge * (from + (to - from) * static_cast<double>(k) / (kEdgeSamples - 1)));
    }
    return best;
}

} // namespace

WorstLoad calcWorstStanding(const RangeContext& context, const std::vector<JointValues>& starts,
                            const model::Stance& stance, int joint, double tiltDeg,
                            const model::JointStrength& strength, const StandsIn& stands) {
    WorstLoad worst;
    worst.joint = joint;
    worst.stance = stance;
    worst.amongStanding = true;
    worst.have = strength.holding;
    const double tilt = degToRad(std::clamp(tiltDeg, 0.0, 45.0));
    for (const JointValues& start : starts) {
        LoadModel load(context, start, stance, joint);
        // What is no worse at any tilt need not be asked whether it stands; where the figure settles, down is not known
        // before.
        const bool boundKnown = stance.kind != model::Stance::Kind::Settle;
        const auto look = [&](const JointValues& values, double atLeast) -> std::pair<double, Vec3> {
            load.set(values);
            if (boundKnown && load.need(load.lever(), load.worstDown(load.lever(), tilt)) <= atLeast)
                return {-1, Vec3::Zero()};
            const auto set = stands(values, load.ground());
            if (!set) return {-1, Vec3::Zero()};
            return findWorstTilt(load, *set, tilt);
        };
        JointValues values = start;
        auto best = look(values, -1);
        for (int round = 0; round < kStandingRounds; ++round) {
            const double before = best.first;
            for (const Coordinate& c : load.coordinates())
                for (std::size_t i = 0; i < kStandingSamples; ++i) {
                    JointValues next = values;
                    valueOf(next, c.freedom) =
                        c.range.low + (c.range.high - c.range.low) * static_cast<double>(i) / (kStandingSamples - 1);
                    if (calcOwnExcess(*c.kind, ivrant::at(next, c.freedom.joint)) > 1e-9) continue;
                    if (const auto there = look(next, best.first + kGainNmm); there.first > best.first + kGainNmm) {
                        best = there;
                        values = std::move(next);
                    }
                }
            if (best.first <= before * (1 + kWorthwhile) + kGainNmm) break;
        }
        if (best.first <= worst.needNmm && !worst.values.empty()) continue;
        worst.needNmm = std::max(0.0, best.first);
        worst.values = values;
        worst.down = best.second;
        const auto set = stands(values, load.ground());
        worst.tiltDeg = set ? base::radToDeg(std::acos(std::clamp(best.second.dot(-set->axes.col(2)), -1.0, 1.0))) : 0;
    }
    worst.margin = calcHoldMargin(worst.needNmm, worst.have.value);
    return worst;
}

} // namespace ivrant::pose
