// SPDX-License-Identifier: GPL-3.0-or-later
// Make: tabs for the steps, the parts list, stock, orders, the calendar, choices, modules and packing; and the sheets.
#pragma once

#include <QLabel>
#include <QTabWidget>
#include <QTableWidget>

#include "app/shell/station.h"
#include "app/stations/make/modules_tab.h"
#include "app/stations/make/options_tab.h"
#include "app/stations/make/orders_tab.h"
#include "app/stations/make/packing_tab.h"
#include "app/stations/make/steps_tab.h"
#include "app/stations/make/stock_tab.h"
#include "app/stations/make/time_tab.h"

namespace ivrant::app {

class MakeStation : public Station {
    Q_OBJECT
public:
    explicit MakeStation(Session& session, QWidget* parent = nullptr);

    [[nodiscard]] QString title() const override { return "Make"; }
    [[nodiscard]] verdict::Station kind() const override { return verdict::Station::Make; }
    [[nodiscard]] int number() const override { return 6; }
    [[nodiscard]] QString keysText() const override {
        return "up down choose a step · Alt+Up Alt+Down move it · Ctrl+B split off the chosen parts · Ctrl+J join · "
               "Alt+Left Alt+Right chosen parts a step · Ctrl+M mend the order · Ctrl+P sheets · Alt+1 to Alt+8 tabs";
    }
    void goTo(const verdict::Place& place) override;
    /// By its number through the model.
    void goToStep(int number);
    [[nodiscard]] StepsTab* steps() { return m_steps; }
    [[nodiscard]] StockTab* stock() { return m_stock; }
    [[nodiscard]] OrdersTab* orders() { return m_orders; }
    [[nodiscard]] TimeTab* time() { return m_time; }
    [[nodiscard]] OptionsTab* options() { return m_options; }
    [[nodiscard]] ModulesTab* modules() { return m_modules; }
    [[nodiscard]] PackingTab* packing() { return m_packing; }
    [[nodiscard]] QWidget* focusTarget() override { return m_steps->strip(); }
    /// Writes the sheets in the background; kind from the ending (.pdf, .html).
    void writeGuide(const QString& path);
    /// Every step as a picture of its own, with their list.
    void writePictures(const QString& folder);
    /// This model and those of other files beside each other, to one scale: .pdf or .png.
    void writeLineup(const QStringList& others, const QString& path);

signals:
    void guideWritten(const QString& path, bool done);

protected:
    void showEvent(QShowEvent* event) override;

private:
    void showPartsList();
    void printGuide(const QString& ending);
    void writeInBackground(const QString& what, const QString& path,
                           std::function<base::Status(const verdict::Report&, base::Progress&)> write);

    Session& m_session;
    QTabWidget* m_tabs;
    StepsTab* m_steps;
    QTableWidget* m_parts;
    StockTab* m_stock;
    OrdersTab* m_orders;
    TimeTab* m_time;
    OptionsTab* m_options;
    ModulesTab* m_modules;
    PackingTab* m_packing;
    QLabel* m_cautions;
    bool m_stale = true;
};

} // namespace ivrant::app
