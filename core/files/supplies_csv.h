// SPDX-License-Identifier: GPL-3.0-or-later
// How are stocks and price lists read from, and stocks written to, tables (CSV)?
//
// Stock: columns shape, colour, count; drawer and "kept for" when there are any; all others are kept. Price list:
// seller, shape, colour, price, count (pieces there are), pack, days, "least order", shipping ("0: 4.50, 30: 2.50":
// from that value of goods on); what holds for a seller needs to stand in one of its rows. Docs: docs/file-format.md.
#pragma once

#include <map>

#include "core/base/result.h"
#include "core/model/project.h"

namespace ivrant::files {

/// Which heading stands for which column ("count" → "on the shelf"), where it is not one of those that are understood.
using ColumnNames = std::map<std::string, std::string>;

/// Rows that cannot be read are told in `problems` with row and column, and left out of `lines`. Error "csv.column"
/// when a column that is needed has no heading (it names those there are), and those of forEachRow. O(text).
base::Result<model::Stock> parseStock(std::string_view text, const ColumnNames& names = {});
base::Result<model::PriceList> parsePriceList(std::string_view text, const ColumnNames& names = {});
/// The headings of a table, for a person to match.
[[nodiscard]] std::vector<std::string> listHeadings(std::string_view text);

/// Error "stock.problems" when the file has rows that could not be read: writing would lose them.
base::Result<std::string> writeStock(const model::Stock& stock);

/// Reads the files that a project names, relative to `folder`. What cannot be read at all is a stock or list without
/// lines, with its problem in row 0.
[[nodiscard]] std::shared_ptr<const model::Supplies> loadSupplies(const model::Making& making,
                                                                  const std::string& folder);
/// The names of a project's tables as seen from another folder (empty: their whole path); those that lie nowhere stay
/// as they are.
[[nodiscard]] model::Making moveTables(model::Making making, const std::string& fromFolder,
                                       const std::string& toFolder);
/// Where a named file lies.
[[nodiscard]] std::string getSupplyPath(const std::string& folder, const std::string& file);

} // namespace ivrant::files
