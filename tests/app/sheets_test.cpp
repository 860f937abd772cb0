// SPDX-License-Identifier: GPL-3.0-or-later
// The printed sheets, read back: text of the PDF, structure of the HTML, and that they agree with the core.
#include <QDir>
#include <QFile>
#include <QProcess>
#include <QRegularExpression>
#include <gtest/gtest.h>
#include <map>
#include <set>

#include "core/files/project_file.h"
#include "core/files/sheet_content.h"
#include "core/make/parts_list.h"
#include "print/guide.h"
#include "print/lineup.h"
#include "print/pdf_outline.h"
#include "print/pictures.h"
#include "tests/support/figures.h"
#include "tests/support/repo.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using test::Figure;
using test::must;

namespace {

QString textOf(const QString& pdf) {
    QProcess process;
    process.start("pdftotext", {"-layout", pdf, "-"});
    EXPECT_TRUE(process.waitForFinished(test::kMostWaitMs));
    return QString::fromUtf8(process.readAllStandardOutput()).simplified();
}

int pagesOf(const QString& pdf) {
    QProcess process;
    process.start("pdfinfo", {pdf});
    EXPECT_TRUE(process.waitForFinished(test::kMostWaitMs));
    for (const QString& line : QString::fromUtf8(process.readAllStandardOutput()).split('\n'))
        if (line.startsWith("Pages:")) return line.mid(6).trimmed().toInt();
    return 0;
}

std::shared_ptr<const model::Project> demo(const char* name) {
    return std::make_shared<const model::Project>(
        must(files::loadProject(test::repo(std::string("/data/demo/") + name + ".ivrant"))));
}

} // namespace

TEST(Sheets, ThePdfSaysEverythingTheContentHolds) {
    QTemporaryDir folder;
    const auto report = verdict::calcReport(demo("fairgoer-baker"));
    const auto content = files::makeSheetContent(report);
    const QString pdf = folder.path() + "/baker.pdf";
    ASSERT_TRUE(print::writeGuidePdf(report, pdf.toStdString()));
    const QString text = textOf(pdf);
    EXPECT_TRUE(text.contains(QString::fromStdString(content.title)));
    for (const auto& [name, value] : content.figures)
        EXPECT_TRUE(text.contains(QString::fromStdString(value))) << name << " " << value;
    for (const auto& joint : content.joints)
        EXPECT_TRUE(text.contains(QString::fromStdString(joint.kind))) << joint.kind;
    for (const auto& line : content.parts) EXPECT_TRUE(text.contains(QString::fromStdString(line.shape))) << line.shape;
    for (const auto& caution : content.cautions)
        EXPECT_TRUE(text.contains(QString::fromStdString(caution).left(30))) << caution;
    EXPECT_GT(pagesOf(pdf), 3);
}

TEST(Sheets, LikeSectionsAreBuiltOnceAndEveryJoiningIsAStep) {
    const auto report = verdict::calcReport(demo("heron"));
    const auto steps = files::makeSheetSteps(report);
    int joins = 0, thighs = 0;
    std::map<std::string, int> built; // parts that the steps make, times their copies
    for (const auto& step : steps) {
        EXPECT_EQ(step.step.number, static_cast<int>(&step - steps.data()) + 1);
        if (step.joins) {
            ++joins;
            EXPECT_TRUE(step.step.added.empty());
            EXPECT_NE(step.title.find(" onto "), std::string::npos);
        }
        if (step.title == "Right thigh") ADD_FAILURE() << "it is like the left one";
        if (step.title == "Left thigh") {
            ++thighs;
            EXPECT_EQ(step.copies, 2);
        }
        for (const auto& line : step.step.tray) built[line.shape] += line.count * step.copies;
    }
    EXPECT_EQ(joins, static_cast<int>(report.project->joints.size()));
    EXPECT_EQ(thighs, 2);
    // All that the parts list counts is built, no more and no less.
    std::map<std::string, int> listed;
    for (const auto& line : make::listParts(*report.project)) listed[line.shape] += line.count;
    EXPECT_EQ(built, listed);
    const auto wing = std::find_if(steps.begin(), steps.end(), [](const auto& s) { return s.title == "Left wing"; });
    ASSERT_NE(wing, steps.end());
    EXPECT_EQ(wing->copies, 2);
    EXPECT_EQ(wing->notes.front(), "Build 2 of these: Left wing and Right wing.");
}

