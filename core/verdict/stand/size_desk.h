// SPDX-License-Identifier: GPL-3.0-or-later
// What would the same shape be at several sizes: parts, mass, money, hours, what survives, and does it stand?
#pragma once

#include "core/stand/size_rows.h"
#include "core/verdict/verdict.h"

namespace ivrant::verdict {

// Starting values, not measured: the person says better ones.
inline constexpr double kUsualPrice = 0.12; ///< of a part, in whatever money the person counts
inline constexpr double kUsualPartsPerHour = 150;

struct DeskWish {
    stand::LayerWish layers;
    double pricePerPart = kUsualPrice;        ///< 0 and more
    double partsPerHour = kUsualPartsPerHour; ///< above 0
};
struct DeskRow {
    stand::SizeRow size;
    double cost = 0, hours = 0;
    std::optional<double> tipDeg;
    bool holds = false;  ///< its bonds, at rest
    bool proven = false; ///< by quick proof: λ is that or less
    std::optional<double> lambda;
    std::size_t falling = 0;
    State state = State::Fail; ///< the worse of tipping and bonds
    std::string outcome;       ///< "holds; tips at 12°"
};

/// With the starting limits of bonds. Errors of calcSize; "desk.wish" for a price or a rate that cannot be.
base::Result<DeskRow> calcDeskRow(const geometry::MeshBody& body, const DeskWish& wish,
                                  base::Progress* progress = nullptr);
/// The same of cells that are there already, such as of layer pictures.
base::Result<DeskRow> calcDeskRow(const stand::CellGrid& grid, const DeskWish& wish,
                                  base::Progress* progress = nullptr);

} // namespace ivrant::verdict
