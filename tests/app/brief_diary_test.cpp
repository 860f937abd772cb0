// SPDX-License-Identifier: GPL-3.0-or-later
// From a sentence to a failing ask; from the simulated scale to a changed verdict; decisions and failures.
#include <QCheckBox>
#include <QDir>
#include <QDoubleSpinBox>
#include <QFile>
#include <QSpinBox>
#include <QStandardPaths>

#include "core/base/at.h"
#include "core/model/mass.h"
#include "core/verdict/asks/asks.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using test::WindowRig;

namespace {

struct Notes : testing::Test {
    WindowRig rig;

    void open(const char* file, verdict::Station station) {
        ASSERT_TRUE(rig.window->openFile(test::demoFile(file)));
        rig.window->goStation(rig.window->indexOf(station));
        rig.settle();
    }
    void choose(const QString& box, const QString& text) {
        auto* combo = rig.find<QComboBox>(box);
        const int at = combo->findText(text);
        ASSERT_GE(at, 0) << text.toStdString();
        combo->setCurrentIndex(at);
        emit combo->activated(at);
    }
    void fill(const QString& field, const QString& typed) {
        auto* line = rig.find<QLineEdit>(field);
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, typed);
    }
    [[nodiscard]] const verdict::Verdict& hold(const std::string& joint, const std::string& pose) {
        for (const auto& v : rig.session().report()->verdicts)
            if (v.check == "hold" && v.place.joint && v.place.pose &&
                ivrant::at(rig.project().joints, rig.project().findJoint(*v.place.joint)).name == joint &&
                ivrant::at(rig.project().poses, rig.project().findPose(*v.place.pose)).name == pose)
                return v;
        throw std::runtime_error("no hold verdict");
    }
};

} // namespace

TEST_F(Notes, ASentenceBecomesAFailingAskAndLaterAMetOne) {
    open("heron.ivrant", verdict::Station::Brief);
    const auto asks = rig.project().asks.size();
    choose("askMeasure", "weight");
    choose("askCompare", "at most");
    fill("askValue", "90");
    EXPECT_TRUE(rig.text("askSentence").contains("The weight must be at most 90 g."))
        << rig.text("askSentence").toStdString();
    QTest::keyClick(rig.find<QLineEdit>("askValue"), Qt::Key_Return);
    rig.settle();
    ASSERT_EQ(rig.project().asks.size(), asks + 1);
    const int row = rig.verdictRow("The weight must be at most 90 g");
    ASSERT_GE(row, 0) << "it is in the slip";
    EXPECT_TRUE(rig.find<QPushButton>("railBrief")->text().contains("▼1"));
    // The verdict leads to Brief; the ask is chosen, changed and passes.
    rig.window->goStation(rig.window->indexOf(verdict::Station::Pose));
    rig.pickVerdict(row);
    EXPECT_EQ(rig.window->currentStation(), rig.window->indexOf(verdict::Station::Brief));
    auto* table = rig.find<QTableWidget>("asks");
    int mine = -1;
    for (int r = 0; r < table->rowCount(); ++r)
        if (table->item(r, 1)->text().contains("at most 90 g")) mine = r;
    ASSERT_GE(mine, 0);
    EXPECT_TRUE(table->item(mine, 0)->text().contains("not met"));
    table->selectRow(mine);
    fill("askValue", "110");
    rig.click("askChange");
    rig.settle();
    EXPECT_EQ(rig.verdictRow("The weight must be at most 90 g"), -1);
    EXPECT_DOUBLE_EQ(rig.project().asks.back().value, 110);
    EXPECT_FALSE(rig.find<QPushButton>("railBrief")->text().contains("▼"));
    rig.session().undo();
    rig.session().undo();
    EXPECT_EQ(rig.project().asks.size(), asks);
}

TEST_F(Notes, PlacesPatternsUnitsAndNonsense) {
    open("heron.ivrant", verdict::Station::Brief);
    choose("askMeasure", "height");
    choose("askCompare", "at least");
    fill("askValue", "40s"); // studs
    EXPECT_TRUE(rig.text("askSentence").contains("320 mm")) << rig.text("askSentence").toStdString();
    choose("askMeasure", "kind of …");
    rig.find<QComboBox>("askJoint")->setEditText("Neck*");
    fill("askValue", "*hinge*");
    rig.click("askAdd");
    rig.settle();
    int shown = 0;
    auto* table = rig.find<QTableWidget>("asks");
    for (int r = 0; r < table->rowCount(); ++r) shown += table->item(r, 1)->text().contains("kind of Neck*") ? 1 : 0;
    EXPECT_EQ(shown, 6) << "each joint that the pattern names";
    choose("askMeasure", "weight");
    fill("askValue", "heavy");
    EXPECT_FALSE(rig.find<QPushButton>("askAdd")->isEnabled());
    EXPECT_FALSE(rig.text("askSentence").isEmpty());
}

