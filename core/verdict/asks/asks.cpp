// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/asks/asks.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/brief/measures.h"
#include "core/pose/chain.h"
#include "core/pose/gaps.h"
#include "core/pose/worst.h"
#include "core/study/motion_words.h"
#include "core/study/strands.h"
#include "core/study/walk.h"
#include "core/study/worst_load.h"
#include "core/trials/strengths.h"
#include "core/verdict/asks/ask_model.h"

namespace ivrant::verdict {
namespace {

using brief::matchesPattern;
using model::Ask;

constexpr double kEqualSlack =
    0.005; ///< share; equalities hold within it or within half a unit of the last place shown

class Measurer {
public:
    Measurer(const study::Facts& facts, const base::Progress* progress)
        : m_facts(facts), m_project(*facts.project), m_progress(progress),
          m_context(pose::makeRangeContext(m_project, facts.tree, facts.bonds)),
          m_strengths(trials::calcStrengths(m_project)) {}

    std::vector<AskResult> measure(const Ask& ask, std::size_t index) {
        AskResult blank;
        blank.ask = index;
        if (auto st = brief::checkAsk(ask); !st) return failed(blank, st.error().message);
        const auto& measure = *brief::findMeasure(ask.measure);
        m_ask = &ask;
        m_poses.clear();
        for (const study::PoseFacts& pose : m_facts.poses)
            if (ask.pose.empty() || isNamed(ask.pose, pose.id ? pose.id->text : "", pose.name))
                m_poses.push_back(&pose);
        if (m_poses.empty()) return failed(blank, "there is no pose called '" + nameOr(ask.pose) + "'");
        m_other = -1;
        if (!ask.other.empty()) {
            const auto others = listJoints(ask.other);
            if (others.size() != 1)
                return failed(blank, others.empty() ? "there is no joint called '" + nameOr(ask.other) + "'"
                                                    : "'" + ask.other + "' names several joints");
            m_other = others.front();
        }
        if (measure.joint == brief::Need::Must) return eachJoint(ask, blank);
        if (measure.function == brief::Need::Must) return eachFunction(ask, blank);
        if (measure.section != brief::Need::No && !ask.section.empty()) return eachSection(ask, blank);
        AskResult result = blank;
        put(result, measureModel(scope(), ask));
        return {result};
    }

private:
    using Values = AskValues;
    [[nodiscard]] AskScope scope() const { return {m_facts, m_strengths, m_poses}; }

    static std::vector<AskResult> failed(AskResult result, const std::string& problem) {
        result.problem = problem;
        return {result};
    }
    static std::string nameOr(const std::string& text) { return text.empty() ? "(any)" : text; }

    [[nodiscard]] std::vector<int> listJoints(const std::string& wanted) const {
        std::vector<int> list;
        for (std::size_t j = 0; j < m_project.joints.size(); ++j)
            if (isNamed(wanted, m_project.joints[j].id.text, m_project.joints[j].name))
                list.push_back(static_cast<int>(j));
        return list;
    }

    std::vector<AskResult> eachJoint(const Ask& ask, const AskResult& blank) {
        std::vector<AskResult> results;
        for (int j : listJoints(ask.joint)) {
            const auto& joint = at(m_project.joints, j);
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
            put(result, measureSection(scope(), ask, static_cast<int>(s)));
            results.push_back(std::move(result));
        }
        if (results.empty()) return failed(blank, "there is no section called '" + ask.section + "'");
        return results;
    }

