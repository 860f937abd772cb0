// SPDX-License-Identifier: GPL-3.0-or-later
// Stocks, tides, baskets: tables with every kind of mistake, tides counted by hand.
#include <gtest/gtest.h>

#include "core/files/csv_rows.h"
#include "core/files/project_file.h"
#include "core/files/supplies_csv.h"
#include "core/make/basket.h"
#include "core/make/pick_list.h"
#include "core/make/stand_ins.h"
#include "core/model/edits.h"
#include "core/parts/palette.h"
#include "core/script/script.h"
#include "core/verdict/make/check_supply.h"
#include "core/verdict/mends.h"
#include "tests/support/figures.h"

using namespace ivrant;

namespace {

int colour(const char* name) { return parts::findColour(name); }

model::StockPtr stockOf(const std::string& csv) {
    auto stock = std::make_shared<model::Stock>(test::must(files::parseStock(csv)));
    stock->file = "drawers.csv";
    return stock;
}

model::Project supplied(model::Project project, const std::string& stockCsv, const std::string& pricesCsv = "") {
    auto supplies = std::make_shared<model::Supplies>();
    supplies->stocks.push_back(stockOf(stockCsv));
    if (!pricesCsv.empty())
        supplies->prices.push_back(std::make_shared<model::PriceList>(test::must(files::parsePriceList(pricesCsv))));
    project.supplies = std::move(supplies);
    return project;
}

make::Tide tideOf(const model::Project& project) { return make::calcTide(project, model::makeTree(project).value()); }

const make::TideLine* findLine(const make::Tide& tide, const std::string& shape) {
    for (const make::TideLine& line : tide.lines)
        if (line.shape == shape) return &line;
    return nullptr;
}

/// A floor, and on it three bricks, one in each of three steps.
model::Project threeSteps() {
    return test::must(script::runScript("model Steps\nsection Wall\npart plate 4x12 gorse at 0 0 0\nstep\n"
                                        "part brick 2x4 slate at 0 0 1\nstep\npart brick 2x4 slate at 0 4 1\nstep\n"
                                        "part brick 4x2 slate at 0 8 1\n"));
}

const verdict::Verdict* findVerdict(const verdict::Report& report, const std::string& id) {
    for (const auto& v : report.verdicts)
        if (v.id == id) return &v;
    return nullptr;
}

} // namespace

TEST(CsvRows, ReadsWhatTableProgramsWrite) {
    std::vector<std::pair<int, std::string>> rows;
    const auto read = [&](std::string_view text) {
        rows.clear();
        return files::forEachRow(text, [&](const std::vector<std::string>& cells, int row) {
            std::string joined;
            for (const auto& cell : cells) joined += "[" + cell + "]";
            rows.emplace_back(row, joined);
            return true;
        });
    };
    ASSERT_TRUE(read("\xEF\xBB\xBF"
                     "a, b ,\"c, \"\"d\"\"\"\r\n\r\n1,,\"two\nlines\"\r\nx,y\n"));
    ASSERT_EQ(rows.size(), 3U);
    EXPECT_EQ(rows[0].second, "[a][b][c, \"d\"]");
    EXPECT_EQ(rows[1], std::pair(3, std::string("[1][][two\nlines]")));
    EXPECT_EQ(rows[2].first, 5) << "lines inside quotes count";
    ASSERT_TRUE(read("a;b,c\n1;2,5\n"));
    EXPECT_EQ(rows[1].second, "[1][2,5]") << "divided by what the heading has";
    ASSERT_TRUE(read("caf\xE9,b\n"));
    EXPECT_EQ(rows[0].second, "[caf\xC3\xA9][b]") << "old text is Latin-1";
    const auto open = read("a,b\n\"never ends,2\n3,4\n");
    ASSERT_FALSE(open);
    EXPECT_EQ(open.error().place, "line 2");
    ASSERT_TRUE(read(""));
    EXPECT_TRUE(rows.empty());
}

