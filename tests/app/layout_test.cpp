// SPDX-License-Identifier: GPL-3.0-or-later
// The window at the sizes and fonts that people have: no visible text is cut, everything has a name.
#include <QTabBar>

#include "tests/support/cut_text.h"
#include "tests/support/window_rig.h"

using namespace ivrant;

namespace {

struct Layout : testing::TestWithParam<std::tuple<QSize, double>> {
    test::WindowRig rig;
    ~Layout() override { app::applyTheme(*qApp, false); }

    /// Through the menu, as a person does.
    void enlarge(double scale) {
        while (app::theme().scale < scale - 0.01)
            for (auto* action : rig.window->actions())
                if (action->text() == "Larger text") action->trigger();
    }
    void load(const char* demo) {
        rig.window->resize(std::get<0>(GetParam()));
        enlarge(std::get<1>(GetParam()));
        ASSERT_TRUE(rig.session().load(test::demoFile(demo)));
        rig.settle();
    }
    void expectWhole(const QString& where) {
        const QStringList cut = test::listCutText(rig.window.get(), std::get<1>(GetParam()) > 1);
        EXPECT_TRUE(cut.isEmpty()) << where.toStdString() << ":\n" << cut.join("\n").toStdString();
        const QStringList nameless = test::listNameless(rig.window.get());
        EXPECT_TRUE(nameless.isEmpty()) << where.toStdString() << ":\n" << nameless.join("\n").toStdString();
    }
    /// Every station, and every tab of it.
    void walk() {
        for (int s = 0; s < rig.window->stationCount(); ++s) {
            rig.window->goStation(s);
            rig.settle();
            const auto bars = rig.window->station(s)->findChildren<QTabBar*>();
            expectWhole(rig.window->station(s)->title());
            for (auto* bar : bars)
                for (int tab = 0; bar->isVisible() && tab < bar->count(); ++tab) {
                    bar->setCurrentIndex(tab);
                    rig.settle();
                    expectWhole(rig.window->station(s)->title() + ", " + bar->tabText(tab));
                }
        }
    }
};

} // namespace

TEST_P(Layout, NoTextOfTheHeronIsCut) {
    load("heron.ivrant");
    walk();
}

TEST_P(Layout, NoTextOfTheBridgeIsCut) {
    load("bridge.ivrant");
    walk();
}

TEST_P(Layout, NoTextOfTheStartSheetIsCut) {
    load("heron.ivrant");
    rig.window->showStart(true);
    rig.settle();
    expectWhole("start sheet");
}

TEST_P(Layout, NoTextOfAnEmptyModelIsCut) {
    load("heron.ivrant");
    rig.session().reset(model::makeEmptyProject("New model"), "", false);
    rig.settle();
    walk();
}

INSTANTIATE_TEST_SUITE_P(Sizes, Layout,
                         testing::Values(std::tuple(QSize(1100, 700), 1.0), std::tuple(QSize(1280, 766), 1.0),
                                         std::tuple(QSize(1920, 1080), 1.0), std::tuple(QSize(1920, 1080), 1.5)));
