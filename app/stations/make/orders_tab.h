// SPDX-License-Identifier: GPL-3.0-or-later
// Orders: the cheapest way to buy what is missing, what was ordered, and what of it has arrived.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>

#include "app/shell/live.h"
#include "app/shell/station_tab.h"
#include "core/make/basket.h"

namespace ivrant::app {

class OrdersTab : public StationTab {
    Q_OBJECT
public:
    OrdersTab(Session& session, QWidget* parent);
    /// Looks for the best basket in the background.
    void findBasket();
    /// The basket found is written down as orders of today.
    void placeOrders();
    /// The chosen lines have arrived, or not yet.
    void setArrived(bool arrived);
    /// What has arrived of the chosen lines lies in the drawers from now on; of all lines when none is chosen.
    void putAway();
    void removeOrders();
    void writeOrder(const QString& path);

signals:
    void basketFound();

protected:
    void refresh() override;

private:
    struct Found {
        make::BasketRequest request;
        base::Result<make::Basket> basket;
    };
    void showBasket();
    void fillOrders();
    [[nodiscard]] std::vector<std::pair<model::OrderId, int>> chosenLines() const;

    QComboBox* m_goal;
    QSpinBox* m_days;
    QCheckBox *m_inTime, *m_standIns;
    QPushButton *m_find, *m_place;
    QLabel* m_told;
    QTableWidget *m_basket, *m_orders;
    QLabel* m_ordered;
    Live<Found> m_live;
    std::optional<Found> m_found;
};

} // namespace ivrant::app
