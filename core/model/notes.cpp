// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/notes.h"

#include "core/model/name_table.h"

namespace ivrant::model {
namespace {

using detail::findNamed;
using detail::nameOf;

constexpr std::array<std::pair<Quantity, const char*>, 5> kQuantities{{{Quantity::Holding, "holding"},
                                                                       {Quantity::PullOut, "pull-out"},
                                                                       {Quantity::StudPull, "stud pull"},
                                                                       {Quantity::StudShear, "stud shear"},
                                                                       {Quantity::Motor, "motor"}}};
constexpr std::array<std::pair<Comparison, const char*>, 3> kComparisons{
    {{Comparison::AtLeast, "at least"}, {Comparison::AtMost, "at most"}, {Comparison::Equal, "equal to"}}};
constexpr std::array<std::pair<DiaryKind, const char*>, 3> kDiaryKinds{
    {{DiaryKind::Decision, "decision"}, {DiaryKind::Failure, "failure"}, {DiaryKind::Trial, "trial"}}};

} // namespace

const char* getQuantityName(Quantity quantity) { return nameOf(kQuantities, quantity); }
const char* getQuantityUnit(Quantity quantity) {
    return quantity == Quantity::Holding ? "N·mm" : quantity == Quantity::Motor ? "rpm" : "N";
}
std::optional<Quantity> findQuantity(std::string_view name) { return findNamed(kQuantities, name); }

const char* getComparisonName(Comparison comparison) { return nameOf(kComparisons, comparison); }
std::optional<Comparison> findComparison(std::string_view name) { return findNamed(kComparisons, name); }

const char* getDiaryKindName(DiaryKind kind) { return nameOf(kDiaryKinds, kind); }
std::optional<DiaryKind> findDiaryKind(std::string_view name) { return findNamed(kDiaryKinds, name); }

} // namespace ivrant::model
