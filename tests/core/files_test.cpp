// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/project_file.h"

#include <csignal>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>
#include <sys/resource.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include "core/files/atomic_file.h"
#include "core/files/journal.h"
#include "core/files/mesh_files.h"
#include "core/files/mesh_import.h"
#include "core/files/parts_csv.h"
#include "core/files/results_json.h"
#include "core/model/texts.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"
#include "tests/support/repo.h"

using namespace ivrant;
using test::Figure;
using test::must;
namespace fs = std::filesystem;

namespace {

std::string gate() { return must(files::readFile(test::repo("/tests/fixtures/gate_arm.ivrant"), 1 << 20)); }

std::string with(std::string text, const std::string& what, const std::string& instead) {
    const auto at = text.find(what);
    if (at == std::string::npos) throw std::runtime_error("fixture has no " + what);
    return text.replace(at, what.size(), instead);
}

struct TempFolder {
    fs::path path;
    TempFolder() {
        std::string name = (fs::temp_directory_path() / "ivrant-test-XXXXXX").string();
        path = ::mkdtemp(name.data());
    }
    ~TempFolder() { fs::remove_all(path); }
};

} // namespace

TEST(ProjectFile, TheSmallestExampleOfTheDocsLoads) {
    const auto project = must(files::parseProject(gate()));
    EXPECT_EQ(project.name, "Gate arm");
    EXPECT_EQ(project.partCount(), 4U);
    EXPECT_EQ(project.joints[0].kind->name, "stepped hinge small");
    EXPECT_EQ(project.poses[1].values.begin()->second[0], 90);
    EXPECT_EQ(project.nextId, 5);
}

TEST(ProjectFile, WritingAndReadingGivesTheSameText) {
    for (const char* name :
         {"/tests/fixtures/gate_arm.ivrant", "/data/demo/heron.ivrant", "/data/demo/fairgoer-fisher.ivrant"}) {
        const auto once = files::writeProject(must(files::loadProject(test::repo(name))));
        EXPECT_EQ(files::writeProject(must(files::parseProject(once))), once) << name;
    }
}

TEST(ProjectFile, UnknownKeysSurviveAtEveryLevel) {
    auto text = with(gate(), "\"asks\": []", "\"asks\": [ { \"x\": 1 } ], \"later\": { \"a\": [1, 2] }");
    text = with(text, "\"id\": \"p1\",", "\"id\": \"p1\", \"maker\": \"Fernby\",");
    text = with(text, "\"id\": \"s1\",", "\"id\": \"s1\", \"note\": \"keep\",");
    text = with(text, "\"id\": \"j1\",", "\"id\": \"j1\", \"wear\": 3,");
    text = with(text, "\"id\": \"q1\",", "\"id\": \"q1\", \"seen\": true,");
    const auto written = model::Json::parse(files::writeProject(must(files::parseProject(text))));
    EXPECT_EQ(written["later"]["a"][1], 2);
    EXPECT_EQ(written["sections"][0]["parts"][0]["maker"], "Fernby");
    EXPECT_EQ(written["sections"][0]["note"], "keep");
    EXPECT_EQ(written["joints"][0]["wear"], 3);
    EXPECT_EQ(written["poses"][0]["seen"], true);
    EXPECT_EQ(written["kept_asks"][0]["x"], 1); // version 1 kept whatever stood there
}

struct BadFile {
    const char *what, *instead, *code, *pointer;
};

class BadFiles : public testing::TestWithParam<BadFile> {};

TEST_P(BadFiles, AreNamedWithTheirPlace) {
    const auto& bad = GetParam();
    const auto result = files::parseProject(with(gate(), bad.what, bad.instead));
    ASSERT_FALSE(result);
    EXPECT_EQ(result.error().code, bad.code) << result.error().message;
    EXPECT_EQ(result.error().place, bad.pointer) << result.error().message;
    EXPECT_FALSE(result.error().message.empty());
}

