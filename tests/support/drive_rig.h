// SPDX-License-Identifier: GPL-3.0-or-later
// The window at Drive: lines typed, things dragged, functions read.
#pragma once

#include <QApplication>

#include "app/stations/drive/drive_station.h"
#include "core/drive/plane_parts.h"
#include "tests/support/window_rig.h"

namespace ivrant::test {

struct DriveRig : testing::Test {
    WindowRig rig;

    void SetUp() override { rig.window->goStation(rig.window->indexOf(verdict::Station::Drive)); }
    void open(const char* file) { openPath(test::demoFile(file)); }
    void openBoards(const char* file) { openPath(test::boardFile(file)); }
    void openPath(const QString& path) {
        ASSERT_TRUE(rig.session().load(path));
        rig.settle();
        rig.window->goStation(rig.window->indexOf(verdict::Station::Drive));
        rig.settle();
    }
    app::BoardWidget* board() { return rig.find<app::BoardWidget>("board"); }
    /// From anywhere in the station: letters go to the typed line.
    void put(const QString& typed) {
        board()->setFocus();
        QTest::keyClicks(board(), typed.left(1));
        auto* line = rig.find<QLineEdit>("boardLine");
        QTest::keyClicks(line, typed.mid(1));
        QTest::keyClick(line, Qt::Key_Return);
        rig.settle();
    }
    void clickAt(double x, double y, Qt::KeyboardModifiers modifiers = {}) {
        QTest::mouseClick(board(), Qt::LeftButton, modifiers, board()->pixelOf(x, y));
    }
    void drag(double x, double y, double toX, double toY) { drag(board()->pixelOf(x, y), board()->pixelOf(toX, toY)); }
    void drag(QPoint from, QPoint to) {
        QTest::mousePress(board(), Qt::LeftButton, {}, from);
        for (int i = 1; i <= 8; ++i) {
            const QPoint at = from + (to - from) * i / 8;
            QMouseEvent move(QEvent::MouseMove, at, board()->mapToGlobal(at), Qt::NoButton, Qt::LeftButton, {});
            QApplication::sendEvent(board(), &move);
        }
        QTest::mouseRelease(board(), Qt::LeftButton, {}, to);
        rig.settle();
    }
    [[nodiscard]] const model::Board& first() { return *rig.project().boards.at(0); }
    /// What lies in its plane as parts.
    [[nodiscard]] drive::PlaneParts seen() { return drive::listPlaneParts(rig.project(), first()); }
    [[nodiscard]] QString function(int row, int column) {
        return rig.find<QTableWidget>("functions")->item(row, column)->text();
    }
};

} // namespace ivrant::test
