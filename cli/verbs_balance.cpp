// SPDX-License-Identifier: GPL-3.0-or-later
// What helps a model to stand: its core left out, parts inside, posts, ballast; and what nobody sees of it.
#include <CLI/CLI.hpp>

#include "cli/verbs.h"
#include "core/base/at.h"
#include "core/files/results_desk.h"
#include "core/files/results_stand.h"
#include "core/model/edits.h"
#include "core/study/asked_tip.h"
#include "core/study/stand_cases.h"

namespace ivrant::cli {
namespace {

class Hollow : public PoseVerb {
public:
    Hollow() : PoseVerb("hollow", "what can be left out of the core; exit 1 when nothing can") {}
    void addOptions(CLI::App& sub) override {
        PoseVerb::addOptions(sub);
        sub.add_option("-o,--output", m_output, "write the project with the hollow variant here: OUT.ivrant");
    }
    [[nodiscard]] int run() const override {
        return withPose(inPose(study::kDrive), [&](const verdict::Report& report, const study::PoseFacts& pose) {
            const auto core = study::calcCore(report, pose);
            if (!core) return complain(core.error());
            print(files::makeCoreJson(report, *core));
            if (core->leaveOut.empty()) return 1;
            if (m_output.empty()) return 0;
            const auto hollow = study::leaveOutCore(*report.project, core->leaveOut);
            return hollow ? save(m_output, *hollow) : complain(hollow.error());
        });
    }

private:
    std::string m_output;
};

class Support : public PoseVerb {
public:
    Support()
        : PoseVerb("support", "where a support on the base must touch and what it carries; exit 1 when nowhere") {}
    void addOptions(CLI::App& sub) override {
        PoseVerb::addOptions(sub);
        sub.add_option("--tilt", m_tilt, "tip angle asked with it, in degrees; the usual one without it")
            ->check(CLI::Range(0.0, 45.0));
        sub.add_option("-o,--output", m_output, "write the project with a post at the first of them here: OUT.ivrant");
    }
    [[nodiscard]] int run() const override {
        return withPose(
            inPose(study::kDrive | study::kBonds), [&](const verdict::Report& report, const study::PoseFacts& pose) {
                const auto design = study::calcPosts(report, pose, m_tilt);
                if (!design) return complain(design.error());
                print(files::makePostJson(report, pose, *design));
                if (design->spots.empty()) return 1;
                if (m_output.empty()) return 0;
                if (!design->spots.front().holds)
                    return complain({"support.bonds", "no place for a post is one at which the bonds hold", ""});
                const auto kept = model::putPost(*report.project, study::makePost(design->spots.front().spot.at));
                return kept ? save(m_output, *kept) : complain(kept.error());
            });
    }

private:
    double m_tilt = 0;
    std::string m_output;
};

class Ballast : public PoseVerb {
public:
    Ballast()
        : PoseVerb("ballast",
                   "least weight in each section that brings the tip angle to what is asked; exit 1 when none does") {}
    void addOptions(CLI::App& sub) override {
        PoseVerb::addOptions(sub);
        sub.add_option("--tilt", m_tilt, "tip angle asked, in degrees; the usual one without it")
            ->check(CLI::Range(0.0, 45.0));
    }
    [[nodiscard]] int run() const override {
        return withPose(inPose(study::kDrive), [&](const verdict::Report& report, const study::PoseFacts& pose) {
            const double wish = m_tilt > 0 ? m_tilt : study::getAskedTipDeg(*report.project);
            auto json = files::makeHead("ballast");
            json["pose"] = pose.name;
            json["wish_deg"] = files::rounded(wish);
            json["tips_deg"] = pose.tipping ? model::Json(files::rounded(pose.tipping->angleDeg)) : model::Json();
            json["sections"] = model::Json::array();
            std::vector<stand::Standing> standings;
            if (pose.tipping) standings.push_back({pose.placed, *pose.tipping});
            for (const stand::BallastProposal& ballast : study::listBallast(report, standings, wish)) {
                const auto& section = *at(report.project->sections, ballast.section);
                json["sections"].push_back(
                    {{"section", section.id.text},
                     {"name", section.name},
                     {"mass_g", files::rounded(ballast.massG)},
                     {"at_mm", files::pointJson(at(pose.placed.X_WS, ballast.section) * ballast.at)}});
            }
            json["needed"] = !pose.tipping || pose.tipping->angleDeg < wish;
            print(json);
            return json["sections"].empty() ? 1 : 0;
        });
    }

private:
    double m_tilt = 0;
};

class Firm : public PoseVerb {
public:
    Firm() : PoseVerb("firm", "where parts inside a hollow model help its bonds most; exit 1 when nothing does") {}
    void addOptions(CLI::App& sub) override {
        PoseVerb::addOptions(sub);
        sub.add_option("-o,--output", m_output, "write the project with them here: OUT.ivrant");
    }
    [[nodiscard]] int run() const override {
        return withPose(inPose(study::kDrive), [&](const verdict::Report& report, const study::PoseFacts& pose) {
            const auto firm = stand::proposeFirm(pose.placed, study::calcBondLimits(report), {});
            if (!firm) return complain(firm.error());
            print(files::makeFirmJson(*firm));
            if (firm->parts.empty()) return firm->holds ? 0 : 1;
            if (m_output.empty()) return 0;
            const auto firmer =
                model::addParts(*report.project, at(report.project->sections, firm->section)->id, firm->parts);
            return firmer ? save(m_output, *firmer) : complain(firmer.error());
        });
    }

private:
    std::string m_output;
};

class HiddenParts : public ProjectVerb {
public:
    HiddenParts() : ProjectVerb("hidden", "parts never seen from outside in any pose: any colour will do") {}
    [[nodiscard]] int run() const override {
        study::Wanted wanted;
        wanted.facts = study::kDrive;
        return withReport(wanted, [&](const verdict::Report& report) {
            const auto hidden = study::calcHidden(report);
            if (!hidden) return complain(hidden.error());
            print(files::makeHiddenJson(report, *hidden));
            return 0;
        });
    }
};

} // namespace

void addBalanceVerbs(Verbs& verbs) {
    verbs.push_back(std::make_unique<Hollow>());
    verbs.push_back(std::make_unique<Support>());
    verbs.push_back(std::make_unique<Ballast>());
    verbs.push_back(std::make_unique<Firm>());
    verbs.push_back(std::make_unique<HiddenParts>());
}

} // namespace ivrant::cli
