// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/script/script.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/bonds/fits.h"
#include "core/drive/board_line.h"
#include "core/drive/function_words.h"
#include "core/make/proposal.h"
#include "core/model/edits_boards.h"
#include "core/parts/family.h"
#include "core/parts/palette.h"
#include "core/parts/part_line.h"
#include "core/script/line_command.h"
#include "core/script/script_line.h"

namespace ivrant::script {
namespace {

using base::Error;
using base::Status;

class Runner {
public:
    Runner() : m_project(model::makeEmptyProject("Model")) {}

    base::Result<model::Project> run(std::string_view text) {
        if (text.size() > kMostBytes) return Error{"script.size", "a script has at most 16 MB", ""};
        int number = 0;
        while (!text.empty()) {
            const std::size_t end = std::min(text.find('\n'), text.size());
            ++number;
            m_line = number;
            if (Status status = runLine(text.substr(0, end)); !status)
                return Error{status.error().code, status.error().message, "line " + std::to_string(m_failed)};
            text.remove_prefix(std::min(end + 1, text.size()));
        }
        if (Status status = flush(); !status)
            return Error{status.error().code, status.error().message, "line " + std::to_string(m_failed)};
        return std::move(m_project);
    }

private:
    Status runLine(std::string_view line) {
        m_failed = m_line;
        auto split = splitLine(line);
        if (!split) return split.error();
        Words words(std::move(split).value());
        if (words.empty()) return {};
        const std::string command = words.take();
        if (command == "part") return addPart(words);
        if (Status status = flush(); !status) return status;
        m_failed = m_line;
        static const std::map<std::string, Status (Runner::*)(Words&)> kCommands{{"model", &Runner::setName},
                                                                                 {"section", &Runner::addSection},
                                                                                 {"step", &Runner::nextStep},
                                                                                 {"name", &Runner::namePart},
                                                                                 {"join", &Runner::join},
                                                                                 {"pose", &Runner::addPose},
                                                                                 {"weight", &Runner::addWeight},
                                                                                 {"board", &Runner::addBoard},
                                                                                 {"function", &Runner::addFunction},
                                                                                 {"line", &Runner::addLine},
                                                                                 {"selector", &Runner::addSelector},
                                                                                 {"chain", &Runner::addChain},
                                                                                 {"belt", &Runner::addBelt},
                                                                                 {"crank", &Runner::addCrank},
                                                                                 {"tilt", &Runner::setTilt},
                                                                                 {"weighs", &Runner::weigh},
                                                                                 {"in", &Runner::goTo},
                                                                                 {"order", &Runner::orderSteps},
                                                                                 {"after", &Runner::putAfter},
                                                                                 {"lifts", &Runner::addModule},
                                                                                 {"reach", &Runner::addReach},
                                                                                 {"motion", &Runner::addMotion},
                                                                                 {"string", &Runner::addString},
                                                                                 {"band", &Runner::addBand},
                                                                                 {"spring", &Runner::addSpring}};
        const auto found = kCommands.find(command);
        if (found == kCommands.end()) return unknown("command", command);
        return (this->*found->second)(words);
    }
    static Error unknown(const std::string& what, const std::string& word) {
        return {"script.word", "there is no " + what + " '" + word + "'", ""};
    }
    static Error wanted(const std::string& what) { return {"script.word", what + " is expected here", ""}; }
    Status take(model::EditResult result) {
        if (!result) return result.error();
        m_project = std::move(result).value();
        return {};
    }
    /// Nothing may be left over.
    static Status done(const Words& words) {
        if (words.empty()) return {};
        return unknown("word here", words.peek());
    }
    static base::Result<double> number(Words& words, const std::string& what) {
        if (words.empty()) return wanted(what);
        return base::parseNumber(words.take());
    }

    // Labels
    Status note(const std::string& label, const std::string& id) {
        if (label.empty()) return {};
        if (!m_labels.emplace(label, id).second)
            return Error{"script.label", "'" + label + "' stands for something already", ""};
        return {};
    }
    base::Result<std::string> find(Words& words, const std::string& what) {
        if (words.empty()) return wanted(what);
        const std::string label = words.take();
        const auto found = m_labels.find(label);
        if (found == m_labels.end()) return Error{"script.label", "'" + label + "' stands for nothing yet", ""};
        return found->second;
    }
    /// "LABEL =" at the front, if it is there.
    static std::string takeLabel(Words& words) {
        Words ahead = words;
        if (ahead.empty()) return "";
        std::string label = ahead.take();
        if (!ahead.takeIf("=")) return "";
        words = ahead;
        return label;
    }

