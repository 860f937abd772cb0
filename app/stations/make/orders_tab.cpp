// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/make/orders_tab.h"

#include <QDate>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QSplitter>
#include <QVBoxLayout>
#include <map>
#include <set>

#include "app/shell/station.h"
#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/base/at.h"
#include "core/files/atomic_file.h"
#include "core/files/results_supply.h"
#include "core/parts/palette.h"

namespace ivrant::app {
namespace {

QString money(double value) { return QString::number(value, 'f', 2); }
TableCell moneyCell(double value) { return {money(value), value}; }

QString pieces(int count) { return QString::number(count) + (count == 1 ? " piece" : " pieces"); }

/// "3 short", "cheapest proven", "at most 2 % could be saved".
QString describeProof(const make::Basket& basket) {
    if (basket.proven) return "the best there is";
    return "the best found in time; at most " + number(100 * basket.gap(), 1) + " % could be saved";
}

} // namespace

OrdersTab::OrdersTab(Session& session, QWidget* parent)
    : StationTab(session, parent), m_goal(new QComboBox(this)), m_days(new QSpinBox(this)),
      m_inTime(new QCheckBox("arrives within", this)), m_standIns(new QCheckBox("with stand-ins", this)),
      m_find(new QPushButton("Find", this)), m_place(new QPushButton("Write down as ordered today", this)),
      m_told(new QLabel(this)), m_basket(new QTableWidget(this)), m_orders(new QTableWidget(this)),
      m_ordered(new QLabel(this)), m_live(session.jobs()) {
    m_goal->setObjectName("basketGoal");
    m_goal->setAccessibleName("What matters most");
    m_goal->addItems({"least money", "fewest sellers", "soonest"});
    m_days->setObjectName("basketDays");
    m_days->setAccessibleName("Days until it arrives");
    m_days->setRange(0, 365);
    m_days->setValue(7);
    m_days->setSuffix(" days");
    m_inTime->setObjectName("basketInTime");
    m_standIns->setObjectName("basketStandIns");
    m_standIns->setToolTip("Also what can stand in for a part, as far as the model passes all its checks with it");
    m_find->setObjectName("basketFind");
    m_find->setToolTip("Looks for the best way to buy what is missing (Ctrl+Return)");
    m_place->setObjectName("basketPlace");
    m_place->setToolTip("Only writes it down here: you send the orders yourself");
    m_told->setObjectName("basketTold");
    m_told->setWordWrap(true);
    m_basket->setObjectName("basketTable");
    m_basket->setAccessibleName("What to buy from whom");
    setUpTable(m_basket, "order");
    m_orders->setObjectName("orderTable");
    m_orders->setAccessibleName("What was ordered");
    m_orders->setSelectionMode(QAbstractItemView::ExtendedSelection);
    setUpTable(m_orders, "orders");
    m_ordered->setObjectName("orderTold");
    m_ordered->setWordWrap(true);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 8, 12, 4);
    auto* bar = new QHBoxLayout;
    bar->addWidget(m_goal);
    bar->addWidget(m_inTime);
    bar->addWidget(m_days);
    bar->addWidget(m_standIns);
    bar->addWidget(m_find);
    bar->addStretch(1);
    layout->addLayout(bar);
    layout->addWidget(m_told);
    auto* halves = new QSplitter(Qt::Vertical, this);
    auto* upper = new QWidget(this);
    auto* upperColumn = new QVBoxLayout(upper);
    upperColumn->setContentsMargins(0, 0, 0, 0);
    upperColumn->addWidget(m_basket, 1);
    auto* placeRow = new QHBoxLayout;
    placeRow->addStretch(1);
    placeRow->addWidget(m_place);
    upperColumn->addLayout(placeRow);
    auto* lower = new QWidget(this);
    auto* lowerColumn = new QVBoxLayout(lower);
    lowerColumn->setContentsMargins(0, 0, 0, 0);
    lowerColumn->addWidget(m_ordered);
    lowerColumn->addWidget(m_orders, 1);
    auto* row = new QHBoxLayout;
    row->addStretch(1);
    const auto button = [&](const QString& text, const QString& name, const QString& hint, auto slot) {
        auto* b = new QPushButton(text, this);
        b->setObjectName(name);
        b->setToolTip(hint);
        connect(b, &QPushButton::clicked, this, slot);
        row->addWidget(b);
    };
    button("Arrived", "orderArrived", "All pieces of the chosen lines are here (A)", [this] { setArrived(true); });
    button("Not yet", "orderNotYet", "The chosen lines are still on the way", [this] { setArrived(false); });
    button("Into the drawers", "orderPutAway", "What has arrived is put into the first stock, kept for this model",
           [this] { putAway(); });
    button("Remove", "orderRemove", "Takes the orders of the chosen lines off the list", [this] { removeOrders(); });
    button("Order as CSV …", "orderCsv", "The order of the chosen line, as sellers read it", [this] {
        const QString path = QFileDialog::getSaveFileName(this, "Order", "order.csv", "CSV (*.csv)");
        if (!path.isEmpty()) writeOrder(path);
    });
    lowerColumn->addLayout(row);
    halves->addWidget(upper);
    halves->addWidget(lower);
    halves->setStretchFactor(0, 3);
    halves->setStretchFactor(1, 2);
    layout->addWidget(halves, 1);
    connect(m_find, &QPushButton::clicked, this, &OrdersTab::findBasket);
    connect(m_place, &QPushButton::clicked, this, &OrdersTab::placeOrders);
    connect(m_days, &QSpinBox::valueChanged, this, [this] { m_inTime->setChecked(true); });
    addCommand(this, "Find the best order", QKeySequence("Ctrl+Return"), [this] { findBasket(); });
    addCommand(m_orders, "The chosen lines have arrived", QKeySequence("A"), [this] { setArrived(true); });
    connect(&session, &Session::projectChanged, this, [this] {
        m_live.cancel();
        m_found.reset(); // it was for another need
        outdate();
    });
}

