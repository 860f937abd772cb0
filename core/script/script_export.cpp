// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/script/script_export.h"

#include <algorithm>
#include <charconv>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/validate.h"
#include "core/parts/own_shape.h"
#include "core/parts/palette.h"
#include "core/script/line_command.h"

namespace ivrant::script {
namespace {

/// Shortest text that reads back as the same number.
std::string exact(double value) {
    char text[40];
    const auto end = std::to_chars(text, text + sizeof text, value == 0 ? 0.0 : value);
    return {text, end.ptr};
}

class Exporter {
public:
    explicit Exporter(const model::Project& project) : m_project(project) { collectNamed(); }

    std::string run() {
        m_text = "model " + quoted(m_project.name) + "\n";
        if (m_project.tiltDeg > 0) m_text += "tilt " + exact(m_project.tiltDeg) + "\n";
        for (const auto& section : m_project.sections) addSection(*section);
        addWaiting();
        for (const model::Joint& joint : m_project.joints) addJoint(joint);
        for (const model::NamedPose& pose : m_project.poses) addPose(pose);
        for (const auto& board : m_project.boards) addBoard(*board);
        addModules();
        addMotions();
        addLines();
        addUnsaid();
        return std::move(m_text);
    }

private:
    static std::string quoted(const std::string& text) {
        std::string clean = text;
        std::replace(clean.begin(), clean.end(), '"', '\'');
        std::replace(clean.begin(), clean.end(), '\n', ' ');
        const bool plain = !clean.empty() && clean.find_first_of(" \t#=;:") == std::string::npos;
        return plain ? clean : '"' + clean + '"';
    }
    static std::string mm(std::int64_t um) { return exact(static_cast<double>(um) / 1000) + "mm"; }
    static std::string at3(const std::array<std::int64_t, 3>& um) {
        return " at " + mm(um[0]) + " " + mm(um[1]) + " " + mm(um[2]);
    }
    static std::string placeText(const model::Place& place) {
        std::string text = at3(place.atUm);
        if (const int* turn = std::get_if<int>(&place.attitude)) {
            if (*turn != 0) text += " turn " + std::to_string(*turn);
        } else {
            const auto& q = std::get<Eigen::Quaterniond>(place.attitude);
            text += " quat " + exact(q.w()) + " " + exact(q.x()) + " " + exact(q.y()) + " " + exact(q.z());
        }
        return text;
    }

    /// Parts that something else names get a label.
    void collectNamed() {
        for (const auto& section : m_project.sections)
            for (const model::Part& part : section->parts)
                if (!part.after.empty()) m_named.insert(part.id.text);
        for (const model::Module& one : m_project.modules.list)
            for (const auto& part : one.parts) m_named.insert(part.text);
        for (const model::Reach& reach : m_project.modules.reaches) m_named.insert(reach.part.text);
        for (const model::Motion& motion : m_project.motions)
            for (const model::Traced& traced : motion.traced) m_named.insert(traced.part.text);
        for (const model::Line& line : m_project.lines)
            for (const model::Guide& guide : line.guides) m_named.insert(guide.part.text);
        for (const model::Joint& joint : m_project.joints) {
            m_named.insert(joint.from.part.text);
            m_named.insert(joint.to.part.text);
        }
        for (const auto& board : m_project.boards) {
            for (const model::DriveFunction& function : board->functions) m_named.insert(function.moved());
            for (const model::DriveMotor& motor : board->motors) m_named.insert(motor.shaft.text);
            for (const model::Loop& loop : board->loops)
                for (const auto& gear : loop.gears) m_named.insert(gear.text);
            for (const model::Selector& selector : board->selectors)
                for (const auto& position : selector.positions)
                    for (const auto& gear : position.engaged) m_named.insert(gear.text);
        }
    }