TEST(StockTable, TellsEachWrongRowAndKeepsTheRest) {
    const auto stock = test::must(files::parseStock("Shape;Color;Pieces;Box;note\n"
                                                    "plate 4x2;slate;12;A2;good\n"
                                                    "plate 2x4;slate;-3;A3;\n"
                                                    "plate 2x4;slate;1,5;A3;\n"
                                                    "plate 2x4;slate;1.234;A3;\n"
                                                    "no such thing;slate;4;B1;odd\n"
                                                    "brick 2x4;nocolour;4;B1;\n"
                                                    "brick 2x4;slate;;B1;\n"
                                                    ";slate;3;;\n"
                                                    "brick 2x4;slate;1e9;;\n"
                                                    "tile 1x1;gorse;0;C;\n"));
    ASSERT_EQ(stock.lines.size(), 4U);
    EXPECT_EQ(stock.lines[0].shape, "plate 2x4") << "by its list name";
    EXPECT_EQ(stock.lines[0].count, 12);
    EXPECT_EQ(stock.lines[0].drawer, "A2");
    EXPECT_EQ(stock.lines[0].more, std::vector<std::string>{"good"});
    EXPECT_FALSE(stock.lines[1].isKnown);
    EXPECT_EQ(stock.lines[1].shape, "no such thing");
    EXPECT_FALSE(stock.lines[2].isKnown);
    EXPECT_EQ(stock.lines[2].colourText, "nocolour");
    EXPECT_EQ(stock.lines[3].count, 0);
    std::vector<std::pair<int, std::string>> told;
    for (const auto& problem : stock.problems) told.emplace_back(problem.row, problem.column);
    EXPECT_EQ(told, (std::vector<std::pair<int, std::string>>{{3, "count"},
                                                              {4, "count"},
                                                              {5, "count"},
                                                              {6, "shape"},
                                                              {7, "colour"},
                                                              {8, "count"},
                                                              {9, "shape"},
                                                              {10, "count"}}));
    EXPECT_FALSE(files::writeStock(stock)) << "rows that could not be read would be lost";
}

TEST(StockTable, WhatIsUnknownSurvivesWriting) {
    const auto stock = test::must(files::parseStock("colour,shape,count,seen\nnocolour,odd thing,4,\"yes, twice\"\n"
                                                    "slate,plate 2x4,3,no\n"));
    const std::string text = test::must(files::writeStock(stock));
    const auto again = test::must(files::parseStock(text));
    EXPECT_EQ(again.lines, stock.lines);
    EXPECT_EQ(again.moreHeads, std::vector<std::string>{"seen"});
    EXPECT_EQ(test::must(files::writeStock(again)), text);
}

TEST(StockTable, ColumnsAreMatchedOrAsked) {
    const std::string table = "thing,hue,stored\nplate 2x4,slate,3\n";
    const auto unmatched = files::parseStock(table);
    ASSERT_FALSE(unmatched);
    EXPECT_EQ(unmatched.error().code, "csv.column");
    EXPECT_NE(unmatched.error().message.find("'thing', 'hue', 'stored'"), std::string::npos);
    const auto matched = files::parseStock(table, {{"shape", "thing"}, {"colour", "hue"}, {"count", "stored"}});
    ASSERT_TRUE(matched) << matched.error().message;
    EXPECT_EQ(matched->lines.at(0).count, 3);
    EXPECT_FALSE(files::parseStock("")) << "an empty table has no headings";
}