    // Model, sections, steps
    Status setName(Words& words) { return take(model::renameProject(m_project, words.takeUntil({}))); }
    Status addSection(Words& words) {
        const std::string label = takeLabel(words);
        const std::string name = words.takeUntil({"at", "turn"});
        if (name.empty()) return wanted("the section's name");
        const auto place = takePlace(words);
        if (!place) return place.error();
        if (Status rest = done(words); !rest) return rest;
        if (m_fresh) {
            if (Status st = take(model::renameSection(m_project, m_project.sections.front()->id, name)); !st) return st;
            if (Status st = take(model::placeSection(m_project, m_project.sections.front()->id, *place)); !st)
                return st;
        } else if (Status st = take(model::addSection(m_project, name, *place)); !st) {
            return st;
        }
        m_fresh = false;
        m_after = {};
        m_step = 1;
        m_section = m_project.sections.back()->id;
        return note(label.empty() ? name : label, m_section.text);
    }
    /// Back to a section that is there.
    Status goTo(Words& words) {
        const auto id = find(words, "a section");
        if (!id) return id.error();
        if (m_project.findSection({*id}) < 0) return Error{"script.label", "that is no section", ""};
        m_section.text = *id;
        const auto& parts = at(m_project.sections, m_project.findSection(m_section))->parts;
        m_after = {};
        m_step = 1;
        for (const model::Part& part : parts) m_step = std::max(m_step, part.step);
        return done(words);
    }
    /// Steps that can be built: those there are with the fewest moves, or "plan" [at most N]: those worked out.
    Status orderSteps(Words& words) {
        const bool plan = words.takeIf("plan");
        int most = make::kUsualPartsAStep;
        if (plan && words.takeIf("most")) {
            const auto count = number(words, "how many parts a step has at most");
            if (!count) return count.error();
            if (*count < 1 || *count > 1000) return Error{"script.word", "a step has 1 to 1000 parts", ""};
            most = static_cast<int>(*count);
        }
        int only = -1;
        if (!words.empty()) {
            const auto id = find(words, "a section");
            if (!id) return id.error();
            only = m_project.findSection({*id});
            if (only < 0) return Error{"script.label", "that is no section", ""};
        }
        if (Status rest = done(words); !rest) return rest;
        return take(make::takeProposals(m_project, plan ? make::Take::Plan : make::Take::Moves, only, most));
    }
    /// after SECTION [PART…]: these, or all that follow in this section, are put on once that section is on.
    Status putAfter(Words& words) {
        const auto section = find(words, "a section");
        if (!section) return section.error();
        std::vector<model::PartId> parts;
        while (!words.empty()) {
            const auto part = find(words, "a part");
            if (!part) return part.error();
            parts.push_back({*part});
        }
        if (parts.empty()) {
            if (m_project.findSection({*section}) < 0) return Error{"script.label", "that is no section", ""};
            m_after.text = *section;
            return {};
        }
        return take(model::setAfter(m_project, parts, {*section}));
    }
    /// lifts NAME : LABEL … [folded POSE]
    Status addModule(Words& words) {
        model::Module one;
        one.name = words.takeUntil({":"});
        if (one.name.empty() || !words.takeIf(":")) return wanted("a name, ':' and what lifts off");
        while (!words.empty() && words.peek() != "folded") {
            const auto thing = find(words, "a part or section");
            if (!thing) return thing.error();
            if (m_project.findSection({*thing}) >= 0)
                one.sections.push_back({*thing});
            else
                one.parts.push_back({*thing});
        }
        if (words.takeIf("folded")) {
            const std::string name = words.takeUntil({});
            const auto pose = std::find_if(m_project.poses.begin(), m_project.poses.end(),
                                           [&](const model::NamedPose& each) { return each.name == name; });
            if (pose == m_project.poses.end()) return unknown("pose", name);
            one.pose = pose->id;
        }
        return take(model::putModule(m_project, std::move(one)));
    }
    /// reach NAME on LABEL [SIDE] [plug] [most N]
    Status addReach(Words& words) {
        model::Reach reach;
        reach.name = words.takeUntil({"on"});
        if (reach.name.empty() || !words.takeIf("on")) return wanted("a name and 'on'");
        const auto part = find(words, "a part");
        if (!part) return part.error();
        reach.part.text = *part;
        if (model::PartIndex(m_project).find(reach.part).section < 0)
            return Error{"script.label", "that is no part", ""};
        while (!words.empty()) {
            if (words.takeIf("plug")) {
                reach.plug = true;
            } else if (words.takeIf("most")) {
                const auto most = number(words, "a number of moves");
                if (!most) return most.error();
                if (*most < 0 || *most > model::kMostReachMoves || *most != std::floor(*most))
                    return wanted("a number of moves from 0 to " + std::to_string(model::kMostReachMoves));
                reach.mostMoves = static_cast<int>(*most);
            } else if (const auto side = model::findSide(words.peek())) {
                reach.side = *side;
                words.take();
            } else {
                return unknown("word here", words.peek());
            }
        }
        return take(model::putReach(m_project, std::move(reach)));
    }
    /// motion NAME of LABEL [over FROM TO] [places N] [traces LABEL PORT …] [feet LABEL …]
    Status addMotion(Words& words) {
        model::Motion motion;
        motion.name = words.takeUntil({"of"});
        if (motion.name.empty() || !words.takeIf("of")) return wanted("a name, 'of' and the driven joint");
        const auto joint = find(words, "a joint");
        if (!joint) return joint.error();
        motion.joint.text = *joint;
        while (!words.empty()) {
            if (words.takeIf("over")) {
                const auto from = number(words, "where the motion begins");
                if (!from) return from.error();
                const auto to = number(words, "where the motion ends");
                if (!to) return to.error();
                motion.over = model::Travel{*from, *to};
            } else if (words.takeIf("places")) {
                const auto places = number(words, "a number of places");
                if (!places) return places.error();
                if (*places < model::kLeastPlaces || *places > model::kMostPlaces || *places != std::floor(*places))
                    return wanted("a number of places from " + std::to_string(model::kLeastPlaces) + " to " +
                                  std::to_string(model::kMostPlaces));
                motion.places = static_cast<int>(*places);
            } else if (words.takeIf("traces")) {
                const auto part = find(words, "a part");
                if (!part) return part.error();
                const model::PartSpot spot = model::PartIndex(m_project).find({*part});
                if (spot.section < 0) return Error{"script.label", "that is no part", ""};
                const std::string port = words.takeUntil({"traces", "over", "places", "feet"});
                if (!port.empty() && model::getPart(m_project, spot).shape->findPort(port) < 0)
                    return unknown("port", port);
                motion.traced.push_back({{*part}, port});
            } else if (words.takeIf("feet")) {
                while (!words.empty() && words.peek() != "over" && words.peek() != "places" &&
                       words.peek() != "traces") {
                    const auto foot = find(words, "a section");
                    if (!foot) return foot.error();
                    if (m_project.findSection({*foot}) < 0) return Error{"script.label", "that is no section", ""};
                    motion.feet.push_back({*foot});
                }
            } else {
                return unknown("word of a motion", words.peek());
            }
        }
        return take(model::putMotion(m_project, std::move(motion)));
    }
    /// As core/script/line_command.h says.
    Status addString(Words& words) { return addStrand(model::LineKind::String, words); }
    Status addBand(Words& words) { return addStrand(model::LineKind::Band, words); }
    Status addSpring(Words& words) { return addStrand(model::LineKind::Spring, words); }
    Status addStrand(model::LineKind kind, Words& words) {
        const auto findLabel = [&](const std::string& word) -> base::Result<std::string> {
            const auto found = m_labels.find(word);
            if (found == m_labels.end()) return Error{"script.label", "'" + word + "' stands for nothing yet", ""};
            return found->second;
        };
        auto line = readLineCommand(kind, words, m_project, findLabel, findLabel);
        if (!line) return line.error();
        return take(model::putLine(m_project, std::move(line).value()));
    }
    Status nextStep(Words& words) {
        ++m_step;
        return done(words);
    }
    model::SectionId section() const { return m_section.empty() ? m_project.sections.front()->id : m_section; }

