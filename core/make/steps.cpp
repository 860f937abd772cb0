#include "core/make/steps.h"

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
    for (const auto& [key, count] : counts) lines.push_back({key.first, key.second, count});
    return lines;
}

std::vector<Step> listSteps(const model::Project& project, const model::SectionTree& tree) {
    std::vector<Step> steps;
    for (int s : tree.order) {
        const model::Section& section = *project.sections[static_cast<std::size_t>(s)];
        std::map<int, std::vector<int>> byStep;
        for (std::size_t p = 0; p < section.parts.size(); ++p) byStep[section.parts[p].step].push_back(static_cast<int>(p));
        for (const auto& [number, added] : byStep) {
            Step step;
            step.number = static_cast<int>(steps.size()) + 1;
            step.section = s;
            step.stepInSection = number;
            step.added = added;
            std::vector<const model::Part*> parts;
            for (int p : added) parts.push_back(&section.parts[static_cast<std::size_t>(p)]);
            step.tray = countParts(parts);
            steps.push_back(std::move(step));
        }
        if (!byStep.empty()) steps.back().joint = tree.carrier[static_cast<std::size_t>(s)];
    }
    return steps;
}

} // namespace ivrant::make
