// SPDX-License-Identifier: GPL-3.0-or-later
// Which choices does a model offer: hats, tools, stands?
//
// An option is a place in the model with alternatives, one of which is chosen and stands in the model; what the others
// are made of waits. An alternative is parts in sections that are there anyhow (a hat on the head's studs), whole
// sections that hang on joints, or nothing. Rules say what needs or excludes what. Options belong to a variant.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <vector>

#include "core/model/notes.h"

namespace ivrant::model {

using base::AlternativeId;
using base::OptionId;
using base::SectionId;

struct Part;
struct Section;
struct Joint;
struct Project;

/// What an alternative that is not chosen is made of.
struct WaitingParts {
    SectionId section; ///< of the model, that they go into
    std::vector<Part> parts;
};
struct WaitingBody {
    std::vector<WaitingParts> parts;
    std::vector<std::shared_ptr<const Section>> sections;
    std::vector<Joint> joints;                                           ///< that these sections hang on
    std::map<PoseId, std::map<JointId, std::vector<double>>> poseValues; ///< of those joints
};

struct Alternative {
    AlternativeId id;
    std::string name, text;                  ///< text: for the catalogue
    double price = 0;                        ///< in the person's currency
    std::vector<PartId> parts;               ///< when chosen: what it is made of
    std::vector<SectionId> sections;         ///< when chosen: whole sections of it
    std::shared_ptr<const WaitingBody> body; ///< when not chosen; null: nothing
};
struct Option {
    OptionId id;
    std::string name;
    std::vector<Alternative> alternatives; ///< at least one
    int chosen = 0;
};
struct OptionRule {
    AlternativeId first, second;
    bool excludes = true; ///< else: the first needs the second
    bool operator==(const OptionRule&) const = default;
};
struct Options {
    std::vector<Option> list;
    std::vector<OptionRule> rules;
    [[nodiscard]] bool empty() const { return list.empty() && rules.empty(); }
};

/// Where an alternative is: option and index in it; −1, −1: nowhere.
struct AlternativeSpot {
    int option = -1, alternative = -1;
    auto operator<=>(const AlternativeSpot&) const = default;
};
[[nodiscard]] AlternativeSpot findAlternative(const Options& options, const AlternativeId& id);
[[nodiscard]] int findOption(const Options& options, const OptionId& id); ///< index or −1
/// Which alternative the part is one of, when that is chosen.
[[nodiscard]] AlternativeSpot findOwner(const Options& options, const Project& project, const PartId& part);

} // namespace ivrant::model
