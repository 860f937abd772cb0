// SPDX-License-Identifier: GPL-3.0-or-later
// Runs the interface tests; with --edit-until-killed FILE JOURNALS it is instead a window that works on a file for
// ever.
#include <QApplication>
#include <QStandardPaths>
#include <cstdio>
#include <gtest/gtest.h>

#include "app/shell/end_signals.h"
#include "app/shell/plain_labels.h"
#include "app/shell/safe_application.h"
#include "app/shell/theme.h"
#include "tests/support/window_rig.h"

int main(int argc, char** argv) {
    testing::InitGoogleTest(&argc, argv);
    QStandardPaths::setTestModeEnabled(true);
    ivrant::app::SafeApplication app(argc, argv);
    QApplication::setOrganizationName("ivrant-tests");
    QApplication::setApplicationName("ivrant-tests");
    ivrant::app::applyTheme(app, false);
    ivrant::app::keepLabelsPlain(&app);
    const QStringList arguments = QApplication::arguments();
    if (arguments.size() == 4 && arguments[1] == "--edit-until-killed") {
        ivrant::test::WindowRig rig(arguments[3]);
        if (!rig.window->openFile(arguments[2])) return 1;
        const ivrant::app::EndSignals ending(
            [&rig](int signal) {
                rig.window->endNow();
                QApplication::exit(128 + signal);
            },
            &app);
        rig.part("brick 2x4 kelp at 0 4 1");
        puts("edited");
        fflush(stdout);
        return QApplication::exec();
    }
    return RUN_ALL_TESTS();
}