    std::vector<AskResult> eachFunction(const Ask& ask, const AskResult& blank) {
        if (!m_facts.drive) return failed(blank, "there is no gear board");
        const auto& positions = m_facts.drive->positions;
        std::vector<AskResult> results;
        for (std::size_t f = 0; f < positions.front().functions.size(); ++f) {
            const auto& function = *positions.front().functions[f].function;
            if (!isNamed(ask.function, function.id.text, function.name)) continue;
            AskResult result = blank;
            result.at = function.name;
            result.basis = ask.measure == "function-ratio" ? Basis::Geometry : Basis::Starting;
            result.place.board = at(m_project.boards, positions.front().functions[f].board)->id;
            result.place.things = {function.id.text, function.moved()};
            measureFunction(ask, f, result);
            results.push_back(std::move(result));
        }
        if (results.empty()) return failed(blank, "there is no function called '" + ask.function + "'");
        return results;
    }
    /// Over all settings of the selectors in which a motor moves it.
    void measureFunction(const Ask& ask, std::size_t f, AskResult& result) const {
        Values values;
        bool driven = false, holds = true;
        for (const drive::PositionState* position : m_facts.drive->listStates()) {
            const drive::FunctionState& state = position->functions[f];
            holds = holds && state.holds; // a clutch that lets go may leave it to itself
            if (state.motors.empty() || state.loose) continue;
            driven = true;
            if (const auto value = functionValue(ask.measure, state)) values.emplace_back(*value, nullptr);
            if (ask.measure == "function-time" && state.function->travel != 0 && !state.travelS) {
                result.problem =
                    "it stalls on the way" +
                    (position->name.empty() ? "" : " with " + position->selector + " at " + position->name);
                return;
            }
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
        if (driven && values.empty())
            result.problem =
                ask.measure == "function-time" ? "it has no travel, or stalls on the way" : "nothing stands against it";
        put(result, values);
    }
    /// Nothing stops it or parts: no rack, no joint with an end, no wheel off its axis, no wire or string that crosses
    /// it.
    [[nodiscard]] bool turnsEndlessly(std::size_t f) const {
        const auto& drive = *m_facts.drive;
        const drive::FunctionState& state = drive.positions.front().functions[f];
        const std::string& id = at(drive.net.rotors, state.rotor).id;
        const int joint = m_project.findJoint(state.function->joint);
        const bool jointEnds = joint >= 0 && at(m_project.joints, joint).kind->turnLimitDeg.has_value();
        const bool parts = std::any_of(drive.net.offAxis.begin(), drive.net.offAxis.end(),
                                       [&](const auto& off) { return off.carrier == id; });
        const bool wire = std::any_of(drive.motors.begin(), drive.motors.end(), [&](const auto& motor) {
            return at(drive.net.rotors, motor.rotor).carrier == state.rotor && !(motor.line && motor.line->byHand);
        });
        bool strand = false;
        for (const auto& board : m_project.boards)
            strand |= std::any_of(board->strands.begin(), board->strands.end(),
                                  [&](const auto& s) { return drive.net.findRotor(s.over.text) == state.rotor; });
        return !state.straight && !jointEnds && !parts && !wire && !strand;
    }
    static std::optional<double> functionValue(const std::string& key, const drive::FunctionState& state) {
        if (key == "function-time") return state.travelS;
        if (key == "function-speed") return state.speed;
        if (key == "function-margin") return state.margin;
        if (key == "function-force")
            return state.margin ? std::optional(*state.margin * state.hardest.nmm) : std::nullopt;
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
            case model::Comparison::AtLeast: return l.first < r.first;
            case model::Comparison::AtMost: return l.first > r.first;
            case model::Comparison::Equal: return std::abs(l.first - m_ask->value) > std::abs(r.first - m_ask->value);
            }
            return false;
        };
        const auto worst = std::min_element(values.begin(), values.end(), worse);
        result.value = worst->first;
        if (worst->second) result.place.pose = worst->second->id;
        const double wanted = m_ask->value, is = worst->first;
        switch (m_ask->comparison) {
        case model::Comparison::AtLeast:
            result.passes = is >= wanted - 1e-9;
            if (wanted > 0) result.margin = std::max(0.0, is / wanted);
            break;
        case model::Comparison::AtMost:
            result.passes = is <= wanted + 1e-9;
            if (wanted > 0 && is > 1e-12) result.margin = wanted / is;
            break;
        case model::Comparison::Equal:
            result.passes = std::abs(is - wanted) <= std::max(kEqualSlack * std::abs(wanted), 1e-9);
            break;
        }
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
                values.emplace_back(key == "hold-need" ? pose->loads[index].needNmm
                                                       : pose->loads[index].margin.value_or(kNothingNeeded),
                                    pose);
            return values;
        }
        if (key == "hold-worst") {
            result.basis = m_strengths[index].holding.measured ? Basis::Measured : Basis::Starting;
            const auto worst = study::findWorst(m_facts, m_context, j, m_strengths[index]);
            return one(worst.margin.value_or(kNothingNeeded));
        }
        if (key == "pull-margin") {
            result.basis =
                m_strengths[index].pull && m_strengths[index].pull->measured ? Basis::Measured : Basis::Starting;
            Values values;
            for (const auto* pose : m_poses) {
                const auto& load = pose->loads[index];
                values.emplace_back(
                    load.pullLimit && load.pullN > 1e-6 ? load.pullLimit->value / load.pullN : kNothingNeeded, pose);
            }
            return values;
        }
        if (key == "length") {
            Values values;
            for (const auto* pose : m_poses)
                values.emplace_back((centreOf(*pose, j) - centreOf(*pose, m_other)).norm(), pose);
            return values;
        }
        if (key == "gap") {
            double most = 0;
            for (const auto& view : pose::getGapViews())
                most = std::max(most, pose::calcGapArea(m_facts.present.placed, m_context, j, view.towards));
            return one(most);
        }
        if (key == "transmission" || key == "motion-torque" || key.starts_with("path-"))
            return motions(ask, index, result);
        if (key == "stride" || key.starts_with("walk-")) return walks(ask, index, result);
        if (key.starts_with("line-") || key == "band-help") return lines(ask, index, result);
        if (key == "chain-bend" || key == "tip-play" || key == "chain-sag") return chain(ask, j, result);
        return {};
    }