INSTANTIATE_TEST_SUITE_P(
    All, BadFiles,
    testing::Values(
        BadFile{"ivrant-project", "other", "file.format", "/format"},
        BadFile{"\"version\": 1", "\"version\": 99", "file.version", "/version"},
        BadFile{"\"version\": 1", "\"version\": \"1\"", "file.type", "/version"},
        BadFile{"\"name\": \"Gate arm\",", "", "file.missing", ""},
        BadFile{"plate 4x4", "plate 4x4x4", "shape.size", "/sections/0/parts/0/shape"},
        BadFile{"plate 4x4", "plaid", "shape.unknown", "/sections/0/parts/0/shape"},
        BadFile{"\"slate\"", "\"mauve\"", "colour.unknown", "/sections/0/parts/0/colour"},
        BadFile{"[8000, 8000, 3200]", "[8000, 8000.5, 3200]", "file.type", "/sections/0/parts/1/at/1"},
        BadFile{"[8000, 8000, 3200]", "[8000, 1e308, 3200]", "file.type", "/sections/0/parts/1/at/1"},
        BadFile{"[8000, 8000, 3200]", "[8000, 99999999999999999999, 3200]", "file.type", "/sections/0/parts/1/at/1"},
        BadFile{"[8000, 8000, 3200]", "[8000, 3200]", "file.value", "/sections/0/parts/1/at"},
        BadFile{"\"turn\": 0", "\"turn\": 24", "file.value", "/sections/0/parts/0/turn"},
        BadFile{"\"turn\": 0", "\"quat\": [1, 1, 0, 0]", "file.value", "/sections/0/parts/0/quat"},
        BadFile{"\"step\": 1", "\"step\": 0", "file.value", "/sections/0/parts/0/step"},
        BadFile{"\"id\": \"p2\"", "\"id\": \"p1\"", "id.twice", "/sections/0/parts/1/id"},
        BadFile{"\"id\": \"p2\"", "\"id\": \"P 2\"", "id.syntax", "/sections/0/parts/1/id"},
        BadFile{"\"kind\": \"stepped hinge small\"", "\"kind\": \"rubber\"", "joint.kind", "/joints/0/kind"},
        BadFile{"\"kind\": \"stepped hinge small\"", "\"kind\": \"small turntable\"", "joint.kind", "/joints/0/kind"},
        BadFile{"\"part\": \"p2\"", "\"part\": \"p9\"", "joint.part", "/joints/0/from/part"},
        BadFile{"\"part\": \"p3\"", "\"part\": \"p1\"", "joint.port", "/joints/0/to/port"},
        BadFile{"\"value\": [0]", "\"value\": [0, 1]", "joint.value", "/joints/0/value"},
        BadFile{"[[0, 90]]", "[[90, 0]]", "joint.value", "/joints/0/wanted/0"},
        BadFile{"{ \"j1\": [0] }", "{ \"j7\": [0] }", "pose.joint", "/poses/0/values/j7"},
        BadFile{"{ \"flat\": \"s1\" }", "{ \"flat\": \"s9\" }", "pose.section", "/poses/0/stands"},
        BadFile{"{ \"flat\": \"s1\" }", "{ }", "file.value", "/poses/0/stands"},
        BadFile{"\"strict\"", "\"lax\"", "file.value", "/rules"},
        BadFile{"\"asks\": []", "\"asks\": 3", "file.type", "/asks"}));

TEST(ProjectFile, ASecondJointOfTheSamePortsIsNamedAtItsPlace) {
    const std::string second =
        R"("wanted": [[0, 90]] }, { "id": "j2", "name": "Back", "kind": "stepped hinge small", "from": { "part": "p3", "port": "finger" }, "to": { "part": "p2", "port": "finger" } })";
    const auto ring = files::parseProject(with(gate(), "\"wanted\": [[0, 90]] }", second));
    ASSERT_FALSE(ring);
    EXPECT_EQ(ring.error().code, "joint.twice");
    EXPECT_TRUE(ring.error().place.starts_with("/joints/"));
}

