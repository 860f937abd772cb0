// SPDX-License-Identifier: GPL-3.0-or-later
// Where do the parts of a model come from, what was ordered, and by which day must it be done?
//
// Stocks and price lists are tables in files of their own, which several models share; a project names them, and
// `Supplies` is what they held when they were read. Shapes by list name (parts::getListName); money in the person's own
// currency; days as "2026-11-25".
#pragma once

#include <array>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/model/notes.h"

namespace ivrant::model {

using base::BuildId;
using base::OrderId;

inline constexpr int kMostPieces = 1'000'000; ///< of one shape and colour, in a drawer, an offer or an order

/// Parts of one shape and colour in one drawer.
struct StockLine {
    std::string shape; ///< as it stands in the file when nothing is known of that name
    int colour = -1;   ///< −1: a name that the palette does not have
    int count = 0;
    std::string drawer, keptFor;     ///< kept for the model of that name; empty: for any
    std::string colourText{};        ///< as it stands in the file, when unknown
    std::vector<std::string> more{}; ///< cells of columns that mean nothing here, kept for writing
    bool isKnown = true;             ///< shape and colour are; else it counts as nothing
    bool operator==(const StockLine&) const = default;
};
/// What is wrong with a row of a table; the row is left out of what is counted, and of nothing else.
struct TableProblem {
    int row = 0; ///< from 1, the heading being row 1; 0: the whole file
    std::string column, text;
    bool operator==(const TableProblem&) const = default;
};
struct Stock {
    std::string file; ///< as the project names it: relative to the project's own file
    std::vector<StockLine> lines;
    std::vector<std::string> moreHeads; ///< of StockLine::more
    std::vector<TableProblem> problems;
    bool isWhole = true; ///< every row is among the lines: it can be written without losing any
};
using StockPtr = std::shared_ptr<const Stock>;

/// Shipping from that value of goods on.
struct ShippingStep {
    double fromValue = 0, cost = 0;
    bool operator==(const ShippingStep&) const = default;
};
struct Seller {
    std::string name;
    int days = 0; ///< from order to arrival
    double leastOrder = 0;
    std::vector<ShippingStep> shipping; ///< by rising value, the first from 0; empty: for nothing
};
struct Offer {
    int seller = 0; ///< index in the list
    std::string shape;
    int colour = 0;
    double price = 0; ///< of one piece
    int count = 0;    ///< pieces that there are
    int pack = 1;     ///< sold in packs of so many pieces
};
struct PriceList {
    std::string file;
    std::vector<Seller> sellers;
    std::vector<Offer> offers;
    std::vector<TableProblem> problems;
};
using PriceListPtr = std::shared_ptr<const PriceList>;

struct Supplies {
    std::string folder; ///< from which the files are named
    std::vector<StockPtr> stocks;
    std::vector<PriceListPtr> prices;
};

/// What was ordered from one seller.
struct OrderLine {
    std::string shape;
    int colour = 0;
    int count = 0, arrived = 0; ///< pieces; arrived ≤ count
    double price = 0;           ///< of one
    int stored = 0;             ///< of those that arrived: counted in the drawers by now; ≤ arrived
};
struct Order {
    OrderId id;
    std::string seller, placedOn, dueOn; ///< days; dueOn: when it should arrive
    double shipping = 0;
    std::vector<OrderLine> lines;
    ExtraPtr extra;
};
/// Goods and shipping.
[[nodiscard]] double calcCost(const Order& order);

/// By when, and with which hours?
struct Schedule {
    std::string dueOn;                                ///< the day it must stand there; empty: nothing is planned
    std::array<double, 7> hours{0, 0, 0, 0, 0, 0, 0}; ///< free for building on Monday to Sunday, 0 to 24
    struct Other {
        std::string day;
        double hours = 0;
        bool operator==(const Other&) const = default;
    };
    std::vector<Other> others; ///< days with other hours than their weekday: 0 is a day off
    int travelDays = 0, testDays = 0;
    double packHours = 0;
    int builders = 1;
    bool operator==(const Schedule&) const = default;
    [[nodiscard]] bool isEmpty() const { return *this == Schedule{}; }
};

/// How it travels, and for how long it is shown.
struct Packing {
    std::array<double, 3> boxMm{400, 300, 300}; ///< inside of the largest box: along, across, high; 50 to 3000
    double mostKg = 10;                         ///< that a box may weigh, 0.1 to 100
    double foamMm = 20;                         ///< round each piece, 0 to 100
    double showHours = 8;                       ///< of one day at the show, 0 to 24
    double running = 1;                         ///< share of them that its motors run, 0 to 1
    bool operator==(const Packing&) const = default;
};

/// What the builder adds to the step that a part goes in at, whatever its number is: words for the sheet, and from
/// where it is looked at.
struct StepNote {
    PartId part;
    std::string text;
    std::optional<std::array<double, 2>> viewDeg{}; ///< about the vertical and above the horizon, ±360; none: chosen
    bool operator==(const StepNote&) const = default;
};

/// Somebody sat down and built.
struct BuildSession {
    BuildId id;
    std::string date;
    double minutes = 0;
    int firstStep = 1, lastStep = 1; ///< steps done, numbered through the model (make::Step::number)
    int parts = 0;                   ///< that were put on in them
    std::string who, note;
    ExtraPtr extra;
};

struct Making {
    std::vector<std::string> stockFiles, priceFiles; ///< relative to the project's own file
    std::map<std::string, std::string> columns; ///< of those tables, by our names: the headings that stand for them
    std::vector<Order> orders;
    Schedule schedule;
    Packing packing;
    std::vector<BuildSession> builds;
    std::vector<StepNote> notes; ///< one for a part at most; of parts that are gone they are kept
    ExtraPtr extra;
};

/// Whether seller, counts, days and hours are what they can be. `place`: "/making" …
[[nodiscard]] base::Status checkMaking(const Making& making);

} // namespace ivrant::model