    base::Result<model::Place> takePlace(Words& words) {
        model::Place place;
        while (!words.empty()) {
            if (words.takeIf("at")) {
                for (std::size_t k = 0; k < 3; ++k) {
                    if (words.empty()) return wanted("a length after 'at'");
                    const auto mm = base::parseLengthMm(words.take(), k < 2 ? base::kPitchMm : base::kPlateMm);
                    if (!mm) return mm.error();
                    place.atUm[k] = base::mmToUm(*mm);
                }
            } else if (words.takeIf("turn")) {
                const auto turn = takeTurn(words);
                if (!turn) return turn.error();
                place.attitude = *turn;
            } else if (words.takeIf("quat")) {
                const auto quat = takeQuat(words);
                if (!quat) return quat.error();
                place.attitude = *quat;
            } else {
                break;
            }
        }
        return place;
    }
    static base::Result<Eigen::Quaterniond> takeQuat(Words& words) {
        double q[4];
        for (double& value : q) {
            const auto read = number(words, "four numbers after 'quat'");
            if (!read) return read.error();
            value = *read;
        }
        const Eigen::Quaterniond quat(q[0], q[1], q[2], q[3]);
        if (std::abs(quat.norm() - 1) > 1e-3) return Error{"line.turn", "'quat' needs a unit quaternion", ""};
        return quat;
    }
    static base::Result<int> takeTurn(Words& words) {
        std::vector<AxisTurn> turns;
        while (!words.empty())
            if (const auto axis = parseAxisTurn(words.peek())) {
                turns.push_back(*axis);
                words.take();
            } else {
                break;
            }
        if (!turns.empty()) {
            const auto turn = findNamedTurn(turns);
            if (!turn) return Error{"line.turn", "no turn goes both of these ways", ""};
            return *turn;
        }
        const auto value = number(words, "a turn from 0 to 23, or ways like x=+z");
        if (!value) return value.error();
        if (*value < 0 || *value > 23 || *value != std::floor(*value))
            return Error{"line.turn", "'turn' needs a whole number from 0 to 23", ""};
        return static_cast<int>(*value);
    }

