// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/options.h"

#include <algorithm>

#include "core/model/project.h"

namespace ivrant::model {

AlternativeSpot findAlternative(const Options& options, const AlternativeId& id) {
    for (std::size_t o = 0; o < options.list.size(); ++o)
        for (std::size_t a = 0; a < options.list[o].alternatives.size(); ++a)
            if (options.list[o].alternatives[a].id == id) return {static_cast<int>(o), static_cast<int>(a)};
    return {};
}

int findOption(const Options& options, const OptionId& id) {
    for (std::size_t o = 0; o < options.list.size(); ++o)
        if (options.list[o].id == id) return static_cast<int>(o);
    return -1;
}

AlternativeSpot findOwner(const Options& options, const Project& project, const PartId& part) {
    const int s = PartIndex(project).find(part).section;
    for (std::size_t o = 0; o < options.list.size(); ++o) {
        const Option& option = options.list[o];
        const Alternative& chosen = option.alternatives[static_cast<std::size_t>(option.chosen)];
        const bool own = std::find(chosen.parts.begin(), chosen.parts.end(), part) != chosen.parts.end();
        const bool inSection =
            s >= 0 && std::find(chosen.sections.begin(), chosen.sections.end(),
                                project.sections[static_cast<std::size_t>(s)]->id) != chosen.sections.end();
        if (own || inSection) return {static_cast<int>(o), option.chosen};
    }
    return {};
}

} // namespace ivrant::model