void OrdersTab::refresh() {
    showBasket();
    fillOrders();
}

void OrdersTab::findBasket() {
    const auto snapshot = std::make_shared<const model::Project>(m_session.project());
    if (!snapshot->supplies || snapshot->supplies->prices.empty())
        return m_session.say("No price list is named: add one under Stock, Tables", true);
    const auto known = m_session.isReportCurrent() ? m_session.report() : nullptr;
    const auto goal = static_cast<make::BasketGoal>(m_goal->currentIndex());
    const auto days = m_inTime->isChecked() ? std::optional(m_days->value()) : std::nullopt;
    const bool standIns = m_standIns->isChecked();
    m_told->setText("Looking for the best order …");
    m_live.ask(
        "order",
        [snapshot, known, goal, days, standIns](base::Progress& progress) -> std::optional<Found> {
            std::optional<verdict::Report> own;
            if (standIns && !known) own = verdict::calcReport(snapshot, &progress);
            const verdict::Report* report = known ? known.get() : own ? &*own : nullptr;
            auto request = verdict::makeBasketRequest(*snapshot, standIns ? report : nullptr, &progress);
            if (progress.stopped()) return {};
            request.goal = goal;
            request.mostDays = days;
            auto basket = make::findBasket(request, &progress);
            return Found{std::move(request), std::move(basket)};
        },
        [this](Found found) {
            m_found = std::move(found);
            showBasket();
            emit basketFound();
        });
}

