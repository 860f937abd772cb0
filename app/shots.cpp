// SPDX-License-Identifier: GPL-3.0-or-later
// Makes the pictures of docs/screenshots from the demo: ivrant-shots FOLDER. Runs the real window and drives it as a
// person would; every picture waits until the numbers shown are those of the model shown.
#include <QApplication>
#include <QComboBox>
#include <QDir>
#include <QElapsedTimer>
#include <QLineEdit>
#include <QListWidget>
#include <QPainter>
#include <QSettings>
#include <QStandardPaths>
#include <QTabBar>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QTest>
#include <QTimer>
#include <functional>
#include <iostream>

#include "app/sheet3d/sheet3d.h"
#include "app/shell/main_window.h"
#include "app/shell/theme.h"
#include "app/stations/shape/own_shapes.h"
#include "app/stations/stations.h"
#include "core/files/atomic_file.h"
#include "core/script/script.h"
#include "print/guide.h"

using namespace ivrant;
using namespace ivrant::app;

namespace {

constexpr int kMostWaitMs = 60'000;
constexpr int kRefinedAfterMs = 400; ///< the 3-D sheet draws its smooth frame when it has been still for a while

class Shooter {
public:
    explicit Shooter(QString folder) : m_folder(std::move(folder)) {
        QDir().mkpath(m_folder);
        open();
    }

    void run() {
        startSheet();
        shapeStation();
        poseStation();
        ownShapes();
        briefStation();
        diaryStation();
        go(verdict::Station::Pose);
        verdictsAndMends();
        makeStation();
        standStation();
        driveStation();
        if (auto written = print::writeGuidePdf(*window().session().report(), (m_folder + "/sheet.pdf").toStdString());
            !written)
            throw std::runtime_error(written.error().message);
    }

    /// Every station with each of its tabs, and the start sheet: for looking at the window in another size or theme.
    void runAll(const QSize& size, const QString& model) {
        window().resize(size);
        if (!model.isEmpty() && !window().session().load(model)) throw std::runtime_error("no such model");
        settle();
        window().showStart(true);
        shoot("start");
        for (int s = 0; s < window().stationCount(); ++s) {
            window().goStation(s);
            const QString title = window().station(s)->title().toLower();
            const auto bars = window().station(s)->findChildren<QTabBar*>();
            shoot(title.toUtf8().constData());
            for (auto* bar : bars)
                for (int tab = 1; bar->isVisible() && tab < bar->count(); ++tab) {
                    bar->setCurrentIndex(tab);
                    shoot((title + "-" + bar->tabText(tab).toLower().replace(' ', '-')).toUtf8().constData());
                }
        }
    }

private:
    MainWindow& window() { return *m_window; }
    template <class T> T* find(const char* name) {
        auto* found = window().findChild<T*>(name);
        if (!found) throw std::runtime_error(std::string("no ") + name);
        return found;
    }

    void go(verdict::Station kind) { window().goStation(window().indexOf(kind)); }
    Station* station(verdict::Station kind) { return window().station(window().indexOf(kind)); }

    void open() {
        Prompts prompts;
        prompts.keepChanges = [](QWidget*) { return 'n'; };
        prompts.copies = [](QWidget*, const QStringList&) { return CopyAnswer{}; };
        m_window = std::make_unique<MainWindow>(prompts, m_journals.path(), makeStations);
        m_window->resize(1280, 800);
        m_window->show();
        QApplication::setActiveWindow(m_window.get()); // there is no window manager under a virtual display
        if (!m_window->openFile(QString(IVRANT_DATA_DIR) + "/demo/heron.ivrant"))
            throw std::runtime_error("the demo does not open: " + m_window->message().toStdString());
        settle();
    }
    void settle() {
        QElapsedTimer timer;
        timer.start();
        while (!(window().session().isReportCurrent() && !window().jobs().isBusy())) {
            if (timer.elapsed() > kMostWaitMs) throw std::runtime_error("the window does not come to rest");
            QTest::qWait(20);
        }
        QTest::qWait(kRefinedAfterMs);
    }
    void shoot(const char* name) {
        settle();
        const QString path = m_folder + "/" + name + ".png";
        if (!window().grab().save(path)) throw std::runtime_error("cannot write " + path.toStdString());
        std::cout << path.toStdString() << "\n";
    }
    void type(const char* field, const QString& text) {
        auto* line = find<QLineEdit>(field);
        line->setFocus();
        line->clear();
        QTest::keyClicks(line, text);
    }

