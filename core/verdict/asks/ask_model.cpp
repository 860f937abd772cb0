// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/asks/ask_model.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/brief/measures.h"
#include "core/make/calendar.h"
#include "core/make/stock.h"
#include "core/model/board_parts.h"
#include "core/parts/family.h"
#include "core/pose/stance.h"
#include "core/study/hands.h"
#include "core/study/hidden.h"
#include "core/study/post_check.h"
#include "core/study/stand_cases.h"
#include "core/verdict/stand/check_stand.h"

namespace ivrant::verdict {
namespace {

using brief::matchesPattern;
using model::Ask;

class ModelMeasurer {
public:
    explicit ModelMeasurer(const AskScope& scope)
        : m_facts(scope.facts), m_project(*scope.facts.project), m_strengths(scope.strengths), m_poses(scope.poses) {}

    [[nodiscard]] AskValues wholeValue(const Ask& ask) const {
        const auto one = [](double v) { return AskValues{{v, nullptr}}; };
        const std::string& key = ask.measure;
        if (key == "mass" || key == "ballast" || key == "parts" || key == "shapes" || key == "colours" ||
            key == "shape-count" || key == "steps" || key == "step-parts" || key == "loose" || key == "one-bond") {
            std::vector<int> all;
            for (std::size_t s = 0; s < m_project.sections.size(); ++s) all.push_back(static_cast<int>(s));
            return one(countIn(ask, all));
        }
        if (key == "sections")
            return one(static_cast<double>(std::count_if(m_project.sections.begin(), m_project.sections.end(),
                                                         [](const auto& s) { return !s->parts.empty(); })));
        if (key == "height" || key == "width" || key == "depth") return extents(key, std::nullopt);
        if (key == "joints" || key == "freedoms" || key == "measured") {
            double joints = 0, freedoms = 0, measured = 0;
            for (std::size_t j = 0; j < m_project.joints.size(); ++j) {
                const auto& joint = m_project.joints[j];
                if (!ask.joint.empty() && !isNamed(ask.joint, joint.id.text, joint.name)) continue;
                ++joints;
                freedoms += joint.kind->freedomCount();
                measured += m_strengths[j].holding.measured ? 1 : 0;
            }
            if (key == "measured") return joints > 0 ? one(100 * measured / joints) : AskValues{};
            return one(key == "joints" ? joints : freedoms);
        }
        if (key == "tip-angle") {
            AskValues values;
            for (const auto* pose : m_poses)
                if (pose->tipping && pose->stance.kind != model::Stance::Kind::Held)
                    values.emplace_back(pose->tipping->angleDeg, pose);
            return values;
        }
        if (key == "bond-margin") {
            AskValues values;
            for (const auto* pose : m_poses)
                if (pose->standing && pose->standing->equilibrium.lambda)
                    values.emplace_back(1 / *pose->standing->equilibrium.lambda, pose);
            return values;
        }
        if (key == "tip-push") {
            AskValues values;
            for (const auto* pose : m_poses)
                if (pose->tipping && pose->stance.kind != model::Stance::Kind::Held)
                    values.emplace_back(stand::calcTipPushN(*pose->tipping, pose->tipping->towardDeg,
                                                            std::max(1.0, stand::calcTopMm(pose->placed))),
                                        pose);
            return values;
        }
        if (key == "move-tip") {
            AskValues values;
            for (const study::MoveTip& move : m_facts.moves) values.emplace_back(move.leastDeg, nullptr);
            return values;
        }
        if (key == "supports") return one(static_cast<double>(m_project.posts.size()));
        if (key == "support-force") {
            AskValues values;
            for (const study::KeptPost& kept : study::checkPosts(m_facts)) values.emplace_back(kept.tiltN, kept.pose);
            return values.empty() ? one(0) : values;
        }
        if (key == "unseen") {
            const auto hidden = study::getHidden(m_facts);
            return hidden ? one(static_cast<double>(hidden->parts.size())) : AskValues{};
        }
        if (key == "holds") {
            std::size_t holds = 0;
            for (std::size_t s = 0; s < m_project.sections.size(); ++s)
                holds += study::calcHolds(m_facts, static_cast<int>(s)).size();
            return one(static_cast<double>(holds));
        }
        if (key == "missing-parts") {
            int missing = 0;
            for (const make::TideLine& line : make::calcTide(m_project, m_facts.tree).lines) missing += line.missing();
            return one(missing);
        }
        if (key == "order-cost") {
            double cost = 0;
            for (const model::Order& order : m_project.making.orders) cost += model::calcCost(order);
            return one(cost);
        }
        if (key == "build-hours") {
            const auto work = make::countWork(m_project, make::listSteps(m_project, m_facts.tree));
            return one(make::calcBuildHours(work, make::calcRate(m_project.making, work)));
        }
        if (key == "spare") {
            if (m_facts.poses.empty() || !m_facts.poses.front().tipping) return {};
            const auto core = study::calcCore(m_facts, m_facts.poses.front());
            return core ? one(static_cast<double>(core->leaveOut.size())) : AskValues{};
        }
        if (key == "tug" || key == "shake" || key == "seam") return structural(ask);
        if (key == "collisions") {
            double sum = 0;
            for (const auto* pose : m_poses) sum += static_cast<double>(pose->collisions.size());
            return one(sum);
        }
        return {};
    }

