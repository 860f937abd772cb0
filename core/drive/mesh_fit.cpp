// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/mesh_fit.h"

#include <algorithm>
#include <cmath>
#include <tuple>

#include "core/base/units.h"

namespace ivrant::drive {
namespace {

constexpr std::int64_t kHalfUm = base::kPitchUm / 2;
constexpr double kRoundMm = 1e-9; ///< so that exactly −0.10 mm still meshes

bool isMultiple(std::int64_t value, std::int64_t of) { return value % of == 0; }

/// Offsets (any sign) whose distance is within `low` to `high` mm.
std::vector<FitOffset> listRing(double distanceMm) {
    std::vector<FitOffset> found;
    const double high = distanceMm + kWidestMm;
    const auto reach = static_cast<std::int64_t>(std::ceil(high * 1000));
    const auto consider = [&](std::int64_t dx, std::int64_t dy) {
        const double error = std::hypot(base::umToMm(dx), base::umToMm(dy)) - distanceMm;
        if (judgeFit(error) == Fit::Meshes) found.push_back({dx, dy, error, *findGridStep(dx, dy)});
    };
    for (std::int64_t dx = 0; dx <= reach; dx += kHalfUm) {
        for (std::int64_t dy = 0; dy <= reach; dy += kHalfUm) consider(dx, dy);
        for (std::int64_t dy = 0; dy <= reach; dy += base::kPlateUm)
            if (!isMultiple(dy, kHalfUm)) consider(dx, dy);
    }
    return found;
}

} // namespace

const char* getFitName(Fit fit) {
    constexpr const char* kNames[] = {"binds", "meshes", "skips", "misses", "apart"};
    return kNames[static_cast<std::size_t>(fit)];
}

Fit judgeFit(double errorMm) {
    if (errorMm < kTightestMm - kRoundMm) return Fit::Binds;
    if (errorMm <= kWidestMm + kRoundMm) return Fit::Meshes;
    return errorMm < kLettingGoMm ? Fit::Skips : Fit::Apart;
}

const char* getGridStepName(GridStep step) {
    switch (step) {
    case GridStep::Holes: return "holes";
    case GridStep::Halves: return "half pitches";
    case GridStep::Plates: return "plates";
    }
    return "";
}

std::optional<GridStep> findGridStep(std::int64_t dxUm, std::int64_t dyUm) {
    if (isMultiple(dxUm, base::kPitchUm) && isMultiple(dyUm, base::kPitchUm)) return GridStep::Holes;
    if (isMultiple(dxUm, kHalfUm) && isMultiple(dyUm, kHalfUm)) return GridStep::Halves;
    if (isMultiple(dxUm, kHalfUm) && isMultiple(dyUm, base::kPlateUm)) return GridStep::Plates;
    return std::nullopt;
}

std::vector<FitOffset> listFits(double distanceMm) {
    if (!(distanceMm >= 0 && distanceMm <= 500)) return {};
    auto found = listRing(distanceMm);
    std::sort(found.begin(), found.end(), [](const FitOffset& a, const FitOffset& b) {
        const double errorA = std::abs(a.errorMm), errorB = std::abs(b.errorMm);
        return std::tie(a.step, errorA, a.dyUm, a.dxUm) < std::tie(b.step, errorB, b.dyUm, b.dxUm);
    });
    return found;
}

std::vector<FitOffset> listNearestFits(double distanceMm, std::int64_t dxUm, std::int64_t dyUm, std::size_t most) {
    auto found = listFits(distanceMm);
    for (FitOffset& offset : found) {
        if (dxUm < 0) offset.dxUm = -offset.dxUm;
        if (dyUm < 0) offset.dyUm = -offset.dyUm;
    }
    const auto away = [&](const FitOffset& offset) {
        return std::hypot(base::umToMm(offset.dxUm - dxUm), base::umToMm(offset.dyUm - dyUm));
    };
    std::stable_sort(found.begin(), found.end(),
                     [&](const FitOffset& a, const FitOffset& b) { return away(a) < away(b); });
    if (found.size() > most) found.resize(most);
    return found;
}

std::vector<ToothPair> listPairs(std::int64_t dxUm, std::int64_t dyUm, const std::vector<int>& teeth) {
    const double distance = std::hypot(base::umToMm(dxUm), base::umToMm(dyUm));
    std::vector<ToothPair> pairs;
    for (int a : teeth)
        for (int b : teeth)
            if (const double error = distance - calcOutsideMm(a, b); a <= b && judgeFit(error) == Fit::Meshes)
                pairs.push_back({a, b, error});
    std::stable_sort(pairs.begin(), pairs.end(),
                     [](const ToothPair& a, const ToothPair& b) { return std::abs(a.errorMm) < std::abs(b.errorMm); });
    return pairs;
}

const std::vector<int>& getSpurTeeth() {
    static const std::vector<int> kTeeth{8, 12, 16, 20, 24, 28, 36, 40, 56, 60};
    return kTeeth;
}

} // namespace ivrant::drive