    // Parts
    Status addPart(Words& words) {
        const std::string label = takeLabel(words);
        std::string line = words.takeUntil({"by", "turn", "quat"});
        std::optional<int> turned;
        if (words.takeIf("turn")) {
            const auto turn = takeTurn(words);
            if (!turn) return turn.error();
            turned = *turn;
            if (const std::string rest = words.takeUntil({"by"}); !rest.empty()) line += " " + rest;
        }
        std::optional<Eigen::Quaterniond> quat;
        if (words.takeIf("quat")) {
            const auto read = takeQuat(words);
            if (!read) return read.error();
            quat = *read;
        }
        const auto typed = parts::parsePartLine(line);
        if (!typed) return typed.error();
        const auto shape = parts::makeShape(typed->shape);
        if (!shape) return shape.error();
        model::NewPart part;
        part.shape = *shape;
        part.colour = typed->colour ? parts::findColour(*typed->colour) : m_colour;
        m_colour = part.colour;
        part.step = m_step;
        if (typed->atUm) part.place.atUm = *typed->atUm;
        part.place.attitude = turned.value_or(0);
        if (quat) part.place.attitude = *quat;
        if (words.takeIf("by")) {
            if (Status status = flush(); !status) return status;
            m_failed = m_line;
            const auto place = findPlace(words, *part.shape, turned);
            if (!place) return place.error();
            part.place = *place;
        }
        if (Status rest = done(words); !rest) return rest;
        m_queue.push_back(std::move(part));
        m_queuedLabels.push_back(label);
        m_queuedLines.push_back(m_line);
        return {};
    }
    /// OWN PORT on LABEL PORT [turned N]: ports meet, axes opposed.
    base::Result<model::Place> findPlace(Words& words, const parts::Shape& shape, std::optional<int> turned) {
        const std::string own = words.takeUntil({"on"});
        if (!words.takeIf("on")) return wanted("'on', a part and its port");
        const auto id = find(words, "the part that it goes on");
        if (!id) return id.error();
        const std::string other = words.takeUntil({"turned"});
        int quarters = 0;
        const bool told = words.takeIf("turned");
        if (told) {
            const auto value = number(words, "a number of quarter turns");
            if (!value) return value.error();
            quarters = static_cast<int>(*value);
        }
        const model::PartSpot spot = model::PartIndex(m_project).find({*id});
        if (spot.section < 0) return Error{"script.label", "'" + *id + "' is no part", ""};
        if (at(m_project.sections, spot.section)->id != section())
            return Error{"script.label", "that part belongs to another section", ""};
        const model::Part& on = model::getPart(m_project, spot);
        const int p = shape.findPort(own), q = on.shape->findPort(other);
        if (p < 0) return Error{"script.port", "a " + shape.name + " has no port '" + own + "'", ""};
        if (q < 0) return Error{"script.port", "a " + on.shape->name + " has no port '" + other + "'", ""};
        const auto placeAt = [&](int turns) {
            return bonds::calcMatedFrame(on.place.frame(), at(on.shape->ports, q), at(shape.ports, p), turns);
        };
        if (turned && !told) // of the four ways round the one that is nearest to the wished turn
            for (int turns = 1; turns < 4; ++turns) {
                const auto agrees = [&](int t) {
                    return (placeAt(t).linear().transpose() * geometry::getTurn(*turned)).trace();
                };
                if (agrees(turns) > agrees(quarters) + 1e-9) quarters = turns;
            }
        return model::makePlace(placeAt(quarters));
    }
    /// Parts are put in by the run: each edit looks at the whole model.
    Status flush() {
        if (m_queue.empty()) return {};
        m_failed = m_queuedLines.front();
        std::vector<model::PartId> ids;
        if (Status status = take(model::addParts(m_project, section(), m_queue, &ids)); !status) return status;
        for (std::size_t i = 0; i < ids.size(); ++i) {
            m_failed = m_queuedLines[i];
            if (Status status = note(m_queuedLabels[i], ids[i].text); !status) return status;
        }
        if (!m_after.empty())
            if (Status status = take(model::setAfter(m_project, ids, m_after)); !status) return status;
        m_queue.clear();
        m_queuedLabels.clear();
        m_queuedLines.clear();
        m_fresh = false;
        return {};
    }
    Status namePart(Words& words) {
        const auto id = find(words, "a part's label");
        if (!id) return id.error();
        return take(model::namePart(m_project, {*id}, words.takeUntil({})));
    }
    Status weigh(Words& words) {
        const auto id = find(words, "a part's label");
        if (!id) return id.error();
        const auto mass = number(words, "its mass in gram");
        if (!mass) return mass.error();
        words.takeIf("g");
        const model::PartId part{*id};
        if (Status st = take(model::weighParts(m_project, {&part, 1}, *mass)); !st) return st;
        return done(words);
    }
    Status addWeight(Words& words) {
        const auto mass = number(words, "a mass in gram");
        if (!mass) return mass.error();
        words.takeIf("g");
        const auto place = takePlace(words);
        if (!place) return place.error();
        if (Status st = take(model::addBallast(m_project, section(), {*mass, place->atUm})); !st) return st;
        return done(words);
    }

