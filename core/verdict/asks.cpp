#include "core/verdict/asks.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/units.h"
#include "core/bench/strengths.h"
#include "core/brief/measures.h"
#include "core/model/board_parts.h"
#include "core/parts/family.h"
#include "core/pose/chain.h"
#include "core/pose/gaps.h"
#include "core/pose/stance.h"
#include "core/pose/worst.h"
#include "core/verdict/check_stand.h"

namespace ivrant::verdict {
namespace {

using brief::matchesPattern;
using model::Ask;
using model::Comparison;

constexpr double kEqualSlack = 0.005; ///< share; equalities hold within it or within half a unit of the last place shown

bool isNamed(const std::string& wanted, const std::string& id, const std::string& name) { return wanted == id || matchesPattern(wanted, name); }

class Measurer {
public:
    Measurer(const Report& report, const base::Progress* progress)
        : m_report(report), m_project(*report.project), m_progress(progress), m_context(pose::makeRangeContext(m_project, report.tree, report.bonds)),
          m_strengths(bench::calcStrengths(m_project)) {}

    std::vector<AskResult> measure(const Ask& ask, std::size_t index) {
        AskResult blank;
        blank.ask = index;
        if (auto st = brief::checkAsk(ask); !st) return failed(blank, st.error().message);
        const auto& measure = *brief::findMeasure(ask.measure);
        m_ask = &ask;
        m_poses.clear();
        for (const PoseReport& pose : m_report.poses)
            if (ask.pose.empty() || isNamed(ask.pose, pose.id ? pose.id->text : "", pose.name)) m_poses.push_back(&pose);
        if (m_poses.empty()) return failed(blank, "there is no pose called '" + nameOr(ask.pose) + "'");
        m_other = -1;
        if (!ask.other.empty()) {
            const auto others = listJoints(ask.other);
            if (others.size() != 1)
                return failed(blank, others.empty() ? "there is no joint called '" + nameOr(ask.other) + "'" : "'" + ask.other + "' names several joints");
            m_other = others.front();
        }
        if (measure.joint == brief::Need::Must) return eachJoint(ask, blank);
        if (measure.function == brief::Need::Must) return eachFunction(ask, blank);
        if (measure.section != brief::Need::No && !ask.section.empty()) return eachSection(ask, blank);
        AskResult result = blank;
        put(result, wholeValue(ask));
        return {result};
    }

private:
    using Values = std::vector<std::pair<double, const PoseReport*>>;

    static std::vector<AskResult> failed(AskResult result, const std::string& problem) {
        result.problem = problem;
        return {result};
    }
    static std::string nameOr(const std::string& text) { return text.empty() ? "(any)" : text; }

    [[nodiscard]] std::vector<int> listJoints(const std::string& wanted) const {
        std::vector<int> list;
        for (std::size_t j = 0; j < m_project.joints.size(); ++j)
            if (isNamed(wanted, m_project.joints[j].id.text, m_project.joints[j].name)) list.push_back(static_cast<int>(j));
        return list;
    }

    std::vector<AskResult> eachJoint(const Ask& ask, const AskResult& blank) {
        std::vector<AskResult> results;
        for (int j : listJoints(ask.joint)) {
            const auto& joint = m_project.joints[static_cast<std::size_t>(j)];
            AskResult result = blank;
            result.at = joint.name;
            result.place.joint = joint.id;
            if (ask.measure == "joint-kind") {
                result.word = joint.kind->name;
                result.passes = matchesPattern(ask.word, joint.kind->name);
            } else {
                put(result, jointValue(ask, j, result));
            }
            results.push_back(std::move(result));
        }
        if (results.empty()) return failed(blank, "there is no joint called '" + ask.joint + "'");
        return results;
    }