TEST_F(Notes, ShownToThePersonWhoAsked) {
    open("heron.ivrant", verdict::Station::Brief);
    EXPECT_GE(rig.verdictRow("Not yet shown"), 0);
    rig.find<QCheckBox>("shownBox")->click();
    rig.settle();
    EXPECT_FALSE(rig.project().shownOn.empty());
    EXPECT_EQ(rig.verdictRow("Not yet shown"), -1);
    rig.type("shownOn", "soon");
    EXPECT_TRUE(rig.window->message().contains("no date"));
    EXPECT_NE(rig.project().shownOn, "soon");
}

TEST_F(Notes, ScaleDeskAndOffsetFinder) {
    open("heron.ivrant", verdict::Station::Brief);
    auto* pairs = rig.find<QTableWidget>("scalePairs");
    pairs->setItem(0, 0, new QTableWidgetItem("900"));
    pairs->setItem(0, 1, new QTableWidgetItem("225"));
    fill("scaleReal", "100");
    EXPECT_TRUE(rig.text("scaleText").contains("25 mm: 3 studs")) << rig.text("scaleText").toStdString();
    pairs->setItem(1, 0, new QTableWidgetItem("x"));
    EXPECT_TRUE(rig.text("scaleText").contains("Row 2"));
    fill("offset", "5.6mm");
    auto* ways = rig.find<QTableWidget>("offsetWays");
    ASSERT_GT(ways->rowCount(), 0);
    EXPECT_EQ(ways->item(0, 0)->text(), "1 half stud, 1 leaf");
    EXPECT_EQ(ways->item(0, 1)->text(), "0");
}

TEST_F(Notes, LeverTestWithTheSimulatedScaleChangesTheVerdict) {
    open("heron.ivrant", verdict::Station::Diary);
    ASSERT_EQ(hold("Left knee", "Reach").state, verdict::State::Fail);
    ASSERT_EQ(hold("Left knee", "Reach").basis, verdict::Basis::Starting);
    choose("strengthTest", "lever test: what a joint holds");
    choose("strengthScope", "any stepped hinge small");
    choose("strengthSource", "the simulated scale");
    EXPECT_TRUE(rig.text("strengthSteps").contains("simulated"));
    for (int i = 0; i < 10; ++i) {
        rig.click("strengthTake");
        rig.settle();
    }
    auto* table = rig.find<QTableWidget>("strengthReadings");
    ASSERT_EQ(table->rowCount(), 10);
    EXPECT_TRUE(rig.text("strengthSays").contains("10 readings"));
    EXPECT_TRUE(rig.text("strengthSays").contains("2.355"))
        << "the factor for ten readings: " << rig.text("strengthSays").toStdString();
    rig.click("strengthKeep");
    rig.settle();
    ASSERT_EQ(rig.project().measured.size(), 1U);
    EXPECT_TRUE(rig.project().measured[0].note.starts_with("simulated"));
    const auto& v = hold("Left knee", "Reach");
    EXPECT_EQ(v.basis, verdict::Basis::Measured);
    EXPECT_NE(v.limit, 18);
    EXPECT_TRUE(v.detail.find("lower bound of 10 tests") != std::string::npos) << v.detail;
    rig.find<QTabWidget>("diaryTabs")->setCurrentIndex(2);
    EXPECT_EQ(rig.find<QTableWidget>("measured")->rowCount(), 1);
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(hold("Left knee", "Reach").basis, verdict::Basis::Starting);
}

