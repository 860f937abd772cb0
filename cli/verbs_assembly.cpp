// SPDX-License-Identifier: GPL-3.0-or-later
// The order of building: is it one, and what would be?
#include <CLI/CLI.hpp>
#include <iostream>

#include "cli/verbs.h"
#include "core/files/results_make.h"
#include "core/make/proposal.h"

namespace ivrant::cli {
namespace {

class Assembly : public ProjectVerb {
public:
    Assembly() : ProjectVerb("assembly", "can it be built as its steps say; exit 1 when not") {}
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        sub.add_option("--section", m_section, "id or name of the one section to look at");
        sub.add_option("--most", m_request.mostAStep, "parts a planned step has at most")->check(CLI::Range(1, 1000));
        sub.add_flag("--hands", m_request.hands, "which parts must be held from below while they are pressed on");
        sub.add_flag("--order", m_request.order, "the planned order part by part");
        auto* take = sub.add_option("--take", m_take, "'moves': the fewest moves; 'plan': the planned order")
                         ->check(CLI::IsMember({"moves", "plan"}));
        take->needs(sub.add_option("-o,--output", m_output, "OUT.ivrant with those steps")->needs(take));
    }
    [[nodiscard]] int run() const override {
        study::Wanted wanted;
        wanted.facts = study::kAssembly;
        return withReport(wanted, [&](const verdict::Report& report) {
            study::Facts facts = report;
            if (!facts.assembly) facts.assembly = study::calcAssembly(facts); // of large models it comes late
            files::AssemblyRequest request = m_request;
            if (m_section) {
                request.onlySection = findSection(*report.project, *m_section);
                if (request.onlySection < 0) return complain(unknown("section", *m_section));
            }
            if (!m_take.empty()) return writeTaken(facts, request);
            const auto json = files::makeAssemblyJson(facts, request);
            print(json);
            for (const auto& section : json["sections"])
                if (!section["works"].get<bool>()) return 1;
            return facts.assembly->waiting.empty() ? 0 : 1;
        });
    }

private:
    [[nodiscard]] int writeTaken(const study::Facts& facts, const files::AssemblyRequest& request) const {
        const auto next = make::takeProposals(*facts.project, m_take == "plan" ? make::Take::Plan : make::Take::Moves,
                                              request.onlySection, request.mostAStep);
        return next ? save(m_output, *next) : complain(next.error());
    }

    files::AssemblyRequest m_request;
    std::optional<std::string> m_section;
    std::string m_take, m_output;
};

} // namespace

void addAssemblyVerb(Verbs& verbs) { verbs.push_back(std::make_unique<Assembly>()); }

} // namespace ivrant::cli