TEST(Sheets, WhatIsNewInAStepIsSeen) {
    // The heron's body is built upside down at first: its first steps are looked at from below.
    const print::GuiGuard gui;
    const auto report = verdict::calcReport(demo("heron"));
    const auto steps = files::makeSheetSteps(report);
    auto pictures = must(print::Pictures::create(report));
    const auto views = pictures->chooseViews(steps);
    ASSERT_EQ(views.size(), steps.size());
    int hidden = 0;
    for (const auto& view : views) hidden += view.hidden;
    EXPECT_EQ(hidden, 0) << "every new part is seen from where its step is looked at";
    EXPECT_LT(views[1].turn.pitch, 0) << steps[1].title << " is put on from below";
    EXPECT_TRUE(views[2].turned);
    // Counted once more by another way: the picture with and without the new part differs where it is.
    const QImage first = pictures->step(steps[0], views[0], 400, 260);
    const QImage other = pictures->step(steps[1], views[1], 400, 260);
    EXPECT_NE(first, other);
}

TEST(Sheets, WhatNoViewShowsIsDrawnAwayFromItsPlace) {
    // A tile goes down a shaft that hides it from every corner.
    Figure f;
    f.put(0, "plate 6x6 gorse at 0 0 0");
    int step = 1;
    const auto then = [&](const std::string& typed) {
        const auto id = f.put(0, typed);
        f.project = must(model::setStep(f.project, {&id, 1}, step));
        return id;
    };
    for (const std::string z : {"1", "4", "7"}) {
        ++step;
        for (const char* wall : {"brick 2x6 slate at 0 0 ", "brick 2x6 slate at 4 0 ", "brick 2x2 slate at 2 4 ",
                                 "brick 2x2 slate at 2 0 "})
            then(wall + z);
    }
    ++step;
    then("tile 2x2 kelp at 2 2 1"); // at the bottom of a shaft of 16 mm, 29 mm deep
    const print::GuiGuard gui;
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(f.project));
    const auto steps = files::makeSheetSteps(report);
    auto pictures = must(print::Pictures::create(report));
    const auto views = pictures->chooseViews(steps);
    ASSERT_EQ(views.size(), 5U);
    for (std::size_t k = 0; k < 4; ++k) EXPECT_TRUE(views[k].away.empty()) << k;
    ASSERT_EQ(views[4].away.size(), 1U) << "no corner looks down to its bottom";
    const auto& [spot, away] = *views[4].away.begin();
    EXPECT_EQ(model::getPart(f.project, spot).shape->name, "tile 2x2");
    EXPECT_GT(away.z(), 29) << "up and out of the shaft";
    EXPECT_EQ(views[4].hidden, 0);
    // Its colour is in the picture now, and was not before.
    const auto countGreen = [](const QImage& image) {
        int count = 0;
        for (int y = 0; y < image.height(); ++y)
            for (int x = 0; x < image.width(); ++x) {
                const QColor c = image.pixelColor(x, y);
                count += c.green() > c.red() + 20 && c.green() > c.blue() + 8 ? 1 : 0;
            }
        return count;
    };
    print::StepView inPlace = views[4];
    inPlace.away.clear();
    EXPECT_GT(countGreen(pictures->step(steps[4], views[4], 600, 400)),
              10 * countGreen(pictures->step(steps[4], inPlace, 600, 400)) + 100);
}

TEST(Sheets, AKeptViewIsTurnedToAndBack) {
    Figure f;
    std::vector<model::PartId> ids;
    for (const char* part : {"plate 6x6 gorse at 0 0 0", "brick 2x2 kelp at 0 0 1", "brick 2x2 slate at 2 0 1"}) {
        ids.push_back(f.put(0, part));
        f.project = must(model::setStep(f.project, {&ids.back(), 1}, static_cast<int>(ids.size())));
    }
    f.project = must(model::setStepNote(f.project, {ids[1], "", std::array<double, 2>{60, 20}}));
    const print::GuiGuard gui;
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(f.project));
    auto pictures = must(print::Pictures::create(report));
    const auto views = pictures->chooseViews(files::makeSheetSteps(report));
    ASSERT_EQ(views.size(), 3U);
    EXPECT_NEAR(views[1].turn.yaw, base::degToRad(60), 1e-9);
    EXPECT_FALSE(views[0].turned);
    EXPECT_TRUE(views[1].turned);
    EXPECT_TRUE(views[2].turned) << "back to where all that is new is seen";
}

