// SPDX-License-Identifier: GPL-3.0-or-later
// The window at Stand, with its cases solved.
#pragma once

#include "app/stations/stand/stand_station.h"
#include "tests/support/window_rig.h"

namespace ivrant::test {

struct StandRig : testing::Test {
    WindowRig rig;
    app::StandStation* station = nullptr;

    void go() {
        rig.window->goStation(rig.window->indexOf(verdict::Station::Stand));
        station = static_cast<app::StandStation*>(rig.window->station(rig.window->currentStation()));
        await();
    }
    /// A click on the tab of that title.
    void tab(const QString& title) {
        auto* tabs = rig.find<QTabWidget>("standTabs");
        for (int i = 0; i < tabs->count(); ++i)
            if (tabs->tabText(i) == title)
                return QTest::mouseClick(tabs->tabBar(), Qt::LeftButton, {}, tabs->tabBar()->tabRect(i).center());
        ADD_FAILURE() << "no tab " << title.toStdString();
    }
    void await() {
        rig.settle();
        EXPECT_TRUE(rig.waitFor([&] { return station->shown() != nullptr && !rig.window->jobs().isBusy(); }));
        rig.settle();
    }
};

} // namespace ivrant::test
