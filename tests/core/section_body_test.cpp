// SPDX-License-Identifier: GPL-3.0-or-later
// A section as one body: mass and centre against the sum over its parts, its low bound against every corner; what is
// kept is kept by identity.
#include "core/model/section_body.h"

#include <atomic>
#include <random>
#include <thread>

#include "core/base/memo.h"
#include "core/files/project_file.h"
#include "core/parts/family.h"
#include "core/verdict/report.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"
#include "tests/support/repo.h"

using namespace ivrant;
using geometry::Vec3;
using test::must;

TEST(SectionBody, MassAndCentreAreTheSumOverPartsAndBallast) {
    const auto heron = must(files::loadProject(test::repo("/data/demo/heron.ivrant")));
    const auto loaded = must(model::addBallast(heron, heron.sections.front()->id, {37, {8000, -4000, 12000}}));
    for (const auto& section : loaded.sections) {
        double gram = 0;
        Vec3 moment = Vec3::Zero();
        for (const auto& part : section->parts)
            gram += part.massG(), moment += part.massG() * (part.place.frame() * part.shape->centre);
        for (const auto& b : section->ballast) gram += b.massG, moment += b.massG * Vec3(8, -4, 12);
        const auto body = model::getSectionBody(section);
        EXPECT_NEAR(body->massG, gram, 1e-9);
        EXPECT_TRUE((body->centre - moment / gram).norm() < 1e-9);
    }
    EXPECT_NE(model::getSectionBody(loaded.sections.front()), model::getSectionBody(heron.sections.front()))
        << "another section after the edit";
    EXPECT_EQ(model::getSectionBody(heron.sections.back()), model::getSectionBody(loaded.sections.back()))
        << "shared by both snapshots";
}

TEST(SectionBody, NothingComesLowerThanTheBound) {
    const auto heron = must(files::loadProject(test::repo("/data/demo/heron.ivrant")));
    std::mt19937 random(3);
    std::normal_distribution<double> any;
    for (const auto& section : heron.sections)
        for (int i = 0; i < 20; ++i) {
            const Eigen::Quaterniond q(any(random), any(random), any(random), any(random));
            const auto X = geometry::makeFrame(q.normalized().toRotationMatrix(),
                                               Vec3(any(random), any(random), any(random)) * 30);
            double low = 1e30;
            for (const auto& part : section->parts)
                for (const auto& solid : part.shape->solids)
                    low = std::min(low, geometry::calcBounds(solid.solid, X * part.place.frame()).low.z());
            EXPECT_LE(model::getSectionBody(section)->calcLowBound(X), low + 1e-9) << section->name;
        }
    EXPECT_GT(model::getSectionBody(std::make_shared<model::Section>())->calcLowBound(geometry::Frame::Identity()),
              1e300)
        << "nothing there";
}

TEST(Memo, IsByIdentityAndForgetsWhatIsGone) {
    base::Memo<int, int> memo;
    std::atomic<int> made{0};
    const auto make = [&](int of) {
        ++made;
        return 2 * of;
    };
    const auto three = std::make_shared<const int>(3), other = std::make_shared<const int>(3);
    EXPECT_EQ(*memo.get(three, make), 6);
    EXPECT_EQ(memo.get(three, make), memo.get(three, make));
    EXPECT_EQ(made, 1);
    EXPECT_NE(memo.get(other, make), memo.get(three, make)) << "equal is not the same";
    for (int i = 0; i < 100; ++i) (void)memo.get(std::make_shared<const int>(i), make);
    EXPECT_LE(memo.size(), 4U) << "the two that live, and the last ones that are gone";
    std::vector<std::shared_ptr<const int>> seen(8);
    std::vector<std::thread> threads;
    const auto shared = std::make_shared<const int>(21);
    for (auto& mine : seen) threads.emplace_back([&memo, &mine, &make, shared] { mine = memo.get(shared, make); });
    for (auto& thread : threads) thread.join();
    for (const auto& one : seen) EXPECT_EQ(one, seen.front()) << "all get the one that was first";
}

TEST(Facts, ALargeModelsDriveIsKnownToWhoAsksForItsBonds) {
    // What a drive holds counts in the bonds: the verb that solves them later needs it, however large the model is.
    auto project = must(files::loadProject(test::repo("/data/demo/neck-drive.ivrant")));
    ASSERT_FALSE(project.boards.empty());
    std::vector<model::NewPart> added(study::kMostPartsLive + 1);
    for (std::size_t i = 0; i < added.size(); ++i) {
        added[i].shape = must(parts::makeShape("plate 1x1"));
        added[i].place.atUm = {400'000 + 8'000 * static_cast<std::int64_t>(i % 50),
                               8'000 * static_cast<std::int64_t>(i / 50), 0};
    }
    project = must(model::addParts(project, project.sections.front()->id, added));
    for (const unsigned wanted : {unsigned{study::kBonds}, unsigned{study::kMoves}, unsigned{study::kDrive}}) {
        study::Wanted only;
        only.facts = wanted;
        EXPECT_TRUE(study::calcFacts(std::make_shared<const model::Project>(project), only).drive) << wanted;
    }
}