TEST(Sheets, BookmarksLeadToChaptersAndSteps) {
    QTemporaryDir folder;
    const auto report = verdict::calcReport(demo("fairgoer-choices"));
    const QString pdf = folder.path() + "/choices.pdf";
    ASSERT_TRUE(print::writeGuidePdf(report, pdf.toStdString()));
    QProcess reader;
    reader.start("pdftohtml", {"-xml", "-i", "-stdout", pdf});
    reader.waitForFinished();
    const QString xml = QString::fromUtf8(reader.readAllStandardOutput());
    const QString outline = xml.mid(xml.indexOf("<outline>"));
    for (const char* chapter : {"Parts", "Choices", "Steps", "Joints", "Carrying and transport", "What lifts off",
                                "Packing and putting up", "Known weak points"})
        EXPECT_TRUE(outline.contains(QRegularExpression(QString("<item page=\"\\d+\">") + chapter + "</item>")))
            << chapter;
    EXPECT_TRUE(outline.contains(QRegularExpression("<item page=\"\\d+\">1 Legs</item>"))) << outline.toStdString();
    const auto pageOf = [&](const QString& title) {
        const auto found = QRegularExpression("<item page=\"(\\d+)\">" + title + "</item>").match(outline);
        return found.hasMatch() ? found.captured(1).toInt() : 0;
    };
    EXPECT_LT(pageOf("Parts"), pageOf("Steps"));
    EXPECT_LT(pageOf("Steps"), pageOf("Known weak points"));
    EXPECT_EQ(pageOf("Known weak points"), pagesOf(pdf)) << "it is the last";
    // What is no PDF, or a page that is not there, is told.
    EXPECT_EQ(print::addBookmarks("no PDF", {}).error().code, "pdf.write");
    QFile file(pdf);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    EXPECT_EQ(print::addBookmarks(file.readAll().toStdString(), {{0, "Beyond", 999, 0}}).error().code, "pdf.write");
}

TEST(Sheets, LongPartsLieInTrueSize) {
    Figure f;
    f.put(0, "plate 6x8 slate at 0 0 0");
    f.put(0, "beam 5 kelp at 0 0 5");
    f.put(0, "beam 7 kelp at 0 1 5");
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(f.project));
    const auto steps = files::makeSheetSteps(report);
    std::map<std::string, double> lengths;
    for (const auto& step : steps)
        for (const auto& length : step.lengths) lengths[length.shape] = length.mm;
    // A beam of n holes is n pitches long, less what its ends are inside their pitch.
    ASSERT_EQ(lengths.size(), 2U);
    EXPECT_NEAR(lengths["beam 5"], 5 * 8, 0.7);
    EXPECT_NEAR(lengths["beam 7"], 7 * 8, 0.7);
    // On the page the bar is as long as that: counted in pixels at 254 dots an inch, ten to a millimetre.
    QTemporaryDir folder;
    const QString pdf = folder.path() + "/long.pdf";
    ASSERT_TRUE(print::writeGuidePdf(report, pdf.toStdString()));
    EXPECT_TRUE(textOf(pdf).contains("beam 5: 39.4 mm, true size when printed at 100 %"));
    QProcess painter;
    painter.start("pdftoppm", {"-r", "254", "-png", pdf, folder.path() + "/page"});
    ASSERT_TRUE(painter.waitForFinished(test::kMostWaitMs));
    std::set<int> runs; // longest rows of the bar's paper colour, pixels
    for (const QString& name : QDir(folder.path()).entryList({"page*.png"})) {
        const QImage page(folder.path() + "/" + name);
        for (int y = 0; y < page.height(); ++y)
            for (int x = 0, run = 0; x < page.width(); ++x) {
                const QRgb p = page.pixel(x, y);
                const bool bar = qRed(p) == 0xF2 && qGreen(p) == 0xED && qBlue(p) == 0xE0;
                run = bar ? run + 1 : 0;
                if (run > 350) runs.insert(run / 10);
            }
    }
    const auto has = [&](int mm) { return runs.count(mm) > 0 || runs.count(mm - 1) > 0; };
    EXPECT_TRUE(has(40)) << "the short one";
    EXPECT_TRUE(has(56)) << "the long one";
    // One length alone needs no strip.
    Figure one;
    one.put(0, "beam 5 kelp at 0 0 0");
    for (const auto& step :
         files::makeSheetSteps(verdict::calcReport(std::make_shared<const model::Project>(one.project))))
        EXPECT_TRUE(step.lengths.empty());
}