    /// Of the motions that drive this joint and walk.
    Values walks(const Ask& ask, std::size_t joint, AskResult& result) const {
        Values values;
        for (const auto& study : m_facts.motions) {
            if (!study->walk || !study->walk->problem.empty() || study->plan.driver.joint != static_cast<int>(joint))
                continue;
            const study::WalkStudy& walk = *study->walk;
            values.emplace_back(ask.measure == "stride"     ? walk.strideMm
                                : ask.measure == "walk-tip" ? walk.leastTipDeg
                                                            : walk.slipMm,
                                nullptr);
        }
        if (values.empty()) result.problem = "no motion of it walks: Pose, Motion takes feet";
        return values;
    }

    /// Of the strings, or bands and springs, that work this joint.
    Values lines(const Ask& ask, std::size_t joint, AskResult& result) const {
        Values values;
        for (const auto& study : m_facts.lines) {
            if (!study->problem.empty() || study->joint != static_cast<int>(joint)) continue;
            const model::Line& line = at(m_facts.project->lines, study->index);
            const bool pulls = line.kind == model::LineKind::String;
            if (pulls != ask.measure.starts_with("line-")) continue;
            result.basis = Basis::Starting;
            if (ask.measure == "line-pull" && study->hardest >= 0 && study->wrongWay < 0)
                values.emplace_back(at(study->places, study->hardest).pullN, nullptr);
            if (ask.measure == "line-along") {
                double most = study->spanPulledDeg.value_or(0);
                for (const auto& pose : study->poses) most = std::max(most, pose.pulledDeg.value_or(0));
                result.basis = Basis::Geometry;
                values.emplace_back(most, nullptr);
            }
            if (ask.measure == "band-help" && study->hardest >= 0) {
                const study::StrandPlace& place = at(study->places, study->hardest);
                values.emplace_back(std::max(0.0, place.helpNmm / place.needNmm), nullptr);
            }
        }
        if (values.empty()) result.problem = "no line works it: Pose, Lines makes one";
        return values;
    }

    /// Of the motions that drive this joint.
    Values motions(const Ask& ask, std::size_t joint, AskResult& result) const {
        Values values;
        for (const auto& study : m_facts.motions) {
            if (study->places.empty() || study->plan.driver.joint != static_cast<int>(joint)) continue;
            if (ask.measure == "transmission" && study->leastSine >= 0)
                values.emplace_back(study::getTransmissionDeg(at(study->places, study->leastSine)), nullptr);
            if (ask.measure == "motion-torque") {
                result.basis = study->frictionMeasured ? Basis::Measured : Basis::Starting;
                const double up = study->torqueAt(static_cast<std::size_t>(study->hardestUp), true);
                const double down = study->torqueAt(static_cast<std::size_t>(study->hardestDown), false);
                values.emplace_back(std::max({0.0, up, down}), nullptr);
            }
            if (study->traces.empty()) continue;
            const geometry::Vec3& size = study->traces.front().size;
            if (ask.measure == "path-width") values.emplace_back(std::hypot(size.x(), size.y()), nullptr);
            if (ask.measure == "path-height") values.emplace_back(size.z(), nullptr);
        }
        if (values.empty()) result.problem = "no motion of it can be followed: Pose, Motion makes one";
        return values;
    }

