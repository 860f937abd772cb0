// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/case_words.h"

#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::study {

using base::formatNumber;
using stand::ContactKind;

std::string describePart(const model::Project& project, model::PartSpot spot) {
    return getPart(project, spot).shape->name + " of " + at(project.sections, spot.section)->name;
}

std::string describeContact(const model::Project& project, const stand::CaseResult& result, int contact) {
    const stand::Contact& c = at(result.net.contacts, contact);
    const auto name = [&](int body) { return describePart(project, at(result.net.bodies, body).spot); };
    if (c.a < 0) return name(c.b) + (c.kind == ContactKind::Ground ? " on the ground" : " in the hand");
    const std::size_t studs = c.studs.size();
    std::string how = c.joint >= 0                   ? "joint " + at(project.joints, c.joint).name
                      : c.kind == ContactKind::Studs ? (studs == 1 ? "one stud" : std::to_string(studs) + " studs")
                      : c.kind == ContactKind::Pin   ? "pin"
                      : c.kind == ContactKind::Fixed ? "axle or stud in a hole"
                      : c.kind == ContactKind::Joint ? "clip, ball or hinge"
                      : c.kind == ContactKind::Rest  ? "lying on it"
                                                     : "friction";
    return name(c.b) + " on " + name(c.a) + ", " + how;
}

std::string lambdaText(const stand::Equilibrium& e) {
    if (!e.lambda) return "λ not known";
    if (std::isinf(*e.lambda)) return "no strength of bonds helps";
    const bool close = std::abs(*e.lambda - 1) < 0.01; // rounded it would look like 1
    return std::string("λ ") + (e.lambdaAtMost ? "≤ " : "") +
           formatNumber(*e.lambda, close           ? 4
                                   : *e.lambda < 1 ? 2
                                                   : 1);
}

std::string countText(std::size_t count, const std::string& one, const std::string& many) {
    return std::to_string(count) + " " + (count == 1 ? one : many);
}

std::string describeOutcome(const stand::CaseResult& result) {
    const stand::Equilibrium& e = result.equilibrium;
    if (e.givesWay == stand::GivesWay::Slides)
        return "slides: the ground's friction of " + formatNumber(stand::kGroundFriction, 1) +
               " (a starting value) is too little";
    if (e.givesWay == stand::GivesWay::Tips) return "tips over as a whole: no strength of bonds helps";
    std::string text = e.stands            ? "holds"
                       : !e.certain        ? "not settled"
                       : e.falling.empty() ? "does not quite hold"
                                           : countText(e.falling.size(), "part falls", "parts fall");
    if (!e.stands && !e.undecided.empty())
        text += ", " + countText(e.undecided.size(), "light part undecided", "light parts undecided");
    if (!e.lambda) return text;
    if (std::isinf(*e.lambda)) return text + "; no strength of bonds helps";
    return text + "; " + lambdaText(e);
}

} // namespace ivrant::study
