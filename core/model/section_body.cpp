// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/section_body.h"

#include <limits>

#include "core/base/memo.h"
#include "core/base/units.h"

namespace ivrant::model {
namespace {

using geometry::Vec3;

SectionBody makeBody(const Section& section) {
    SectionBody body;
    for (const Part& part : section.parts) {
        const geometry::Frame X_SP = part.place.frame();
        body.massG += part.massG();
        body.centre += part.massG() * (X_SP * part.shape->centre);
        if (part.shape->solids.empty()) continue;
        const Vec3 middle = X_SP * part.shape->bounds.centre(),
                   half = X_SP.linear().cwiseAbs() * part.shape->bounds.size() / 2;
        body.bounds.include(middle - half);
        body.bounds.include(middle + half);
    }
    for (const Ballast& b : section.ballast) {
        body.massG += b.massG;
        body.centre += b.massG * Vec3(base::umToMm(b.atUm[0]), base::umToMm(b.atUm[1]), base::umToMm(b.atUm[2]));
    }
    if (body.massG > 0) body.centre /= body.massG;
    return body;
}

} // namespace

double SectionBody::calcLowBound(const geometry::Frame& X_WS) const {
    if (bounds.empty()) return std::numeric_limits<double>::max();
    return (X_WS * bounds.centre()).z() - X_WS.linear().row(2).cwiseAbs().dot(bounds.size()) / 2;
}

std::shared_ptr<const SectionBody> getSectionBody(const SectionPtr& section) {
    static base::Memo<Section, SectionBody> memo;
    return memo.get(section, makeBody);
}

} // namespace ivrant::model
