// SPDX-License-Identifier: GPL-3.0-or-later
// What happens when one joint of a linkage is driven.
#include <CLI/CLI.hpp>
#include <iostream>

#include "cli/verbs.h"
#include "core/base/at.h"
#include "core/brief/measures.h"
#include "core/files/results_motion.h"
#include "core/files/results_walk.h"
#include "core/model/edits.h"
#include "core/verdict/pose/check_motions.h"
#include "core/verdict/report.h"
#include "print/motion_strip.h"

namespace ivrant::cli {
namespace {

class Motion : public ProjectVerb {
public:
    Motion()
        : ProjectVerb("motion", "what a driven joint carries along: travel, path, transmission, torque, what meets; "
                                "exit 1 when a motion fails") {}
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        sub.add_option("--add", m_add, "NAME=JOINT: a new motion of that joint (id or name)");
        sub.add_option("--over", m_over, "of the new motion: from one value to another, degrees or mm")->expected(2);
        sub.add_option("--places", m_places, "of the new motion: places looked at, 8 to 720");
        sub.add_option("--trace", m_trace, "PART or PART.PORT whose path is followed; several")
            ->allow_extra_args(false);
        sub.add_option("--remove", m_remove, "a motion, by name or id; several")->allow_extra_args(false);
        sub.add_option("--only", m_only, "this motion alone, by name or id");
        sub.add_flag("--each", m_each, "print every place too");
        sub.add_option("--strip", m_strip, "OUT.png: eight places of one motion beside each other, with its paths");
        sub.add_flag("--csv", m_csv, "print the places of one motion as CSV");
        sub.add_option("-o,--output", m_output, "OUT.ivrant with what was added or removed");
    }
    [[nodiscard]] int run() const override {
        auto project = load();
        if (!project) return complain(project.error());
        if (auto changed = change(*project); !changed)
            return complain(changed.error());
        else
            project.value() = std::move(changed).value();
        if (!m_output.empty()) return save(m_output, *project);
        if (project->motions.empty())
            return complain({"motion.none", "the model has no motion: --add NAME=JOINT makes one", ""});
        study::Wanted wanted;
        wanted.facts = study::kMotions;
        auto report = verdict::calcReport(std::make_shared<const model::Project>(*project), nullptr, wanted);
        if (report.motions.empty()) report.motions = study::calcMotions(report); // of large models they come late
        if (m_only) {
            std::erase_if(report.motions, [&](const auto& study) {
                const model::Motion& motion = at(report.project->motions, study->index);
                return motion.name != *m_only && motion.id.text != *m_only;
            });
            if (report.motions.empty()) return complain(unknown("motion", *m_only));
        }
        if ((m_csv || !m_strip.empty()) && report.motions.size() != 1)
            return complain({"motion.several", "that is of one motion: --only NAME names it", ""});
        if (!m_strip.empty())
            if (auto drawn = print::writeMotionStrip(report, *report.motions.front(), m_strip); !drawn)
                return complain(drawn.error());
        if (m_csv) {
            std::cout << files::makeMotionCsv(*report.project, *report.motions.front());
        } else {
            print(files::makeMotionsJson(*report.project, report.tree, report.motions, m_each));
        }
        verdict::VerdictList list;
        verdict::judgeMotions(report, list);
        return std::any_of(list.all().begin(), list.all().end(),
                           [](const verdict::Verdict& v) { return v.state == verdict::State::Fail; });
    }

private:
    [[nodiscard]] model::EditResult change(model::Project project) const {
        for (const std::string& name : m_remove) {
            const auto found =
                std::find_if(project.motions.begin(), project.motions.end(),
                             [&](const model::Motion& m) { return m.name == name || m.id.text == name; });
            if (found == project.motions.end()) return unknown("motion", name);
            auto next = model::removeMotion(project, found->id);
            if (!next) return next;
            project = std::move(next).value();
        }
        if (!m_add) {
            if (!m_over.empty() || m_places || !m_trace.empty())
                return base::Error{"motion.form", "--over, --places and --trace are of a new motion: --add NAME=JOINT",
                                   ""};
            return project;
        }
        const auto equals = m_add->find('=');
        if (equals == std::string::npos || equals == 0 || equals + 1 == m_add->size())
            return base::Error{"motion.form", "NAME=JOINT is expected, found '" + *m_add + "'", ""};
        model::Motion motion;
        motion.name = m_add->substr(0, equals);
        const std::string wanted = m_add->substr(equals + 1);
        const auto joint = std::find_if(project.joints.begin(), project.joints.end(),
                                        [&](const model::Joint& j) { return j.name == wanted || j.id.text == wanted; });
        if (joint == project.joints.end()) return unknown("joint", wanted);
        motion.joint = joint->id;
        if (m_over.size() == 2) motion.over = model::Travel{m_over[0], m_over[1]};
        motion.places = m_places.value_or(motion.places);
        const model::PartIndex index(project);
        for (const std::string& text : m_trace) {
            const auto dot = text.find('.');
            model::Traced traced{{text.substr(0, dot)}, dot == std::string::npos ? "" : text.substr(dot + 1)};
            const model::PartSpot spot = index.find(traced.part);
            if (spot.section < 0) return unknown("part", traced.part.text);
            if (!traced.port.empty() && model::getPart(project, spot).shape->findPort(traced.port) < 0)
                return unknown("port", traced.port);
            motion.traced.push_back(std::move(traced));
        }
        return model::putMotion(project, std::move(motion));
    }

