// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/table_tools.h"

#include <QAction>
#include <QApplication>
#include <QClipboard>
#include <QFileDialog>
#include <QHeaderView>
#include <QInputDialog>
#include <QMessageBox>

#include "app/shell/notice_bar.h"
#include "app/shell/theme.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/atomic_file.h"
#include "core/files/parts_csv.h"

namespace ivrant::app {
namespace {

constexpr int kMeasuredRows = 30; ///< that the width of a column goes by; measuring text costs more than filling it in

class SortItem : public QTableWidgetItem {
public:
    using QTableWidgetItem::QTableWidgetItem;
    bool operator<(const QTableWidgetItem& other) const override {
        const QVariant a = data(Qt::UserRole), b = other.data(Qt::UserRole);
        return a.isValid() && b.isValid() ? a.toDouble() < b.toDouble() : text() < other.text();
    }
};

QString cellText(const QTableWidget* table, int row, int column) {
    const auto* item = table->item(row, column);
    return item ? item->text() : QString();
}

QString headText(const QTableWidget* table, int column) {
    const auto* item = table->horizontalHeaderItem(column);
    return item ? item->text() : QString();
}

/// Failures are told by the window that the table stands in.
void warnWindow(QWidget* widget, const QString& text) {
    if (auto* bar = widget->window()->findChild<NoticeBar*>())
        bar->show(text, false);
    else
        QMessageBox::warning(widget, "Ivrant", text); // a table in a dialog
}

} // namespace

QString numberText(double value, int decimals) { return QString::fromStdString(base::formatNumber(value, decimals)); }
TableCell numberCell(double value, int decimals) { return {numberText(value, decimals), value}; }
TableCell marginCell(const std::optional<double>& margin) {
    return margin ? TableCell{QString::fromStdString(base::formatMargin(*margin)), *margin} : TableCell{"-", 1e9};
}

void copyText(const QString& text) { QApplication::clipboard()->setText(text); }

QString tableText(const QTableWidget* table, bool csv) {
    QString out;
    const auto put = [&](QString text, bool last) {
        if (csv) text = QString::fromStdString(files::csvField(text.toStdString()));
        out += text + (last ? (csv ? "\r\n" : "\n") : (csv ? "," : "\t"));
    };
    const int columns = table->columnCount();
    for (int c = 0; c < columns; ++c) put(headText(table, c), c + 1 == columns);
    for (int r = 0; r < table->rowCount(); ++r)
        for (int c = 0; c < columns && !table->isRowHidden(r); ++c) put(cellText(table, r, c), c + 1 == columns);
    return out;
}

void filterTable(QTableWidget* table, const QString& words) {
    table->setProperty("filter", words);
    for (int r = 0; r < table->rowCount(); ++r) {
        bool hit = words.isEmpty();
        for (int c = 0; c < table->columnCount() && !hit; ++c)
            hit = cellText(table, r, c).contains(words, Qt::CaseInsensitive);
        table->setRowHidden(r, !hit);
    }
}

void setUpTable(QTableWidget* table, const QString& name) {
    table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table->setSelectionBehavior(QAbstractItemView::SelectRows);
    table->verticalHeader()->hide();
    table->horizontalHeader()->setResizeContentsPrecision(kMeasuredRows);
    table->verticalHeader()->setDefaultSectionSize(scaled(kTableRow));
    table->setShowGrid(false);
    table->setTabKeyNavigation(false); // Tab leads on to the next control, arrows stay within
    table->setAlternatingRowColors(true);
    table->setContextMenuPolicy(Qt::ActionsContextMenu);
    auto* copy = new QAction("Copy as text", table);
    copy->setShortcut(QKeySequence::Copy);
    copy->setShortcutContext(Qt::WidgetShortcut);
    QObject::connect(copy, &QAction::triggered, table, [table] { copyText(tableText(table, false)); });
    auto* filter = new QAction("Filter …", table);
    filter->setShortcut(QKeySequence("Ctrl+F"));
    filter->setShortcutContext(Qt::WidgetShortcut);
    QObject::connect(filter, &QAction::triggered, table, [table] {
        bool ok = false;
        const QString words = QInputDialog::getText(table, "Filter", "Show rows with", QLineEdit::Normal,
                                                    table->property("filter").toString(), &ok);
        if (ok) filterTable(table, words);
    });
    auto* save = new QAction("Export CSV …", table);
    QObject::connect(save, &QAction::triggered, table, [table, name] {
        const QString path = QFileDialog::getSaveFileName(table, "Export CSV", name + ".csv", "CSV (*.csv)");
        if (path.isEmpty()) return;
        if (const auto saved = files::writeFileAtomically(path.toStdString(), tableText(table, true).toStdString());
            !saved)
            warnWindow(table, QString::fromStdString("Not exported: " + saved.error().message));
    });
    table->addActions({copy, filter, save});
}

QVariant rowId(const QTableWidget* table, int row) {
    const auto* item = table->item(row, 0);
    return item ? item->data(kRowIdRole) : QVariant();
}

QVariant chosenRowId(const QTableWidget* table) {
    const auto rows = table->selectionModel()->selectedRows();
    return rows.isEmpty() ? QVariant() : rowId(table, rows.front().row());
}

int findRow(const QTableWidget* table, const QVariant& id) {
    for (int row = 0; id.isValid() && row < table->rowCount(); ++row)
        if (rowId(table, row) == id) return row;
    return -1;
}

void fillTable(QTableWidget* table, const QStringList& heads, const std::vector<TableRow>& rows,
               const std::vector<QVariant>& ids) {
    const QVariant chosen = ids.empty() ? QVariant() : chosenRowId(table);
    table->setSortingEnabled(false);
    table->setColumnCount(static_cast<int>(heads.size()));
    table->setHorizontalHeaderLabels(heads);
    for (int c = 0; c < table->columnCount(); ++c) table->horizontalHeaderItem(c)->setToolTip(heads[c]);
    table->setRowCount(static_cast<int>(rows.size()));
    for (int r = 0; r < table->rowCount(); ++r)
        for (int c = 0; c < table->columnCount(); ++c) {
            const TableCell& cell = at(at(rows, r), c);
            auto* item = new SortItem(cell.text);
            item->setToolTip(cell.text); // where the column has no room for all of it
            if (cell.sortBy) {
                item->setData(Qt::UserRole, *cell.sortBy);
                item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            }
            if (c == 0 && !ids.empty()) item->setData(kRowIdRole, ids.at(static_cast<std::size_t>(r)));
            table->setItem(r, c, item);
        }
    if (!table->property("sorted").toBool()) { // the given order stands until a head is clicked
        table->horizontalHeader()->setSortIndicator(-1, Qt::AscendingOrder);
        table->setProperty("sorted", true);
    }
    table->setSortingEnabled(true);
    table->resizeColumnsToContents();
    filterTable(table, table->property("filter").toString());
    if (const int row = findRow(table, chosen); row >= 0) table->selectRow(row);
}

} // namespace ivrant::app
