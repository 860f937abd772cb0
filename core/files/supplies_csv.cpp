// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/supplies_csv.h"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <unordered_map>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/atomic_file.h"
#include "core/files/csv_rows.h"
#include "core/files/parts_csv.h"
#include "core/parts/family.h"
#include "core/parts/own_shape.h"
#include "core/parts/palette.h"

namespace ivrant::files {
namespace {

constexpr std::size_t kMostTableBytes = 512u << 20, kMostProblemsKept = 1000;
constexpr double kMostPrice = 1e6;

using Heads = std::vector<std::string>;

const std::map<std::string, std::vector<std::string>>& getUnderstood() {
    static const std::map<std::string, std::vector<std::string>> kNames{
        {"shape", {"shape", "part", "form", "item"}},
        {"colour", {"colour", "color"}},
        {"count", {"count", "pieces", "quantity", "how many", "number", "have"}},
        {"drawer", {"drawer", "box", "tray", "where", "place"}},
        {"kept for", {"kept for", "reserved for", "reserved"}},
        {"seller", {"seller", "shop", "from"}},
        {"price", {"price", "each", "price each"}},
        {"pack", {"pack", "pack size", "pack of"}},
        {"days", {"days", "delivery days"}},
        {"least order", {"least order", "minimum order", "minimum"}},
        {"shipping", {"shipping", "postage"}},
    };
    return kNames;
}

/// Shapes and colours by the text that stands for them, each looked up once.
class Names {
public:
    /// List name, or empty.
    const std::string& findShape(const std::string& text) {
        const auto [found, isNew] = m_shapes.try_emplace(text);
        if (isNew) {
            if (parts::isOwnName(text))
                found->second = text;
            else if (const auto shape = parts::makeShape(text))
                found->second = parts::getListName(**shape);
        }
        return found->second;
    }
    int findColour(const std::string& text) {
        const auto [found, isNew] = m_colours.try_emplace(text, -1);
        if (isNew) found->second = parts::findColour(text);
        return found->second;
    }

private:
    std::unordered_map<std::string, std::string> m_shapes;
    std::unordered_map<std::string, int> m_colours;
};

/// One row of a table by the names of its columns.
class Row {
public:
    Row(const std::map<std::string, int>& columns, const std::vector<std::string>& cells, int number,
        std::vector<model::TableProblem>& problems)
        : m_columns(columns), m_cells(cells), m_number(number), m_problems(problems) {}