TEST(PriceTable, TermsOfSellersHoldForAllTheirRows) {
    const auto list =
        test::must(files::parsePriceList("seller,shape,colour,price,count,pack,days,least order,shipping\n"
                                         "Harbour,plate 2x4,slate,0.10,40,1,3,5,\"0: 4.50, 30: 2.50\"\n"
                                         "Harbour,brick 2x4,slate,0.20,,10,,,\n"
                                         "Harbour,tile 1x1,slate,0,9,1,,,\n"
                                         "Harbour,tile 1x2,slate,0.1,9,1,7,,\n"
                                         "North,plate 2x4,slate,\"0,08\",,,9,,6\n"));
    ASSERT_EQ(list.sellers.size(), 2U);
    EXPECT_EQ(list.sellers[0].days, 3);
    EXPECT_DOUBLE_EQ(list.sellers[0].leastOrder, 5);
    EXPECT_EQ(list.sellers[0].shipping, (std::vector<model::ShippingStep>{{0, 4.5}, {30, 2.5}}));
    EXPECT_EQ(list.sellers[1].shipping, (std::vector<model::ShippingStep>{{0, 6}}));
    ASSERT_EQ(list.offers.size(), 3U);
    EXPECT_EQ(list.offers[1].pack, 10);
    EXPECT_DOUBLE_EQ(list.offers[2].price, 0.08);
    ASSERT_EQ(list.problems.size(), 2U);
    EXPECT_EQ(list.problems[0].row, 4);
    EXPECT_EQ(list.problems[0].column, "price") << "a price of nothing is no price";
    EXPECT_EQ(list.problems[1].row, 5);
    EXPECT_EQ(list.problems[1].column, "days") << "7 contradicts 3";
}

TEST(Tide, RunsOutAtTheStepCountedByHand) {
    // Needed: step 1 a plate, steps 2, 3 and 4 a brick 2x4 each (the last one named 4x2).
    const auto project = supplied(threeSteps(), "shape,colour,count,drawer,kept for\nbrick 2x4,slate,1,A1,\n"
                                                "brick 4x2,slate,1,A7,Steps\nbrick 2x4,slate,9,A1,Heron\n"
                                                "brick 2x4,gorse,9,A1,\nplate 4x12,gorse,5,B,\n");
    const auto tide = tideOf(project);
    EXPECT_EQ(tide.steps, 4);
    ASSERT_EQ(tide.lines.size(), 2U);
    const make::TideLine& brick = tide.lines[0];
    EXPECT_EQ(brick.shape, "brick 2x4") << "what runs out comes first";
    EXPECT_EQ(brick.need, 3);
    EXPECT_EQ(brick.have, 2) << "what is kept for this model counts, what is kept for another does not";
    EXPECT_EQ(brick.keptForOthers, 9);
    EXPECT_EQ(brick.drawers, (std::vector<std::string>{"A1", "A7"}));
    EXPECT_EQ(brick.missing(), 1);
    EXPECT_EQ(brick.runsOutAt, 4);
    EXPECT_EQ(brick.lacksAt, 4);
    EXPECT_EQ(brick.leftAfter(1), 2);
    EXPECT_EQ(brick.leftAfter(2), 1);
    EXPECT_EQ(brick.leftAfter(4), -1);
    EXPECT_EQ(tide.lines[1].runsOutAt, 0);
}

TEST(Tide, OrdersComeInAndThenCount) {
    auto project = supplied(threeSteps(), "shape,colour,count\nbrick 2x4,slate,0\nplate 4x12,gorse,1\n");
    model::Order order;
    order.seller = "Harbour";
    order.lines = {{"brick 2x4", colour("slate"), 3, 1, 0.2}};
    project = test::must(model::putOrder(project, order));
    const make::TideLine line = tideOf(project).lines[0];
    EXPECT_EQ(line.arrived, 1);
    EXPECT_EQ(line.onTheWay, 2);
    EXPECT_EQ(line.missing(), 0);
    EXPECT_EQ(line.runsOutAt, 3);
    EXPECT_EQ(line.lacksAt, 0);
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(project));
    const auto* waiting = findVerdict(report, "stock/brick 2x4/slate");
    ASSERT_TRUE(waiting);
    EXPECT_EQ(waiting->state, verdict::State::Thin) << "on its way is not missing";
    order = project.making.orders[0];
    order.lines[0].arrived = 3;
    project = test::must(model::putOrder(project, order));
    const auto all = verdict::calcReport(std::make_shared<const model::Project>(project));
    ASSERT_TRUE(findVerdict(all, "stock/all"));
    EXPECT_EQ(findVerdict(all, "stock/all")->state, verdict::State::Good);
}