    std::vector<AskResult> eachSection(const Ask& ask, const AskResult& blank) {
        std::vector<AskResult> results;
        for (std::size_t s = 0; s < m_project.sections.size(); ++s) {
            const auto& section = *m_project.sections[s];
            if (!isNamed(ask.section, section.id.text, section.name)) continue;
            AskResult result = blank;
            result.at = section.name;
            result.place.section = section.id;
            put(result, sectionValue(ask, static_cast<int>(s)));
            results.push_back(std::move(result));
        }
        if (results.empty()) return failed(blank, "there is no section called '" + ask.section + "'");
        return results;
    }

    std::vector<AskResult> eachFunction(const Ask& ask, const AskResult& blank) {
        if (!m_report.drive) return failed(blank, "there is no gear board");
        const auto& positions = m_report.drive->positions;
        std::vector<AskResult> results;
        for (std::size_t f = 0; f < positions.front().functions.size(); ++f) {
            const auto& function = *positions.front().functions[f].function;
            if (!isNamed(ask.function, function.id.text, function.name)) continue;
            AskResult result = blank;
            result.at = function.name;
            result.basis = ask.measure == "function-ratio" ? Basis::Geometry : Basis::Starting;
            result.place.board = m_project.boards[static_cast<std::size_t>(positions.front().functions[f].board)]->id;
            result.place.things = {function.id.text, function.shaft.text + function.gear.text};
            measureFunction(ask, f, result);
            results.push_back(std::move(result));
        }
        if (results.empty()) return failed(blank, "there is no function called '" + ask.function + "'");
        return results;
    }
    /// Over all positions of the selectors in which a motor moves it.
    void measureFunction(const Ask& ask, std::size_t f, AskResult& result) const {
        Values values;
        bool driven = false, holds = true;
        for (const auto& position : m_report.drive->positions) {
            const drive::FunctionState& state = position.functions[f];
            if (state.motors.empty() || state.loose) continue;
            driven = true;
            holds = holds && state.holds;
            if (const auto value = functionValue(ask.measure, state)) values.emplace_back(*value, nullptr);
        }
        if (ask.measure == "function-turns" && driven) {
            result.word = turnsEndlessly(f) ? "endless" : "ends";
            result.passes = matchesPattern(ask.word, result.word);
            return;
        }
        if (ask.measure == "function-holds" && driven) {
            result.word = holds ? "holds" : "runs back";
            result.passes = matchesPattern(ask.word, result.word);
            return;
        }
        if (!driven) result.problem = "no motor moves it in any position of the selectors";
        if (driven && values.empty()) result.problem = ask.measure == "function-time" ? "it has no travel, or stalls on the way" : "nothing stands against it";
        put(result, values);
    }
    /// Nothing stops it or parts: no rack, no joint with an end, no wheel off its axis, no wire or string that crosses it.
    [[nodiscard]] bool turnsEndlessly(std::size_t f) const {
        const auto& drive = *m_report.drive;
        const drive::FunctionState& state = drive.positions.front().functions[f];
        const std::string& id = drive.net.things[static_cast<std::size_t>(state.thing)].id;
        const int joint = m_project.findJoint(state.function->joint);
        const bool jointEnds = joint >= 0 && m_project.joints[static_cast<std::size_t>(joint)].kind->turnLimitDeg.has_value();
        const bool parts = std::any_of(drive.net.offAxis.begin(), drive.net.offAxis.end(), [&](const auto& off) { return off.carrier == id; });
        const bool wire = std::any_of(drive.motors.begin(), drive.motors.end(), [&](const auto& motor) {
            return drive.net.things[static_cast<std::size_t>(motor.thing)].carrier == state.thing && !(motor.line && motor.line->byHand);
        });
        bool strand = false;
        for (const auto& board : m_project.boards)
            strand |= std::any_of(board->strands.begin(), board->strands.end(), [&](const auto& s) { return drive.net.findThing(s.over.text) == state.thing; });
        return !state.straight && !jointEnds && !parts && !wire && !strand;
    }
    static std::optional<double> functionValue(const std::string& key, const drive::FunctionState& state) {
        if (key == "function-time") return state.travelS;
        if (key == "function-speed") return state.speed;
        if (key == "function-margin") return state.margin;
        if (key == "function-force") return state.margin ? std::optional(*state.margin * state.hardest.nmm) : std::nullopt;
        if (key == "function-ratio") return std::abs(state.motors.front().ratio.get_d());
        if (key == "function-play") return state.playDeg;
        return std::nullopt;
    }

