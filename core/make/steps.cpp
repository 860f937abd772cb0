// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/steps.h"

#include <set>

#include "core/base/at.h"
#include "core/model/board_parts.h"
#include "core/parts/family.h"

namespace ivrant::make {

std::vector<TrayLine> countParts(const std::vector<const model::Part*>& parts) {
    std::map<const parts::Shape*, std::string> names;
    std::map<std::pair<std::string, int>, int> counts;
    for (const model::Part* part : parts) {
        auto& name = names[part->shape.get()];
        if (name.empty()) name = parts::getListName(*part->shape);
        ++counts[{name, part->colour}];
    }
    std::vector<TrayLine> lines;
    lines.reserve(counts.size());
    for (const auto& [key, count] : counts) lines.push_back({key.first, key.second, count});
    return lines;
}

std::string getStepName(const model::Project& project, const Step& step) {
    if (step.board >= 0) return at(project.boards, step.board)->name;
    const std::string& own = at(project.sections, step.section)->name;
    if (step.after < 0) return own;
    return step.after == step.section ? own + ", in its place"
                                      : own + ", once " + at(project.sections, step.after)->name + " is on";
}

namespace {

class StepLister {
public:
    StepLister(const model::Project& project, const model::SectionTree& tree)
        : m_project(project), m_tree(tree), m_rank(rankSections(tree)) {}

    std::vector<Step> run() {
        addBoards(-1, 0);
        for (int s : m_tree.order) {
            addSection(s);
            for (int waiting : m_tree.order) addWaiting(waiting, s);
        }
        return std::move(m_steps);
    }

private:
    void addSection(int s) {
        const model::Section& section = *at(m_project.sections, s);
        const std::size_t before = m_steps.size();
        m_built.clear();
        std::map<int, std::vector<int>> byStep;
        for (std::size_t p = 0; p < section.parts.size(); ++p)
            if (findAfter(m_project, m_rank, s, section.parts[p]) < 0)
                byStep[section.parts[p].step].push_back(static_cast<int>(p));
        for (const auto& [number, added] : byStep) {
            addBoards(s, number - 1); // that were due before it
            fill(append(s, number), added);
        }
        m_last = byStep.empty() ? 1 : byStep.rbegin()->first;
        addBoards(s, kEnd);
        if (m_steps.size() > before) m_steps.back().joint = at(m_tree.carrier, s);
    }

    void fill(Step& step, const std::vector<int>& added) const {
        step.added = added;
        std::vector<const model::Part*> parts;
        parts.reserve(added.size());
        for (int p : added) parts.push_back(&at(at(m_project.sections, step.section)->parts, p));
        step.tray = countParts(parts);
    }

    /// Parts of section s that waited for `on`.
    void addWaiting(int s, int on) {
        const model::Section& section = *at(m_project.sections, s);
        std::map<int, std::vector<int>> byStep;
        for (std::size_t p = 0; p < section.parts.size(); ++p)
            if (findAfter(m_project, m_rank, s, section.parts[p]) == on)
                byStep[section.parts[p].step].push_back(static_cast<int>(p));
        for (const auto& [number, added] : byStep) {
            Step& step = append(s, number);
            step.after = on;
            fill(step, added);
        }
    }

    /// Boards of the section (−1: of none) that come after a step up to `number` and are not there yet.
    void addBoards(int section, int number) {
        for (std::size_t b = 0; b < m_project.boards.size(); ++b) {
            const model::Board& board = *m_project.boards[b];
            const int own = board.section.empty() ? -1 : m_project.findSection(board.section);
            if (own != section || m_done.count(static_cast<int>(b)) > 0) continue;
            if (section >= 0 && number != kEnd && (board.step == 0 || board.step > number)) continue;
            const auto counts = model::countShapes(model::listBoardParts(board));
            if (counts.empty()) continue;
            m_done.insert(static_cast<int>(b));
            Step& step = append(section, section < 0 ? 0 : number == kEnd ? m_last : number);
            step.board = static_cast<int>(b);
            for (const auto& [shape, count] : counts) step.tray.push_back({shape, board.colour, count});
            if (section >= 0) m_built.push_back(static_cast<int>(b));
        }
    }
    Step& append(int section, int number) {
        Step step;
        step.number = static_cast<int>(m_steps.size()) + 1;
        step.section = section;
        step.stepInSection = number;
        step.boards = m_built;
        m_steps.push_back(std::move(step));
        return m_steps.back();
    }

    static constexpr int kEnd = -1;
    const model::Project& m_project;
    const model::SectionTree& m_tree;
    std::vector<int> m_rank;
    std::vector<Step> m_steps;
    std::vector<int> m_built; ///< boards of the present section
    std::set<int> m_done;
    int m_last = 1;
};

} // namespace

std::vector<int> rankSections(const model::SectionTree& tree) {
    std::vector<int> rank(tree.order.size(), 0);
    for (std::size_t i = 0; i < tree.order.size(); ++i) at(rank, tree.order[i]) = static_cast<int>(i);
    return rank;
}

int findAfter(const model::Project& project, const std::vector<int>& rank, int section, const model::Part& part) {
    if (part.after.empty()) return -1;
    const int after = project.findSection(part.after);
    return after >= 0 && at(rank, after) >= at(rank, section) ? after : -1;
}

std::vector<Step> listSteps(const model::Project& project, const model::SectionTree& tree) {
    return StepLister(project, tree).run();
}

} // namespace ivrant::make