TEST(Tide, IsToldWithTheStandInThatMendsIt) {
    // Two bricks are there for three; of the plates there are enough for one stack of three.
    const auto project = supplied(threeSteps(), "shape,colour,count\nbrick 2x4,slate,2\nplate 4x12,gorse,1\n"
                                                "plate 2x4,slate,3\n");
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(project));
    const auto* verdict = findVerdict(report, "stock/brick 2x4/slate");
    ASSERT_TRUE(verdict);
    EXPECT_EQ(verdict->state, verdict::State::Fail);
    EXPECT_NEAR(*verdict->margin, 2.0 / 3, 1e-9);
    ASSERT_EQ(verdict->place.parts.size(), 1U);
    const auto mends = verdict::listMends(report, *verdict);
    ASSERT_EQ(mends.size(), 1U) << "halves of bricks are not in the drawers";
    EXPECT_EQ(mends[0].text, "3 plate 2x4 stacked for the brick 2x4");
    const auto mended = test::must(mends[0].apply(project));
    EXPECT_EQ(mended.partCount(), 6U);
    EXPECT_EQ(findLine(tideOf(mended), "plate 2x4")->missing(), 0);
    EXPECT_EQ(findLine(tideOf(mended), "brick 2x4")->missing(), 0);
    // The stack fills the place of the brick: as high, on the same studs.
    double top = 0;
    for (const auto& part : mended.sections[0]->parts)
        top = std::max(top, part.place.frame().translation().z() + part.shape->bounds.high.z());
    EXPECT_NEAR(top, 3.2 + 9.6 + 1.7, 0.2);
}

TEST(StandIns, FillWhatTheyReplaceWhateverTheTurn) {
    for (const char* shape : {"brick 2x4", "brick 4x2", "plate 1x6", "plate 6x1", "plate 2x2", "tile 1x4", "brick 1x1"})
        for (int turn = 0; turn < 24; ++turn) {
            auto project = test::must(script::runScript("model Turns\nsection One\npart " + std::string(shape) +
                                                        " slate at 0 0 0 turn " + std::to_string(turn) + "\n"));
            project = supplied(std::move(project), "shape,colour,count\nplate 8x8,slate,1\n");
            const auto tree = model::makeTree(project).value();
            const auto tide = tideOf(project);
            ASSERT_EQ(tide.lines.size(), 1U);
            const auto candidates =
                make::listStandIns(project, tide.lines[0], make::listFree(project, tree, tide.lines[0]));
            EXPECT_EQ(candidates.empty(), false) << shape;
            const auto outline = [](const model::Project& p) {
                std::pair box{geometry::Vec3(1e9, 1e9, 1e9), geometry::Vec3(-1e9, -1e9, -1e9)};
                for (const auto& part : p.sections[0]->parts)
                    for (const auto& solid : part.shape->drawn) {
                        const auto bounds = geometry::calcBounds(solid, part.place.frame());
                        box.first = box.first.cwiseMin(bounds.low);
                        box.second = box.second.cwiseMax(bounds.high);
                    }
                return box;
            };
            const auto whole = outline(project);
            for (const auto& candidate : candidates) {
                const auto changed = test::must(make::replaceParts(project, candidate.replacements));
                const auto after = outline(changed);
                EXPECT_LT((after.first - whole.first).norm() + (after.second - whole.second).norm(), 0.01)
                    << candidate.text << " turn " << turn;
                EXPECT_EQ(changed.sections[0]->parts.size(), static_cast<std::size_t>(candidate.standIn.count));
            }
        }
}

TEST(Stocks, PartsAreKeptForAModelAndLetGoAgain) {
    const auto project = supplied(threeSteps(), "shape,colour,count,drawer,kept for\nbrick 2x4,slate,5,A1,\n"
                                                "brick 2x4,slate,4,A2,Heron\nplate 4x12,gorse,1,B,\n");
    auto kept = project;
    kept.supplies = test::must(make::keepForModel(project, tideOf(project)));
    std::vector<std::tuple<int, std::string, std::string>> lines;
    for (const auto& line : kept.supplies->stocks[0]->lines) lines.emplace_back(line.count, line.drawer, line.keptFor);
    EXPECT_EQ(lines, (std::vector<std::tuple<int, std::string, std::string>>{
                         {3, "A1", "Steps"}, {2, "A1", ""}, {4, "A2", "Heron"}, {1, "B", "Steps"}}));
    auto twice = kept;
    twice.supplies = test::must(make::keepForModel(kept, tideOf(kept)));
    EXPECT_EQ(twice.supplies->stocks[0]->lines, kept.supplies->stocks[0]->lines) << "keeping again keeps no more";
    auto free = kept;
    free.supplies = make::releaseModel(kept);
    int count = 0;
    for (const auto& line : free.supplies->stocks[0]->lines) {
        EXPECT_NE(line.keptFor, "Steps");
        count += line.count;
    }
    EXPECT_EQ(count, 10) << "no part comes or goes";
}