TEST_F(Notes, TypedReadingsFollowTheLeverAndOddOnesAreMarked) {
    open("heron.ivrant", verdict::Station::Diary);
    choose("strengthScope", "the joint Neck 1");
    choose("strengthSource", "typed by hand");
    for (const char* grams : {"20", "21", "20", "19", "20", "21", "60"}) rig.type("strengthTyped", grams);
    auto* table = rig.find<QTableWidget>("strengthReadings");
    ASSERT_EQ(table->rowCount(), 7);
    EXPECT_NEAR(table->item(0, 2)->text().toDouble(), 20 * 9.80665e-3 * 80, 0.01);
    EXPECT_TRUE(table->item(6, 3)->text().contains("odd"));
    rig.type("strengthTyped", "many");
    EXPECT_EQ(table->rowCount(), 7);
    EXPECT_FALSE(rig.window->message().isEmpty());
    table->selectRow(6);
    for (auto* b : rig.window->station(rig.window->currentStation())->findChildren<QPushButton*>())
        if (b->text() == "remove" && b->isVisible()) QTest::mouseClick(b, Qt::LeftButton);
    EXPECT_EQ(table->rowCount(), 6);
    EXPECT_FALSE(rig.find<QPushButton>("strengthKeepWorkshop")->isEnabled())
        << "one joint of one model is nothing for the library";
    rig.click("strengthKeep");
    EXPECT_TRUE(rig.project().measured[0].joint.has_value());
    EXPECT_EQ(table->rowCount(), 0);
}

TEST_F(Notes, TheWorkshopsLibraryCountsInTheNextModelToo) {
    const QString path = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/workshop.json";
    QFile::remove(path);
    {
        open("heron.ivrant", verdict::Station::Diary);
        choose("strengthScope", "any stepped hinge small");
        for (const char* grams : {"40", "41", "42"}) rig.type("strengthTyped", grams);
        rig.click("strengthKeepWorkshop");
        rig.settle();
        EXPECT_TRUE(rig.project().measured.empty());
    }
    WindowRig next;
    EXPECT_TRUE(next.window->openFile(test::demoFile("heron.ivrant")));
    next.settle();
    bool measured = false;
    for (const auto& v : next.session().report()->verdicts)
        measured = measured || (v.check == "hold" && v.detail.find("workshop's library") != std::string::npos);
    EXPECT_TRUE(measured);
    // A library that cannot be read is left alone, and said.
    QFile file(path);
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write("{ broken");
    file.close();
    WindowRig third;
    ASSERT_TRUE(WindowRig::waitFor([&] { return third.window->message().contains("library was not read"); }));
    model::Series series;
    series.kind = "stepped hinge small";
    series.readings = {1, 2, 3};
    EXPECT_FALSE(third.session().keepInWorkshop(series));
    QFile after(path);
    ASSERT_TRUE(after.open(QIODevice::ReadOnly));
    EXPECT_EQ(after.readAll(), "{ broken");
    QFile::remove(path);
}

TEST_F(Notes, AFailureStaysOpenUntilAChangeAnswersIt) {
    open("heron.ivrant", verdict::Station::Diary);
    rig.find<QTabWidget>("diaryTabs")->setCurrentIndex(3);
    choose("noteKind", "failure");
    rig.type("noteText", "came off after 40 moves");
    rig.settle();
    EXPECT_GE(rig.verdictRow("Open failure: came off"), 0);
    EXPECT_TRUE(rig.find<QPushButton>("railDiary")->text().contains("▼1"));
    auto* notes = rig.find<QTableWidget>("notes");
    for (int r = 0; r < notes->rowCount(); ++r)
        if (notes->item(r, 4)->text().contains("came off")) notes->selectRow(r);
    rig.type("noteAnswer", "a second stud under the head");
    rig.settle();
    EXPECT_EQ(rig.verdictRow("Open failure"), -1);
    choose("noteKind", "decision");
    rig.type("noteText", "balls near the head");
    EXPECT_TRUE(rig.window->message().contains("reason"));
}

