// SPDX-License-Identifier: GPL-3.0-or-later
// Options: what there is to choose, and which combinations pass.
#pragma once

#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QTreeWidget>

#include "app/shell/live.h"
#include "app/shell/station_tab.h"
#include "app/stations/make/option_rules.h"
#include "core/verdict/make/option_matrix.h"

namespace ivrant::app {

class OptionsTab : public StationTab {
    Q_OBJECT
public:
    OptionsTab(Session& session, QWidget* parent);
    /// What is selected becomes the first alternative of a new option, sections that are selected whole and hang on a
    /// joint as sections; it is named in place.
    void addOption();
    /// A further alternative of the option that is marked, empty and chosen.
    void addAlternative();
    /// The alternative that is marked stands in the model from now on.
    void choose();
    /// What is selected belongs to the chosen alternative of the option that is marked.
    void assign();
    void remove();
    /// Looks at all combinations in the background.
    void check();

signals:
    void checked();

protected:
    void refresh() override;

private:
    void fillTree();
    void showMatrix();
    void showDetails();
    void takeDetails();
    void takeRow();
    /// Which option is marked, and which alternative of it (−1: the option itself); −1, −1: nothing.
    [[nodiscard]] model::AlternativeSpot marked() const;

    QLabel* m_about;
    QTreeWidget* m_tree;
    QLineEdit *m_name, *m_text;
    QDoubleSpinBox* m_price;
    OptionRules* m_rules;
    QPushButton *m_check, *m_takeRow;
    QLabel* m_told;
    QTableWidget* m_matrix;
    Live<verdict::OptionMatrix> m_live;
    std::optional<verdict::OptionMatrix> m_found;
    bool m_filling = false;
};

} // namespace ivrant::app
