// SPDX-License-Identifier: GPL-3.0-or-later
// Killed while saving, a hundred times: the file is the old or the new one, whole, every time.
#include <csignal>
#include <filesystem>
#include <random>
#include <sys/wait.h>
#include <unistd.h>

#include "core/files/project_file.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
namespace fs = std::filesystem;

TEST(Kill, AHundredKillsWhileSavingLoseNothing) {
    std::string name = (fs::temp_directory_path() / "ivrant-kill-XXXXXX").string();
    const fs::path folder = ::mkdtemp(name.data());
    const std::string target = (folder / "model.ivrant").string();
    test::Figure f;
    for (int i = 0; i < 300; ++i) f.put(0, "brick 1x1 at " + std::to_string(i) + " 0 0");
    ASSERT_TRUE(files::saveProject(f.project, target));
    std::mt19937 random(1);
    int newest = 0, replaced = 0;
    int started[2];
    ASSERT_EQ(::pipe(started), 0);
    for (int round = 0; round < 100; ++round) {
        const pid_t child = ::fork();
        ASSERT_GE(child, 0);
        if (child == 0) {
            model::Project p = f.project;
            for (int i = newest + 1;; ++i) { // saves numbered names until it is killed
                p.name = "save " + std::to_string(i);
                if (!files::saveProject(p, target).ok()) ::_exit(1);
                if (i == newest + 1 && ::write(started[1], "b", 1) != 1) ::_exit(2);
            }
        }
        // From its first save on at a random instant: the child says when it has begun.
        char begun = 0;
        EXPECT_EQ(::read(started[0], &begun, 1), 1);
        ::usleep(std::uniform_int_distribution<useconds_t>(0, 12'000)(random));
        ::kill(child, SIGKILL);
        int status = 0;
        ::waitpid(child, &status, 0);
        ASSERT_TRUE(WIFSIGNALED(status)) << "the saver must not have failed by itself";
        const auto loaded = files::loadProject(target);
        ASSERT_TRUE(loaded) << loaded.error().message;
        EXPECT_EQ(loaded->partCount(), 300U);
        const int number = loaded->name.starts_with("save ") ? std::stoi(loaded->name.substr(5)) : 0;
        EXPECT_GE(number, newest) << "an older save must never come back";
        replaced += number > newest ? 1 : 0;
        newest = number;
    }
    EXPECT_EQ(replaced, 100) << "the kills must really have hit a saving program";
    fs::remove_all(folder);
}