TEST(ProjectFile, TruncatedAnywhereIsAnErrorNeverACrash) {
    const auto text = gate();
    for (std::size_t n = 0; n + 3 < text.size(); n += 7) EXPECT_FALSE(files::parseProject(text.substr(0, n))) << n;
}

TEST(ProjectFile, HostileSizesStayWithinBounds) {
    EXPECT_EQ(files::parseProject(std::string(1'000'000, '[')).error().code, "file.depth");
    std::string many = "[";
    for (int i = 0; i < 1'100'000; ++i) many += "{},";
    EXPECT_EQ(files::parseProject(many).error().code, "file.size");
    EXPECT_EQ(files::parseProject("").error().code, "file.syntax");
    EXPECT_EQ(files::parseProject("nul").error().code, "file.syntax");
    EXPECT_EQ(files::parseProject(with(gate(), "\"value\": [0]", "\"value\": [NaN]")).error().code, "file.syntax");
    EXPECT_EQ(files::parseProject(with(gate(), "\"value\": [0]", "\"value\": [1e308]")).error().code, "file.value");
    EXPECT_EQ(files::parseProject(std::string("{\"format\": \"\xff\xfe\"}")).error().code, "file.syntax");
}

TEST(AtomicFile, ReadOnlyAndMissingTargetsLeaveNothingBehind) {
    const TempFolder folder;
    EXPECT_EQ(files::writeFileAtomically((folder.path / "no/such/folder/x").string(), "x").error().code, "file.write");
    EXPECT_EQ(files::writeFileAtomically("/dev/full/x", "x").error().code, "file.write");
    const auto target = (folder.path / "a.ivrant").string();
    ASSERT_TRUE(files::writeFileAtomically(target, "one"));
    ASSERT_TRUE(files::writeFileAtomically(target, "two"));
    EXPECT_EQ(must(files::readFile(target, 100)), "two");
    EXPECT_EQ(std::distance(fs::directory_iterator(folder.path), fs::directory_iterator()), 1);
    EXPECT_EQ(files::readFile(target, 2).error().code, "file.size");
    EXPECT_EQ(files::readFile(folder.path.string(), 100).error().code, "file.open");
}

TEST(AtomicFile, AFullDiskLeavesTheOldFileWhole) {
    // A limit on the size of files makes the system refuse further bytes, as a full disk does.
    const TempFolder folder;
    const auto target = (folder.path / "a.ivrant").string();
    ASSERT_TRUE(files::writeFileAtomically(target, "old"));
    rlimit before{};
    ASSERT_EQ(::getrlimit(RLIMIT_FSIZE, &before), 0);
    const auto handler = std::signal(SIGXFSZ, SIG_IGN);
    const rlimit small{4096, before.rlim_max};
    ASSERT_EQ(::setrlimit(RLIMIT_FSIZE, &small), 0);
    const auto status = files::writeFileAtomically(target, std::string(100'000, 'x'));
    ASSERT_EQ(::setrlimit(RLIMIT_FSIZE, &before), 0);
    std::signal(SIGXFSZ, handler);
    ASSERT_FALSE(status);
    EXPECT_EQ(status.error().code, "file.write");
    EXPECT_EQ(must(files::readFile(target, 100)), "old");
    EXPECT_EQ(std::distance(fs::directory_iterator(folder.path), fs::directory_iterator()), 1)
        << "nothing is left aside";
}

TEST(AtomicFile, ASymbolicLinkKeepsPointing) {
    const TempFolder folder;
    ASSERT_TRUE(files::writeFileAtomically((folder.path / "real").string(), "one"));
    fs::create_symlink(folder.path / "real", folder.path / "link");
    ASSERT_TRUE(files::writeFileAtomically((folder.path / "link").string(), "two"));
    EXPECT_TRUE(fs::is_symlink(folder.path / "link"));
    EXPECT_EQ(must(files::readFile((folder.path / "real").string(), 100)), "two");
}

TEST(Journal, WhatAnEarlierRunLeftIsFound) {
    const TempFolder folder;
    Figure f;
    f.put(0, "brick 2x4 at 0 0 0");
    const std::string journals = (folder.path / "journal").string();
    std::string file;
    {
        files::Journal journal(journals, "w1");
        file = journal.file();
        ASSERT_TRUE(journal.write(f.project, "/some/where.ivrant", 1));
        std::ofstream(folder.path / "journal" / "broken.journal") << "{ \"journal\": 1\nnonsense";
        EXPECT_TRUE(files::findJournals(journals).empty()) << "its window is still there";
        ASSERT_EQ(files::listJournals(journals).size(), 1U);
        EXPECT_TRUE(files::listJournals(journals)[0].inUse);
        EXPECT_FALSE(files::discardJournal(file));
    }
    const auto found = files::findJournals(journals);
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].projectPath, "/some/where.ivrant");
    EXPECT_EQ(found[0].project.partCount(), 1U);
    EXPECT_TRUE(files::discardJournal(file));
    EXPECT_TRUE(files::findJournals(journals).empty());
    EXPECT_TRUE(files::findJournals("/no/such/folder").empty());
}