TEST(PickList, DrawersAreOpenedOnceAndNothingIsTakenTwice) {
    const auto project = supplied(threeSteps(), "shape,colour,count,drawer\nbrick 2x4,slate,1,A10\n"
                                                "brick 2x4,slate,1,A2\nplate 4x12,gorse,1,A2\n");
    const auto tree = model::makeTree(project).value();
    const auto steps = make::pickBySteps(project, tree, 2);
    ASSERT_EQ(steps.size(), 2U);
    EXPECT_EQ(steps[0].lastStep, 2);
    ASSERT_EQ(steps[0].lines.size(), 2U);
    EXPECT_EQ(steps[0].lines[0].drawer, "A2");
    EXPECT_EQ(steps[0].lines[1].drawer, "A10");
    ASSERT_EQ(steps[1].lines.size(), 2U);
    EXPECT_EQ(steps[1].lines[1].drawer, "") << "the third brick lies in none";
    const auto drawers = make::pickByDrawers(project, tree);
    ASSERT_EQ(drawers.size(), 3U);
    EXPECT_EQ(drawers[0].drawer, "A2") << "2 before 10";
    EXPECT_EQ(drawers[0].lines.size(), 2U);
    EXPECT_EQ(drawers[2].drawer, "");
    int count = 0;
    for (const auto& tray : drawers)
        for (const auto& line : tray.lines) count += line.count;
    EXPECT_EQ(count, 4);
    EXPECT_TRUE(make::isBeforeInDrawers("a9", "a10"));
    EXPECT_FALSE(make::isBeforeInDrawers("a10", "a9"));
    EXPECT_FALSE(make::isBeforeInDrawers("a9", "a9"));
}

TEST(MakingFile, SurvivesTheRoundTripAndNamesWhatIsWrong) {
    auto project = threeSteps();
    project = test::must(model::setSupplyFiles(project, {"drawers.csv"}, {"shops.csv"}, {{"count", "stored"}}));
    model::Order order;
    order.seller = "Harbour";
    order.placedOn = "2026-12-01";
    order.lines = {{"brick 2x4", colour("slate"), 3, 1, 0.2}};
    project = test::must(model::putOrder(project, order));
    model::Schedule schedule;
    schedule.dueOn = "2026-12-19";
    schedule.hours[1] = 2.5;
    schedule.others = {{"2026-12-08", 0}};
    schedule.builders = 2;
    project = test::must(model::setSchedule(project, schedule));
    model::BuildSession build;
    build.date = "2026-12-02";
    build.minutes = 45;
    build.lastStep = 2;
    build.parts = 30;
    project = test::must(model::putBuild(project, build));
    const std::string text = files::writeProject(project);
    const auto again = test::must(files::parseProject(text));
    EXPECT_EQ(files::writeProject(again), text);
    EXPECT_EQ(again.making.schedule, schedule);
    EXPECT_EQ(again.making.columns.at("count"), "stored");
    EXPECT_EQ(again.making.orders.at(0).lines.at(0).arrived, 1);
    EXPECT_GT(again.nextId, 1);
    const auto refused = [&](const std::string& from, const std::string& to) {
        std::string broken = text;
        const auto at = broken.find(from);
        EXPECT_NE(at, std::string::npos) << from;
        broken.replace(at, from.size(), to);
        const auto read = files::parseProject(broken);
        return read ? std::string("read") : read.error().place;
    };
    EXPECT_EQ(refused("\"arrived\": 1", "\"arrived\": 4"), "/making/orders/0/lines/0/arrived");
    EXPECT_EQ(refused("\"due_on\": \"2026-12-19\"", "\"due_on\": \"2026-02-30\""), "/making/schedule/due_on");
    EXPECT_EQ(refused("\"minutes\": 45", "\"minutes\": 0"), "/making/builds/0/minutes");
    EXPECT_EQ(refused("\"colour\": \"slate\", \"count\": 3", "\"colour\": \"nothing\", \"count\": 3"),
              "/making/orders/0/lines/0/colour");
    EXPECT_EQ(refused("\"drawers.csv\"", "\"\""), "/making/stocks/0");
    EXPECT_EQ(refused("\"hours\": [0, 2.5", "\"hours\": [0, 25"), "/making/schedule/hours/1");
}

