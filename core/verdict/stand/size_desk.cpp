// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/stand/size_desk.h"

#include <cmath>

#include "core/base/units.h"
#include "core/pose/stance.h"
#include "core/stand/certificate.h"
#include "core/study/asked_tip.h"
#include "core/study/stand_cases.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;

constexpr double kNearGroundMm = 1;
constexpr std::size_t kMostCompared = 8000; ///< bodies

base::Status judge(DeskRow& row, base::Progress* progress) {
    auto project = stand::makeStatue("Statue", row.size.layers, 0);
    if (!project) return project.error();
    const auto bonds = bonds::calcBonds(*project);
    const model::Placed placed{&*project, {geometry::Frame::Identity()}};
    const auto tipping = stand::calcTipping(placed, pose::listGroundCorners(placed, kNearGroundMm));
    if (!tipping) return base::Error{"stand.empty", "nothing has weight", ""};
    row.tipDeg = tipping->angleDeg;
    const State tips = getStateOfMargin(tipping->angleDeg / study::kUsualTipDeg);
    const auto net = stand::makeBondNet(placed, bonds, study::calcBondLimits(*project));
    const auto loads = stand::calcLoads(net, {0, 0, -1});
    stand::CertificateRequest quick;
    quick.progress = progress;
    auto certificate = stand::calcCertificate(net, loads, quick);
    if (!certificate) return certificate.error();
    State bondState = State::Thin; // proven with limits fully used: it holds, how well is not known
    row.proven = row.holds = certificate->stands;
    if (certificate->stands) {
        row.lambda = certificate->largestUse;
        bondState = getStateOfMargin(1 / std::max(1e-9, certificate->largestUse));
    }
    // Sizes are compared by λ itself, not by what it is at most; of the largest solid ones the proof has to do.
    if (!certificate->stands || bondState != State::Good || net.bodies.size() <= kMostCompared) {
        stand::EquilibriumRequest request;
        request.use = false;
        request.patient = net.bodies.size() <= kMostCompared;
        request.progress = progress;
        auto exact = stand::calcEquilibrium(net, loads, request);
        if (!exact) return exact.error();
        row.proven = exact->lambdaAtMost;
        row.holds = exact->stands;
        row.lambda = exact->lambda;
        row.falling = exact->falling.size();
        bondState = !exact->stands || !exact->lambda ? State::Fail : getStateOfMargin(1 / *exact->lambda);
    }
    row.state = std::min(tips, bondState);
    row.outcome =
        row.holds ? "holds" : std::to_string(row.falling) + (row.falling == 1 ? " part falls" : " parts fall");
    if (row.lambda && !std::isinf(*row.lambda))
        row.outcome += std::string(", λ ") + (row.proven ? "≤ " : "") + formatNumber(std::max(0.01, *row.lambda), 2);
    row.outcome += row.tipDeg < 0 ? "; falls over" : "; tips at " + formatNumber(*row.tipDeg, 0) + "°";
    return {};
}

base::Result<DeskRow> finish(base::Result<stand::SizeRow> size, const DeskWish& wish, base::Progress* progress) {
    if (!size) return size.error();
    if (!(wish.pricePerPart >= 0) || !(wish.partsPerHour > 0) || std::isinf(wish.pricePerPart) ||
        std::isinf(wish.partsPerHour))
        return base::Error{"desk.wish", "a price is 0 or more and the parts laid in an hour are more than 0", ""};
    DeskRow row;
    row.size = std::move(size).value();
    row.cost = wish.pricePerPart * static_cast<double>(row.size.parts);
    row.hours = static_cast<double>(row.size.parts) / wish.partsPerHour;
    if (auto st = judge(row, progress); !st) return st.error();
    return row;
}

} // namespace

base::Result<DeskRow> calcDeskRow(const geometry::MeshBody& body, const DeskWish& wish, base::Progress* progress) {
    return finish(stand::calcSize(body, wish.layers, progress), wish, progress);
}

base::Result<DeskRow> calcDeskRow(const stand::CellGrid& grid, const DeskWish& wish, base::Progress* progress) {
    return finish(stand::calcSize(grid, wish.layers, progress), wish, progress);
}

} // namespace ivrant::verdict
