// SPDX-License-Identifier: GPL-3.0-or-later
// What every table can do: sort, filter, copy as text, export as CSV.
#pragma once

#include <QTableWidget>
#include <optional>
#include <vector>

namespace ivrant::app {

struct TableCell {
    QString text;
    std::optional<double> sortBy; ///< numbers sort as numbers
};
using TableRow = std::vector<TableCell>;

/// Fixed decimals with trailing zeros dropped.
[[nodiscard]] QString numberText(double value, int decimals);
[[nodiscard]] TableCell numberCell(double value, int decimals);
[[nodiscard]] TableCell marginCell(const std::optional<double>& margin);

inline constexpr int kTableRow = 26; ///< height of a row with text of the usual size
/// Sorting by a click on a column head, Ctrl+C copies, the menu copies, filters and exports under `name`.
void setUpTable(QTableWidget* table, const QString& name);
/// What a row is about, as its filler knows it: a number or a text. In its first cell, wherever sorting puts the row.
inline constexpr int kRowIdRole = Qt::UserRole + 16;
/// Fills the table, keeping sort order and filter, and with `ids`, one for each row, the chosen row.
void fillTable(QTableWidget* table, const QStringList& heads, const std::vector<TableRow>& rows,
               const std::vector<QVariant>& ids = {});
/// Of a row as shown; invalid when there is none.
[[nodiscard]] QVariant rowId(const QTableWidget* table, int row);
/// Of the chosen row; invalid when none is.
[[nodiscard]] QVariant chosenRowId(const QTableWidget* table);
/// The row as shown that has this id; −1: none.
[[nodiscard]] int findRow(const QTableWidget* table, const QVariant& id);
/// Rows as text divided by tabs, or as CSV.
[[nodiscard]] QString tableText(const QTableWidget* table, bool csv);
void filterTable(QTableWidget* table, const QString& words);
void copyText(const QString& text);

} // namespace ivrant::app
