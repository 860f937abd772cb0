// SPDX-License-Identifier: GPL-3.0-or-later
// Make's stock, orders and time, and Diary's sessions, driven through the window; files on the disk follow.
#include <QFile>
#include <QSpinBox>

#include "app/shell/table_tools.h"
#include "app/stations/make/make_station.h"
#include "core/files/project_file.h"
#include "core/files/supplies_csv.h"
#include "tests/support/figures.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using test::WindowRig;

namespace {

void write(const QString& path, const QByteArray& text) {
    QFile file(path);
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write(text);
}
QByteArray read(const QString& path) {
    QFile file(path);
    return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
}

struct SupplyWindow : testing::Test {
    WindowRig rig;
    app::MakeStation* make = nullptr;
    QTabWidget* tabs = nullptr;

    void SetUp() override {
        rig.part("plate 4x4 gorse at 0 0 0");
        rig.part("brick 2x2 slate at 0 0 1");
        rig.part("brick 2x2 slate at 2 0 1");
        rig.window->goStation(rig.window->indexOf(verdict::Station::Make));
        rig.settle();
        make = static_cast<app::MakeStation*>(rig.window->station(rig.window->indexOf(verdict::Station::Make)));
        tabs = make->findChild<QTabWidget*>();
        write(path("drawers.csv"),
              "shape,colour,count,drawer,seen\nbrick 2x2,slate,1,A1,yes\nplate 4x4,gorse,1,B1,no\n");
        write(path("shop.csv"), "seller,shape,colour,price,days,shipping\nQuay,brick 2x2,slate,0.25,3,2\n");
    }
    [[nodiscard]] QString path(const QString& name) const { return rig.folder.path() + "/" + name; }
    void up(const QString& tab) {
        for (int i = 0; i < tabs->count(); ++i)
            if (tabs->tabText(i) == tab) tabs->setCurrentIndex(i);
        rig.settle();
    }
    /// Column of the row whose first cells are these.
    [[nodiscard]] QString cell(const QString& table, const QString& first, const QString& column) {
        auto* t = rig.find<QTableWidget>(table);
        for (int c = 0; c < t->columnCount(); ++c)
            for (int r = 0; r < t->rowCount() && t->horizontalHeaderItem(c)->text() == column; ++r)
                if (t->item(r, 0)->text() == first || t->item(r, 1)->text() == first) return t->item(r, c)->text();
        return "no such cell";
    }
    void choose(const QString& table, int row) { rig.find<QTableWidget>(table)->selectRow(row); }
    [[nodiscard]] const verdict::Verdict* verdictOf(const std::string& check) {
        rig.settle();
        for (const auto& v : rig.session().report()->verdicts)
            if (v.check == check) return &v;
        return nullptr;
    }
};

} // namespace

TEST_F(SupplyWindow, AStockIsReadCountedAndWritten) {
    up("Stock");
    EXPECT_TRUE(rig.text("stockHead").contains("Nothing says what lies in your drawers"));
    ASSERT_TRUE(make->stock()->addTable(path("drawers.csv"), false));
    rig.settle();
    EXPECT_TRUE(rig.text("stockHead").contains("1 part of 1 kind is missing, the first at step 1"))
        << rig.text("stockHead").toStdString();
    EXPECT_EQ(cell("stockTable", "brick 2x2", "Missing"), "1");
    ASSERT_TRUE(verdictOf("stock"));
    EXPECT_EQ(verdictOf("stock")->state, verdict::State::Fail);
    // One more is found in the drawer: typed, written, and the verdict passes.
    choose("stockTable", 0);
    auto* count = rig.find<QSpinBox>("stockCount");
    ASSERT_TRUE(count->isEnabled());
    EXPECT_EQ(count->value(), 1);
    count->setValue(2);
    rig.click("stockSet");
    rig.settle();
    EXPECT_EQ(verdictOf("stock")->state, verdict::State::Good);
    EXPECT_EQ(read(path("drawers.csv")), "shape,colour,count,drawer,kept for,seen\r\nbrick 2x2,slate,2,A1,,yes\r\n"
                                         "plate 4x4,gorse,1,B1,,no\r\n");
    rig.session().undo();
    rig.settle();
    EXPECT_TRUE(read(path("drawers.csv")).contains("brick 2x2,slate,1,A1")) << "the file follows what is shown";
    EXPECT_EQ(verdictOf("stock")->state, verdict::State::Fail);
    rig.click("keepParts");
    EXPECT_TRUE(read(path("drawers.csv")).contains("brick 2x2,slate,1,A1,New model,yes"));
    rig.click("releaseParts");
    EXPECT_FALSE(read(path("drawers.csv")).contains("New model"));
}

