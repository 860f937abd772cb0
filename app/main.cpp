// SPDX-License-Identifier: GPL-3.0-or-later
#include <QApplication>
#include <QDir>
#include <QIcon>
#include <QSettings>
#include <algorithm>
#include <cstdio>
#include <string_view>

#include "app/shell/end_signals.h"
#include "app/shell/main_window.h"
#include "app/shell/plain_labels.h"
#include "app/shell/safe_application.h"
#include "app/shell/theme.h"
#include "app/stations/stations.h"
#include "core/files/usual_sizes_file.h"

namespace {

/// Desktops with large text get large text.
double getDesktopScale() {
    constexpr double kUsualPt = 11;
    return std::max(1.0, QApplication::font().pointSizeF() / kUsualPt);
}

} // namespace

int main(int argc, char** argv) {
    using namespace ivrant::app;
    for (int i = 1; i < argc; ++i) { // answered without a display
        const std::string_view option = argv[i];
        if (option == "--version") return puts("ivrant " IVRANT_VERSION) < 0;
        if (option == "--help") return puts("usage: ivrant [FILE.ivrant]") < 0;
    }
    SafeApplication app(argc, argv);
    QApplication::setApplicationName("ivrant");
    QApplication::setOrganizationName("ivrant");
    QApplication::setApplicationVersion(IVRANT_VERSION);
    QApplication::setWindowIcon(QIcon(":/icons/ivrant.svg"));
    QApplication::setDesktopFileName("ivrant");
    const QStringList arguments = QApplication::arguments();
    applyTheme(app, QSettings().value("dark", false).toBool(),
               QSettings().value("textScale", getDesktopScale()).toDouble());
    // Unsaved work lives where the desktop keeps state (XDG base directories).
    const QString state = qEnvironmentVariable("XDG_STATE_HOME", QDir::homePath() + "/.local/state");
    MainWindow window(makeDialogPrompts(), state + "/ivrant/journal", makeStations);
    keepLabelsPlain(&app);
    app.setOnFailure([&window](const QString& what) { window.tellFailure(what); });
    const EndSignals ending(
        [&window](int signal) {
            window.endNow();
            QApplication::exit(128 + signal);
        },
        &app);
    // The session ends with the desktop: what is unsaved is kept, and nobody is asked while everything closes.
    QObject::connect(&app, &QGuiApplication::commitDataRequest, &window, &MainWindow::endNow, Qt::DirectConnection);
    if (const auto sizes = ivrant::files::loadOwnUsualSizes(); !sizes)
        window.session().warn(QString::fromStdString(sizes.error().message));
    window.show();
    window.begin(arguments.size() > 1 && !arguments[1].startsWith('-') ? arguments[1] : QString());
    const int code = QApplication::exec();
    app.setOnFailure({}); // the window goes first
    return code;
}
