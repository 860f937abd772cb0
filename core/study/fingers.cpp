// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/fingers.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/at.h"
#include "core/parts/body_box.h"
#include "core/parts/placed_solid.h"

namespace ivrant::study {
namespace {

using geometry::Bounds;
using geometry::Vec3;

constexpr double kFleshMm = 0.5; ///< that a pad gives way
constexpr double kAlongAxis = 0.999;
constexpr int kNeverBuilt = std::numeric_limits<int>::max();

class Fingers {
public:
    Fingers(const Facts& facts, int section)
        : m_section(*at(facts.project->sections, section)),
          m_order(getSectionAssembly(at(facts.project->sections, section), *at(facts.bonds, section))) {
        for (const model::Part& part : m_section.parts) {
            const geometry::Frame X = part.place.frame();
            m_boxes.push_back(parts::calcBodyBox(*part.shape, X));
            m_steps.push_back(part.after.empty() ? part.step : kNeverBuilt);
        }
    }

    [[nodiscard]] Grip find(int part) const {
        const Vec3& off = at(m_order->check.ways, part).off;
        int k = 0;
        off.cwiseAbs().maxCoeff(&k);
        if (std::abs(off[k]) < kAlongAxis || at(m_boxes, part).empty() || at(m_steps, part) == kNeverBuilt)
            return Grip::Pinch;
        for (const int side : {(k + 1) % 3, (k + 2) % 3})
            if (isFree(part, makePad(part, k, off[k] > 0, side, -1)) &&
                isFree(part, makePad(part, k, off[k] > 0, side, 1)))
                return Grip::Pinch;
        return isFree(part, makeTip(part, k, off[k] > 0)) ? Grip::FingerTip : Grip::None;
    }

private:
    /// On one side of the part, about its middle there.
    [[nodiscard]] Bounds makePad(int part, int along, bool up, int side, int sign) const {
        const Bounds& box = at(m_boxes, part);
        const int wide = 3 - along - side;
        Bounds pad;
        const double middle = box.centre()[wide], top = up ? box.high[along] : box.low[along], way = up ? 1 : -1;
        pad.low[wide] = middle - kPadWideMm / 2 + kFleshMm;
        pad.high[wide] = middle + kPadWideMm / 2 - kFleshMm;
        const double face = sign > 0 ? box.high[side] : box.low[side];
        pad.low[side] = (sign > 0 ? face : face - kPadThickMm) + kFleshMm;
        pad.high[side] = (sign > 0 ? face + kPadThickMm : face) - kFleshMm;
        const double below = top - way * std::min(kPadBelowMm, box.size()[along]), beyond = top + way * kPadBeyondMm;
        pad.low[along] = std::min(below, beyond) + kFleshMm;
        pad.high[along] = std::max(below, beyond) - kFleshMm;
        return pad;
    }
    [[nodiscard]] Bounds makeTip(int part, int along, bool up) const {
        const Bounds& box = at(m_boxes, part);
        Bounds pad;
        for (int k = 0; k < 3; ++k) {
            const double half = (k == (along + 1) % 3 ? kPadThickMm : kPadWideMm) / 2 - kFleshMm;
            pad.low[k] = box.centre()[k] - half;
            pad.high[k] = box.centre()[k] + half;
        }
        const double top = up ? box.high[along] : box.low[along];
        pad.low[along] = up ? top + kFleshMm : top - kPadBeyondMm;
        pad.high[along] = up ? top + kPadBeyondMm : top - kFleshMm;
        return pad;
    }
    /// Of all that is there before the part's step.
    [[nodiscard]] bool isFree(int part, const Bounds& pad) const {
        const parts::ShapeSolid block{geometry::makeBox(pad.low, pad.high), geometry::makeBox(pad.low, pad.high), -1};
        const geometry::PlacedSolid finger = parts::placeSolid(block, geometry::Frame::Identity());
        for (std::size_t q = 0; q < m_section.parts.size(); ++q) {
            if (static_cast<int>(q) == part || m_steps[q] >= at(m_steps, part) || !m_boxes[q].overlaps(pad, 0))
                continue;
            const model::Part& other = m_section.parts[q];
            for (const parts::ShapeSolid& solid : other.shape->solids)
                if (solid.studPort < 0 &&
                    !geometry::isSweepClear(finger, Vec3::Zero(), parts::placeSolid(solid, other.place.frame())))
                    return false;
        }
        return true;
    }

    const model::Section& m_section;
    std::shared_ptr<const SectionAssembly> m_order;
    std::vector<Bounds> m_boxes;
    std::vector<int> m_steps;
};

} // namespace

std::vector<Grip> calcGrips(const Facts& facts, int section) {
    const Fingers fingers(facts, section);
    std::vector<Grip> grips;
    const std::size_t count = at(facts.project->sections, section)->parts.size();
    grips.reserve(count);
    for (std::size_t p = 0; p < count; ++p) grips.push_back(fingers.find(static_cast<int>(p)));
    return grips;
}

} // namespace ivrant::study
