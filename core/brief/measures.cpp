// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/brief/measures.h"

#include <cctype>

#include "core/base/units.h"

namespace ivrant::brief {
namespace {

constexpr Need kNo = Need::No, kMay = Need::May, kMust = Need::Must;

// key, words, unit, word?, joint, other joint, section, pose, shape, about, function
constexpr Measure kMeasures[]{
    {"mass", "weight", "g", false, kNo, kNo, kMay, kNo, kNo, "Mass of everything, or of one section, with ballast."},
    {"parts", "number of parts", "", false, kNo, kNo, kMay, kNo, kNo, "Parts of the model, or of one section."},
    {"shapes", "number of different shapes", "", false, kNo, kNo, kMay, kNo, kNo,
     "How many lines the parts list has, colours aside."},
    {"colours", "number of colours", "", false, kNo, kNo, kMay, kNo, kNo, "Different colours used."},
    {"shape-count", "number of {shape}", "", false, kNo, kNo, kMay, kNo, kMust, "How often one shape is used."},
    {"sections", "number of sections", "", false, kNo, kNo, kNo, kNo, kNo, "Sections with parts."},
    {"steps", "number of building steps", "", false, kNo, kNo, kMay, kNo, kNo,
     "Steps of building, all sections together."},
    {"step-parts", "most parts in one step", "", false, kNo, kNo, kMay, kNo, kNo,
     "The step with most new parts, of all sections or of one."},
    {"ballast", "ballast", "g", false, kNo, kNo, kMay, kNo, kNo, "Mass added besides the parts."},
    {"height", "height", "mm", false, kNo, kNo, kMay, kMay, kNo, "From the lowest to the highest point as it stands."},
    {"width", "width", "mm", false, kNo, kNo, kMay, kMay, kNo,
     "Along x as it stands; a section alone: along its own x."},
    {"depth", "depth", "mm", false, kNo, kNo, kMay, kMay, kNo,
     "Along y as it stands; a section alone: along its own y."},
    {"width-studs", "width in studs", "studs", false, kNo, kNo, kMust, kNo, kNo,
     "Along the section's own x, rounded to whole cells."},
    {"length", "distance from {joint} to {other}", "mm", false, kMust, kMust, kNo, kMay, kNo,
     "Between two joint centres."},
    {"joints", "number of joints", "", false, kMay, kNo, kNo, kNo, kNo, "All joints, or those a pattern names."},
    {"freedoms", "number of freedoms", "", false, kMay, kNo, kNo, kNo, kNo,
     "A hinge counts 1, clip on bar 2, a ball 3."},
    {"joint-kind", "kind of {joint}", "", true, kMust, kNo, kNo, kNo, kNo,
     "The joint kind, by name; * stands for any run of letters."},
    {"joint-price", "price class of {joint}", "", false, kMust, kNo, kNo, kNo, kNo,
     "1 cheap to 5 dear; a starting value."},
    {"play", "play of {joint}", "deg", false, kMust, kNo, kNo, kNo, kNo,
     "How far it gives each way; a starting value."},
    {"range-high", "upper free end of {joint}", "deg", false, kMust, kNo, kNo, kMay, kNo,
     "How far it moves up; without a pose the least over all."},
    {"range-low", "lower free end of {joint}", "deg", false, kMust, kNo, kNo, kMay, kNo,
     "How far it moves down; without a pose the highest over all."},
    {"range-total", "free range of {joint}", "deg", false, kMust, kNo, kNo, kMay, kNo,
     "Between both ends; without a pose the least over all."},
    {"hold-margin", "holding margin of {joint}", "×", false, kMust, kNo, kNo, kMay, kNo,
     "What it can hold over what it must; the least over the poses."},
    {"hold-worst", "holding margin of {joint} at its worst", "×", false, kMust, kNo, kNo, kNo, kNo,
     "Over all wanted ranges and the tilt of the base."},
    {"hold-need", "torque that {joint} must hold", "N·mm", false, kMust, kNo, kNo, kMay, kNo,
     "The most over the poses."},
    {"pull-margin", "pull-out margin of {joint}", "×", false, kMust, kNo, kNo, kMay, kNo,
     "Force at which it comes apart over the pull on it."},
    {"transmission", "transmission angle when {joint} is driven", "deg", false, kMust, kNo, kNo, kNo, kNo,
     "The least over its motion; below 20 it sticks."},
    {"motion-torque", "torque that driving {joint} asks", "N·mm", false, kMust, kNo, kNo, kNo, kNo,
     "The most over its motion, weights and friction; a slide: N."},
    {"stride", "way of a turn when {joint} is driven", "mm", false, kMust, kNo, kNo, kNo, kNo,
     "Of a motion that walks on feet."},
    {"walk-tip", "tip angle while walking by {joint}", "deg", false, kMust, kNo, kNo, kNo, kNo,
     "The least over a turn."},
    {"walk-slip", "slip of the feet when {joint} is driven", "mm", false, kMust, kNo, kNo, kNo, kNo,
     "Over a turn, weighed by what each foot carries."},
    {"line-pull", "pull of the string that works {joint}", "N", false, kMust, kNo, kNo, kNo, kNo,
     "The most over its way in all poses, where it is pulled."},
    {"line-along", "how far bending pulls {joint} along by its string", "deg", false, kMust, kNo, kNo, kNo, kNo,
     "The most in the poses and within the wanted ranges."},
    {"band-help", "what a band does for {joint} to what is needed", "×", false, kMust, kNo, kNo, kNo, kNo,
     "The least over its way in all poses; 1 just brings it back."},
    {"path-width", "width of the path when {joint} is driven", "mm", false, kMust, kNo, kNo, kNo, kNo,
     "Of the first thing that its motion follows, level: a stride."},
    {"path-height", "height of the path when {joint} is driven", "mm", false, kMust, kNo, kNo, kNo, kNo,
     "Of the first thing that its motion follows, upright: a lift."},
    {"tip-angle", "tip angle", "deg", false, kNo, kNo, kNo, kMay, kNo,
     "How far the ground may tilt before it falls; the least over the poses."},
    {"tip-push", "push at the top that tips it", "N", false, kNo, kNo, kNo, kMay, kNo,
     "Across, the way it tips first; the least over the poses."},
    {"bond-margin", "margin of the bonds", "×", false, kNo, kNo, kNo, kMay, kNo,
     "1/λ at rest: how much heavier it could be; the least over the poses."},
    {"move-tip", "tip angle on the way", "deg", false, kNo, kNo, kNo, kNo, kNo,
     "From pose to pose and over the travel of each function, the least."},
    {"tug", "pull that takes a piece off", "N", false, kNo, kNo, kNo, kNo, kNo,
     "At any one part with the base held; single parts do not count."},
    {"shake", "shaking that opens a section", "g", false, kNo, kNo, kNo, kNo, kNo,
     "Sideways, of the weight above the weakest section."},
    {"seam", "courses of the highest seam", "", false, kNo, kNo, kNo, kNo, kNo,
     "Planes that no part reaches across; 0 below three."},
    {"supports", "number of posts it stands on", "", false, kNo, kNo, kNo, kNo, kNo,
     "Supports of the base; 0: it stands by itself."},
    {"support-force", "force that a post carries", "N", false, kNo, kNo, kNo, kNo, kNo,
     "The most in any pose, with the base tilted by what is asked of it."},
    {"unseen", "number of parts nobody sees", "", false, kNo, kNo, kNo, kNo, kNo,
     "From outside, in any pose: any colour will do for them."},
    {"spare", "number of parts that could be left out", "", false, kNo, kNo, kNo, kNo, kNo,
     "Deep inside; what is left stands with a margin of 1.5."},
    {"holds", "number of parts to hold from below while building", "", false, kNo, kNo, kNo, kNo, kNo,
     "Pressed on, they would push off what they are put on; by starting values."},
    {"missing-parts", "number of parts that are not there", "", false, kNo, kNo, kNo, kNo, kNo,
     "Neither in the drawers, nor arrived, nor on the way."},
    {"order-cost", "cost of what is ordered", "", false, kNo, kNo, kNo, kNo, kNo,
     "Goods and shipping of all orders written down, in your own currency."},
    {"build-hours", "hours of building left", "h", false, kNo, kNo, kNo, kNo, kNo,
     "By the sessions written down; until there are any by starting values."},
    {"collisions", "number of collisions", "", false, kNo, kNo, kNo, kMay, kNo,
     "Pairs of parts in each other, over the poses."},
    {"loose", "number of loose parts", "", false, kNo, kNo, kMay, kNo, kNo, "Held by nothing."},
    {"one-bond", "number of parts held by one bond", "", false, kNo, kNo, kMay, kNo, kNo,
     "Groups that hang on a single bond."},
    {"chain-bend", "total bend from {joint} to {other}", "deg", false, kMust, kMust, kNo, kNo, kNo,
     "All joints of a run together, both ways added."},
    {"tip-play", "play at the tip from {joint} to {other}", "mm", false, kMust, kMust, kNo, kNo, kNo,
     "Σ lever × play, each way."},
    {"chain-sag", "sag of the tip from {joint} to {other}", "mm", false, kMust, kMust, kNo, kMay, kNo,
     "How far the tip drops until everything holds."},
    {"gap", "mechanism seen at {joint}", "mm²", false, kMust, kNo, kNo, kNo, kNo,
     "The most seen from front, back, either side or top, as it stands."},
    {"measured", "share of joints measured", "%", false, kMay, kNo, kNo, kNo, kNo,
     "Joints whose holding rests on bench tests."},
    {"function-time", "travel time of {function}", "s", false, kNo, kNo, kNo, kNo, kNo,
     "For its whole travel, the longest over the selectors' positions that drive it.", kMust},
    {"function-speed", "speed of {function}", "rpm", false, kNo, kNo, kNo, kNo, kNo,
     "Where its load is hardest; racks in mm a second.", kMust},
    {"function-force", "torque that {function} can give", "N·mm", false, kNo, kNo, kNo, kNo, kNo,
     "At which its motor stalls; racks in N.", kMust},
    {"function-margin", "motor margin of {function}", "×", false, kNo, kNo, kNo, kNo, kNo,
     "The motor's stall torque over what the load asks of it.", kMust},
    {"function-ratio", "ratio of {function}", "", false, kNo, kNo, kNo, kNo, kNo,
     "Turns for one turn of its motor, whatever their sense.", kMust},
    {"function-play", "play of {function}", "deg", false, kNo, kNo, kNo, kNo, kNo,
     "How far it gives with its motor at rest; racks in mm.", kMust},
    {"function-turns", "turning of {function}", "", true, kNo, kNo, kNo, kNo, kNo,
     "endless, or ends: at a rack, a joint's limit, a wheel off the axis, a wire.", kMust},
    {"function-holds", "holding of {function} without power", "", true, kNo, kNo, kNo, kNo, kNo, "holds, or runs back.",
     kMust},
};

void replaceWord(std::string& text, std::string_view word, const std::string& by) {
    if (const auto at = text.find(word); at != std::string::npos) text.replace(at, word.size(), by);
}

base::Status need(Need need, const std::string& given, const char* what, const Measure& measure) {
    if (need == Need::Must && given.empty())
        return base::Error{"ask.place", "'" + std::string(measure.key) + "' needs a " + what, what};
    if (need == Need::No && !given.empty())
        return base::Error{"ask.place", "'" + std::string(measure.key) + "' has no " + what, what};
    return {};
}

} // namespace

std::span<const Measure> getMeasures() { return kMeasures; }

const Measure* findMeasure(std::string_view key) {
    for (const Measure& m : kMeasures)
        if (m.key == key) return &m;
    return nullptr;
}

base::Status checkAsk(const model::Ask& ask) {
    const Measure* measure = findMeasure(ask.measure);
    if (!measure) return base::Error{"ask.measure", "there is no measure called '" + ask.measure + "'", "measure"};
    if (auto st = need(measure->joint, ask.joint, "joint", *measure); !st) return st;
    if (auto st = need(measure->other, ask.other, "second joint", *measure); !st) return st;
    if (auto st = need(measure->section, ask.section, "section", *measure); !st) return st;
    if (auto st = need(measure->pose, ask.pose, "pose", *measure); !st) return st;
    if (auto st = need(measure->shape, ask.shape, "shape", *measure); !st) return st;
    if (auto st = need(measure->function, ask.function, "function", *measure); !st) return st;
    if (measure->ofWord && ask.word.empty())
        return base::Error{"ask.word", "'" + ask.measure + "' is compared with a word, such as a joint kind", "word"};
    return {};
}

std::string composeSentence(const model::Ask& ask, std::string (*nameOf)(std::string_view, const void*),
                            const void* context) {
    const Measure* measure = findMeasure(ask.measure);
    if (!measure) return "There is no measure called '" + ask.measure + "'";
    const auto named = [&](const std::string& place) { return nameOf ? nameOf(place, context) : place; };
    std::string words(measure->words);
    replaceWord(words, "{joint}", ask.joint.empty() ? "…" : named(ask.joint));
    replaceWord(words, "{other}", ask.other.empty() ? "…" : named(ask.other));
    replaceWord(words, "{shape}", ask.shape.empty() ? "…" : ask.shape);
    replaceWord(words, "{function}", ask.function.empty() ? "…" : named(ask.function));
    std::string text = "The " + words;
    if (measure->joint == Need::May && !ask.joint.empty()) text += " (" + named(ask.joint) + ")";
    if (!ask.section.empty()) text += " of " + named(ask.section);
    text += ask.must ? " must be " : " should be ";
    if (measure->ofWord) {
        text += ask.word.empty() ? "…" : ask.word;
    } else {
        text += std::string(model::getComparisonName(ask.comparison)) + " " + base::formatNumber(ask.value, 3);
        if (measure->unit == "deg")
            text += "°";
        else if (!measure->unit.empty() && measure->unit != "×")
            text += " " + std::string(measure->unit);
    }
    if (!ask.pose.empty()) text += " in " + named(ask.pose);
    return text + ".";
}

bool matchesPattern(std::string_view pattern, std::string_view name) {
    const auto lower = [](char c) { return static_cast<char>(std::tolower(static_cast<unsigned char>(c))); };
    std::size_t p = 0, n = 0, star = std::string_view::npos, from = 0;
    while (n < name.size()) { // greedy with one place to come back to
        if (p < pattern.size() && pattern[p] == '*') {
            star = p++;
            from = n;
        } else if (p < pattern.size() && lower(pattern[p]) == lower(name[n])) {
            ++p;
            ++n;
        } else if (star != std::string_view::npos) {
            p = star + 1;
            n = ++from;
        } else {
            return false;
        }
    }
    while (p < pattern.size() && pattern[p] == '*') ++p;
    return p == pattern.size();
}

bool isContradicting(const model::Ask& a, const model::Ask& b) {
    const bool same = a.measure == b.measure && a.joint == b.joint && a.other == b.other && a.section == b.section &&
                      a.pose == b.pose && a.freedom == b.freedom && a.shape == b.shape && a.function == b.function;
    if (!same) return false;
    const Measure* measure = findMeasure(a.measure);
    if (measure && measure->ofWord) return !matchesPattern(a.word, b.word) && !matchesPattern(b.word, a.word);
    using model::Comparison;
    const auto lowest = [](const model::Ask& k) { return k.comparison == Comparison::AtMost ? -1e300 : k.value; };
    const auto highest = [](const model::Ask& k) { return k.comparison == Comparison::AtLeast ? 1e300 : k.value; };
    return std::max(lowest(a), lowest(b)) > std::min(highest(a), highest(b));
}

} // namespace ivrant::brief