TEST_F(SupplyWindow, WhatAnotherProgramWroteIsNotWrittenOver) {
    up("Stock");
    ASSERT_TRUE(make->stock()->addTable(path("drawers.csv"), false));
    write(path("drawers.csv"), "shape,colour,count\nbrick 2x2,slate,7\n");
    rig.click("keepParts");
    EXPECT_EQ(read(path("drawers.csv")), "shape,colour,count\nbrick 2x2,slate,7\n");
    rig.session().readSupplies();
    rig.settle();
    EXPECT_EQ(cell("stockTable", "brick 2x2", "Have"), "7");
    rig.click("keepParts");
    EXPECT_TRUE(read(path("drawers.csv")).contains("brick 2x2,slate,2,,New model")) << "known again, written again";
    // Back behind the reading: what lies on the disk stays.
    const QByteArray kept = read(path("drawers.csv"));
    rig.session().undo();
    rig.session().undo();
    EXPECT_FALSE(read(path("drawers.csv")).contains("slate,1"));
    rig.session().redo();
    rig.session().redo();
    EXPECT_EQ(read(path("drawers.csv")), kept);
}

TEST_F(SupplyWindow, ColumnsThatAreNotUnderstoodAreAskedOnceAndKept) {
    write(path("odd.csv"), "thing,hue,stored\nbrick 2x2,slate,5\n");
    int asked = 0;
    make->stock()->askColumns = [&](QWidget*, const QString&, const std::vector<std::string>& headings,
                                    bool prices) -> std::optional<files::ColumnNames> {
        ++asked;
        EXPECT_FALSE(prices);
        EXPECT_EQ(headings, (std::vector<std::string>{"thing", "hue", "stored"}));
        return files::ColumnNames{{"shape", "thing"}, {"colour", "hue"}, {"count", "stored"}};
    };
    up("Stock");
    ASSERT_TRUE(make->stock()->addTable(path("odd.csv"), false));
    write(path("odd2.csv"), "thing,hue,stored\nbrick 2x2,slate,4\n");
    ASSERT_TRUE(make->stock()->addTable(path("odd2.csv"), false));
    rig.settle();
    EXPECT_EQ(asked, 1);
    EXPECT_EQ(cell("stockTable", "brick 2x2", "Have"), "9");
    // Saved elsewhere, opened again: the tables are found and understood.
    ASSERT_TRUE(rig.session().save(path("model.ivrant")));
    EXPECT_EQ(rig.project().making.stockFiles, (std::vector<std::string>{"odd.csv", "odd2.csv"}))
        << "named from the folder of the model";
    ASSERT_TRUE(rig.session().load(path("model.ivrant")));
    rig.settle();
    EXPECT_EQ(cell("stockTable", "brick 2x2", "Have"), "9");
}

