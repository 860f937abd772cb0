// SPDX-License-Identifier: GPL-3.0-or-later
// Names of things inside one project. Each kind of thing has its own id type, so that a joint id cannot be passed
// where a part id is wanted. Ids match [a-z][a-z0-9]*, are unique in the file and never reused.
#pragma once

#include <compare>
#include <functional>
#include <string>
#include <string_view>

namespace ivrant::base {

template <class Tag> struct Id {
    std::string text;

    [[nodiscard]] bool empty() const { return text.empty(); }
    auto operator<=>(const Id&) const = default;
};

using PartId = Id<struct PartTag>;
using SectionId = Id<struct SectionTag>;
using JointId = Id<struct JointTag>;
using PoseId = Id<struct PoseTag>;
using VariantId = Id<struct VariantTag>;
using SeriesId = Id<struct SeriesTag>;
using AskId = Id<struct AskTag>;
using DiaryId = Id<struct DiaryTag>;
using CaseId = Id<struct CaseTag>;
using PostId = Id<struct PostTag>;
using OrderId = Id<struct OrderTag>;
using BuildId = Id<struct BuildTag>;
using OptionId = Id<struct OptionTag>;
using AlternativeId = Id<struct AlternativeTag>;
using ModuleId = Id<struct ModuleTag>;
using ReachId = Id<struct ReachTag>;
using MotionId = Id<struct MotionTag>;
using LineId = Id<struct LineTag>;
using BoardId = Id<struct BoardTag>;
using ShaftId = Id<struct ShaftTag>;
using GearId = Id<struct GearTag>;
using LoopId = Id<struct LoopTag>;
using CouplingId = Id<struct CouplingTag>;
using MotorId = Id<struct MotorTag>;
using SelectorId = Id<struct SelectorTag>;
using StrandId = Id<struct StrandTag>;
using FunctionId = Id<struct FunctionTag>;

/// True when `text` is a legal id: a lower-case letter, then lower-case letters and digits; at most 40 characters.
[[nodiscard]] bool isLegalId(std::string_view text);

} // namespace ivrant::base

template <class Tag> struct std::hash<ivrant::base::Id<Tag>> {
    std::size_t operator()(const ivrant::base::Id<Tag>& id) const noexcept { return std::hash<std::string>{}(id.text); }
};