    std::optional<std::string> m_add, m_only;
    std::vector<double> m_over;
    std::optional<int> m_places;
    std::vector<std::string> m_trace, m_remove;
    bool m_each = false, m_csv = false;
    std::string m_output, m_strip;
};

class WalkVerb : public ProjectVerb {
public:
    WalkVerb()
        : ProjectVerb("walk", "how the model walks while a joint is turned: stride, lift, slip, where it falls; "
                              "exit 1 when a walk fails") {}
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        sub.add_option("--of", m_of, "this motion alone, by name or id");
        sub.add_option("--feet", m_feet, "with --of: its feet, sections by id or name (* for any letters)");
        sub.add_flag("--each", m_each, "print every place too");
        sub.add_flag("--csv", m_csv, "print the places of one walk as CSV");
        sub.add_option("-o,--output", m_output, "OUT.ivrant with the feet named");
    }
    [[nodiscard]] int run() const override {
        auto project = load();
        if (!project) return complain(project.error());
        if (auto changed = change(*project); !changed)
            return complain(changed.error());
        else
            project.value() = std::move(changed).value();
        if (!m_output.empty()) return save(m_output, *project);
        study::Wanted wanted;
        wanted.facts = study::kMotions;
        auto report = verdict::calcReport(std::make_shared<const model::Project>(*project), nullptr, wanted);
        if (report.motions.empty()) report.motions = study::calcMotions(report);
        std::erase_if(report.motions, [&](const auto& study) {
            const model::Motion& motion = at(report.project->motions, study->index);
            return !study->walk || (m_of && motion.name != *m_of && motion.id.text != *m_of);
        });
        if (report.motions.empty())
            return complain({"walk.none", "no motion has feet: --of MOTION --feet SECTION … names them", ""});
        if (m_csv) {
            if (report.motions.size() != 1)
                return complain({"motion.several", "that is of one walk: --of NAME names it", ""});
            std::cout << files::makeWalkCsv(*report.project, *report.motions.front()->walk);
        } else {
            print(files::makeWalksJson(report, m_each));
        }
        verdict::VerdictList list;
        for (const auto& study : report.motions) verdict::judgeWalk(report, *study, list);
        return std::any_of(list.all().begin(), list.all().end(),
                           [](const verdict::Verdict& v) { return v.state == verdict::State::Fail; });
    }

private:
    [[nodiscard]] model::EditResult change(const model::Project& project) const {
        if (m_feet.empty()) return project;
        for (model::Motion motion : project.motions) {
            if (!m_of || (motion.name != *m_of && motion.id.text != *m_of)) continue;
            motion.feet.clear();
            for (const std::string& wanted : m_feet) {
                const std::size_t before = motion.feet.size();
                for (const auto& section : project.sections)
                    if (section->id.text == wanted || brief::matchesPattern(wanted, section->name))
                        motion.feet.push_back(section->id);
                if (motion.feet.size() == before) return unknown("section", wanted);
            }
            return model::putMotion(project, std::move(motion));
        }
        return m_of ? base::Result<model::Project>(unknown("motion", *m_of))
                    : base::Error{"walk.form", "--feet are of a motion: --of NAME names it", ""};
    }

    std::optional<std::string> m_of;
    std::vector<std::string> m_feet;
    bool m_each = false, m_csv = false;
    std::string m_output;
};

} // namespace

void addMotionVerb(Verbs& verbs) {
    verbs.push_back(std::make_unique<Motion>());
    verbs.push_back(std::make_unique<WalkVerb>());
}

} // namespace ivrant::cli