TEST_F(SupplyWindow, RowsThatCannotBeReadAreNotLostByWriting) {
    const QByteArray text = "shape,colour,count\nbrick 2x2,slate,1\nbrick 2x2,slate,many\n";
    write(path("drawers.csv"), text);
    up("Stock");
    ASSERT_TRUE(make->stock()->addTable(path("drawers.csv"), false));
    ASSERT_TRUE(verdictOf("table"));
    choose("stockTable", 0);
    rig.find<QSpinBox>("stockCount")->setValue(5);
    rig.click("stockSet");
    EXPECT_EQ(read(path("drawers.csv")), text);
    // A table that is gone is not made anew out of a count.
    write(path("other.csv"), "shape,colour,count\nbrick 2x2,slate,1\n");
    ASSERT_TRUE(make->stock()->addTable(path("other.csv"), false));
    QFile::remove(path("other.csv"));
    make->stock()->removeTable(QString::fromStdString(rig.project().making.stockFiles[0]));
    rig.settle();
    choose("stockTable", 0);
    rig.click("stockSet");
    EXPECT_FALSE(QFile::exists(path("other.csv")));
}

TEST_F(SupplyWindow, ATableThatIsNoneIsRefusedAndNothingChanges) {
    write(path("none.csv"), "\"never ends,1,2\n");
    up("Stock");
    EXPECT_FALSE(make->stock()->addTable(path("none.csv"), false));
    EXPECT_FALSE(make->stock()->addTable(path("missing.csv"), false));
    EXPECT_TRUE(rig.project().making.stockFiles.empty());
}

TEST_F(SupplyWindow, FromShortageToOrderToArrival) {
    up("Stock");
    ASSERT_TRUE(make->stock()->addTable(path("drawers.csv"), false));
    ASSERT_TRUE(make->stock()->addTable(path("shop.csv"), true));
    up("Orders");
    bool found = false;
    QObject::connect(make->orders(), &app::OrdersTab::basketFound, make, [&] { found = true; });
    rig.click("basketFind");
    ASSERT_TRUE(WindowRig::waitFor([&] { return found; }));
    EXPECT_TRUE(rig.text("basketTold").startsWith("2.25 from 1 seller: goods 0.25, shipping 2.00"))
        << rig.text("basketTold").toStdString();
    EXPECT_EQ(cell("basketTable", "Quay", "Pieces"), "1");
    rig.click("basketPlace");
    rig.settle();
    ASSERT_EQ(rig.project().making.orders.size(), 1U);
    EXPECT_EQ(verdictOf("stock")->state, verdict::State::Thin) << "on its way";
    EXPECT_TRUE(rig.text("orderTold").contains("2.25 with shipping; 0 of 1 piece arrived"));
    choose("orderTable", 0);
    rig.click("orderArrived");
    rig.settle();
    EXPECT_EQ(verdictOf("stock")->state, verdict::State::Good);
    EXPECT_EQ(cell("orderTable", "Quay", "Arrived"), "1");
    choose("orderTable", 0);
    make->orders()->writeOrder(path("order.csv"));
    EXPECT_EQ(read(path("order.csv")), "seller,shape,colour,count,price\r\nQuay,brick 2x2,slate,1,0.25\r\n");
    // Into the drawers: the table on the disk counts it, kept for this model; undo takes it out again.
    choose("orderTable", 0);
    rig.click("orderPutAway");
    rig.settle();
    EXPECT_EQ(cell("orderTable", "Quay", "In drawers"), "1");
    EXPECT_EQ(verdictOf("stock")->state, verdict::State::Good);
    EXPECT_EQ(rig.project().supplies->stocks[0]->lines.back().keptFor, rig.project().name);
    EXPECT_TRUE(read(path("drawers.csv")).contains("brick 2x2,slate,1,"));
    rig.click("orderPutAway");
    EXPECT_TRUE(rig.window->message().contains("none of these lines"));
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(rig.project().making.orders[0].lines[0].stored, 0);
    choose("orderTable", 0);
    rig.click("orderRemove");
    rig.settle();
    EXPECT_TRUE(rig.project().making.orders.empty());
    EXPECT_EQ(verdictOf("stock")->state, verdict::State::Fail);
}