    /// From the pattern of the build; nothing for models whose bonds are still to come.
    AskValues structural(const Ask& ask) const {
        if (!m_facts.structure) return {};
        const study::Structure& structure = *m_facts.structure;
        if (ask.measure == "seam") {
            int most = 0;
            for (const stand::Seam& seam : structure.seams) most = std::max(most, seam.courses);
            return {{most, nullptr}};
        }
        if (ask.measure == "shake") {
            const stand::Neck* neck = study::findNeck(structure, m_facts.poses.front());
            return neck ? AskValues{{neck->shakeG, &m_facts.poses.front()}} : AskValues{};
        }
        const double enough =
            std::max(stand::kTugN, ask.value * 1.01); // what holds that much is not looked at any closer
        const auto pieces = stand::findPieces(structure.net, enough);
        return {{pieces.empty() ? enough : pieces.front().forceN, nullptr}};
    }
    double countIn(const Ask& ask, const std::vector<int>& sections) const {
        double mass = 0, ballast = 0, parts = 0, shapeCount = 0, loose = 0, single = 0, steps = 0, stepParts = 0;
        std::set<std::string> shapes;
        std::set<int> colours;
        const auto parsed = parts::parseShapeName(ask.shape);
        const std::string wantedShape = parsed ? *parsed : ask.shape;
        for (int s : sections) {
            const auto& section = *at(m_project.sections, s);
            std::map<std::pair<std::string, int>, int> ofSection; // by what it waits for and its step
            for (const auto& part : section.parts) {
                mass += part.massG();
                ++parts;
                shapes.insert(parts::getListName(*part.shape));
                colours.insert(part.colour);
                ++ofSection[{part.after.text, part.step}];
                shapeCount += part.shape->name == wantedShape || matchesPattern(ask.shape, part.shape->name) ? 1 : 0;
            }
            for (const auto& b : section.ballast) ballast += b.massG;
            steps += static_cast<double>(ofSection.size());
            for (const auto& [step, count] : ofSection) stepParts = std::max(stepParts, static_cast<double>(count));
            loose += static_cast<double>(at(m_facts.bonds, s)->loose.size());
            single += static_cast<double>(at(m_facts.bonds, s)->singles.size());
        }
        for (const auto& board : m_project.boards) {
            const int own = board->section.empty() ? -1 : m_project.findSection(board->section);
            if (own < 0 ? !ask.section.empty() : std::find(sections.begin(), sections.end(), own) == sections.end())
                continue;
            const auto counts = model::countShapes(model::listBoardParts(*board));
            for (const auto& [shape, count] : counts) {
                mass += count * parts::makeShape(shape).value()->massG;
                parts += count;
                shapes.insert(shape);
                colours.insert(board->colour);
                shapeCount += shape == wantedShape || matchesPattern(ask.shape, shape) ? count : 0;
            }
            steps += counts.empty() ? 0 : 1;
        }
        const std::map<std::string, double> byKey{{"mass", mass + ballast},
                                                  {"ballast", ballast},
                                                  {"parts", parts},
                                                  {"shapes", static_cast<double>(shapes.size())},
                                                  {"colours", static_cast<double>(colours.size())},
                                                  {"shape-count", shapeCount},
                                                  {"steps", steps},
                                                  {"step-parts", stepParts},
                                                  {"loose", loose},
                                                  {"one-bond", single}};
        return byKey.at(ask.measure);
    }

    /// Size of what stands, or of one section, per pose.
    AskValues extents(const std::string& key, std::optional<int> section) const {
        AskValues values;
        const int axis = key == "width" ? 0 : key == "depth" ? 1 : 2;
        for (const auto* pose : m_poses) {
            geometry::Bounds bounds;
            for (const auto& p : pose::listCorners(pose->placed, section)) bounds.include(p);
            if (!bounds.empty()) values.emplace_back(bounds.size()[axis], pose);
        }
        return values;
    }

    /// In its own frame.
    [[nodiscard]] geometry::Bounds ownBounds(int section) const {
        const model::Placed own{&m_project,
                                std::vector<geometry::Frame>(m_project.sections.size(), geometry::Frame::Identity())};
        geometry::Bounds bounds;
        model::forPlacedShapes(
            own,
            [&](const model::PlacedShape& part) {
                for (const auto& solid : part.shape.solids)
                    bounds.include(geometry::calcBounds(solid.solid, part.X_WP));
            },
            section);
        return bounds;
    }
    [[nodiscard]] AskValues sectionValue(const Ask& ask, int section) const {
        const std::string& key = ask.measure;
        if (key == "height" || key == "width" || key == "depth") {
            if (key == "height" && !ask.pose.empty()) return extents(key, section);
            const geometry::Bounds own = ownBounds(section);
            if (own.empty()) return {};
            return {{own.size()[key == "width" ? 0 : key == "depth" ? 1 : 2], nullptr}};
        }
        if (key == "width-studs") {
            const geometry::Bounds own = ownBounds(section);
            if (own.empty()) return {};
            return {{std::ceil((own.size().x() - 0.5) / base::kPitchMm), nullptr}};
        }
        return {{countIn(ask, {section}), nullptr}};
    }

private:
    const study::Facts& m_facts;
    const model::Project& m_project;
    const model::JointStrengths& m_strengths;
    const std::vector<const study::PoseFacts*>& m_poses;
};

} // namespace

bool isNamed(const std::string& wanted, const std::string& id, const std::string& name) {
    return wanted == id || matchesPattern(wanted, name);
}

AskValues measureModel(const AskScope& scope, const Ask& ask) { return ModelMeasurer(scope).wholeValue(ask); }
AskValues measureSection(const AskScope& scope, const Ask& ask, int section) {
    return ModelMeasurer(scope).sectionValue(ask, section);
}

} // namespace ivrant::verdict
