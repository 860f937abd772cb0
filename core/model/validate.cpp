// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/validate.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <set>
#include <string_view>
#include <unordered_set>

#include "core/base/at.h"
#include "core/model/edits_options.h"
#include "core/model/texts.h"
#include "core/model/validate_boards.h"

namespace ivrant::model {
namespace {

constexpr double kMostTiltTold = 360; ///< a tilt that nothing stands on is opened and told as a finding

using base::Error;
using base::Status;

std::string placeOf(const char* list, std::size_t i, const std::string& rest = "") {
    return std::string("/") + list + "/" + std::to_string(i) + rest;
}

/// Ids are looked at by the ten thousand after every edit: places are put into words only when something is wrong.
class IdCheck {
public:
    explicit IdCheck(std::size_t count) { m_seen.reserve(count); }

    template <class Place> Status add(const std::string& id, Place place) {
        if (!base::isLegalId(id))
            return Error{"id.syntax",
                         "'" + id + "' is not an id: expected a lower-case letter, then letters and digits", place()};
        if (!m_seen.insert(id).second) return Error{"id.twice", "the id '" + id + "' is used twice", place()};
        return {};
    }

private:
    std::unordered_set<std::string_view> m_seen; ///< of the project's own texts
};

Status addBoards(const Project& project,
                 const std::function<Status(const std::string& id, const std::string& pointer)>& add) {
    for (std::size_t b = 0; b < project.boards.size(); ++b) {
        const Board& board = *project.boards[b];
        if (auto st = add(board.id.text, placeOf("boards", b, "/id")); !st) return st;
        Status bad;
        forEachItem(board, [&](const char* list, std::size_t i, const std::string& id) {
            if (bad.ok())
                bad = add(id, placeOf("boards", b, std::string("/") + list + "/" + std::to_string(i) + "/id"));
        });
        if (!bad) return bad;
    }
    return {};
}

Status checkIds(const Project& project) {
    const std::size_t parts = project.partCount();
    if (parts > kMaxParts)
        return Error{"project.size", "a project holds at most " + std::to_string(kMaxParts) + " parts", "/sections"};
    IdCheck ids(parts + project.sections.size() + project.joints.size() + project.poses.size());
    for (std::size_t s = 0; s < project.sections.size(); ++s) {
        const Section& section = *project.sections[s];
        if (auto st = ids.add(section.id.text, [&] { return placeOf("sections", s, "/id"); }); !st) return st;
        for (std::size_t p = 0; p < section.parts.size(); ++p) {
            const auto place = [&](const char* key) {
                return placeOf("sections", s, "/parts/" + std::to_string(p) + key);
            };
            if (auto st = ids.add(section.parts[p].id.text, [&] { return place("/id"); }); !st) return st;
            if (section.parts[p].step < 1 || section.parts[p].step > 1'000'000)
                return Error{"part.step", "step must be 1 to 1000000", place("/step")};
            if (const SectionId& after = section.parts[p].after; !after.empty() && project.findSection(after) < 0)
                return Error{"part.after", "a section of the model is expected", place("/after")};
        }
    }
    for (std::size_t j = 0; j < project.joints.size(); ++j)
        if (auto st = ids.add(project.joints[j].id.text, [&] { return placeOf("joints", j, "/id"); }); !st) return st;
    for (std::size_t q = 0; q < project.poses.size(); ++q)
        if (auto st = ids.add(project.poses[q].id.text, [&] { return placeOf("poses", q, "/id"); }); !st) return st;
    const auto addAll = [&](const auto& list, const char* key) -> Status {
        for (std::size_t i = 0; i < list.size(); ++i)
            if (auto st = ids.add(list[i].id.text, [&] { return placeOf(key, i, "/id"); }); !st) return st;
        return {};
    };
    if (auto st = addBoards(project, [&](const std::string& id,
                                         const std::string& pointer) { return ids.add(id, [&] { return pointer; }); });
        !st)
        return st;
    if (auto st = addAll(project.posts, "supports"); !st) return st;
    if (auto st = addAll(project.variants, "variants"); !st) return st;
    if (auto st = addAll(project.asks, "asks"); !st) return st;
    if (auto st = addAll(project.measured, "measured"); !st) return st;
    if (auto st = addAll(project.diary, "diary"); !st) return st;
    if (auto st = addAll(project.options.list, "options"); !st) return st;
    if (auto st = addAll(project.modules.list, "modules"); !st) return st;
    if (auto st = addAll(project.modules.reaches, "reaches"); !st) return st;
    if (auto st = addAll(project.motions, "motions"); !st) return st;
    if (auto st = addAll(project.lines, "lines"); !st) return st;
    for (std::size_t o = 0; o < project.options.list.size(); ++o)
        for (std::size_t a = 0; a < project.options.list[o].alternatives.size(); ++a) {
            const Alternative& alternative = project.options.list[o].alternatives[a];
            const std::string place = placeOf("options", o, "/alternatives/" + std::to_string(a));
            if (auto st = ids.add(alternative.id.text, [&] { return place + "/id"; }); !st) return st;
            if (!alternative.body) continue;
            for (const WaitingParts& waiting : alternative.body->parts)
                for (const Part& part : waiting.parts)
                    if (auto st = ids.add(part.id.text, [&] { return place + "/waiting"; }); !st) return st;
            for (const SectionPtr& section : alternative.body->sections) {
                if (auto st = ids.add(section->id.text, [&] { return place + "/waiting"; }); !st) return st;
                for (const Part& part : section->parts)
                    if (auto st = ids.add(part.id.text, [&] { return place + "/waiting"; }); !st) return st;
            }
            for (const Joint& joint : alternative.body->joints)
                if (auto st = ids.add(joint.id.text, [&] { return place + "/waiting"; }); !st) return st;
        }
    if (auto st = addAll(project.making.orders, "making/orders"); !st) return st;
    if (auto st = addAll(project.making.builds, "making/builds"); !st) return st;
    return addAll(project.cases, "cases");
}

/// Files of all ages load: days like the 30th of February stay.
bool isDate(const std::string& text) {
    if (text.size() != 10 || text[4] != '-' || text[7] != '-') return false;
    for (std::size_t i = 0; i < text.size(); ++i)
        if (i != 4 && i != 7 && (text[i] < '0' || text[i] > '9')) return false;
    const int month = std::stoi(text.substr(5, 2)), day = std::stoi(text.substr(8, 2));
    return month >= 1 && month <= 12 && day >= 1 && day <= 31;
}

Status checkDate(const std::string& date, const std::string& place) {
    if (date.empty() || isDate(date)) return {};
    return Error{"project.date", "'" + date + "' is no date: expected year-month-day, such as 2026-11-25", place};
}

Status checkRuns(const Series& series, std::size_t i) {
    if (series.kind.empty())
        return Error{"series.kind", "runs of a motor name its line", placeOf("measured", i, "/kind")};
    if (series.runs.empty() || !series.readings.empty())
        return Error{"series.empty", "a motor is measured by runs, at least one", placeOf("measured", i, "/runs")};
    for (std::size_t k = 0; k < series.runs.size(); ++k) {
        const MotorRun& run = series.runs[k];
        for (const double value : {run.torqueNmm, run.rpm, run.currentA, run.voltageV})
            if (!(value >= 0 && value <= 1e6))
                return Error{"series.reading", "a run has torque, speed, current and voltage of 0 to 1000000",
                             placeOf("measured", i, "/runs/" + std::to_string(k))};
    }
    return checkDate(series.date, placeOf("measured", i, "/date"));
}

Status checkSeries(const Series& series, std::size_t i) {
    if (series.quantity == Quantity::Motor) return checkRuns(series, i);
    if (series.readings.empty())
        return Error{"series.empty", "a series needs at least one reading", placeOf("measured", i, "/readings")};
    for (std::size_t k = 0; k < series.readings.size(); ++k)
        if (!std::isfinite(series.readings[k]) || series.readings[k] <= 0 || series.readings[k] > 1e6)
            return Error{"series.reading", "a reading must be above 0 and at most 1000000",
                         placeOf("measured", i, "/readings/" + std::to_string(k))};
    if (!series.moves.empty() && series.moves.size() != series.readings.size())
        return Error{"series.moves",
                     "moves has one number for each of the " + std::to_string(series.readings.size()) + " readings",
                     placeOf("measured", i, "/moves")};
    for (std::size_t k = 0; k < series.moves.size(); ++k)
        if (!std::isfinite(series.moves[k]) || series.moves[k] < 0 || series.moves[k] > 1e9)
            return Error{"series.moves", "moves must be 0 or more",
                         placeOf("measured", i, "/moves/" + std::to_string(k))};
    const bool ofJoint = series.quantity == Quantity::Holding || series.quantity == Quantity::PullOut;
    if (ofJoint && !parts::findJointKind(series.kind))
        return Error{"series.kind", "there is no joint kind called '" + series.kind + "'",
                     placeOf("measured", i, "/kind")};
    return checkDate(series.date, placeOf("measured", i, "/date"));
}

Status checkCase(const OwnCase& own, std::size_t i) {
    const auto within = [&](double value, double most, const char* key) -> Status {
        if (value >= 0 && value <= most) return {};
        return Error{"case.value",
                     std::string(key + 1) + " of a case must lie between 0 and " +
                         std::to_string(static_cast<int>(most)),
                     placeOf("cases", i, key)};
    };
    if (own.name.empty()) return Error{"case.name", "a case needs a name", placeOf("cases", i, "/name")};
    if (auto st = within(own.slopeDeg, 60, "/slope_deg"); !st) return st;
    if (auto st = within(own.downG, 20, "/down_g"); !st) return st;
    if (auto st = within(own.asideG, 20, "/aside_g"); !st) return st;
    if (auto st = within(own.pushN, 1000, "/push_n"); !st) return st;
    if (!std::isfinite(own.towardDeg) || std::abs(own.towardDeg) > 360)
        return Error{"case.value", "toward_deg of a case must lie within ±360", placeOf("cases", i, "/toward_deg")};
    return {};
}

Status checkPost(const Post& post, std::size_t i) {
    if (post.atUm[2] < kLowestPostUm || post.atUm[2] > kHighestPostUm)
        return Error{"support.height", "a post is 1 mm to 2 m high", placeOf("supports", i, "/at/2")};
    return {};
}

Status checkNotes(const Project& project) {
    for (std::size_t i = 0; i < project.posts.size(); ++i)
        if (auto st = checkPost(project.posts[i], i); !st) return st;
    for (std::size_t i = 0; i < project.cases.size(); ++i)
        if (auto st = checkCase(project.cases[i], i); !st) return st;
    for (std::size_t i = 0; i < project.measured.size(); ++i)
        if (auto st = checkSeries(project.measured[i], i); !st) return st;
    for (std::size_t i = 0; i < project.asks.size(); ++i)
        if (!std::isfinite(project.asks[i].value) || std::abs(project.asks[i].value) > 1e9)
            return Error{"ask.value", "the value of an ask must lie within ±1000000000", placeOf("asks", i, "/value")};
    for (std::size_t i = 0; i < project.diary.size(); ++i) {
        if (auto st = checkDate(project.diary[i].date, placeOf("diary", i, "/date")); !st) return st;
        if (auto st = checkDate(project.diary[i].answeredOn, placeOf("diary", i, "/answered_on")); !st) return st;
        if (project.diary[i].text.empty())
            return Error{"diary.text", "a diary entry needs a text", placeOf("diary", i, "/text")};
    }
    if (!(std::abs(project.tiltDeg) <= kMostTiltTold))
        return Error{"project.tilt", "the wanted tilt must be an angle", "/tilt_deg"};
    if (auto st = checkMaking(project.making); !st) return st;
    if (auto st = checkOptions(project); !st) return st;
    if (auto st = checkModules(project); !st) return st;
    if (auto st = checkMotions(project); !st) return st;
    if (auto st = checkLines(project); !st) return st;
    return checkDate(project.shownOn, "/shown_on");
}

Status checkValues(const Joint& joint, const std::vector<double>& values, const std::string& place) {
    const auto wanted = static_cast<std::size_t>(joint.kind->freedomCount());
    if (values.size() != wanted)
        return Error{"joint.value",
                     joint.kind->name + " has " + std::to_string(wanted) + " values, found " +
                         std::to_string(values.size()),
                     place};
    for (std::size_t k = 0; k < values.size(); ++k)
        if (!std::isfinite(values[k]) || std::abs(values[k]) > 36'000)
            return Error{"joint.value", "a value must lie within ±36000", place + "/" + std::to_string(k)};
    return {};
}

Status checkJoint(const Project& project, const PartIndex& index, std::size_t j) {
    const Joint& joint = project.joints[j];
    const parts::Port* ports[2] = {};
    const PortRef* ends[2] = {&joint.from, &joint.to};
    const char* names[2] = {"/from", "/to"};
    for (int e = 0; e < 2; ++e) {
        const PartSpot spot = index.find(ends[e]->part);
        if (spot.section < 0)
            return Error{"joint.part", "there is no part '" + ends[e]->part.text + "'",
                         placeOf("joints", j, std::string(names[e]) + "/part")};
        const parts::Shape& shape = *getPart(project, spot).shape;
        const int port = shape.findPort(ends[e]->port);
        if (port < 0)
            return Error{"joint.port", "'" + shape.name + "' has no port '" + ends[e]->port + "'",
                         placeOf("joints", j, std::string(names[e]) + "/port")};
        ports[e] = &ivrant::at(shape.ports, port);
    }
    const bool fits = std::any_of(joint.kind->ports.begin(), joint.kind->ports.end(), [&](const auto& pair) {
        return (pair.first == ports[0]->kind && pair.second == ports[1]->kind) ||
               (pair.first == ports[1]->kind && pair.second == ports[0]->kind);
    });
    if (!fits)
        return Error{"joint.kind",
                     "a " + joint.kind->name + " cannot join a " + std::string(parts::getPortKindName(ports[0]->kind)) +
                         " and a " + std::string(parts::getPortKindName(ports[1]->kind)),
                     placeOf("joints", j, "/kind")};
    if (auto st = checkValues(joint, joint.value, placeOf("joints", j, "/value")); !st) return st;
    if (!joint.wanted.empty() && joint.wanted.size() != joint.value.size())
        return Error{"joint.value",
                     "wanted has one range for each of the " + std::to_string(joint.value.size()) + " values",
                     placeOf("joints", j, "/wanted")};
    for (std::size_t k = 0; k < joint.wanted.size(); ++k) {
        const Range r = joint.wanted[k];
        if (!std::isfinite(r.low) || !std::isfinite(r.high) || std::abs(r.low) > 36'000 || std::abs(r.high) > 36'000 ||
            r.low > r.high)
            return Error{"joint.value", "a wanted range is [low, high] with low not above high",
                         placeOf("joints", j, "/wanted/" + std::to_string(k))};
    }
    return {};
}

Status checkPose(const Project& project, std::size_t q) {
    const NamedPose& pose = project.poses[q];
    for (const auto& [id, values] : pose.values) {
        const int j = project.findJoint(id);
        const std::string place = placeOf("poses", q, "/values/" + id.text);
        if (j < 0) return Error{"pose.joint", "there is no joint '" + id.text + "'", place};
        if (auto st = checkValues(ivrant::at(project.joints, j), values, place); !st) return st;
    }
    const Stance& stands = pose.stands;
    const bool named =
        stands.kind == Stance::Kind::Flat || (stands.kind == Stance::Kind::Held && !stands.section.empty());
    if (named && project.findSection(stands.section) < 0)
        return Error{"pose.section", "there is no section '" + stands.section.text + "'",
                     placeOf("poses", q, "/stands")};
    const geometry::Vec3 up(stands.up[0], stands.up[1], stands.up[2]);
    if (stands.kind == Stance::Kind::Settle && !(up.norm() > 1e-6 && up.norm() < 1e6))
        return Error{"pose.section", "settle needs an up direction that is not zero",
                     placeOf("poses", q, "/stands/settle")};
    return {};
}

Status checkOwnShapes(const Project& project) {
    for (std::size_t i = 0; i < project.ownShapes.size(); ++i)
        for (std::size_t k = 0; k < i; ++k)
            if (project.ownShapes[i]->name == project.ownShapes[k]->name)
                return Error{"own.name", "two own shapes are called '" + project.ownShapes[i]->name + "'",
                             placeOf("own_shapes", i, "/name")};
    for (std::size_t s = 0; s < project.sections.size(); ++s)
        for (std::size_t p = 0; p < project.sections[s]->parts.size(); ++p) {
            const auto& shape = project.sections[s]->parts[p].shape;
            if (shape->own && project.findOwnShape(shape->name) != shape)
                return Error{"shape.unknown", "'" + shape->name + "' is not a shape of this project",
                             placeOf("sections", s, "/parts/" + std::to_string(p) + "/shape")};
        }
    return {};
}

} // namespace

Status validate(const Project& project) {
    if (auto st = checkIds(project); !st) return st;
    if (auto st = checkTexts(project); !st) return st;
    if (auto st = checkOwnShapes(project); !st) return st;
    const PartIndex index(project);
    for (std::size_t j = 0; j < project.joints.size(); ++j)
        if (auto st = checkJoint(project, index, j); !st) return st;
    std::set<std::pair<PortRef, PortRef>> pairs;
    for (std::size_t j = 0; j < project.joints.size(); ++j) {
        const auto& joint = project.joints[j];
        if (!pairs.insert(std::minmax(joint.from, joint.to)).second)
            return Error{"joint.twice", "joint '" + joint.name + "' joins two ports that another joint joins already",
                         placeOf("joints", j)};
    }
    for (std::size_t q = 0; q < project.poses.size(); ++q)
        if (auto st = checkPose(project, q); !st) return st;
    if (auto st = checkBoards(project); !st) return st;
    if (auto tree = makeTree(project); !tree) return tree.error();
    return checkNotes(project);
}

} // namespace ivrant::model