void OrdersTab::showBasket() {
    m_place->setEnabled(m_found && m_found->basket && !m_found->basket->sellers.empty());
    std::vector<TableRow> rows;
    if (!m_found) {
        const auto& supplies = m_session.project().supplies;
        const bool priced = supplies && !supplies->prices.empty();
        m_told->setText(priced ? "Find looks for the best way to buy what is missing, whole packs, shipping and least "
                                 "orders counted in."
                               : "Add price lists (CSV) under Stock, Tables: seller, shape, colour, price.");
    } else if (!m_found->basket) {
        m_told->setText(qs(m_found->basket.error().message));
    } else {
        const make::Basket& basket = *m_found->basket;
        double goods = 0, shipping = 0, fill = 0;
        for (const make::BasketSeller& from : basket.sellers) {
            goods += from.goods;
            shipping += from.shipping;
            fill += from.fill;
            const model::Seller& seller = at(m_found->request.sellers, from.seller);
            for (const make::BasketLine& line : from.lines) {
                const model::Offer& offer = at(m_found->request.offers, line.offer);
                rows.push_back({{qs(seller.name), {}},
                                {qs(offer.shape), {}},
                                {qs(parts::getColourName(offer.colour)), {}},
                                numberCell(line.pieces, 0),
                                moneyCell(offer.price),
                                moneyCell(offer.price * line.pieces),
                                numberCell(seller.days, 0)});
            }
            if (from.fill > 0)
                rows.push_back({{qs(seller.name), {}},
                                {"anything else, up to its least order or cheaper shipping", {}},
                                {"", {}},
                                {"", {}},
                                {"", {}},
                                moneyCell(from.fill),
                                numberCell(seller.days, 0)});
        }
        QStringList told;
        if (m_found->request.wishes.empty()) {
            told << "Nothing is missing.";
        } else if (basket.sellers.empty()) {
            told << "Nobody sells what is missing" + QString(m_found->request.mostDays ? " in time." : ".");
        } else {
            told << money(basket.cost) + " from " + QString::number(basket.sellers.size()) +
                        (basket.sellers.size() == 1 ? " seller" : " sellers") + ": goods " + money(goods) +
                        (fill > 0 ? ", filled up " + money(fill) : "") + ", shipping " + money(shipping) +
                        "; all there after " + QString::number(basket.days) + " days; " + describeProof(basket) + ".";
        }
        for (const make::Replaced& replaced : basket.replaced) {
            const make::Wish& wish = at(m_found->request.wishes, replaced.wish);
            const make::StandIn& other = at(wish.standIns, replaced.standIn);
            told << pieces(replaced.times * other.count) + " of " + qs(other.shape) + " " +
                        qs(parts::getColourName(other.colour)) + " stand in for " +
                        QString::number(replaced.times * other.of) + " " + qs(wish.shape) + ".";
        }
        QStringList missing;
        for (const make::Unmet& unmet : basket.unmet) {
            const make::Wish& wish = at(m_found->request.wishes, unmet.wish);
            missing << QString::number(unmet.missing) + " " + qs(wish.shape) + " " +
                           qs(parts::getColourName(wish.colour));
        }
        if (!missing.isEmpty() && !basket.sellers.empty()) told << "Nobody has: " + missing.join(", ") + ".";
        m_told->setText(told.join(" "));
    }
    fillTable(m_basket, {"Seller", "Part", "Colour", "Pieces", "Each", "Cost", "Days"}, rows);
}

void OrdersTab::placeOrders() {
    if (!m_found || !m_found->basket) return;
    const auto orders =
        make::makeOrders(m_found->request, *m_found->basket, QDate::currentDate().toString("yyyy-MM-dd").toStdString());
    m_session.apply("Write down what is ordered", [&](const model::Project& p) -> model::EditResult {
        model::EditResult next = p;
        for (const model::Order& order : orders)
            if (next) next = model::putOrder(*next, order);
        return next;
    });
}

