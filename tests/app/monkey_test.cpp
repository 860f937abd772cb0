// SPDX-License-Identifier: GPL-3.0-or-later
// Random keys, clicks, drags and sizes in all stations on all demo files: nothing crashes, and what the project then is
// stays a project.
#include <QDir>
#include <QFile>

#include "core/files/project_file.h"
#include "tests/support/monkey.h"

using namespace ivrant;
using test::WindowRig;

namespace {

void copyDemo(const QString& to) {
    for (const QFileInfo& f : QDir(test::demoFile("")).entryInfoList({"*.ivrant"}, QDir::Files))
        if (!f.fileName().startsWith("auk")) {
            ASSERT_TRUE(QFile::copy(f.absoluteFilePath(), to + "/" + f.fileName()));
        }
}

} // namespace

TEST(Monkey, RandomActionsLeaveAWindowAndAProject) {
    WindowRig rig;
    const QString folder = rig.folder.path();
    copyDemo(folder);
    const unsigned seed = qEnvironmentVariableIntValue("IVRANT_MONKEY_SEED") > 0
                              ? static_cast<unsigned>(qEnvironmentVariableIntValue("IVRANT_MONKEY_SEED"))
                              : 20261129U;
    test::Monkey monkey(rig, folder, seed);
    const bool told = qEnvironmentVariableIsSet("IVRANT_MONKEY_TELLS");
    // A few hundred each time the tests run; `./dev monkey` goes on with other seeds for as long as it is asked to.
    const int actions = qEnvironmentVariableIntValue("IVRANT_MONKEY_ACTIONS") > 0
                            ? qEnvironmentVariableIntValue("IVRANT_MONKEY_ACTIONS")
                            : 400;
    for (int i = 0; i < actions; ++i) {
        ASSERT_NO_THROW(monkey.act()) << "action " << i << ": " << monkey.last();
        if (told) std::fprintf(stderr, "%d %s\n", i, monkey.last().c_str());
        if (i % 100 == 0) {
            // Whatever was done, the project can be written and read again to the same bytes.
            const std::string text = files::writeProject(rig.project());
            const auto read = files::parseProject(text);
            ASSERT_TRUE(read) << "action " << i << ": " << monkey.last() << ": " << read.error().message << " at "
                              << read.error().place;
            EXPECT_EQ(files::writeProject(*read), text);
        }
    }
    ASSERT_TRUE(rig.window->isVisible());
    rig.window->jobs().stopAll(); // what was stopped leaves no report behind
    EXPECT_TRUE(WindowRig::waitFor([&] { return !rig.window->jobs().isBusy(); }));
}