TEST(MakingVerdicts, ATableThatCannotBeReadIsToldAndNothingElse) {
    auto project = threeSteps();
    project.making.stockFiles = {"nowhere.csv"};
    project.supplies = files::loadSupplies(project.making, "/nonexistent");
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(project));
    const auto* table = findVerdict(report, "table/nowhere.csv");
    ASSERT_TRUE(table);
    EXPECT_EQ(table->state, verdict::State::Fail);
}

TEST(PutAway, ArrivedPiecesCountInTheDrawersAndNowhereElse) {
    test::Figure figure;
    for (int k = 0; k < 3; ++k) figure.put(0, "brick 2x2 slate at 0 0 " + std::to_string(3 * k));
    auto supplies = std::make_shared<model::Supplies>();
    auto stock = std::make_shared<model::Stock>();
    const int slate = parts::findColour("slate");
    stock->lines = {{"brick 2x2", slate, 1, "B2", ""}, {"brick 2x2", slate, 5, "B2", "Another model"}};
    supplies->stocks = {stock};
    figure.project = test::must(model::setSupplies(figure.project, supplies));
    model::Order order;
    order.seller = "Lantern";
    order.placedOn = "2026-12-01";
    order.lines = {{"brick 2x2", slate, 4, 2, 0.1}};
    figure.project = test::must(model::putOrder(figure.project, order));
    const auto lineOf = [](const model::Project& project) {
        return make::calcTide(project, test::must(model::makeTree(project))).lines.at(0);
    };
    EXPECT_EQ(lineOf(figure.project).have, 1);
    EXPECT_EQ(lineOf(figure.project).arrived, 2);
    const make::OrderedLine line{figure.project.making.orders[0].id, 0};
    const auto stored = test::must(make::putAway(figure.project, {&line, 1}));
    const auto after = lineOf(stored);
    EXPECT_EQ(after.have, 3);
    EXPECT_EQ(after.arrived, 0);
    EXPECT_EQ(after.onTheWay, 2) << "the others are still on their way";
    EXPECT_EQ(after.there(), lineOf(figure.project).there()) << "none is counted twice";
    const auto& lines = stored.supplies->stocks[0]->lines;
    ASSERT_EQ(lines.size(), 3U);
    EXPECT_EQ(lines[2].drawer, "B2");
    EXPECT_EQ(lines[2].keptFor, figure.project.name);
    EXPECT_EQ(make::putAway(stored, {&line, 1}).error().code, "order.arrived") << "once is enough";
    // More that arrives goes to the same line; the whole is read again as it is.
    model::Project more = stored;
    model::Order next = more.making.orders[0];
    next.lines[0].arrived = 4;
    more = test::must(make::putAway(test::must(model::putOrder(more, next)), {&line, 1}));
    EXPECT_EQ(more.supplies->stocks[0]->lines[2].count, 4);
    const auto again = test::must(files::parseProject(files::writeProject(more)));
    EXPECT_EQ(again.making.orders[0].lines[0].stored, 4);
    next.lines[0].stored = 5;
    EXPECT_EQ(model::putOrder(more, next).error().place, "/making/orders/0/lines/0/stored");
    model::Project bare = figure.project;
    bare.supplies = nullptr;
    EXPECT_EQ(make::putAway(bare, {&line, 1}).error().code, "stock.none");
}