TEST(Sheets, TheFirstPageTellsSizeAndDifficulty) {
    const print::GuiGuard gui;
    const auto report = verdict::calcReport(demo("fairgoer-captain"));
    const auto content = files::makeSheetContent(report);
    const auto find = [&](const std::string& name) {
        for (const auto& [key, value] : content.figures)
            if (key == name) return value;
        return std::string();
    };
    const std::string steps = std::to_string(content.steps.size()) + " steps";
    EXPECT_NE(find("Difficulty").find(steps), std::string::npos) << find("Difficulty");
    int holds = 0;
    for (const auto& step : content.steps) holds += step.holds;
    EXPECT_EQ(find("Difficulty").find("to hold from below") != std::string::npos, holds > 0);
    EXPECT_EQ(files::describeDifficulty({}), "easy: 0 steps");
    files::SheetStep hard;
    hard.holds = 2;
    hard.tight = 1;
    EXPECT_EQ(files::describeDifficulty({hard, {}}),
              "demanding: 2 steps, 2 parts to hold from below, 1 place with little room for fingers");
    // A thumb of 62 mm stands beside a figure of 96 mm, to the same scale: its colour fills that many rows.
    auto pictures = must(print::Pictures::create(report));
    const QImage cover = pictures->cover(1600, 1150);
    int top = cover.height(), bottom = 0;
    for (int y = 0; y < cover.height(); ++y)
        for (int x = 0; x < cover.width() / 5; ++x)
            if (cover.pixelColor(x, y) == QColor(0xF2, 0xED, 0xE0)) {
                top = std::min(top, y);
                bottom = std::max(bottom, y);
            }
    render::PictureRequest request;
    request.width = 1600;
    request.height = 1150;
    const double mmPerPixel = render::makeScene(report.poses.front().placed, report.bonds, request).camera.mmPerPixel;
    EXPECT_NEAR((bottom - top) * mmPerPixel, 62, 2);
}

TEST(Sheets, TrialsComeWhenAFunctionIsComplete) {
    const auto report = verdict::calcReport(demo("bridge"));
    const auto steps = files::makeSheetSteps(report);
    std::map<std::string, int> trialAt; // function and its step
    for (const auto& step : steps)
        for (const auto& note : step.notes)
            if (note.starts_with("Trial: ")) {
                const auto colon = note.rfind(": "), moves = note.find(" moves by", colon);
                trialAt[note.substr(colon + 2, moves - colon - 2)] = step.step.number;
            }
    std::set<std::string> moved;
    for (const auto& position : report.drive->positions)
        for (const auto& function : position.functions)
            if (!function.motors.empty() && !function.locked && !function.stuck) moved.insert(function.function->name);
    ASSERT_FALSE(moved.empty());
    for (const std::string& name : moved) {
        ASSERT_TRUE(trialAt.count(name)) << name;
        // The joint that it turns is joined by then, and what turns it is built.
        std::set<base::JointId> turned;
        for (const auto& position : report.drive->positions)
            for (const auto& function : position.functions)
                if (function.function->name == name) turned.insert(function.joint);
        for (const auto& step : steps) {
            if (!step.joins) continue;
            const auto& joint = report.project->joints[static_cast<std::size_t>(step.step.joint)];
            if (turned.count(joint.id) > 0) {
                EXPECT_LE(step.step.number, trialAt[name]) << name;
            }
        }
    }
    for (const auto& step : steps)
        for (const auto& note : step.notes) EXPECT_EQ(note.find(" moves by 0"), std::string::npos) << note;
}