TEST(Journal, AClosedOneAndAnOlderSnapshotWriteNothing) {
    const TempFolder folder;
    Figure f;
    f.put(0, "brick 2x4 at 0 0 0");
    const std::string journals = (folder.path / "journal").string();
    files::Journal journal(journals, "w1");
    ASSERT_TRUE(journal.write(f.project, "newer", 5));
    ASSERT_TRUE(journal.write(f.project, "older", 4)); // it was on its way in another thread
    EXPECT_EQ(files::listJournals(journals)[0].projectPath, "newer");
    journal.clear();
    EXPECT_TRUE(files::listJournals(journals).empty());
    journal.close();
    ASSERT_TRUE(journal.write(f.project, "", 9));
    EXPECT_TRUE(files::listJournals(journals).empty());
}

TEST(Journal, AFolderThatWasTakenAwayIsMadeAgain) {
    const TempFolder folder;
    Figure f;
    f.put(0, "brick 2x4 at 0 0 0");
    const std::string journals = (folder.path / "state" / "journal").string();
    files::Journal journal(journals, "w1");
    fs::remove_all(folder.path / "state");
    ASSERT_TRUE(journal.write(f.project, "", 1));
    ASSERT_EQ(files::listJournals(journals).size(), 1U);
    EXPECT_TRUE(files::listJournals(journals)[0].inUse) << "the lock is held again too";
}

TEST(Journal, OfADeadWindowIsFoundWhoeverHasItsNumberNow) {
    // The journal says nothing of a process: one with the old number must not hide it. A killed child leaves journal
    // and lock.
    const TempFolder folder;
    Figure f;
    f.put(0, "brick 2x4 at 0 0 0");
    const std::string journals = (folder.path / "journal").string();
    const pid_t child = ::fork();
    if (child == 0) {
        files::Journal journal(journals, "w1");
        if (!journal.write(f.project, "", 1).ok()) ::_exit(1);
        ::kill(::getpid(), SIGKILL);
    }
    int status = 0;
    ::waitpid(child, &status, 0);
    ASSERT_TRUE(WIFSIGNALED(status));
    const auto found = files::findJournals(journals);
    ASSERT_EQ(found.size(), 1U);
    const auto text = must(files::readFile(found[0].file, 1 << 20));
    EXPECT_EQ(text.substr(0, text.find('\n')).find("pid"), std::string::npos);
}

TEST(AtomicFile, ModesOwnersAndTheUmaskAreKept) {
    const TempFolder folder;
    const std::string target = (folder.path / "model").string();
    const mode_t before = ::umask(027);
    ASSERT_TRUE(files::writeFileAtomically(target, "one"));
    ::umask(before);
    struct stat now {};
    ASSERT_EQ(::stat(target.c_str(), &now), 0);
    EXPECT_EQ(now.st_mode & 07777, 0640U); // 0666 without 027
    ASSERT_EQ(::chmod(target.c_str(), 0604), 0);
    const bool given = ::chown(target.c_str(), 1234, 4321) == 0; // needs to be allowed
    ASSERT_TRUE(files::writeFileAtomically(target, "two"));
    ASSERT_EQ(::stat(target.c_str(), &now), 0);
    EXPECT_EQ(now.st_mode & 07777, 0604U);
    if (given) {
        EXPECT_EQ(now.st_uid, 1234U);
        EXPECT_EQ(now.st_gid, 4321U);
    }
}

