// SPDX-License-Identifier: GPL-3.0-or-later
// Stand: the model with its plumb line, the tip rose beside it, and a tab for each study: what the bonds carry in each
// case, weights and a counterweight, moves, posts, shells.
#pragma once

#include <QLabel>
#include <QTabWidget>

#include "app/charts/tip_rose.h"
#include "app/sheet3d/view_bar.h"
#include "app/shell/station.h"
#include "app/stations/stand/bonds_tab.h"
#include "app/stations/stand/moves_tab.h"
#include "app/stations/stand/posts_tab.h"
#include "app/stations/stand/shell_tab.h"
#include "app/stations/stand/weight_tab.h"

namespace ivrant::app {

class StandStation : public Station {
    Q_OBJECT
public:
    explicit StandStation(Session& session, QWidget* parent = nullptr);

    [[nodiscard]] QString title() const override { return "Stand"; }
    [[nodiscard]] verdict::Station kind() const override { return verdict::Station::Stand; }
    [[nodiscard]] int number() const override { return 5; }
    [[nodiscard]] QString keysText() const override {
        return "N next case · B next bond · C carried by what is chosen · K keep a case · P posts · M moves · S "
               "sections · H half-built · W counterweight, drag it · Enter puts it in";
    }
    void goTo(const verdict::Place& place) override;
    [[nodiscard]] QWidget* focusTarget() override { return m_sheet; }
    [[nodiscard]] Sheet3d* sheet() { return m_sheet; }
    /// The case that is shown: null while it is worked out.
    [[nodiscard]] const files::SolvedCase* shown() const { return m_bonds->shown(); }

protected:
    void showEvent(QShowEvent* event) override;

private:
    void makeTabs();
    void makeCommands();
    void makeHooks();
    void projectChanged();
    void reportChanged();
    void showBalance();
    void showModel();
    void saveChart();
    /// Leads there, or back to the bonds when it is up already.
    void toggleTab(StandTab* tab);
    [[nodiscard]] StandTab* tab(int index) const { return static_cast<StandTab*>(m_tabs->widget(index)); }
    [[nodiscard]] StandTab* up() const { return tab(m_tabs->currentIndex()); }
    void drawOverlay(QPainter& painter) const;

    Session& m_session;
    Sheet3d* m_sheet;
    ViewBar* m_views = nullptr;
    QLabel* m_balance;
    TipRose* m_rose;
    QTabWidget* m_tabs;
    CaseStrip* m_strip;
    BondsTab* m_bonds;
    WeightTab* m_weight;
    MovesTab* m_moves;
    PostsTab* m_posts;
    ShellTab* m_shell;
    bool m_stale = true; ///< the project changed while nobody looked
};

} // namespace ivrant::app