TEST_F(Notes, AMotorMeasuredOnTheStandChangesWhatItPulls) {
    open("bridge.ivrant", verdict::Station::Diary);
    const auto pull = [&]() -> const verdict::Verdict& {
        for (const auto& v : rig.session().report()->verdicts)
            if (v.check == "motor-pull" && v.text.find("Gate") != std::string::npos) return v;
        throw std::runtime_error("no verdict on the gate's motor");
    };
    const double before = pull().limit;
    EXPECT_NE(pull().detail.find("(starting values)"), std::string::npos);
    rig.find<QTabWidget>("diaryTabs")->setCurrentIndex(1);
    choose("motorLine", "motor medium");
    EXPECT_FALSE(rig.find<QPushButton>("motorKeep")->isEnabled());
    choose("motorSource", "the simulated motor stand");
    EXPECT_TRUE(rig.text("motorSteps").contains("simulated"));
    auto* weight = rig.find<QDoubleSpinBox>("drumWeight");
    for (const double grams : {0.0, 100.0, 200.0, 300.0, 400.0}) {
        weight->setValue(grams);
        rig.click("motorTake");
    }
    auto* table = rig.find<QTableWidget>("motorRuns");
    ASSERT_EQ(table->rowCount(), 5);
    EXPECT_NEAR(table->item(4, 1)->text().toDouble(), 0.4 * 9.80665 * 6, 0.06) << "400 g on a drum of 12 mm";
    EXPECT_TRUE(rig.text("motorSays").contains("5 runs"));
    EXPECT_TRUE(rig.text("motorSays").contains("Battery"));
    rig.click("motorKeep");
    rig.settle();
    ASSERT_EQ(rig.project().measured.size(), 1U);
    EXPECT_EQ(rig.project().measured[0].quantity, model::Quantity::Motor);
    EXPECT_TRUE(rig.project().measured[0].note.starts_with("simulated"));
    EXPECT_NE(pull().limit, before);
    EXPECT_NE(pull().detail.find("motor measured"), std::string::npos) << pull().detail;
    rig.find<QTabWidget>("diaryTabs")->setCurrentIndex(2);
    EXPECT_EQ(rig.find<QTableWidget>("measured")->rowCount(), 1);
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(pull().limit, before);
}

TEST_F(Notes, RunsOfAMotorAreTypedAndBadOnesRefused) {
    open("bridge.ivrant", verdict::Station::Diary);
    rig.find<QTabWidget>("diaryTabs")->setCurrentIndex(1);
    for (const char* run : {"0 g 380 rpm 0.07 A 8.9 V", "200 g 300 rpm 0.25 A 8.7 V", "400 g 215 rpm 0.42 A 8.5 V"})
        rig.type("motorTyped", run);
    auto* table = rig.find<QTableWidget>("motorRuns");
    ASSERT_EQ(table->rowCount(), 3);
    EXPECT_TRUE(rig.find<QPushButton>("motorKeep")->isEnabled());
    rig.type("motorTyped", "quick");
    EXPECT_EQ(table->rowCount(), 3);
    EXPECT_FALSE(rig.window->message().isEmpty());
    rig.type("motorTyped", "100 g 350 rpm 0.1 A");
    EXPECT_EQ(table->rowCount(), 3) << "without its voltage a run cannot be compared";
    table->selectRow(2);
    rig.click("motorDrop");
    EXPECT_EQ(table->rowCount(), 2);
    EXPECT_FALSE(rig.find<QPushButton>("motorKeep")->isEnabled()) << "two would fit any line";
}

TEST_F(Notes, WeighedPiecesCountInThePlaceOfComputedOnes) {
    for (const char* line : {"plate 4x4 slate at 0 0 0", "brick 2x2 reed at 0 0 1", "brick 2x2 reed at 2 2 1"})
        rig.part(line);
    rig.settle();
    rig.window->goStation(rig.window->indexOf(verdict::Station::Diary));
    rig.find<QTabWidget>("diaryTabs")->setCurrentIndex(4);
    EXPECT_FALSE(rig.find<QPushButton>("weighNote")->isEnabled()) << "the scales say nothing yet";
    const double before = model::calcMass(rig.session().placed()).massG;
    choose("weighShape", "brick 2x2 (2)");
    rig.find<QSpinBox>("weighPieces")->setValue(20);
    rig.find<QDoubleSpinBox>("weighGram")->setValue(100);
    EXPECT_TRUE(rig.text("weighEach").contains("5 g each")) << rig.text("weighEach").toStdString();
    rig.click("weighNote");
    rig.settle();
    const auto& parts = rig.project().sections[0]->parts;
    EXPECT_EQ(parts[1].weighedG, 5.0);
    EXPECT_EQ(parts[2].weighedG, 5.0);
    EXPECT_FALSE(parts[0].weighedG);
    EXPECT_NEAR(model::calcMass(rig.session().placed()).massG, before + 10 - 2 * parts[1].shape->massG, 1e-9);
    ASSERT_EQ(rig.project().diary.size(), 1U);
    EXPECT_EQ(rig.project().diary[0].text, "weighed 20 brick 2x2");
    rig.click("weighForget");
    rig.settle();
    EXPECT_FALSE(rig.project().sections[0]->parts[1].weighedG);
    rig.session().undo();
    rig.session().undo();
    EXPECT_TRUE(rig.project().diary.empty());
}
