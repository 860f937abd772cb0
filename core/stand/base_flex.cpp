// SPDX-License-Identifier: GPL-3.0-or-later
// How much does a large plate under a model bend when it is lifted at its ends? Part of structure.h.
#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/parts/body_box.h"
#include "core/stand/structure.h"

namespace ivrant::stand {
namespace {

using geometry::Bounds;
using geometry::Frame;

constexpr double kSlackMm = 0.3;
constexpr double kMostOfIt = 0.8; ///< share of the model's mass that the plate carries
constexpr int kStepsPerPitch = 2;

/// A beam along one axis of the plate, held at both ends, loaded by what lies on it; where a part spans, it does not
/// bend.
class Beam {
public:
    Beam(const Bounds& plate, int axis, std::vector<std::pair<double, double>> loads, std::vector<Bounds> onTop)
        : m_low(plate.low[axis]), m_length(plate.high[axis] - plate.low[axis]),
          m_width(plate.high[1 - axis] - plate.low[1 - axis]), m_axis(axis), m_loads(std::move(loads)),
          m_onTop(std::move(onTop)) {}

    /// Sag by summing curvature twice (moment–area): δ(x) = Σ κ(ξ)·G(x, ξ)·Δξ with G of a beam on two supports.
    void calc(FlexibleBase& result) const {
        const double step = base::kPitchMm / kStepsPerPitch;
        const int count = std::max(2, static_cast<int>(std::lround(m_length / step)));
        std::vector<double> curve(static_cast<std::size_t>(count), 0.0);
        double worst = 0;
        for (int i = 0; i < count; ++i) {
            const double x = (i + 0.5) * m_length / count;
            if (isSpanned(m_low + x)) continue;
            result.bareMm += m_length / count;
            const double k = momentAt(x) / (kPlateStiffNmm * m_width);
            ivrant::at(curve, i) = k;
            if (k <= worst) continue;
            worst = k;
            result.worstMm = x - m_length / 2;
        }
        for (int j = 0; j < count; ++j) {
            const double x = (j + 0.5) * m_length / count;
            double sag = 0;
            for (int i = 0; i < count; ++i) {
                const double xi = (i + 0.5) * m_length / count;
                sag +=
                    ivrant::at(curve, i) * std::min(x, xi) * (m_length - std::max(x, xi)) / m_length * m_length / count;
            }
            result.sagMm = std::max(result.sagMm, sag);
        }
        result.axis = m_axis;
    }

private:
    [[nodiscard]] bool isSpanned(double at) const {
        return std::any_of(m_onTop.begin(), m_onTop.end(), [&](const Bounds& box) {
            return box.low[m_axis] < at - kSlackMm && box.high[m_axis] > at + kSlackMm;
        });
    }
    [[nodiscard]] double momentAt(double x) const {
        double moment = 0;
        for (const auto& [at, newton] : m_loads) {
            const double a = std::clamp(at - m_low, 0.0, m_length);
            moment += newton * (x < a ? x * (m_length - a) : a * (m_length - x)) / m_length;
        }
        return moment;
    }

    double m_low, m_length, m_width;
    int m_axis;
    std::vector<std::pair<double, double>> m_loads; ///< place, N
    std::vector<Bounds> m_onTop;
};

} // namespace

std::vector<FlexibleBase> findFlexibleBases(const model::Placed& placed, const BondNet& net) {
    double total = 0;
    for (const Body& body : net.bodies) {
        total += body.massG;
        for (const auto& [gram, at] : body.hung) total += gram;
    }
    std::vector<int> grounded;
    for (const Contact& contact : net.contacts)
        if (contact.kind == ContactKind::Ground) grounded.push_back(contact.b);
    std::vector<FlexibleBase> bases;
    if (grounded.size() != 1) return bases; // several feet share the load: each is lifted by itself
    const Body& base = ivrant::at(net.bodies, grounded.front());
    const model::Part& part = getPart(*placed.project, base.spot);
    const Frame X_PW = placed.X_WP(base.spot).inverse();
    const Bounds plate = parts::calcBodyBox(*part.shape, Frame::Identity());
    const double least = kLargePlateCells * base::kPitchMm - kSlackMm;
    if (plate.high.z() - plate.low.z() > base::kPlateMm + kSlackMm || plate.high.x() - plate.low.x() < least ||
        plate.high.y() - plate.low.y() < least)
        return bases;
    if (total - base.massG < kMostOfIt * total) return bases;
    std::vector<Bounds> onTop;
    for (const Body& body : net.bodies) {
        const Bounds box =
            parts::calcBodyBox(*getPart(*placed.project, body.spot).shape, X_PW * placed.X_WP(body.spot));
        if (&body != &base && std::abs(box.low.z() - plate.high.z()) < kSlackMm) onTop.push_back(box);
    }
    FlexibleBase worst;
    for (const int axis : {0, 1}) {
        std::vector<std::pair<double, double>> loads;
        for (const Body& body : net.bodies) {
            loads.emplace_back((X_PW * body.centre)[axis], base::weightN(body.massG));
            for (const auto& [gram, at] : body.hung) loads.emplace_back((X_PW * at)[axis], base::weightN(gram));
        }
        FlexibleBase found;
        Beam(plate, axis, std::move(loads), onTop).calc(found);
        if (found.sagMm > worst.sagMm) worst = found;
    }
    worst.body = grounded.front();
    worst.loadG = total;
    if (worst.sagMm > 0) bases.push_back(worst);
    return bases;
}

} // namespace ivrant::stand