    /// Takes the value that counts for the comparison, and its pose.
    void put(AskResult& result, const Values& values) const {
        if (values.empty()) {
            if (result.problem.empty()) result.problem = "it could not be measured";
            return;
        }
        const auto worse = [&](const auto& l, const auto& r) { // is l a worse value than r?
            switch (m_ask->comparison) {
            case Comparison::AtLeast: return l.first < r.first;
            case Comparison::AtMost: return l.first > r.first;
            case Comparison::Equal: return std::abs(l.first - m_ask->value) > std::abs(r.first - m_ask->value);
            }
            return false;
        };
        const auto worst = std::min_element(values.begin(), values.end(), worse);
        result.value = worst->first;
        if (worst->second) result.place.pose = worst->second->id;
        const double wanted = m_ask->value, is = worst->first;
        switch (m_ask->comparison) {
        case Comparison::AtLeast:
            result.passes = is >= wanted - 1e-9;
            if (wanted > 0) result.margin = std::max(0.0, is / wanted);
            break;
        case Comparison::AtMost:
            result.passes = is <= wanted + 1e-9;
            if (wanted > 0 && is > 1e-12) result.margin = wanted / is;
            break;
        case Comparison::Equal: result.passes = std::abs(is - wanted) <= std::max(kEqualSlack * std::abs(wanted), 1e-9); break;
        }
    }