    void addSection(const model::Section& section) {
        m_text += "\nsection " + section.id.text + " = " + quoted(section.name);
        if (!(section.place == model::Place{})) m_text += placeText(section.place);
        m_text += "\n";
        std::vector<const model::Part*> order;
        for (const model::Part& part : section.parts) order.push_back(&part);
        std::stable_sort(order.begin(), order.end(),
                         [](const model::Part* l, const model::Part* r) { return l->step < r->step; });
        int step = 1;
        for (const model::Part* part : order) {
            for (; step < part->step; ++step) m_text += "step\n";
            const bool own = part->shape->own != nullptr;
            const bool label = m_named.count(part->id.text) > 0 || !part->name.empty() || part->weighedG;
            m_text += (own ? "# part " : "part ") + (label ? part->id.text + " = " : std::string()) +
                      part->shape->name + " " + parts::getColourName(part->colour) + placeText(part->place) + "\n";
            if (own) continue; // no command makes its shape
            m_said.insert(part->id.text);
            if (!part->name.empty()) m_text += "name " + part->id.text + " " + quoted(part->name) + "\n";
            if (part->weighedG) m_text += "weighs " + part->id.text + " " + exact(*part->weighedG) + "\n";
        }
        for (const model::Ballast& weight : section.ballast)
            m_text += "weight " + exact(weight.massG) + " g" + at3(weight.atUm) + "\n";
    }
    /// Parts that are put on once another section is on.
    void addWaiting() {
        std::map<std::string, std::string> waiting;
        for (const auto& section : m_project.sections)
            for (const model::Part& part : section->parts)
                if (!part.after.empty() && isSaid(part.id.text)) waiting[part.after.text] += " " + part.id.text;
        for (const auto& [after, parts] : waiting) m_text.append("after ").append(after).append(parts).append("\n");
    }
    static std::string valuesText(const std::vector<double>& values) {
        std::string text;
        for (const double value : values) text += (text.empty() ? "" : "/") + exact(value);
        return text;
    }
    /// What stands on something that is not said is told as a comment.
    [[nodiscard]] std::string commentUnless(bool said) const { return said ? "" : "# "; }
    [[nodiscard]] bool isSaid(const std::string& id) const { return m_said.count(id) > 0; }
    void addJoint(const model::Joint& joint) {
        const bool said = isSaid(joint.from.part.text) && isSaid(joint.to.part.text);
        if (said) m_said.insert(joint.id.text);
        m_text += "\n" + commentUnless(said) + "join " + joint.id.text + " = " + joint.kind->name + " from " +
                  joint.from.part.text + " " + joint.from.port + " to " + joint.to.part.text + " " + joint.to.port +
                  " value " + valuesText(joint.value);
        if (!joint.wanted.empty()) {
            m_text += " wants";
            for (const model::Range& range : joint.wanted) m_text += " " + exact(range.low) + ".." + exact(range.high);
        }
        m_text += " called " + quoted(joint.name) + "\n";
    }
    void addPose(const model::NamedPose& pose) {
        m_text += "pose " + quoted(pose.name);
        for (const auto& [joint, values] : pose.values)
            if (isSaid(joint.text)) m_text += " " + joint.text + "=" + valuesText(values);
        switch (pose.stands.kind) {
        case model::Stance::Kind::Flat: m_text += " flat " + pose.stands.section.text; break;
        case model::Stance::Kind::Settle:
            m_text += " settles up";
            for (const double part : pose.stands.up) m_text += " " + exact(part);
            break;
        case model::Stance::Kind::Held:
            if (!pose.stands.section.empty()) m_text += " held " + pose.stands.section.text;
            break;
        }
        m_text += "\n";
    }
    void addBoard(const model::Board& board) {
        m_text += "\n";
        if (!board.shafts.empty() || !board.gears.empty() || board.section.empty()) {
            m_text += "# gear board " + quoted(board.name) + ": its shafts and wheels are no parts\n";
            return;
        }
        m_text += "in " + board.section.text + "\nboard " + quoted(board.name);
        if (!(board.place == model::Place{})) m_text += placeText(board.place);
        m_text += "\n";
        for (const model::DriveMotor& motor : board.motors)
            m_text += "crank " + quoted(motor.name) + " on " + motor.shaft.text + "\n";
        for (const model::Loop& loop : board.loops) {
            m_text += loop.belt ? "belt" : "chain";
            for (const auto& gear : loop.gears) m_text += " " + gear.text;
            if (loop.crossed) m_text += " crossed";
            if (loop.links > 0) m_text += (loop.belt ? " mm " : " links ") + std::to_string(loop.links);
            m_text += "\n";
        }
        for (const model::Selector& selector : board.selectors) {
            m_text += "selector " + quoted(selector.name) + " :";
            for (std::size_t p = 0; p < selector.positions.size(); ++p) {
                m_text += (p > 0 ? " ; " : " ") + quoted(selector.positions[p].name) + " =";
                for (const auto& gear : selector.positions[p].engaged) m_text += " " + gear.text;
            }
            if (selector.at > 0) m_text += " now " + quoted(at(selector.positions, selector.at).name);
            m_text += "\n";
        }
        for (const model::DriveFunction& function : board.functions) addFunction(function);
    }
    void addFunction(const model::DriveFunction& function) {
        m_text += commentUnless(isSaid(function.moved()) && (function.joint.empty() || isSaid(function.joint.text)));
        m_text += "function " + quoted(function.name);
        m_text += (function.shaft.empty() ? " moves " : " turns ") + function.moved();
        if (!function.joint.empty()) m_text += " joint " + function.joint.text;
        m_text += std::string(" load ") + model::getLoadKindName(function.load);
        if (function.load != model::LoadKind::Joint && function.load != model::LoadKind::None)
            m_text += " " + exact(function.amount);
        const auto add = [&](const char* word, double value) {
            if (value != 0) m_text += std::string(" ") + word + " " + exact(value);
        };
        add("radius", function.radiusMm);
        add("rate", function.ratePerMm);
        add("from", function.fromDeg);
        add("travel", function.travel);
        if (function.withinS) add("within", *function.withinS);
        if (function.wantedRpm) add("rpm", *function.wantedRpm);
        if (function.mustHold) m_text += " hold";
        if (function.withOthers) m_text += " together";
        m_text += "\n";
    }
    void addModules() {
        for (const model::Module& one : m_project.modules.list) {
            std::string things;
            const auto add = [&](const std::string& id) {
                if (isSaid(id)) things += " " + id;
            };
            for (const auto& section : one.sections) add(section.text);
            for (const auto& part : one.parts) add(part.text);
            m_text += things.empty() ? "# its things are not said here: " : "";
            m_text += "lifts " + quoted(one.name) + " :" + things;
            if (const int pose = m_project.findPose(one.pose); pose >= 0)
                m_text += " folded " + quoted(at(m_project.poses, pose).name);
            m_text += "\n";
        }
        for (const model::Reach& reach : m_project.modules.reaches) {
            m_text += commentUnless(isSaid(reach.part.text));
            m_text += "reach " + quoted(reach.name) + " on " + reach.part.text + " " + model::getSideName(reach.side) +
                      (reach.plug ? " plug" : "") + " most " + std::to_string(reach.mostMoves) + "\n";
        }
    }
    void addMotions() {
        for (const model::Motion& motion : m_project.motions) {
            m_text += commentUnless(isSaid(motion.joint.text));
            m_text += "motion " + quoted(motion.name) + " of " + motion.joint.text;
            if (motion.over) m_text += " over " + exact(motion.over->from) + " " + exact(motion.over->to);
            if (motion.places != model::Motion().places) m_text += " places " + std::to_string(motion.places);
            for (const model::Traced& traced : motion.traced)
                if (isSaid(traced.part.text))
                    m_text += " traces " + traced.part.text + (traced.port.empty() ? "" : " " + traced.port);
            std::string feet;
            for (const auto& foot : motion.feet)
                if (m_project.findSection(foot) >= 0) feet += " " + foot.text;
            if (!feet.empty()) m_text += " feet" + feet;
            m_text += "\n";
        }
    }
    void addLines() {
        for (const model::Line& line : m_project.lines) {
            const bool said = std::all_of(line.guides.begin(), line.guides.end(),
                                          [&](const model::Guide& guide) { return isSaid(guide.part.text); });
            m_text += commentUnless(said) + writeLine(m_project, line) + "\n";
        }
    }
    void addUnsaid() {
        const auto tell = [&](std::size_t count, const char* one, const char* many) {
            if (count > 0)
                m_text += "# not said here: " + std::to_string(count) + " " + (count == 1 ? one : many) + "\n";
        };
        std::size_t strands = 0;
        for (const auto& board : m_project.boards) strands += board->strands.size();
        tell(strands, "string or wire", "strings and wires");
        tell(m_project.asks.size(), "ask", "asks");
        tell(m_project.measured.size(), "series of measured values", "series of measured values");
        tell(m_project.diary.size(), "diary entry", "diary entries");
        tell(m_project.cases.size(), "case", "cases");
        tell(m_project.posts.size(), "post", "posts");
        tell(m_project.variants.size() > 1 ? m_project.variants.size() - 1 : 0, "further variant", "further variants");
        tell(m_project.options.list.size(), "option", "options");
        tell(m_project.ownShapes.size(), "shape of the builder's own", "shapes of the builder's own");
    }

    const model::Project& m_project;
    std::set<std::string> m_named, m_said;
    std::string m_text;
};

} // namespace

std::string writeScript(const model::Project& project) { return Exporter(project).run(); }

} // namespace ivrant::script
