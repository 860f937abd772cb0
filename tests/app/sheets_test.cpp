// SPDX-License-Identifier: GPL-3.0-or-later
// The printed sheets, read back: text of the PDF, structure of the HTML, and that they agree with the core.
#include <QFile>
#include <QProcess>
#include <gtest/gtest.h>
#include <map>

#include "core/files/project_file.h"
#include "core/files/sheet_content.h"
#include "core/make/parts_list.h"
#include "print/guide.h"
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
    const QImage first = pictures->step(steps[0], views[0].turn, 400, 260);
    const QImage other = pictures->step(steps[1], views[1].turn, 400, 260);
    EXPECT_NE(first, other);
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