void OrdersTab::fillOrders() {
    const auto& orders = m_session.project().making.orders;
    std::vector<TableRow> rows;
    std::vector<QVariant> ids;
    double cost = 0;
    int ordered = 0, arrived = 0;
    for (const model::Order& order : orders) {
        cost += model::calcCost(order);
        for (std::size_t i = 0; i < order.lines.size(); ++i) {
            const model::OrderLine& line = order.lines[i];
            ordered += line.count;
            arrived += line.arrived;
            rows.push_back({{qs(order.seller), {}},
                            {qs(line.shape), {}},
                            {qs(parts::getColourName(line.colour)), {}},
                            numberCell(line.count, 0),
                            numberCell(line.arrived, 0),
                            line.stored > 0 ? numberCell(line.stored, 0) : TableCell{"", 0.0},
                            moneyCell(line.price * line.count),
                            {qs(order.placedOn), {}},
                            {qs(order.dueOn), {}}});
            ids.emplace_back(qs(order.id.text) + "/" + QString::number(i));
        }
    }
    fillTable(m_orders, {"Seller", "Part", "Colour", "Ordered", "Arrived", "In drawers", "Cost", "On", "Due"}, rows,
              ids);
    m_ordered->setText(orders.empty() ? "Nothing is ordered yet."
                                      : QString::number(orders.size()) + (orders.size() == 1 ? " order" : " orders") +
                                            ", " + money(cost) + " with shipping; " + QString::number(arrived) +
                                            " of " + pieces(ordered) + " arrived.");
}

std::vector<std::pair<model::OrderId, int>> OrdersTab::chosenLines() const {
    std::vector<std::pair<model::OrderId, int>> lines;
    std::set<int> seen;
    for (const auto& index : m_orders->selectionModel()->selectedIndexes()) {
        if (!seen.insert(index.row()).second) continue;
        const QStringList id = rowId(m_orders, index.row()).toString().split('/');
        if (id.size() == 2) lines.push_back({{id[0].toStdString()}, id[1].toInt()});
    }
    return lines;
}

void OrdersTab::setArrived(bool arrived) {
    const auto lines = chosenLines();
    if (lines.empty()) return m_session.say("Choose lines of orders first", true);
    m_session.apply(arrived ? "Parts arrived" : "Parts are still on the way",
                    [&](const model::Project& p) -> model::EditResult {
                        model::EditResult next = p;
                        for (const auto& [id, index] : lines)
                            for (model::Order order : std::vector<model::Order>(next->making.orders)) {
                                if (order.id != id || index >= static_cast<int>(order.lines.size())) continue;
                                model::OrderLine& line = at(order.lines, index);
                                line.arrived = arrived ? line.count : line.stored; // what is put away has arrived
                                next = model::putOrder(*next, order);
                                if (!next) return next;
                            }
                        return next;
                    });
}

void OrdersTab::putAway() {
    std::vector<make::OrderedLine> lines;
    for (const auto& [id, index] : chosenLines()) lines.push_back({id, index});
    if (lines.empty())
        for (const model::Order& order : m_session.project().making.orders)
            for (std::size_t i = 0; i < order.lines.size(); ++i) lines.push_back({order.id, static_cast<int>(i)});
    m_session.apply("Put into the drawers", [&](const model::Project& p) { return make::putAway(p, lines); });
}

void OrdersTab::removeOrders() {
    std::set<model::OrderId> ids;
    for (const auto& [id, index] : chosenLines()) ids.insert(id);
    if (ids.empty()) return m_session.say("Choose lines of orders first", true);
    m_session.apply("Remove orders", [&](const model::Project& p) -> model::EditResult {
        model::EditResult next = p;
        for (const auto& id : ids)
            if (next) next = model::removeOrder(*next, id);
        return next;
    });
}

void OrdersTab::writeOrder(const QString& path) {
    const auto lines = chosenLines();
    for (const model::Order& order : m_session.project().making.orders) {
        if (lines.empty() || order.id != lines.front().first) continue;
        const auto saved = files::writeFileAtomically(path.toStdString(), files::makeOrderCsv(order));
        saved ? m_session.say("Written: " + path) : m_session.warn("Not written: " + qs(saved.error().message));
        return;
    }
    m_session.say("Choose a line of the order first", true);
}

} // namespace ivrant::app
