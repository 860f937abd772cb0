// SPDX-License-Identifier: GPL-3.0-or-later
// Make: the steps with pictures as they will print, the parts of each step, the parts list, and the sheets; tabs for
// stock, orders and the calendar.
#pragma once

#include <QLabel>
#include <QListWidget>
#include <QTabWidget>
#include <QTableWidget>
#include <QTimer>
#include <map>

#include "app/shell/live.h"
#include "app/shell/station.h"
#include "app/stations/make/options_tab.h"
#include "app/stations/make/orders_tab.h"
#include "app/stations/make/stock_tab.h"
#include "app/stations/make/time_tab.h"
#include "core/make/proposal.h"
#include "core/make/steps.h"
#include "core/study/hands.h"
#include "render/renderer.h"

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
               "Alt+Left Alt+Right chosen parts a step · Ctrl+M mend the order · Ctrl+P sheets · Alt+1 to Alt+6 tabs";
    }
    void goTo(const verdict::Place& place) override;
    /// By its number through the model.
    void goToStep(int number);
    [[nodiscard]] StockTab* stock() { return m_stock; }
    [[nodiscard]] OrdersTab* orders() { return m_orders; }
    [[nodiscard]] TimeTab* time() { return m_time; }
    [[nodiscard]] OptionsTab* options() { return m_options; }
    [[nodiscard]] QWidget* focusTarget() override { return m_steps; }
    /// Writes the sheets in the background; kind from the ending (.pdf, .html).
    void writeGuide(const QString& path);

signals:
    void guideWritten(const QString& path, bool done);

protected:
    void showEvent(QShowEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void rebuild();
    void showStep();
    void drawPicture();
    [[nodiscard]] const QIcon& iconOf(const parts::ShapePtr& shape, int colour);
    void showPartsList();
    void printGuide(const QString& ending);
    void changeStep(const char* name,
                    const std::function<model::EditResult(const model::Project&, const model::SectionId&, int)>& edit);
    void moveStep(int by);
    void moveParts(int by);
    void takeOrder(make::Take take);
    [[nodiscard]] QStringList listFaults(const make::Step& step) const;
    void markFaults();
    void showHolds();
    [[nodiscard]] const make::Step* current() const;

    Session& m_session;
    std::shared_ptr<render::Renderer> m_renderer;
    std::vector<make::Step> m_list;
    QListWidget* m_steps;
    QListWidget* m_tray;
    QLabel* m_picture;
    QLabel* m_title;
    QLabel* m_faults; ///< what cannot go in at the step that is shown
    QLabel* m_holds;  ///< what is to be held from below at that step
    QTabWidget* m_tabs;
    QTableWidget* m_parts;
    StockTab* m_stock;
    OrdersTab* m_orders;
    TimeTab* m_time;
    OptionsTab* m_options;
    QLabel* m_cautions;
    std::map<std::pair<std::string, int>, QIcon> m_icons; ///< by shape and colour
    QTimer m_pictureTimer;                                ///< draws the picture once the person stops leafing
    Live<std::vector<study::HoldHint>> m_holdsSought;
    std::weak_ptr<const model::Section> m_holdsOf; ///< section that m_holdHints are of
    std::vector<study::HoldHint> m_holdHints;
    bool m_stale = true;
};

} // namespace ivrant::app