    // Joints and poses
    Status join(Words& words) {
        const std::string label = takeLabel(words);
        model::Joint joint;
        const std::string kind = words.takeUntil({"from"});
        joint.kind = parts::findJointKind(kind);
        if (!joint.kind) return unknown("joint kind", kind);
        words.takeIf("from");
        const auto from = find(words, "the carrying part");
        if (!from) return from.error();
        joint.from = {{*from}, words.takeUntil({"to"})};
        if (!words.takeIf("to")) return wanted("'to', a part and its port");
        const auto to = find(words, "the carried part");
        if (!to) return to.error();
        joint.to = {{*to}, words.takeUntil({"value", "wants", "called"})};
        joint.value.assign(static_cast<std::size_t>(joint.kind->freedomCount()), 0.0);
        joint.name = label;
        while (!words.empty()) {
            if (words.takeIf("value")) {
                const auto value = takeValues(words);
                if (!value) return value.error();
                joint.value = *value;
            } else if (words.takeIf("wants")) {
                while (!words.empty() && words.peek().find("..") != std::string::npos) {
                    const auto range = parseRange(words.take());
                    if (!range) return range.error();
                    joint.wanted.push_back(*range);
                }
            } else if (words.takeIf("called")) {
                joint.name = words.take();
            } else {
                return unknown("word of a joint", words.peek());
            }
        }
        if (Status st = take(model::addJoint(m_project, joint)); !st) return st;
        return note(label.empty() ? joint.name : label, m_project.joints.back().id.text);
    }
    static base::Result<model::Range> parseRange(const std::string& word) {
        const std::size_t dots = word.find("..");
        const auto low = base::parseNumber(word.substr(0, dots)), high = base::parseNumber(word.substr(dots + 2));
        if (!low) return low.error();
        if (!high) return high.error();
        return model::Range{*low, *high};
    }
    /// Numbers up to the first word that is none; "10/20/0" for several freedoms.
    static base::Result<std::vector<double>> parseValues(const std::string& word) {
        std::vector<double> values;
        std::size_t begin = 0;
        while (begin <= word.size()) {
            const std::size_t end = std::min(word.find('/', begin), word.size());
            const auto value = base::parseNumber(word.substr(begin, end - begin));
            if (!value) return value.error();
            values.push_back(*value);
            begin = end + 1;
        }
        return values;
    }
    static base::Result<std::vector<double>> takeValues(Words& words) {
        if (words.empty()) return wanted("a value");
        return parseValues(words.take());
    }
    Status addPose(Words& words) {
        if (words.empty()) return wanted("the pose's name");
        const std::string name = words.take();
        std::map<model::JointId, std::vector<double>> values;
        model::Stance stance;
        while (!words.empty()) {
            if (words.takeIf("flat")) {
                const auto id = find(words, "the section that it stands on");
                if (!id) return id.error();
                stance.kind = model::Stance::Kind::Flat;
                stance.section.text = *id;
                continue;
            }
            if (words.takeIf("settles")) {
                stance.kind = model::Stance::Kind::Settle;
                if (!words.takeIf("up")) continue;
                for (double& part : stance.up) {
                    const auto value = number(words, "three numbers after 'up'");
                    if (!value) return value.error();
                    part = *value;
                }
                continue;
            }
            if (words.takeIf("held")) {
                const auto id = find(words, "the section that is held");
                if (!id) return id.error();
                stance.kind = model::Stance::Kind::Held;
                stance.section.text = *id;
                continue;
            }
            const std::string word = words.take();
            const std::size_t equals = word.rfind('=');
            if (equals == std::string::npos) return unknown("word of a pose", word);
            const auto joint = m_labels.find(word.substr(0, equals));
            if (joint == m_labels.end())
                return Error{"script.label", "'" + word.substr(0, equals) + "' stands for nothing yet", ""};
            const auto value = parseValues(word.substr(equals + 1));
            if (!value) return value.error();
            values[{joint->second}] = *value;
        }
        return take(model::addPose(m_project, name, values, stance));
    }
    Status setTilt(Words& words) {
        const auto degrees = number(words, "degrees");
        if (!degrees) return degrees.error();
        if (Status st = take(model::setTilt(m_project, *degrees)); !st) return st;
        return done(words);
    }

