// SPDX-License-Identifier: GPL-3.0-or-later
// Stock: what each step leaves of what lies in the drawers, and where something runs out.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>

#include "app/charts/tide_chart.h"
#include "app/shell/station_tab.h"
#include "core/files/supplies_csv.h"

class QHBoxLayout;

namespace ivrant::app {

class StockTab : public StationTab {
    Q_OBJECT
public:
    StockTab(Session& session, QWidget* parent);
    /// A table of a stock, or of prices. False, with a message, when it cannot be read.
    bool addTable(const QString& path, bool prices);
    void removeTable(const QString& name);
    /// All parts of the model are kept for it in the drawers, or let go.
    void keep(bool on);
    void writePicks(const QString& path, bool byDrawers);
    /// Which heading stands for what, when a table's own say nothing; tests answer for the person.
    std::function<std::optional<files::ColumnNames>(QWidget*, const QString& file,
                                                    const std::vector<std::string>& headings, bool prices)>
        askColumns;

signals:
    void stepWanted(int step); ///< number

protected:
    void refresh() override;

private:
    void makeButtons(QHBoxLayout* bar);
    void fillTable_();
    void showChosen();
    void setCount();
    void askTables(bool prices);
    [[nodiscard]] int chosenLine() const;

    make::Tide m_tide;
    QLabel *m_head, *m_files;
    TideChart* m_chart;
    QTableWidget* m_table;
    QLabel* m_editName;
    QSpinBox* m_count;
    QLineEdit* m_drawer;
    QPushButton* m_set;
};

} // namespace ivrant::app