TEST(AtomicFile, OnlyRegularFilesAreRead) {
    const TempFolder folder;
    const std::string pipe = (folder.path / "pipe").string();
    ASSERT_EQ(::mkfifo(pipe.c_str(), 0600), 0);
    EXPECT_EQ(files::readFile(pipe, 100).error().code, "file.open"); // and at once: nobody ever writes to it
    EXPECT_EQ(files::readFile("/dev/zero", 100).error().code, "file.open");
    EXPECT_EQ(files::readFile(folder.path.string(), 100).error().code, "file.open");
}

TEST(MeshImport, ReadsNothingOutsideItsFolder) {
    const TempFolder folder;
    fs::create_directories(folder.path / "in");
    // Three points in a buffer of their own: 0 0 0, 1 0 0, 0 1 0, as 32-bit floats, and the triangles of a tetrahedron
    // would need a fourth.
    const float points[] = {0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1};
    const std::uint16_t corners[] = {0, 2, 1, 0, 1, 3, 1, 2, 3, 0, 3, 2};
    std::string bytes(reinterpret_cast<const char*>(points), sizeof points);
    bytes.append(reinterpret_cast<const char*>(corners), sizeof corners);
    const auto gltf = [&](const std::string& uri) {
        return R"({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],"nodes":[{"mesh":0}],"meshes":[{"primitives":[{"attributes":{"POSITION":0},"indices":1}]}],)"
               R"("accessors":[{"bufferView":0,"componentType":5126,"count":4,"type":"VEC3","min":[0,0,0],"max":[1,1,1]},{"bufferView":1,"componentType":5123,"count":12,"type":"SCALAR"}],)"
               R"("bufferViews":[{"buffer":0,"byteOffset":0,"byteLength":48},{"buffer":0,"byteOffset":48,"byteLength":24}],"buffers":[{"byteLength":72,"uri":")" +
               uri + "\"}]}";
    };
    std::ofstream(folder.path / "outside.bin") << bytes;
    std::ofstream(folder.path / "in" / "inside.bin") << bytes;
    std::ofstream(folder.path / "in" / "good.gltf") << gltf("inside.bin");
    std::ofstream(folder.path / "in" / "bad.gltf") << gltf("../outside.bin");
    fs::create_symlink(folder.path / "outside.bin", folder.path / "in" / "link.bin");
    std::ofstream(folder.path / "in" / "linked.gltf") << gltf("link.bin");
    const auto load = [&](const char* name) {
        return files::loadMesh((folder.path / "in" / name).string(), {1000, true});
    };
    EXPECT_TRUE(load("good.gltf").ok());
    EXPECT_FALSE(load("bad.gltf").ok());
    EXPECT_FALSE(load("linked.gltf").ok());
}

TEST(Csv, FormulasAreDefusedAndNumbersStay) {
    for (const char* formula :
         {"=1+1", "@SUM(A1)", "+cmd|' /C calc'!A0", "-2+3+cmd|' /C calc'!A0", "\t=1", "=HYPERLINK(\"x\")"}) {
        const std::string field = files::csvField(formula);
        EXPECT_EQ(field.find_first_of("=@+-\t"), field.find(formula[0])) << field;
        EXPECT_TRUE(field.starts_with("'") || field.starts_with("\"'")) << field;
    }
    for (const char* number : {"-12.5", "-12.4°", "+3", "-", "-0.5 N·mm", "-90", "12 - 13", ""})
        EXPECT_EQ(files::csvField(number), number);
}

