// SPDX-License-Identifier: GPL-3.0-or-later
// Verdicts, ranges, holding.
#include <CLI/CLI.hpp>
#include <iostream>

#include "cli/tables.h"
#include "cli/verbs.h"
#include "core/base/at.h"
#include "core/files/brief_file.h"
#include "core/verdict/asks/asks.h"

namespace ivrant::cli {
namespace {

class Check : public ProjectVerb {
public:
    Check() : ProjectVerb("check", "all verdicts, grouped; exit 1 when some fail") {}
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        sub.add_option("--brief", m_brief, "a brief shared by several models");
        sub.add_flag("--all", m_all, "every single verdict below its group");
    }
    [[nodiscard]] int run() const override {
        files::Brief brief;
        if (!m_brief.empty()) {
            auto loaded = files::loadBrief(m_brief);
            if (!loaded) return complain(loaded.error());
            brief = std::move(loaded).value();
        }
        int worst = 0;
        for (const auto& file : m_files) worst = std::max(worst, checkFile(file, brief));
        return worst;
    }

protected:
    void addFile(CLI::App& sub) override { sub.add_option("FILE", m_files, "project files (*.ivrant)")->required(); }

private:
    /// Verdicts on one file, with those of a shared brief among them.
    [[nodiscard]] int checkFile(const std::string& file, const files::Brief& brief) const {
        auto project = load(file);
        if (!project) return complain(project.error());
        verdict::Report report =
            verdict::addBonds(verdict::calcReport(std::make_shared<const model::Project>(std::move(project).value())));
        const auto results = verdict::measureAsks(report, brief.asks);
        for (auto& v : verdict::makeAskVerdicts(report, brief.asks, results, brief.name.empty() ? "brief" : brief.name))
            report.verdicts.push_back(std::move(v));
        verdict::sortWorstFirst(report.verdicts);
        const bool named = m_files.size() > 1;
        if (asJson()) {
            auto json = files::makeCheckJson(report);
            if (named) json["file"] = file;
            print(json);
        } else {
            std::cout << (named ? file + "\n" : "") << formatVerdicts(report, m_all);
        }
        return verdict::countStates(report.verdicts).fail > 0 ? 1 : 0;
    }

    std::vector<std::string> m_files;
    std::string m_brief;
    bool m_all = false;
};

class Range : public PoseVerb {
public:
    Range() : PoseVerb("range", "free range of every joint, what stops it, clearance") {}
    void addOptions(CLI::App& sub) override {
        PoseVerb::addOptions(sub);
        sub.add_option("--joint", m_joint, "id or name of a joint");
    }
    [[nodiscard]] int run() const override {
        auto wanted = inPose(study::kRanges);
        if (m_joint)
            wanted.ofJoint = [name = *m_joint](const model::Joint& joint) {
                return joint.id.text == name || joint.name == name;
            };
        return withPose(wanted, [&](const verdict::Report& report, const study::PoseFacts& pose) {
            std::optional<model::JointId> only;
            if (m_joint) {
                const int j = findJoint(*report.project, *m_joint);
                if (j < 0) return complain(unknown("joint", *m_joint));
                only = at(report.project->joints, j).id;
            }
            if (asJson())
                print(files::makeRangeJson(report, pose, only));
            else
                std::cout << formatRanges(report, pose, only);
            return 0;
        });
    }

private:
    std::optional<std::string> m_joint;
};

class Hold : public PoseVerb {
public:
    Hold() : PoseVerb("hold", "what each joint must hold and can hold; how firmly the figure stands") {}
    void addOptions(CLI::App& sub) override {
        PoseVerb::addOptions(sub);
        sub.add_flag("--worst", m_worst, "per joint the pose that asks most");
    }
    [[nodiscard]] int run() const override { return m_worst ? tellWorst() : tellPose(); }

private:
    [[nodiscard]] int tellWorst() const {
        study::Wanted wanted;
        wanted.facts = study::kWorst | study::kLoads;
        return withReport(wanted, [&](const verdict::Report& report) {
            if (asJson())
                print(files::makeWorstHoldJson(report));
            else
                std::cout << formatWorstLoads(report);
            return 0;
        });
    }
    [[nodiscard]] int tellPose() const {
        return withPose(inPose(study::kLoads), [&](const verdict::Report& report, const study::PoseFacts& pose) {
            if (asJson())
                print(files::makeHoldJson(report, pose));
            else
                std::cout << formatLoads(report, pose);
            return 0;
        });
    }

    bool m_worst = false;
};

} // namespace

void addCheckVerbs(Verbs& verbs) {
    verbs.push_back(std::make_unique<Check>());
    verbs.push_back(std::make_unique<Range>());
    verbs.push_back(std::make_unique<Hold>());
}

} // namespace ivrant::cli