TEST(Sheets, ModelsStandBesideEachOtherToOneScale) {
    QTemporaryDir folder;
    std::vector<verdict::Report> reports;
    study::Wanted places;
    places.facts = 0;
    for (const char* height : {"0", "3", "9"}) { // towers of one, two and four bricks
        Figure f;
        for (int z = 0; z <= std::atoi(height); z += 3) f.put(0, "brick 2x2 rust at 0 0 " + std::to_string(z));
        reports.push_back(verdict::calcReport(std::make_shared<const model::Project>(f.project), nullptr, places));
    }
    const QString png = folder.path() + "/towers.png";
    ASSERT_TRUE(print::writeLineup(reports, png.toStdString()));
    const QImage page(png);
    ASSERT_FALSE(page.isNull());
    // Heights of the rust columns, by the middle of each tower.
    std::vector<int> heights;
    int run = 0;
    for (int x = 0; x < page.width(); ++x) {
        int count = 0;
        for (int y = 0; y < page.height(); ++y) {
            const QColor c = page.pixelColor(x, y);
            count += c.red() > c.blue() + 40 ? 1 : 0;
        }
        if (count == 0) {
            if (run > 0) heights.push_back(run);
            run = 0;
        }
        run = std::max(run, count);
    }
    ASSERT_EQ(heights.size(), 3U);
    EXPECT_LT(heights[0], heights[1]);
    // Less what shows of the tops, four bricks are twice as high as two.
    EXPECT_NEAR(heights[2] - heights[0], 3.0 * (heights[1] - heights[0]), 0.06 * heights[2]);
    EXPECT_EQ(print::writeLineup({}, png.toStdString()).error().code, "lineup.none");
    EXPECT_EQ(print::writeLineup(reports, "towers.txt").error().code, "output.kind");
    EXPECT_TRUE(print::writeLineup(reports, (folder.path() + "/towers.pdf").toStdString()));
    EXPECT_EQ(pagesOf(folder.path() + "/towers.pdf"), 1);
}

TEST(Sheets, PagesOfOtherPaperHoldTheSame) {
    QTemporaryDir folder;
    const auto report = verdict::calcReport(demo("fairgoer-choices"));
    const auto content = files::makeSheetContent(report);
    const auto sizeOf = [](const QString& pdf) {
        QProcess reader;
        reader.start("pdfinfo", {pdf});
        EXPECT_TRUE(reader.waitForFinished(test::kMostWaitMs));
        const auto found = QRegularExpression("Page size:\\s+([0-9.]+) x ([0-9.]+)")
                               .match(QString::fromUtf8(reader.readAllStandardOutput()));
        return QSize(qRound(found.captured(1).toDouble()), qRound(found.captured(2).toDouble()));
    };
    const std::vector<std::pair<print::PageFormat, QSize>> papers{{{false, false}, {595, 842}},
                                                                  {{true, false}, {612, 792}},
                                                                  {{false, true}, {842, 595}},
                                                                  {{true, true}, {792, 612}}};
    for (const auto& [format, size] : papers) {
        const QString pdf = folder.path() + QString("/sheet%1%2.pdf").arg(format.letter).arg(format.across);
        ASSERT_TRUE(print::writeGuidePdf(report, pdf.toStdString(), nullptr, format));
        EXPECT_EQ(sizeOf(pdf), size);
        const QString text = textOf(pdf);
        for (const auto& line : content.parts) EXPECT_TRUE(text.contains(QString::fromStdString(line.shape)));
        for (const auto& [what, minutes] : content.packing.putUp)
            EXPECT_TRUE(text.contains(QString::fromStdString(what))) << what;
        EXPECT_TRUE(text.contains("Known weak points"));
        EXPECT_GT(pagesOf(pdf), 3);
    }
}

TEST(Sheets, EveryStepIsAPictureAndALine) {
    QTemporaryDir folder;
    const auto report = verdict::calcReport(demo("fairgoer-choices"));
    const QString into = folder.path() + "/steps";
    ASSERT_TRUE(print::writeStepPictures(report, into.toStdString()));
    const auto steps = files::makeSheetSteps(report);
    const QDir made(into);
    EXPECT_EQ(made.entryList({"step-*.png"}).size(), static_cast<int>(steps.size()));
    const QImage first(made.filePath("step-0001.png"));
    EXPECT_EQ(first.size(), QSize(1200, 800));
    EXPECT_FALSE(QImage(made.filePath("cover.png")).isNull());
    QFile list(made.filePath("steps.csv"));
    ASSERT_TRUE(list.open(QIODevice::ReadOnly));
    const QString csv = QString::fromUtf8(list.readAll());
    EXPECT_TRUE(csv.startsWith("step,title,times,count,shape,colour,notes\r\n1,Legs,1,"));
    std::map<int, int> counts;
    for (const QString& line : csv.split("\r\n").mid(1))
        if (!line.isEmpty()) counts[line.section(',', 0, 0).toInt()] += line.section(',', 3, 3).toInt();
    ASSERT_EQ(counts.size(), steps.size());
    for (const auto& step : steps) EXPECT_EQ(counts[step.step.number], static_cast<int>(step.step.added.size()));
    EXPECT_EQ(print::writeStepPictures(report, "/proc/no/steps").error().code, "file.write");
}