TEST(Csv, FieldsAreQuotedWhereNeeded) {
    EXPECT_EQ(files::csvField("a,\"b\""), "\"a,\"\"b\"\"\"");
    Figure f;
    f.put(0, "plate 4x2 kelp at 0 0 0");
    f.put(0, "plate 2x4 kelp at 0 9 0");
    EXPECT_NE(files::makePartsCsv(f.project).find("plate 2x4,kelp,2,"), std::string::npos);
}

TEST(MeshFiles, StlHasOneTriangleRecordEach) {
    Figure f;
    f.put(0, "tile 1x1 at 0 0 0");
    const auto placed = f.placed();
    const auto stl = files::makeStl(placed);
    EXPECT_EQ(stl.size(), 84U + 12U * 50U); // a box: 12 triangles
    const auto obj = files::makeObj(placed);
    EXPECT_EQ(std::count(obj.begin(), obj.end(), '\n'), 2 + 36 + 12);
}

TEST(Results, JsonHasTheDocumentedShape) {
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(must(files::parseProject(gate()))));
    const auto range = files::makeRangeJson(report, report.poses[0], std::nullopt);
    EXPECT_EQ(range["ivrant"], "range");
    EXPECT_EQ(range["pose"], "Down");
    const auto& freedom = range["joints"][0]["freedoms"][0];
    EXPECT_EQ(freedom["own"], (model::Json{-90.0, 90.0}));
    EXPECT_EQ(freedom["stops"]["high"]["by"], "own");
    EXPECT_EQ(freedom["stops"]["low"]["by"], "contact");
    EXPECT_EQ(freedom["stops"]["low"]["parts"], (model::Json{"p3", "p1"}));
    const auto hold = files::makeHoldJson(report, report.poses[0]);
    EXPECT_EQ(hold["joints"][0]["have_nmm"], 18.0);
    EXPECT_EQ(hold["joints"][0]["basis"], "starting");
    const auto check = files::makeCheckJson(report);
    EXPECT_EQ(check["summary"]["fail"].get<int>() + check["summary"]["thin"].get<int>() +
                  check["summary"]["good"].get<int>(),
              static_cast<int>(check["verdicts"].size()));
}

TEST(Texts, WhatIsWrittenCanBeRead) {
    // A text that the reader would refuse is refused before anything is written.
    const Figure f;
    const std::string path =
        (std::filesystem::temp_directory_path() / ("ivrant-texts-" + std::to_string(::getpid()) + ".ivrant")).string();
    const struct {
        const char* place;
        std::size_t most;
        void (*set)(model::Project&, std::string);
    } texts[] = {
        {"/name", 1000, [](model::Project& p, std::string t) { p.name = std::move(t); }},
        {"/diary/0/text", 10'000,
         [](model::Project& p, std::string t) {
             model::DiaryEntry entry;
             entry.id.text = "d9";
             entry.text = std::move(t);
             p.diary.push_back(std::move(entry));
         }},
        {"/cases/0/name", 200,
         [](model::Project& p, std::string t) {
             model::OwnCase own;
             own.id.text = "k9";
             own.name = std::move(t);
             p.cases.push_back(std::move(own));
         }},
        {"/boards/0/motors/0/name", 200,
         [](model::Project& p, std::string t) {
             model::Board board;
             board.id.text = "b9";
             board.name = "Board";
             board.motors.push_back({});
             board.motors[0].id.text = "m9";
             board.motors[0].name = std::move(t);
             p.boards.push_back(std::make_shared<const model::Board>(std::move(board)));
         }},
    };
    for (const auto& text : texts) {
        model::Project longest = f.project, over = f.project;
        text.set(longest, std::string(text.most, 'w'));
        text.set(over, std::string(text.most + 1, 'w'));
        EXPECT_TRUE(model::checkTexts(longest)) << text.place;
        const auto refused = files::saveProject(over, path);
        ASSERT_FALSE(refused) << text.place;
        EXPECT_EQ(refused.error().code, "text.long");
        EXPECT_EQ(refused.error().place, text.place);
        EXPECT_FALSE(std::filesystem::exists(path));
        EXPECT_FALSE(files::parseProject(files::writeProject(over)))
            << "the reader and the writer agree: " << text.place;
    }
}