    Values ranges(const Ask& ask, std::size_t joint) const {
        Values values;
        for (const auto* pose : m_poses)
            for (const auto& range : pose->ranges) {
                const auto& kind = *m_project.joints[joint].kind;
                const std::string_view freedom =
                    ask.freedom.empty() ? kind.freedomName(kind.bendFreedom()) : std::string_view(ask.freedom);
                if (range.joint != static_cast<int>(joint) || kind.freedomName(range.freedom) != freedom) continue;
                const double low = range.endless ? -360 : range.free.low, high = range.endless ? 360 : range.free.high;
                values.emplace_back(ask.measure == "range-high"  ? high
                                    : ask.measure == "range-low" ? low
                                                                 : high - low,
                                    pose);
            }
        return values;
    }

    [[nodiscard]] geometry::Vec3 centreOf(const study::PoseFacts& pose, int j) const {
        const auto index = static_cast<std::size_t>(j);
        return (at(pose.placed.X_WS, m_facts.tree.from[index].section) *
                pose::calcFromFrame(m_project, m_facts.tree, j))
            .translation();
    }

    Values chain(const Ask& ask, int j, AskResult& result) const {
        const auto run = pose::makeChain(m_context, m_facts.present.values, j, m_other);
        if (!run) {
            result.problem = run.error().message;
            return {};
        }
        if (ask.measure == "chain-sag") {
            result.basis = Basis::Starting;
            Values values;
            for (const auto* pose : m_poses)
                values.emplace_back(
                    std::abs(pose::calcSag(m_context, pose->values, *run, pose->stance, m_strengths).tipDropMm), pose);
            return values;
        }
        if (ask.measure == "tip-play")
            return result.basis = Basis::Starting,
                   Values{{pose::calcPlay(m_context, m_facts.present.values, *run).tipPlayMm, nullptr}};
        const auto study = pose::calcChain(m_context, m_facts.present.values, *run, m_progress);
        return {{study.high.totalDeg - study.low.totalDeg, nullptr}};
    }

    static constexpr double kNothingNeeded = 1000; ///< margin where nothing is asked of a joint

    const study::Facts& m_facts;
    const model::Project& m_project;
    const base::Progress* m_progress;
    pose::RangeContext m_context;
    model::JointStrengths m_strengths;
    const Ask* m_ask = nullptr;
    std::vector<const study::PoseFacts*> m_poses;
    int m_other = -1;
};

std::string nameOfId(std::string_view id, const void* context) {
    const auto& project = *static_cast<const model::Project*>(context);
    std::string text(id);
    if (const int j = project.findJoint({text}); j >= 0) return at(project.joints, j).name;
    if (const int s = project.findSection({text}); s >= 0) return at(project.sections, s)->name;
    if (const int q = project.findPose({text}); q >= 0) return at(project.poses, q).name;
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

std::string composeSentence(const model::Project& project, const Ask& ask) {
    return brief::composeSentence(ask, nameOfId, &project);
}

std::vector<AskResult> measureAsks(const study::Facts& facts, const std::vector<Ask>& asks,
                                   const base::Progress* progress) {
    std::vector<AskResult> results;
    if (asks.empty()) return results;
    Measurer measurer(facts, progress);
    for (std::size_t a = 0; a < asks.size(); ++a) {
        if (progress && progress->stopped()) break;
        for (auto& result : measurer.measure(asks[a], a)) results.push_back(std::move(result));
    }
    return results;
}

std::vector<Verdict> makeAskVerdicts(const study::Facts& facts, const std::vector<Ask>& asks,
                                     const std::vector<AskResult>& results, const std::string& from) {
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
        v.text = composeSentence(*facts.project, ask);
        if (!r.at.empty() && v.text.find(r.at) == std::string::npos) v.text = r.at + ": " + v.text;
        if (!r.problem.empty())
            v.detail = r.problem;
        else if (!r.value)
            v.detail = "it is " + r.word;
        else
            v.detail = "it is " + withUnit(*r.value, v.unit) +
                       (r.place.pose ? " in " + nameOfId(r.place.pose->text, facts.project.get()) : "");
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
            v.detail = composeSentence(*facts.project, asks[a]) + " " + composeSentence(*facts.project, asks[b]);
            verdicts.push_back(std::move(v));
        }
    return verdicts;
}

} // namespace ivrant::verdict