TEST_F(SupplyWindow, TheCalendarFollowsWhatIsTyped) {
    up("Time");
    EXPECT_TRUE(rig.text("planTold").contains("starting values"));
    rig.type("planDue", "tomorrow");
    EXPECT_TRUE(rig.text("planWrong").contains("'tomorrow' is no day"));
    EXPECT_TRUE(rig.project().making.schedule.dueOn.empty());
    const QString due = QDate::currentDate().addDays(20).toString("yyyy-MM-dd");
    rig.type("planDue", due);
    rig.settle();
    EXPECT_EQ(rig.project().making.schedule.dueOn, due.toStdString());
    EXPECT_TRUE(rig.text("planTold").contains("no day has free hours"));
    for (const char* day : {"Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"}) {
        auto* box = rig.find<QDoubleSpinBox>(QString("planHours") + day);
        box->setFocus();
        box->selectAll();
        QTest::keyClicks(box, "2");
        QTest::keyClick(box, Qt::Key_Return);
    }
    rig.settle();
    EXPECT_TRUE(rig.text("planTold").contains("Begin by")) << rig.text("planTold").toStdString();
    ASSERT_TRUE(verdictOf("by-the-day"));
    EXPECT_EQ(verdictOf("by-the-day")->state, verdict::State::Good);
    auto* chart = rig.find<app::PlanChart>("planChart");
    bool shown = false;
    for (int x = 0; x < chart->width(); x += 4)
        shown = shown || chart->describe(QPointF(x, chart->height() / 2.0)).contains("show at the latest");
    EXPECT_TRUE(shown) << "the pointer reads the day of the show";
    make->time()->writePlan(path("plan.ics"));
    EXPECT_TRUE(read(path("plan.ics")).startsWith("BEGIN:VCALENDAR\r\n"));
    make->time()->writePlan(path("plan.csv"));
    EXPECT_TRUE(read(path("plan.csv")).contains("show," + due.toUtf8()));
}

TEST_F(SupplyWindow, SessionsOfBuildingTellTheRate) {
    rig.window->goStation(rig.window->indexOf(verdict::Station::Diary));
    auto* diary = rig.find<QTabWidget>("diaryTabs");
    for (int i = 0; i < diary->count(); ++i)
        if (diary->tabText(i) == "Building") diary->setCurrentIndex(i);
    rig.settle();
    rig.click("buildClock");
    EXPECT_EQ(rig.find<QPushButton>("buildClock")->text(), "Stop the clock");
    rig.click("buildClock");
    auto* minutes = rig.find<QDoubleSpinBox>("buildMinutes");
    EXPECT_GT(minutes->value(), 0);
    minutes->setValue(6);
    EXPECT_EQ(rig.text("buildParts"), "3 parts");
    rig.click("buildWrite");
    rig.settle();
    ASSERT_EQ(rig.project().making.builds.size(), 1U);
    EXPECT_EQ(rig.project().making.builds[0].parts, 3);
    EXPECT_TRUE(rig.text("buildRate").startsWith("2 min a part over 1 session")) << rig.text("buildRate").toStdString();
    choose("builds", 0);
    rig.click("buildRemove");
    EXPECT_TRUE(rig.project().making.builds.empty());
}

TEST_F(SupplyWindow, TheTideReadsUnderThePointerAndLeadsToTheStep) {
    up("Stock");
    ASSERT_TRUE(make->stock()->addTable(path("drawers.csv"), false));
    rig.settle();
    auto* chart = rig.find<app::TideChart>("tideChart");
    EXPECT_EQ(chart->describe(1), "after step 1\nbrick 2x2 slate: 1 short");
    int at = -1;
    for (int x = 0; x < chart->width() && at < 0; ++x)
        if (chart->stepUnder(QPointF(x, chart->height() / 2.0)) == 1) at = x;
    ASSERT_GE(at, 0);
    QTest::mouseClick(chart, Qt::LeftButton, {}, QPoint(at, chart->height() / 2));
    EXPECT_EQ(tabs->tabText(tabs->currentIndex()), "Step");
}