TEST(Sheets, NegativeNumbersKeepTheirSign) {
    // Contextual forms of the typeface once lost the minus and the x to text search.
    Figure f;
    const auto fork = f.put(0, "stepped hinge small fork at 0 0 0"),
               tongue = f.put(1, "stepped hinge small tongue at 0 0 0");
    f.join("stepped hinge small", fork, "finger", tongue, "finger", {0}, {{-67.5, 45}});
    QTemporaryDir folder;
    const QString pdf = folder.path() + "/sign.pdf";
    ASSERT_TRUE(print::writeGuidePdf(verdict::calcReport(std::make_shared<const model::Project>(f.project)),
                                     pdf.toStdString()));
    EXPECT_TRUE(textOf(pdf).contains("-67.5 to 45°"));
}

TEST(Sheets, StepsAreNumberedThroughAndNamed) {
    QTemporaryDir folder;
    const auto project = demo("fairgoer-captain");
    const auto report = verdict::calcReport(project);
    const QString html = folder.path() + "/captain.html";
    ASSERT_TRUE(print::writeGuideHtml(report, html.toStdString()));
    QFile file(html);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    const QString text = QString::fromUtf8(file.readAll());
    const auto steps = files::makeSheetSteps(report);
    EXPECT_EQ(text.count("<div class=\"step\" id="), static_cast<int>(steps.size()));
    for (const auto& joint : project->joints)
        EXPECT_TRUE(text.contains("Set " + QString::fromStdString(joint.name).toHtmlEscaped() + " to "));
    EXPECT_EQ(text.count("<table>"), text.count("</table>"));
    EXPECT_EQ(text.count("<tr>"), text.count("</tr>"));
}

TEST(Sheets, NamesAreEscapedInHtml) {
    Figure f;
    f.put(0, "plate 2x2 at 0 0 0");
    f.project = must(model::renameProject(f.project, "<b>&\"Gate\"</b>"));
    QTemporaryDir folder;
    const QString html = folder.path() + "/x.html";
    ASSERT_TRUE(print::writeGuideHtml(verdict::calcReport(std::make_shared<const model::Project>(f.project)),
                                      html.toStdString()));
    QFile file(html);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    const QString text = QString::fromUtf8(file.readAll());
    EXPECT_TRUE(text.contains("&lt;b&gt;&amp;"));
    EXPECT_FALSE(text.contains("<b>&\"Gate\""));
}

TEST(Sheets, AnEmptyModelStillMakesACover) {
    QTemporaryDir folder;
    const auto report =
        verdict::calcReport(std::make_shared<const model::Project>(model::makeEmptyProject("Nothing yet")));
    const QString pdf = folder.path() + "/empty.pdf";
    ASSERT_TRUE(print::writeGuidePdf(report, pdf.toStdString()));
    EXPECT_TRUE(textOf(pdf).contains("Nothing yet"));
    EXPECT_TRUE(print::writeGuideHtml(report, (folder.path() + "/empty.html").toStdString()));
}

TEST(Sheets, StoppedWorkWritesNothing) {
    QTemporaryDir folder;
    base::Progress progress;
    progress.stop();
    const auto report = verdict::calcReport(demo("fairgoer-keeper"));
    const auto stopped = print::writeGuidePdf(report, (folder.path() + "/a.pdf").toStdString(), &progress);
    ASSERT_FALSE(stopped);
    EXPECT_EQ(stopped.error().code, "stopped");
    EXPECT_FALSE(print::writeGuideHtml(report, (folder.path() + "/a.html").toStdString(), &progress));
    EXPECT_TRUE(QDir(folder.path()).isEmpty());
}

TEST(Sheets, LongTextsWrapInsteadOfRunningOut) {
    Figure f;
    f.put(0, "plate 2x2 at 0 0 0");
    const std::string word = "Pier ";
    std::string name;
    for (int i = 0; i < 40; ++i) name += word;
    f.project = must(model::renameSection(f.project, f.project.sections[0]->id, name));
    f.put(0, "plate 2x2 at 9 9 0"); // a loose part: its verdict carries the long name
    QTemporaryDir folder;
    const QString pdf = folder.path() + "/long.pdf";
    ASSERT_TRUE(print::writeGuidePdf(verdict::calcReport(std::make_shared<const model::Project>(f.project)),
                                     pdf.toStdString()));
    EXPECT_GE(textOf(pdf).count("Pier"), 40) << "no word is cut off";
}