    [[nodiscard]] std::string text(const char* column) const {
        const auto found = m_columns.find(column);
        if (found == m_columns.end() || found->second >= static_cast<int>(m_cells.size())) return "";
        return at(m_cells, found->second);
    }
    void tell(const char* column, const std::string& what) {
        m_good = false;
        if (m_problems.size() < kMostProblemsKept) m_problems.push_back({m_number, column, what});
    }
    int whole(const char* column, int low, int high, int usual, bool needed = false) {
        const std::string cell = text(column);
        if (cell.empty() && !needed) return usual;
        const auto value = base::parseNumber(cell);
        if (!value || *value != std::floor(*value)) {
            tell(column, cell.empty() ? "a whole number is expected, nothing stands there"
                                      : "a whole number is expected, found '" + cell + "'");
            return usual;
        }
        if (*value < low || *value > high) {
            tell(column, "a whole number from " + std::to_string(low) + " to " + std::to_string(high) +
                             " is expected, found " + cell);
            return usual;
        }
        return static_cast<int>(*value);
    }
    /// Money above `above`.
    double money(const char* column, bool needed, bool mayBeZero) {
        const std::string cell = text(column);
        if (cell.empty() && !needed) return 0;
        const auto value = base::parseNumber(cell);
        if (!value)
            tell(column, cell.empty() ? "a price is expected, nothing stands there" : value.error().message);
        else if (*value < 0 || *value > kMostPrice || (*value == 0 && !mayBeZero))
            tell(column, "a price above 0 and up to 1000000 is expected, found " + cell);
        return value ? *value : 0;
    }
    [[nodiscard]] bool isGood() const { return m_good; }

private:
    const std::map<std::string, int>& m_columns;
    const std::vector<std::string>& m_cells;
    int m_number;
    std::vector<model::TableProblem>& m_problems;
    bool m_good = true;
};

base::Result<std::map<std::string, int>> matchColumns(const Heads& heads, const std::vector<std::string>& wanted,
                                                      const std::vector<std::string>& needed,
                                                      const ColumnNames& names) {
    std::map<std::string, int> columns;
    for (const std::string& column : wanted) {
        const auto given = names.find(column);
        int c = given != names.end() ? findColumn(heads, {given->second}) : -1;
        if (c < 0) c = findColumn(heads, getUnderstood().at(column)); // another table than the names were given for
        if (c >= 0) columns[column] = c;
    }
    for (const std::string& column : needed) {
        if (columns.count(column) > 0) continue;
        std::string there;
        for (const std::string& head : heads) there += (there.empty() ? "" : ", ") + ("'" + head + "'");
        std::string what = "no column '";
        what.append(column).append("'; the headings are ").append(there);
        return base::Error{"csv.column", what, "line 1"};
    }
    return columns;
}

/// "0: 4.50, 30: 2.50"; with decimal commas "0: 4,50; 30: 2,50"; a number alone holds from 0 on.
base::Result<std::vector<model::ShippingStep>> parseShipping(const std::string& text) {
    std::vector<model::ShippingStep> steps;
    const char divider = text.find(';') != std::string::npos ? ';' : ',';
    for (std::size_t start = 0; start < text.size();) {
        const auto end = std::min(text.find(divider, start), text.size());
        const std::string part = text.substr(start, end - start);
        start = end + 1;
        const auto colon = part.find(':');
        const auto from = base::parseNumber(colon == std::string::npos ? "0" : part.substr(0, colon));
        const auto cost = base::parseNumber(colon == std::string::npos ? part : part.substr(colon + 1));
        if (!from || !cost || *from < 0 || *cost < 0 || *from > kMostPrice || *cost > kMostPrice)
            return base::Error{"csv.shipping", "'" + part + "' is no shipping: expected such as 0: 4.50, 30: 2.50", ""};
        steps.push_back({*from, *cost});
    }
    std::sort(steps.begin(), steps.end(), [](const auto& l, const auto& r) { return l.fromValue < r.fromValue; });
    for (std::size_t i = 1; i < steps.size(); ++i)
        if (steps[i].fromValue == steps[i - 1].fromValue)
            return base::Error{"csv.shipping",
                               "shipping from " + base::formatNumber(steps[i].fromValue, 2) + " is named twice", ""};
    if (!steps.empty() && steps.front().fromValue > 0) steps.insert(steps.begin(), {0, steps.front().cost});
    return steps;
}

/// What holds for a whole seller; rows that contradict an earlier one are told.
class SellerTerms {
public:
    explicit SellerTerms(model::PriceList& list) : m_list(list) {}
    int take(Row& row) {
        const std::string name = row.text("seller");
        if (name.empty()) {
            row.tell("seller", "the name of a seller is expected, nothing stands there");
            return 0;
        }
        const auto [found, isNew] = m_sellers.try_emplace(name, static_cast<int>(m_list.sellers.size()));
        if (isNew) {
            m_list.sellers.push_back({name, 0, 0, {}});
            m_texts.emplace_back();
        }
        const int index = found->second;
        model::Seller& seller = at(m_list.sellers, index);
        if (isNews(row, index, "days")) seller.days = row.whole("days", 0, 3650, 0);
        if (isNews(row, index, "least order")) seller.leastOrder = row.money("least order", false, true);
        if (isNews(row, index, "shipping")) {
            auto steps = parseShipping(row.text("shipping"));
            if (steps)
                seller.shipping = *steps;
            else
                row.tell("shipping", steps.error().message);
        }
        return index;
    }

private:
    /// The first row of the seller that says something there; one that says something else is told.
    bool isNews(Row& row, int seller, const char* column) {
        const std::string text = row.text(column);
        std::string& before = at(m_texts, seller)[column];
        if (text.empty() || text == before) return false;
        if (before.empty()) {
            before = text;
            return true;
        }
        row.tell(column,
                 "'" + text + "' contradicts '" + before + "' of an earlier row of " + at(m_list.sellers, seller).name);
        return false;
    }