    void startSheet() {
        QSettings().remove("recent"); // of whoever runs this
        window().showStart(true);
        shoot("start");
        window().showStart(false);
    }
    void shapeStation() {
        go(verdict::Station::Shape);
        settle();
        type("partLine", "2x4 plate gorse");
        hoverOverAStud(station(verdict::Station::Shape)->findChild<Sheet3d*>("sheet3d"));
        shoot("shape");
        QTest::keyClick(find<QLineEdit>("partLine"), Qt::Key_Escape);
    }
    /// Puts the pointer on the first stud that can be seen, so that the typed part hangs there.
    void hoverOverAStud(Sheet3d* sheet) {
        const auto& project = window().session().project();
        for (std::size_t i = 0; i < project.sections.size(); ++i)
            for (std::size_t p = 0; p < project.sections[i]->parts.size(); ++p) {
                const model::PartSpot spot{static_cast<int>(i), static_cast<int>(p)};
                for (const auto& port : project.sections[i]->parts[p].shape->ports) {
                    if (port.kind != parts::PortKind::Stud) continue;
                    const geometry::Vec3 top = window().session().placed().X_WP(spot) * (port.origin + 1.6 * port.axis);
                    const QPoint at = sheet->toScreen(top).toPoint();
                    const auto hit = sheet->pick(at);
                    if (!hit || hit->spot != spot || (hit->point - top).norm() > 2) continue;
                    QTest::mouseMove(sheet, at + QPoint(2, 0));
                    QTest::mouseMove(sheet, at);
                    return;
                }
            }
    }
    void poseStation() {
        go(verdict::Station::Pose);
        for (const auto& joint : window().session().project().joints)
            if (joint.name == "Neck 2") window().session().setCurrentJoint(joint.id);
        shoot("pose");
        showTab("Choose");
        shoot("choose");
        showTab("Range ladder");
    }
    void showTab(const QString& name) {
        auto* tabs = find<QTabWidget>("poseTabs");
        for (int i = 0; i < tabs->count(); ++i)
            if (tabs->tabText(i) == name) tabs->setCurrentIndex(i);
    }
    /// The crab's leg at the place of its step where motion is passed on worst.
    void motionTab() {
        go(verdict::Station::Pose);
        showTab("Motion");
        settle();
        for (const auto& v : window().session().report()->verdicts)
            if (v.check == "transmission") station(verdict::Station::Pose)->goTo(v.place);
        if (auto* sheet = station(verdict::Station::Pose)->findChild<Sheet3d*>("sheet3d"))
            sheet->look(render::View::Front);
        shoot("motion");
        showTab("Range ladder");
    }
    /// The heron's string in the pose in which bending pulls it most.
    void linesTab() {
        go(verdict::Station::Pose);
        showTab("Lines");
        settle();
        if (auto* sheet = station(verdict::Station::Pose)->findChild<Sheet3d*>("sheet3d"))
            sheet->look(render::View::Corner);
        shoot("lines");
        showTab("Range ladder");
    }
    /// The crest's mesh read as an own shape, with a port.
    void ownShapes() {
        go(verdict::Station::Shape);
        settle();
        for (auto* action : station(verdict::Station::Shape)->actions())
            if (action->text() == "Own shapes") action->trigger();
        auto* dialog = find<OwnShapes>("ownShapes");
        dialog->setMeshPath(QString(IVRANT_DATA_DIR) + "/demo/heron-crest.obj");
        type("ownMass", "0.8");
        QTest::mouseClick(find<QPushButton>("ownRead"), Qt::LeftButton);
        settle();
        QTest::mouseClick(find<QPushButton>("ownAddPort"), Qt::LeftButton);
        settle();
        auto* ports = find<QTableWidget>("ownPorts");
        auto* kinds = qobject_cast<QComboBox*>(ports->cellWidget(0, 1));
        kinds->setCurrentIndex(kinds->findText("bar end"));
        emit kinds->activated(kinds->currentIndex());
        settle();
        auto* picture = find<PortPicture>("ownPicture");
        QTest::mouseClick(picture, Qt::LeftButton, {}, picture->toScreen({0, -12, 5}).toPoint());
        settle();
        const QString path = m_folder + "/own.png";
        if (!dialog->grab().save(path)) throw std::runtime_error("cannot write " + path.toStdString());
        std::cout << path.toStdString() << "\n";
        dialog->reject();
        if (!window().openFile(QString(IVRANT_DATA_DIR) + "/demo/heron.ivrant"))
            throw std::runtime_error("the heron does not open");
        settle();
    }
    void briefStation() {
        go(verdict::Station::Brief);
        auto* measure = find<QComboBox>("askMeasure");
        measure->setCurrentIndex(measure->findText("holding margin of … at its worst"));
        type("askValue", "1.5");
        type("offset", "5.6mm");
        auto* pairs = find<QTableWidget>("scalePairs");
        pairs->setItem(0, 0, new QTableWidgetItem("90"));
        pairs->setItem(0, 1, new QTableWidgetItem("346mm"));
        type("scaleReal", "20");
        shoot("brief");
    }
    void diaryStation() {
        go(verdict::Station::Diary);
        auto* scope = find<QComboBox>("strengthScope");
        scope->setCurrentIndex(scope->findText("any stepped hinge small"));
        emit scope->activated(scope->currentIndex());
        find<QComboBox>("strengthSource")->setCurrentIndex(1);
        for (int i = 0; i < 7; ++i) {
            QTest::mouseClick(find<QPushButton>("strengthTake"), Qt::LeftButton);
            settle();
        }
        shoot("bench");
    }
    void verdictsAndMends() {
        auto* list = window().slip()->list();
        for (int row = 0; row < list->count(); ++row) {
            if (!list->item(row)->text().contains("sags")) continue;
            list->setFocus();
            list->setCurrentRow(row);
            break;
        }
        settle();
        const auto buttons = window().findChildren<QPushButton*>("mend");
        if (!buttons.isEmpty()) QTest::mouseClick(buttons.first(), Qt::LeftButton);
        shoot("mend");
    }
    void makeStation() {
        go(verdict::Station::Make);
        find<QListWidget>("makeSteps")->setCurrentRow(6);
        shoot("make");
        if (!window().openFile(QString(IVRANT_DATA_DIR) + "/demo/fairgoer-captain.ivrant"))
            throw std::runtime_error("the fair-goer does not open");
        settle();
        go(verdict::Station::Make);
        auto* tabs = find<QTabWidget>("makeTabs");
        for (const auto& [title, name] : {std::pair("Stock", "stock"), std::pair("Time", "time")}) {
            for (int tab = 0; tab < tabs->count(); ++tab)
                if (tabs->tabText(tab) == title) tabs->setCurrentIndex(tab);
            find<QTableWidget>("stockTable")->setFocus();
            shoot(name);
        }
        if (!window().openFile(QString(IVRANT_DATA_DIR) + "/demo/fairgoer-choices.ivrant"))
            throw std::runtime_error("the choices do not open");
        settle();
        go(verdict::Station::Make);
        for (int tab = 0; tab < tabs->count(); ++tab)
            if (tabs->tabText(tab) == "Modules") tabs->setCurrentIndex(tab);
        shoot("modules");
        tabs->setCurrentIndex(0);
        if (!window().openFile(QString(IVRANT_DATA_DIR) + "/demo/heron.ivrant"))
            throw std::runtime_error("the heron does not open");
        settle();
    }
    void standStation() {
        go(verdict::Station::Stand);
        settle();
        QTest::keyClick(station(verdict::Station::Stand), Qt::Key_B);
        shoot("stand");
        station(verdict::Station::Stand)->goTo({});
    }
    void driveStation() {
        const auto heron = window().session().project();
        if (!window().session().load(QString(IVRANT_DATA_DIR "/demo/bridge.ivrant")))
            throw std::runtime_error("no demo boards");
        settle();
        go(verdict::Station::Drive);
        auto* functions = find<QTableWidget>("functions");
        for (int r = 0; r < functions->rowCount(); ++r)
            if (functions->item(r, 0)->text() == "Span lift") functions->selectRow(r);
        shoot("drive");
        find<QTabWidget>("driveTabs")->setCurrentIndex(0);
        if (!window().session().load(QString(IVRANT_DATA_DIR "/demo/bridge.ivrant")))
            throw std::runtime_error("no swing bridge");
        settle();
        go(verdict::Station::Shape);
        shoot("bridge");
        if (!window().session().load(QString(IVRANT_DATA_DIR "/demo/crab-leg.ivrant")))
            throw std::runtime_error("no crab's leg");
        settle();
        motionTab();
        if (!window().session().load(QString(IVRANT_DATA_DIR "/demo/heron-beak.ivrant")))
            throw std::runtime_error("no heron's beak");
        settle();
        linesTab();
        wallsDialog();
        window().session().reset(heron, "", false);
        settle();
    }
    /// The gate's drive as it is typed, before its walls are put in.
    void wallsDialog() {
        auto text = files::readFile(IVRANT_DATA_DIR "/demo/gate-drive.script", script::kMostBytes);
        if (!text) throw std::runtime_error(text.error().message);
        const auto project = script::runScript(text->substr(0, text->find("line walls")));
        if (!project) throw std::runtime_error(project.error().message + " at " + project.error().place);
        window().session().reset(*project, "", false);
        settle();
        go(verdict::Station::Drive);
        settle();
        QTimer::singleShot(kRefinedAfterMs, [this] {
            auto* dialog = QApplication::activeModalWidget();
            QPixmap picture(window().size());
            picture.fill(window().palette().color(QPalette::Window));
            window().render(&picture);
            QPainter painter(&picture);
            const QPixmap top = dialog->grab();
            painter.drawPixmap(QPoint((picture.width() - top.width()) / 2, (picture.height() - top.height()) / 2), top);
            painter.end();
            picture.save(m_folder + "/walls.png");
            static_cast<QDialog*>(dialog)->reject();
        });
        for (QAction* action : window().findChildren<QAction*>())
            if (action->text() == "Walls, seats and a lid round the board") action->trigger();
    }

    QString m_folder;
    QTemporaryDir m_journals;
    std::unique_ptr<MainWindow> m_window;
};

} // namespace

int main(int argc, char** argv) {
    QStandardPaths::setTestModeEnabled(true);
    QApplication app(argc, argv);
    QApplication::setApplicationName("ivrant-shots");
    if (argc < 2) {
        std::cerr << "usage: ivrant-shots FOLDER            the pictures of the documents\n"
                     "       ivrant-shots FOLDER WIDTH HEIGHT [TEXTSCALE] [dark] [MODEL.ivrant]   every station and "
                     "tab at that size\n";
        return 2;
    }
    const QStringList arguments = QApplication::arguments();
    applyTheme(app, arguments.contains("dark"), argc > 4 ? std::max(kLeastScale, arguments[4].toDouble()) : 1);
    try {
        Shooter shooter(QString::fromLocal8Bit(argv[1]));
        if (argc > 3)
            shooter.runAll({arguments[2].toInt(), arguments[3].toInt()}, arguments.filter(".ivrant").value(0));
        else
            shooter.run();
        return 0;
    } catch (const std::exception& e) {
        std::cerr << e.what() << "\n";
        return 1;
    }
}
