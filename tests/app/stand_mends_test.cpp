// SPDX-License-Identifier: GPL-3.0-or-later
// Stand's findings mended by a click: a colour from inside painted over, a post put under what falls, a slewing
// turntable watched.
#include <QComboBox>

#include "app/stations/stand/stand_station.h"
#include "core/parts/family.h"
#include "core/parts/palette.h"
#include "tests/support/repo.h"
#include "tests/support/stand_rig.h"

using namespace ivrant;

namespace {

struct StandMends : test::StandRig {
    /// Opens the mends of a verdict, and does the one with those words.
    void mend(const QString& verdict, const QString& words) {
        const int row = rig.verdictRow(verdict);
        ASSERT_GE(row, 0) << verdict.toStdString();
        rig.pickVerdict(row);
        ASSERT_TRUE(rig.waitFor(
            [&] { return !rig.window->findChildren<QPushButton*>("mend").isEmpty() && !rig.window->jobs().isBusy(); }));
        for (auto* button : rig.window->findChildren<QPushButton*>("mend"))
            if (button->text().contains(words)) {
                QTest::mouseClick(button, Qt::LeftButton);
                ASSERT_TRUE(rig.waitFor(
                    [&] { return rig.window->findChild<QPushButton*>("mendApply") && !rig.window->jobs().isBusy(); }));
                rig.click("mendApply");
                return rig.settle();
            }
        FAIL() << "no mend says " << words.toStdString();
    }
    /// A box of bricks 1x1 with a window in one side and a brick of another colour in its middle.
    void buildBox() {
        std::vector<model::NewPart> parts;
        const auto brick = parts::makeShape("brick 1x1").value();
        const auto put = [&](int x, int y, int z, const char* colour) {
            model::NewPart part;
            part.shape = brick;
            part.colour = parts::findColour(colour);
            part.place.atUm = {8000 * x, 8000 * y, 9600 * z};
            parts.push_back(part);
        };
        for (int z = 0; z < 5; ++z)
            for (int y = 0; y < 5; ++y)
                for (int x = 0; x < 5; ++x) {
                    const bool wall = x == 0 || y == 0 || z == 0 || x == 4 || y == 4 || z == 4;
                    if (wall && !(x == 2 && y == 0 && z == 2)) put(x, y, z, "slate");
                }
        put(2, 2, 1, "slate");
        put(2, 2, 2, "rust");
        ASSERT_TRUE(rig.session().apply(
            "Box", [&](const model::Project& p) { return model::addParts(p, p.sections[0]->id, parts); }));
        rig.settle();
    }
};

} // namespace

TEST_F(StandMends, AColourThatShowsIsPaintedOver) {
    buildBox();
    go();
    EXPECT_GE(rig.verdictRow("A part shows through a gap"), 0);
    const auto painted = rig.project().sections[0]->parts.back().id;
    mend("A part shows through a gap", "paint it as what is around it");
    EXPECT_LT(rig.verdictRow("A part shows through a gap"), 0);
    const auto spot = model::PartIndex(rig.project()).find(painted);
    EXPECT_EQ(model::getPart(rig.project(), spot).colour, parts::findColour("slate"));
    rig.session().undo();
    rig.settle();
    EXPECT_GE(rig.verdictRow("A part shows through a gap"), 0);
}

TEST_F(StandMends, APostIsPutUnderWhatFalls) {
    rig.part("brick 2x2 slate at 0 0 0");
    rig.part("plate 2x8 reed at 0 0 3");
    rig.part("brick 2x2 reed at 0 6 4");
    rig.settle();
    go();
    mend("Falls over", "a post under plate 2x8");
    ASSERT_EQ(rig.project().posts.size(), 1U);
    EXPECT_LT(rig.verdictRow("Falls over"), 0);
    EXPECT_GE(rig.verdictRow("Post 1 holds it up"), 0);
    // What is built in its way is told, and the post goes with a click.
    rig.window->goStation(rig.window->indexOf(verdict::Station::Shape));
    const auto at = rig.project().posts[0].atUm;
    const int x = static_cast<int>(std::lround(static_cast<double>(at[0]) / 8000)),
              y = static_cast<int>(std::lround(static_cast<double>(at[1]) / 8000));
    rig.part(QString("brick 2x2 slate at %1 %2 0").arg(x).arg(y));
    rig.settle();
    EXPECT_GE(rig.verdictRow("Post 1 is in the way"), 0);
    mend("Post 1 is in the way", "take it away");
    EXPECT_TRUE(rig.project().posts.empty());
}

TEST_F(StandMends, ASlewingTurntableIsWatchedAllAlongItsWay) {
    ASSERT_TRUE(rig.session().load(test::boardFile("bridge.ivrant")));
    go();
    tab("moves");
    rig.settle();
    auto* choice = rig.find<QComboBox>("moveChoice");
    ASSERT_EQ(choice->count(), 1);
    EXPECT_TRUE(choice->currentText().startsWith("Slew: least")) << choice->currentText().toStdString();
    const auto* panel = rig.window->findChild<app::MovesTab*>();
    ASSERT_TRUE(panel && panel->place());
    EXPECT_EQ(panel->place()->placed.boardTurns.size(), rig.project().boards.size())
        << "the boards on it are shown where they have gone";
    rig.openPassing();
    EXPECT_GE(rig.verdictRow("Slew: stands on the way"), 0);
    tab("bonds");
    EXPECT_FALSE(panel->isVisible());
}