    model::PriceList& m_list;
    std::map<std::string, int> m_sellers;
    std::vector<std::map<std::string, std::string>> m_texts; ///< by seller
};

template <class Table, class Take>
base::Status readTable(std::string_view text, const std::vector<std::string>& wanted,
                       const std::vector<std::string>& needed, const ColumnNames& names, Table& table, Take take) {
    std::map<std::string, int> columns;
    Heads heads;
    base::Status failed;
    auto read = forEachRow(text, [&](const std::vector<std::string>& cells, int number) {
        if (heads.empty()) {
            heads = cells;
            auto matched = matchColumns(heads, wanted, needed, names);
            if (matched)
                columns = *matched;
            else
                failed = matched.error();
            return failed.ok();
        }
        Row row(columns, cells, number, table.problems);
        take(row, heads, cells, columns);
        return true;
    });
    if (!read) return read;
    if (!failed) return failed;
    if (heads.empty()) return base::Error{"csv.column", "the table is empty: a heading is expected", "line 1"};
    return {};
}

} // namespace

base::Result<model::Stock> parseStock(std::string_view text, const ColumnNames& names) {
    model::Stock stock;
    Names known;
    const auto done =
        readTable(text, {"shape", "colour", "count", "drawer", "kept for"}, {"shape", "colour", "count"}, names, stock,
                  [&](Row& row, const Heads& heads, const std::vector<std::string>& cells,
                      const std::map<std::string, int>& columns) {
                      std::vector<bool> taken(heads.size(), false);
                      for (const auto& [column, c] : columns) taken[static_cast<std::size_t>(c)] = true;
                      if (stock.moreHeads.empty())
                          for (std::size_t c = 0; c < heads.size(); ++c)
                              if (!taken[c]) stock.moreHeads.push_back(heads[c]);
                      model::StockLine line;
                      line.count = row.whole("count", 0, model::kMostPieces, 0, true);
                      line.shape = row.text("shape");
                      if (line.shape.empty()) row.tell("shape", "a shape is expected, nothing stands there");
                      if (!row.isGood()) {
                          stock.isWhole = false;
                          return;
                      }
                      line.colourText = row.text("colour");
                      line.colour = known.findColour(line.colourText);
                      if (line.colour >= 0)
                          line.colourText.clear();
                      else
                          row.tell("colour", "there is no colour called '" + line.colourText + "'");
                      if (const std::string& shape = known.findShape(line.shape); !shape.empty())
                          line.shape = shape;
                      else
                          row.tell("shape", "there is no shape called '" + line.shape + "'");
                      line.drawer = row.text("drawer");
                      line.keptFor = row.text("kept for");
                      for (std::size_t c = 0; c < heads.size(); ++c)
                          if (!taken[c]) line.more.push_back(c < cells.size() ? cells[c] : "");
                      line.isKnown = row.isGood();
                      stock.lines.push_back(std::move(line));
                  });
    if (!done) return done.error();
    return stock;
}

base::Result<model::PriceList> parsePriceList(std::string_view text, const ColumnNames& names) {
    model::PriceList list;
    Names known;
    SellerTerms terms(list);
    const auto done =
        readTable(text, {"seller", "shape", "colour", "price", "count", "pack", "days", "least order", "shipping"},
                  {"seller", "shape", "colour", "price"}, names, list,
                  [&](Row& row, const Heads&, const std::vector<std::string>&, const std::map<std::string, int>&) {
                      model::Offer offer;
                      offer.seller = terms.take(row);
                      offer.shape = known.findShape(row.text("shape"));
                      if (offer.shape.empty())
                          row.tell("shape", "there is no shape called '" + row.text("shape") + "'");
                      offer.colour = known.findColour(row.text("colour"));
                      if (offer.colour < 0)
                          row.tell("colour", "there is no colour called '" + row.text("colour") + "'");
                      offer.price = row.money("price", true, false);
                      offer.count = row.whole("count", 0, model::kMostPieces, model::kMostPieces);
                      offer.pack = row.whole("pack", 1, model::kMostPieces, 1);
                      if (row.isGood()) list.offers.push_back(std::move(offer));
                  });
    if (!done) return done.error();
    return list;
}

std::vector<std::string> listHeadings(std::string_view text) {
    Heads heads;
    static_cast<void>(forEachRow(text, [&](const std::vector<std::string>& cells, int) {
        heads = cells;
        return false;
    }));
    return heads;
}

base::Result<std::string> writeStock(const model::Stock& stock) {
    if (!stock.isWhole)
        return base::Error{"stock.problems",
                           "the table has rows that cannot be read, and would be lost: mend them in it first",
                           stock.file};
    std::string csv = "shape,colour,count,drawer,kept for";
    for (const std::string& head : stock.moreHeads) csv += "," + csvField(head);
    csv += "\r\n";
    for (const model::StockLine& line : stock.lines) {
        csv += csvField(line.shape) + "," +
               csvField(line.colour >= 0 ? parts::getColourName(line.colour) : line.colourText) + "," +
               std::to_string(line.count) + "," + csvField(line.drawer) + "," + csvField(line.keptFor);
        for (std::size_t c = 0; c < stock.moreHeads.size(); ++c)
            csv += "," + (c < line.more.size() ? csvField(line.more[c]) : "");
        csv += "\r\n";
    }
    return csv;
}

std::string getSupplyPath(const std::string& folder, const std::string& file) {
    const std::filesystem::path path(file);
    return (path.is_absolute() ? path : std::filesystem::path(folder) / path).string();
}

model::Making moveTables(model::Making making, const std::string& fromFolder, const std::string& toFolder) {
    namespace fs = std::filesystem;
    const auto rename = [&](std::string& name) {
        std::error_code failed;
        const fs::path path = fs::absolute(getSupplyPath(fromFolder, name), failed).lexically_normal();
        if (failed || !fs::exists(path, failed)) return;
        const fs::path from = fs::absolute(toFolder.empty() ? "." : toFolder, failed).lexically_normal();
        name = (toFolder.empty() ? path : path.lexically_relative(from)).string();
    };
    for (std::string& name : making.stockFiles) rename(name);
    for (std::string& name : making.priceFiles) rename(name);
    return making;
}

std::shared_ptr<const model::Supplies> loadSupplies(const model::Making& making, const std::string& folder) {
    auto supplies = std::make_shared<model::Supplies>();
    supplies->folder = folder;
    const auto load = [&](const std::string& file, auto parse, auto empty, auto& into) {
        auto table = std::make_shared<decltype(empty)>();
        const auto text = readFile(getSupplyPath(folder, file), kMostTableBytes);
        if (!text) {
            table->problems.push_back({0, "", text.error().message});
        } else if (auto read = parse(*text)) {
            *table = std::move(read).value();
        } else {
            table->problems.push_back({0, "", read.error().message});
        }
        if constexpr (requires { table->isWhole; }) // what cannot be read is not written over
            if (!table->problems.empty() && table->problems.front().row == 0) table->isWhole = false;
        table->file = file;
        into.push_back(std::move(table));
    };
    for (const std::string& file : making.stockFiles)
        load(
            file, [&](std::string_view text) { return parseStock(text, making.columns); }, model::Stock{},
            supplies->stocks);
    for (const std::string& file : making.priceFiles)
        load(
            file, [&](std::string_view text) { return parsePriceList(text, making.columns); }, model::PriceList{},
            supplies->prices);
    return supplies;
}

} // namespace ivrant::files
