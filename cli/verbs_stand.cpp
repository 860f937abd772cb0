// SPDX-License-Identifier: GPL-3.0-or-later
// Balance and bonds: does it stand, what is weakest, what falls?
#include <CLI/CLI.hpp>
#include <chrono>
#include <csignal>
#include <iostream>
#include <sys/resource.h>

#include "cli/verbs.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/results_stand.h"
#include "core/make/steps.h"
#include "core/model/mass.h"
#include "core/study/case_words.h"

namespace ivrant::cli {
namespace {

base::Progress g_stop; ///< told by the signal that ends the verb: what is solved by then is kept

/// While it lives an interrupt stops the solving instead of the program.
class StopOnInterrupt {
public:
    StopOnInterrupt() : m_before(std::signal(SIGINT, [](int) { g_stop.stop(); })) {}
    StopOnInterrupt(const StopOnInterrupt&) = delete;
    StopOnInterrupt& operator=(const StopOnInterrupt&) = delete;
    ~StopOnInterrupt() { std::signal(SIGINT, m_before); }

private:
    void (*m_before)(int);
};

double memoryMb() {
    rusage usage{};
    ::getrusage(RUSAGE_SELF, &usage);
    return static_cast<double>(usage.ru_maxrss) / 1024;
}

class Stand : public PoseVerb {
public:
    Stand() : PoseVerb("stand", "mass, centre, tip angles, λ, weakest bonds; exit 1 when a case does not hold") {}
    void addOptions(CLI::App& sub) override {
        PoseVerb::addOptions(sub);
        sub.add_option("--case", m_case,
                       "standing, slope, bump, knock, carry, or id or name of an own one; all without it");
        sub.add_option("--hand", m_hands, "carried by these sections, one hand each");
        sub.add_option("--step", m_step, "half-built at this step");
        sub.add_flag("--every-step", m_everyStep, "built up step by step, to the first at which something falls");
    }
    [[nodiscard]] int run() const override {
        return withPose(inPose(study::kDrive | study::kMoves), [&](verdict::Report& report,
                                                                   const study::PoseFacts& pose) {
            if (m_everyStep) return tryEveryStep(report, pose);
            const StopOnInterrupt listening;
            const auto started = std::chrono::steady_clock::now();
            const auto seconds = [&] {
                return std::chrono::duration<double>(std::chrono::steady_clock::now() - started).count();
            };
            std::vector<files::SolvedCase> solved;
            bool all = true, going = true;
            std::optional<base::Error> trouble;
            const auto solve = [&](const std::vector<stand::StandCase>& cases) {
                stand::EquilibriumRequest how;
                how.progress = &g_stop;
                auto results = study::calcStandCases(
                    report, pose, cases, how, [&](std::size_t, const base::Result<stand::CaseResult>& result) {
                        if (!result && result.error().code != "stopped") trouble = result.error();
                        if (!result) return going = false;
                        all &= result->equilibrium.stands;
                        if (!asJson()) // told as soon as it is known
                            std::cout << result->name << ": " << study::describeOutcome(*result) << " (after "
                                      << base::formatNumber(seconds(), 1) << " s)" << std::endl;
                        return true;
                    });
                for (std::size_t c = 0; c < cases.size(); ++c)
                    if (results[c] && *results[c]) solved.push_back({cases[c], std::move(*results[c]).value()});
            };
            // At rest first, unless something else is asked for: the other usual cases need to know what is slender.
            const bool usual = m_case.empty() && m_hands.empty() && m_step == 0;
            if (usual && pose.tipping) solve({study::makeAtRest(report, pose)});
            if (going && !report.structure) report.structure = study::calcStructure(report);
            auto cases = listCases(report, pose);
            if (!cases) return complain(cases.error());
            if (usual)
                std::erase_if(cases.value(),
                              [](const stand::StandCase& c) { return c.kind == stand::CaseKind::Standing; }); // known
            if (going) solve(*cases);
            if (trouble) return complain(*trouble);
            auto json = files::makeStandJson(report, pose, solved);
            json["seconds"] = files::rounded(seconds());
            json["memory_mb"] = files::rounded(memoryMb());
            json["stopped"] = !going;
            print(json);
            return all && going ? 0 : 1;
        });
    }

private:
    /// The cases that the options name; those of the pose when they name none.
    [[nodiscard]] base::Result<std::vector<stand::StandCase>> listCases(const verdict::Report& report,
                                                                        const study::PoseFacts& pose) const {
        if (m_step > 0) return std::vector{study::makeHalfBuilt(report, m_step)};
        if (!m_hands.empty()) {
            std::vector<geometry::Vec3> places;
            for (const std::string& name : m_hands) {
                const int section = findSection(*report.project, name);
                if (section < 0) return unknown("section", name);
                places.push_back(model::calcMass(pose.placed, {section}).centre);
            }
            return std::vector{stand::makeCarried(std::move(places))};
        }
        auto cases = study::listStandCases(report, pose);
        if (m_case.empty()) return cases;
        std::erase_if(cases, [&](const stand::StandCase& c) { return c.key != m_case && c.name != m_case; });
        for (const model::OwnCase& own : report.project->cases)
            if (cases.empty() && (own.id.text == m_case || own.name == m_case))
                return study::makeOwnCase(report, pose, own).error();
        if (cases.empty()) return unknown("case", m_case);
        return cases;
    }
    /// Builds the model up step by step; exit 1 at the first one after which something falls.
    [[nodiscard]] int tryEveryStep(const verdict::Report& report, const study::PoseFacts& pose) const {
        stand::EquilibriumRequest quick;
        quick.lambda = quick.use = false;
        auto json = files::makeHead("steps-stand");
        const auto steps = make::listSteps(*report.project, report.tree);
        json["steps"] = steps.size();
        json["first_falling"] = nullptr;
        json["falling"] = model::Json::array();
        for (std::size_t step = 1; step <= steps.size() && json["first_falling"].is_null(); ++step) {
            const auto solved =
                study::calcStandCase(report, pose, study::makeHalfBuilt(report, static_cast<int>(step)), quick);
            if (!solved || solved->equilibrium.stands) continue; // nothing with weight yet, or it stands
            json["first_falling"] = step;
            for (const int body : solved->equilibrium.falling)
                json["falling"].push_back(getPart(*report.project, at(solved->net.bodies, body).spot).id.text);
        }
        print(json);
        return json["first_falling"].is_null() ? 0 : 1;
    }

    std::string m_case;
    std::vector<std::string> m_hands; ///< sections
    int m_step = 0;
    bool m_everyStep = false;
};

} // namespace

void addStandVerb(Verbs& verbs) { verbs.push_back(std::make_unique<Stand>()); }

} // namespace ivrant::cli
