// SPDX-License-Identifier: GPL-3.0-or-later
// Shapes of the builder's own from a mesh to a placed part; rings from a joint to limbs that follow each other.
#include <QAction>
#include <QFile>

#include "app/stations/shape/own_shapes.h"
#include "core/files/atomic_file.h"
#include "core/files/mesh_files.h"
#include "core/pose/rings.h"
#include "tests/support/linkages.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using test::WindowRig;

namespace {

struct OwnShapes : testing::Test {
    WindowRig rig;
    app::OwnShapes* dialog = nullptr;

    void SetUp() override { rig.window->goStation(rig.window->indexOf(verdict::Station::Shape)); }
    void open() {
        for (auto* action : rig.window->station(rig.window->currentStation())->actions())
            if (action->text() == "Own shapes") action->trigger();
        dialog = rig.find<app::OwnShapes>("ownShapes");
    }
    /// A tile's mesh as a file.
    QString meshPath() {
        test::Figure f;
        f.put(0, "tile 2x4 at 0 0 0");
        const QString path = rig.folder.path() + "/lid.stl";
        EXPECT_TRUE(files::writeFileAtomically(path.toStdString(), files::makeStl(f.placed())));
        return path;
    }
    void read(const QString& mass) {
        dialog->setMeshPath(meshPath());
        rig.type("ownMass", mass);
        rig.click("ownRead");
        rig.settle();
    }
};

} // namespace

TEST_F(OwnShapes, FromAMeshToAPartThatIsPutDown) {
    open();
    EXPECT_EQ(rig.find<QListWidget>("ownList")->count(), 0);
    EXPECT_TRUE(rig.text("ownFacts").contains("read a mesh"));
    read("2.5");
    ASSERT_EQ(rig.find<QListWidget>("ownList")->count(), 1);
    EXPECT_TRUE(rig.text("ownFacts").contains("1 convex pieces"));
    EXPECT_TRUE(rig.text("ownFacts").contains("16 × 32 × 3.2 mm"));
    rig.click("ownAddPort");
    rig.settle();
    auto* ports = rig.find<QTableWidget>("ownPorts");
    ASSERT_EQ(ports->rowCount(), 1);
    EXPECT_EQ(ports->item(0, 4)->text(), "3.2");
    ports->item(0, 4)->setText("2.7");
    rig.settle();
    ASSERT_EQ(rig.project().ownShapes.size(), 1u);
    EXPECT_NEAR(rig.project().ownShapes[0]->ports[0].origin.z(), 2.7, 1e-9);
    // A click on the lid's side, seen from the front, puts the port there, pointing at the viewer.
    rig.find<QComboBox>("ownView")->setCurrentIndex(1);
    auto* picture = rig.find<app::PortPicture>("ownPicture");
    QTest::mouseClick(picture, Qt::LeftButton, {}, picture->toScreen({3, -16, 1.6}).toPoint());
    rig.settle();
    const auto& port = rig.project().ownShapes[0]->ports[0];
    EXPECT_NEAR(port.origin.x(), 3, 0.15);
    EXPECT_NEAR(port.origin.y(), -16, 0.02);
    EXPECT_LT((port.axis - geometry::Vec3(0, -1, 0)).norm(), 1e-9);
    const auto before = rig.project().partCount();
    rig.click("ownTake");
    EXPECT_EQ(rig.find<QLineEdit>("partLine")->text(), "own lid");
    QTest::keyClick(rig.find<QLineEdit>("partLine"), Qt::Key_Return);
    rig.settle();
    ASSERT_EQ(rig.project().partCount(), before + 1);
    EXPECT_EQ(rig.project().sections[0]->parts.back().massG(), 2.5);
    rig.session().undo();
    EXPECT_EQ(rig.project().partCount(), before);
}