    // The whole model
    Values wholeValue(const Ask& ask) {
        const auto one = [](double v) { return Values{{v, nullptr}}; };
        const std::string& key = ask.measure;
        if (key == "mass" || key == "ballast" || key == "parts" || key == "shapes" || key == "colours" || key == "shape-count" || key == "steps" ||
            key == "loose" || key == "one-bond") {
            std::vector<int> all;
            for (std::size_t s = 0; s < m_project.sections.size(); ++s) all.push_back(static_cast<int>(s));
            return one(countIn(ask, all));
        }
        if (key == "sections")
            return one(
                static_cast<double>(std::count_if(m_project.sections.begin(), m_project.sections.end(), [](const auto& s) { return !s->parts.empty(); })));
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
            if (key == "measured") return joints > 0 ? one(100 * measured / joints) : Values{};
            return one(key == "joints" ? joints : freedoms);
        }
        if (key == "tip-angle") {
            Values values;
            for (const auto* pose : m_poses)
                if (pose->tipping && pose->stance.kind != model::Stance::Kind::Held) values.emplace_back(pose->tipping->angleDeg, pose);
            return values;
        }
        if (key == "bond-margin") {
            Values values;
            for (const auto* pose : m_poses)
                if (pose->standing && pose->standing->equilibrium.lambda) values.emplace_back(1 / *pose->standing->equilibrium.lambda, pose);
            return values;
        }
        if (key == "tip-push") {
            Values values;
            for (const auto* pose : m_poses)
                if (pose->tipping && pose->stance.kind != model::Stance::Kind::Held)
                    values.emplace_back(stand::calcTipPushN(*pose->tipping, pose->tipping->towardDeg, std::max(1.0, stand::calcTopMm(pose->placed))), pose);
            return values;
        }
        if (key == "move-tip") {
            Values values;
            for (const MoveTip& move : m_report.moves) values.emplace_back(move.leastDeg, nullptr);
            return values;
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
    Values structural(const Ask& ask) const {
        if (!m_report.structure) return {};
        const Structure& structure = *m_report.structure;
        if (ask.measure == "seam") {
            int most = 0;
            for (const stand::Seam& seam : structure.seams) most = std::max(most, seam.courses);
            return {{most, nullptr}};
        }
        if (ask.measure == "shake") {
            const stand::Neck* neck = findNeck(structure, m_report.poses.front());
            return neck ? Values{{neck->shakeG, &m_report.poses.front()}} : Values{};
        }
        const double enough = std::max(stand::kTugN, ask.value * 1.01); // what holds that much is not looked at any closer
        const auto pieces = stand::findPieces(structure.net, enough);
        return {{pieces.empty() ? enough : pieces.front().forceN, nullptr}};
    }
    double countIn(const Ask& ask, const std::vector<int>& sections) const {
        double mass = 0, ballast = 0, parts = 0, shapeCount = 0, loose = 0, single = 0, steps = 0;
        std::set<std::string> shapes;
        std::set<int> colours;
        const auto parsed = parts::parseShapeName(ask.shape);
        const std::string wantedShape = parsed ? *parsed : ask.shape;
        for (int s : sections) {
            const auto& section = *m_project.sections[static_cast<std::size_t>(s)];
            std::set<int> ofSection;
            for (const auto& part : section.parts) {
                mass += part.massG();
                ++parts;
                shapes.insert(parts::getListName(*part.shape));
                colours.insert(part.colour);
                ofSection.insert(part.step);
                shapeCount += part.shape->name == wantedShape || matchesPattern(ask.shape, part.shape->name) ? 1 : 0;
            }
            for (const auto& b : section.ballast) ballast += b.massG;
            steps += static_cast<double>(ofSection.size());
            loose += static_cast<double>(m_report.bonds[static_cast<std::size_t>(s)]->loose.size());
            single += static_cast<double>(m_report.bonds[static_cast<std::size_t>(s)]->singles.size());
        }
        for (const auto& board : m_project.boards) {
            const int own = board->section.empty() ? -1 : m_project.findSection(board->section);
            if (own < 0 ? !ask.section.empty() : std::find(sections.begin(), sections.end(), own) == sections.end()) continue;
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
                                                  {"loose", loose},
                                                  {"one-bond", single}};
        return byKey.at(ask.measure);
    }

    /// Size of what stands, or of one section, per pose.
    Values extents(const std::string& key, std::optional<int> section) const {
        Values values;
        const int axis = key == "width" ? 0 : key == "depth" ? 1 : 2;
        for (const auto* pose : m_poses) {
            geometry::Bounds bounds;
            for (const auto& p : pose::listCorners(pose->placed, section)) bounds.include(p);
            if (!bounds.empty()) values.emplace_back(bounds.size()[axis], pose);
        }
        return values;
    }

    // One section
    /// In its own frame.
    [[nodiscard]] geometry::Bounds ownBounds(int section) const {
        const model::Placed own{&m_project, std::vector<geometry::Pose>(m_project.sections.size(), geometry::Pose::Identity())};
        geometry::Bounds bounds;
        model::forPlacedShapes(
            own,
            [&](const model::PlacedShape& part) {
                for (const auto& solid : part.shape.solids) bounds.include(geometry::calcBounds(solid.solid, part.X_WP));
            },
            section);
        return bounds;
    }
    Values sectionValue(const Ask& ask, int section) {
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

    // One joint
    Values jointValue(const Ask& ask, int j, AskResult& result) {
        const auto index = static_cast<std::size_t>(j);
        const auto& joint = m_project.joints[index];
        const std::string& key = ask.measure;
        const auto one = [](double v) { return Values{{v, nullptr}}; };
        if (key == "joint-price") return result.basis = Basis::Starting, one(joint.kind->priceClass);
        if (key == "play") return result.basis = Basis::Starting, one(joint.kind->playDeg);
        if (key.starts_with("range-")) return ranges(ask, index);
        if (key == "hold-margin" || key == "hold-need") {
            result.basis = m_strengths[index].holding.measured ? Basis::Measured : Basis::Starting;
            Values values;
            for (const auto* pose : m_poses)
                values.emplace_back(key == "hold-need" ? pose->loads[index].needNmm : pose->loads[index].margin.value_or(kNothingNeeded), pose);
            return values;
        }
        if (key == "hold-worst") {
            result.basis = m_strengths[index].holding.measured ? Basis::Measured : Basis::Starting;
            const auto worst = findWorst(m_report, m_context, j, m_strengths[index]);
            return one(worst.margin.value_or(kNothingNeeded));
        }
        if (key == "pull-margin") {
            result.basis = m_strengths[index].pull && m_strengths[index].pull->measured ? Basis::Measured : Basis::Starting;
            Values values;
            for (const auto* pose : m_poses) {
                const auto& load = pose->loads[index];
                values.emplace_back(load.pullLimit && load.pullN > 1e-6 ? load.pullLimit->value / load.pullN : kNothingNeeded, pose);
            }
            return values;
        }
        if (key == "length") {
            Values values;
            for (const auto* pose : m_poses) values.emplace_back((centreOf(*pose, j) - centreOf(*pose, m_other)).norm(), pose);
            return values;
        }
        if (key == "gap") {
            double most = 0;
            for (const auto& view : pose::getGapViews()) most = std::max(most, pose::calcGapArea(m_report.present.placed, m_context, j, view.towards));
            return one(most);
        }
        if (key == "chain-bend" || key == "tip-play" || key == "chain-sag") return chain(ask, j, result);
        return {};
    }

    Values ranges(const Ask& ask, std::size_t joint) const {
        Values values;
        for (const auto* pose : m_poses)
            for (const auto& range : pose->ranges) {
                const auto& kind = *m_project.joints[joint].kind;
                const std::string_view freedom = ask.freedom.empty() ? kind.freedomName(kind.bendFreedom()) : std::string_view(ask.freedom);
                if (range.joint != static_cast<int>(joint) || kind.freedomName(range.freedom) != freedom) continue;
                const double low = range.endless ? -360 : range.free.low, high = range.endless ? 360 : range.free.high;
                values.emplace_back(ask.measure == "range-high" ? high : ask.measure == "range-low" ? low : high - low, pose);
            }
        return values;
    }

    [[nodiscard]] geometry::Vec3 centreOf(const PoseReport& pose, int j) const {
        const auto index = static_cast<std::size_t>(j);
        return (pose.placed.X_WS[static_cast<std::size_t>(m_report.tree.from[index].section)] * pose::calcFromFrame(m_project, m_report.tree, j)).translation();
    }

    Values chain(const Ask& ask, int j, AskResult& result) const {
        const auto run = pose::makeChain(m_context, m_report.present.values, j, m_other);
        if (!run) {
            result.problem = run.error().message;
            return {};
        }
        if (ask.measure == "chain-sag") {
            result.basis = Basis::Starting;
            Values values;
            for (const auto* pose : m_poses)
                values.emplace_back(std::abs(pose::calcSag(m_context, pose->values, *run, pose->stance, m_strengths).tipDropMm), pose);
            return values;
        }
        if (ask.measure == "tip-play")
            return result.basis = Basis::Starting, Values{{pose::calcPlay(m_context, m_report.present.values, *run).tipPlayMm, nullptr}};
        const auto study = pose::calcChain(m_context, m_report.present.values, *run, m_progress);
        return {{study.high.totalDeg - study.low.totalDeg, nullptr}};
    }

    static constexpr double kNothingNeeded = 1000; ///< margin where nothing is asked of a joint

    const Report& m_report;
    const model::Project& m_project;
    const base::Progress* m_progress;
    pose::RangeContext m_context;
    model::JointStrengths m_strengths;
    const Ask* m_ask = nullptr;
    std::vector<const PoseReport*> m_poses;
    int m_other = -1;
};

std::string nameOfId(std::string_view id, const void* context) {
    const auto& project = *static_cast<const model::Project*>(context);
    std::string text(id);
    if (const int j = project.findJoint({text}); j >= 0) return project.joints[static_cast<std::size_t>(j)].name;
    if (const int s = project.findSection({text}); s >= 0) return project.sections[static_cast<std::size_t>(s)]->name;
    if (const int q = project.findPose({text}); q >= 0) return project.poses[static_cast<std::size_t>(q)].name;
    for (const auto& board : project.boards)
        for (const auto& function : board->functions)
            if (function.id.text == text) return function.name;
    return text;
}

std::string withUnit(double value, std::string_view unit) {
    if (unit == "deg") return base::formatNumber(value, 1) + "°";
    if (unit == "×") return value >= 1000 ? "nothing to hold" : base::formatMargin(value);
    return base::formatNumber(value, 2) + (unit.empty() ? "" : " " + std::string(unit));
}

} // namespace

std::string composeSentence(const model::Project& project, const Ask& ask) { return brief::composeSentence(ask, nameOfId, &project); }

std::vector<AskResult> measureAsks(const Report& report, const std::vector<Ask>& asks, const base::Progress* progress) {
    std::vector<AskResult> results;
    if (asks.empty()) return results;
    Measurer measurer(report, progress);
    for (std::size_t a = 0; a < asks.size(); ++a) {
        if (progress && progress->stopped()) break;
        for (auto& result : measurer.measure(asks[a], a)) results.push_back(std::move(result));
    }
    return results;
}

std::vector<Verdict> makeAskVerdicts(const Report& report, const std::vector<Ask>& asks, const std::vector<AskResult>& results, const std::string& from) {
    std::vector<Verdict> verdicts;
    std::map<std::string, int> used;
    for (const AskResult& r : results) {
        const Ask& ask = asks[r.ask];
        const auto* measure = brief::findMeasure(ask.measure);
        Verdict v;
        v.check = "ask";
        v.id = from + "/" + (ask.id.empty() ? std::to_string(r.ask + 1) : ask.id.text);
        if (r.place.joint) v.id += "/" + r.place.joint->text;
        if (r.place.section) v.id += "/" + r.place.section->text;
        if (!r.place.things.empty()) v.id += "/" + r.place.things.front();
        if (const int again = used[v.id]++) v.id += "/" + std::to_string(again + 1);
        v.station = Station::Brief;
        v.place = r.place;
        v.value = r.value.value_or(0);
        v.limit = ask.value;
        v.unit = measure ? std::string(measure->unit) : "";
        v.margin = r.margin;
        v.basis = r.basis;
        v.state = r.passes ? State::Good : ask.must ? State::Fail : State::Thin;
        v.text = composeSentence(*report.project, ask);
        if (!r.at.empty() && v.text.find(r.at) == std::string::npos) v.text = r.at + ": " + v.text;
        if (!r.problem.empty())
            v.detail = r.problem;
        else if (!r.value)
            v.detail = "it is " + r.word;
        else
            v.detail = "it is " + withUnit(*r.value, v.unit) + (r.place.pose ? " in " + nameOfId(r.place.pose->text, report.project.get()) : "");
        verdicts.push_back(std::move(v));
    }
    for (std::size_t a = 0; a < asks.size(); ++a)
        for (std::size_t b = a + 1; b < asks.size(); ++b) {
            if (!brief::isContradicting(asks[a], asks[b])) continue;
            Verdict v;
            v.check = "ask-conflict";
            v.id = "ask-conflict/" + from + "/" + std::to_string(a + 1) + "/" + std::to_string(b + 1);
            v.station = Station::Brief;
            v.state = asks[a].must && asks[b].must ? State::Fail : State::Thin;
            v.text = "Two asks contradict each other";
            v.detail = composeSentence(*report.project, asks[a]) + " " + composeSentence(*report.project, asks[b]);
            verdicts.push_back(std::move(v));
        }
    return verdicts;
}

} // namespace ivrant::verdict