    // What is asked of a drive
    Status addBoard(Words& words) {
        const std::string label = takeLabel(words), name = words.takeUntil({"at", "turn"});
        const auto place = takePlace(words);
        if (!place) return place.error();
        if (Status rest = done(words); !rest) return rest;
        if (Status st = take(model::addBoard(m_project, name, section(), *place, &m_board)); !st) return st;
        return note(label, m_board.text);
    }
    Status needBoard() {
        if (!m_board.empty()) return {};
        return take(model::addBoard(m_project, "Drive", section(), {}, &m_board));
    }
    Status addFunction(Words& words) {
        if (Status st = needBoard(); !st) return st;
        if (words.empty()) return wanted("the function's name");
        model::DriveFunction function;
        function.name = words.take();
        while (!words.empty()) {
            const auto read = drive::readFunctionWord(words.all(), words.next(), function);
            if (!read) return read.error();
            if (*read) continue;
            const std::string word = words.take();
            if (word != "turns" && word != "moves" && word != "joint") return unknown("word of a function", word);
            const auto id = find(words, "what it " + word);
            if (!id) return id.error();
            (word == "turns" ? function.shaft.text : word == "moves" ? function.gear.text : function.joint.text) = *id;
        }
        return take(model::putFunction(m_project, m_board, std::move(function)));
    }
    /// A line as it is typed on a board; LABEL… after "on" are what is chosen.
    Status addLine(Words& words) {
        if (m_board.empty()) { // upright in the present section
            if (Status st = take(drive::beginBoard(m_project, m_board)); !st) return st;
            if (Status st = take(model::placeBoard(m_project, m_board, section(),
                                                   at(m_project.boards, m_project.findBoard(m_board))->place));
                !st)
                return st;
        }
        const std::string label = takeLabel(words), text = words.takeUntil({"on"});
        drive::BoardHand hand;
        hand.board = m_board;
        if (words.takeIf("on"))
            while (!words.empty()) {
                const auto id = find(words, "what it goes on");
                if (!id) return id.error();
                hand.chosen.push_back(*id);
            }
        const auto line = drive::parseBoardLine(text);
        if (!line) return line.error();
        const auto put = drive::applyBoardLine(m_project, hand, *line);
        if (!put) return put.error();
        if (Status st = take(put->project); !st) return st;
        if (!put->notes.empty()) return Error{"script.line", put->notes.front(), ""};
        return note(label, put->added);
    }
    /// NAME: POSITION = WHEEL… ; POSITION = …
    Status addSelector(Words& words) {
        if (Status st = needBoard(); !st) return st;
        model::Selector selector;
        selector.name = words.takeUntil({":"});
        if (!words.takeIf(":")) return wanted("':' and the positions");
        while (!words.empty()) {
            model::SelectorPosition position;
            position.name = words.takeUntil({"="});
            if (!words.takeIf("=")) return wanted("'=' and the wheels of " + position.name);
            while (!words.empty() && words.peek() != "now" && !words.takeIf(";")) {
                const auto id = find(words, "a wheel");
                if (!id) return id.error();
                position.engaged.push_back({*id});
            }
            selector.positions.push_back(std::move(position));
            if (!words.takeIf("now")) continue;
            const std::string now = words.takeUntil({});
            const auto found = std::find_if(selector.positions.begin(), selector.positions.end(),
                                            [&](const model::SelectorPosition& p) { return p.name == now; });
            if (found == selector.positions.end()) return unknown("position", now);
            selector.at = static_cast<int>(found - selector.positions.begin());
        }
        return take(model::putSelector(m_project, m_board, std::move(selector)));
    }
    Status addChain(Words& words) { return addLoop(words, false); }
    Status addBelt(Words& words) { return addLoop(words, true); }
    Status addLoop(Words& words, bool belt) {
        if (Status st = needBoard(); !st) return st;
        model::Loop loop;
        loop.belt = belt;
        while (!words.empty()) {
            if (words.takeIf("crossed")) {
                loop.crossed = true;
            } else if (words.takeIf("links") || words.takeIf("mm")) {
                const auto value = number(words, "how many");
                if (!value) return value.error();
                loop.links = static_cast<int>(*value);
            } else {
                const auto id = find(words, "a wheel");
                if (!id) return id.error();
                loop.gears.push_back({*id});
            }
        }
        return take(model::putLoop(m_project, m_board, std::move(loop)));
    }
    /// Turned by hand: crank NAME on AXLE.
    Status addCrank(Words& words) {
        if (Status st = needBoard(); !st) return st;
        model::DriveMotor motor;
        motor.line = "hand crank";
        motor.name = words.takeUntil({"on"});
        if (!words.takeIf("on")) return wanted("'on' and an axle");
        const auto id = find(words, "an axle");
        if (!id) return id.error();
        motor.shaft.text = *id;
        if (Status rest = done(words); !rest) return rest;
        return take(model::putMotor(m_project, m_board, std::move(motor)));
    }

    model::Project m_project;
    std::map<std::string, std::string> m_labels;
    model::SectionId m_section;
    model::BoardId m_board;
    bool m_fresh = true;      ///< nothing is built yet: the first section takes the empty one's place
    model::SectionId m_after; ///< what is put in waits for this section
    int m_step = 1, m_colour = 0, m_line = 0, m_failed = 0;
    std::vector<model::NewPart> m_queue;
    std::vector<std::string> m_queuedLabels;
    std::vector<int> m_queuedLines;
};

} // namespace

base::Result<model::Project> runScript(std::string_view text) { return Runner().run(text); }

} // namespace ivrant::script