TEST_F(OwnShapes, WrongInputIsSaidAndChangesNothing) {
    open();
    rig.click("ownRead");
    EXPECT_TRUE(rig.text("ownMessage").contains("file"));
    dialog->setMeshPath(meshPath());
    rig.click("ownRead");
    EXPECT_TRUE(rig.text("ownMessage").contains("grams"));
    QFile open(rig.folder.path() + "/open.obj");
    ASSERT_TRUE(open.open(QIODevice::WriteOnly));
    open.write("v 0 0 0\nv 10 0 0\nv 0 10 0\nf 1 2 3\n");
    open.close();
    dialog->setMeshPath(open.fileName());
    rig.type("ownMass", "1");
    rig.click("ownRead");
    rig.settle();
    EXPECT_TRUE(rig.text("ownMessage").contains("not closed")) << rig.text("ownMessage").toStdString();
    EXPECT_TRUE(rig.project().ownShapes.empty());
    read("2");
    rig.click("ownAddPort");
    rig.settle();
    rig.find<QTableWidget>("ownPorts")->item(0, 5)->setText("up");
    rig.settle();
    EXPECT_TRUE(rig.text("ownMessage").contains("direction"));
    EXPECT_EQ(rig.find<QTableWidget>("ownPorts")->item(0, 5)->text(), "+z");
    rig.type("ownMassNow", "heavy");
    EXPECT_EQ(rig.project().ownShapes[0]->massG, 2);
}

TEST_F(OwnShapes, WhatIsUsedIsNotRemoved) {
    open();
    read("2");
    rig.click("ownTake");
    QTest::keyClick(rig.find<QLineEdit>("partLine"), Qt::Key_Return);
    QTest::keyClick(rig.find<QLineEdit>("partLine"), Qt::Key_Escape);
    rig.settle();
    open();
    rig.click("ownRemove");
    EXPECT_TRUE(rig.text("ownMessage").contains("1 part"));
    EXPECT_EQ(rig.project().ownShapes.size(), 1u);
    dialog->reject();
    EXPECT_TRUE(rig.project().ownShapes.size() == 1);
}

namespace {

/// A four-bar, closed as it stands, without its last joint.
model::Project fourBar() {
    const test::FourBar f;
    const auto closed = test::must(pose::poseJoints(f.project, {{f.project.joints[0].id, {0}}}));
    return test::must(model::removeJoint(closed, closed.joints.back().id, {}));
}

} // namespace

TEST(RingsOnScreen, FromTheOfferToLimbsThatFollow) {
    WindowRig rig;
    rig.session().reset(fourBar(), {}, true);
    rig.window->goStation(rig.window->indexOf(verdict::Station::Shape));
    rig.settle();
    auto* offer = rig.find<QPushButton>("jointOffer");
    ASSERT_TRUE(offer->isVisible());
    rig.click("jointOffer");
    rig.settle();
    ASSERT_EQ(rig.project().joints.size(), 4u);
    ASSERT_EQ(rig.session().tree().closing.size(), 1u);
    EXPECT_GE(rig.verdictRow("The ring closes"), 0);
    const auto held =
        rig.find<QTreeWidget>("sections")->findItems("pin + ring", Qt::MatchExactly | Qt::MatchRecursive, 1);
    ASSERT_EQ(held.size(), 1);
    EXPECT_TRUE(held[0]->toolTip(1).contains("closes a ring"));
    rig.window->goStation(rig.window->indexOf(verdict::Station::Pose));
    rig.session().setCurrentJoint(rig.project().joints[0].id);
    rig.settle();
    const auto rocker = rig.project().joints[2].value[0];
    rig.type("jointValue", "20");
    rig.settle();
    EXPECT_EQ(rig.project().joints[0].value[0], 20);
    EXPECT_GT(std::abs(rig.project().joints[2].value[0] - rocker), 1);
    EXPECT_GE(rig.verdictRow("The ring closes"), 0);
    // The rocker cannot lie down that far: it stays, and the reason is said.
    rig.session().setCurrentJoint(rig.project().joints[2].id);
    rig.settle();
    QString said;
    QObject::connect(&rig.session(), &app::Session::said, [&](const QString& message, bool) { said = message; });
    const auto stays = rig.project().joints[2].value[0];
    rig.type("jointValue", "-60");
    rig.settle();
    EXPECT_EQ(rig.project().joints[2].value[0], stays);
    EXPECT_TRUE(said.contains("ring")) << said.toStdString();
}
