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

/// Sorting by a click on a column head, Ctrl+C copies, the menu copies, filters and exports under `name`.
void setUpTable(QTableWidget* table, const QString& name);
/// Fills the table, keeping sort order and filter.
void fillTable(QTableWidget* table, const QStringList& heads, const std::vector<TableRow>& rows);
/// Rows as text divided by tabs, or as CSV.
[[nodiscard]] QString tableText(const QTableWidget* table, bool csv);
void filterTable(QTableWidget* table, const QString& words);
void copyText(const QString& text);

} // namespace ivrant::app
