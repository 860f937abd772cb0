#include "core/model/notes.h"

#include <array>
#include <string_view>
#include <utility>

namespace ivrant::model {
namespace {

template <class Value, std::size_t N> std::optional<Value> findNamed(const std::array<std::pair<Value, const char*>, N>& table, std::string_view name) {
    for (const auto& [value, text] : table)
        if (name == text) return value;
    return std::nullopt;
}

template <class Value, std::size_t N> const char* nameOf(const std::array<std::pair<Value, const char*>, N>& table, Value value) {
    for (const auto& [known, text] : table)
        if (known == value) return text;
    return "";
}

constexpr std::array<std::pair<Quantity, const char*>, 4> kQuantities{
    {{Quantity::Holding, "holding"}, {Quantity::PullOut, "pull-out"}, {Quantity::StudPull, "stud pull"}, {Quantity::StudShear, "stud shear"}}};
constexpr std::array<std::pair<Comparison, const char*>, 3> kComparisons{
    {{Comparison::AtLeast, "at least"}, {Comparison::AtMost, "at most"}, {Comparison::Equal, "equal to"}}};
constexpr std::array<std::pair<DiaryKind, const char*>, 3> kDiaryKinds{
    {{DiaryKind::Decision, "decision"}, {DiaryKind::Failure, "failure"}, {DiaryKind::Trial, "trial"}}};

} // namespace

const char* getQuantityName(Quantity quantity) { return nameOf(kQuantities, quantity); }
const char* getQuantityUnit(Quantity quantity) { return quantity == Quantity::Holding ? "N·mm" : "N"; }
std::optional<Quantity> findQuantity(std::string_view name) { return findNamed(kQuantities, name); }

const char* getComparisonName(Comparison comparison) { return nameOf(kComparisons, comparison); }
std::optional<Comparison> findComparison(std::string_view name) { return findNamed(kComparisons, name); }

const char* getDiaryKindName(DiaryKind kind) { return nameOf(kDiaryKinds, kind); }
std::optional<DiaryKind> findDiaryKind(std::string_view name) { return findNamed(kDiaryKinds, name); }

} // namespace ivrant::model
