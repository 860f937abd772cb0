// SPDX-License-Identifier: GPL-3.0-or-later
// Whole stations by keyboard alone: everything is reached by Tab, the focus is seen, and work gets done without a
// mouse.
#include <QCheckBox>
#include <QSet>
#include <QSpinBox>
#include <QTabBar>
#include <QToolButton>

#include "app/shell/focus_mark.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using test::WindowRig;

namespace {

constexpr int kMostPresses = 300; ///< of Tab, until it has come round

/// What a person would want to reach.
bool isControl(const QWidget* widget) {
    if (!widget->isVisible() || !widget->isEnabled() || widget->objectName().startsWith("qt_")) return false;
    if (widget->objectName() == "askPopup") return false; // arrows of the field above go through it
    const auto* parent = widget->parentWidget();
    if (qobject_cast<const QAbstractSpinBox*>(parent) || qobject_cast<const QComboBox*>(parent)) return false;
    if (widget->inherits("QTableCornerButton") || widget->inherits("QHeaderView")) return false;
    if (qobject_cast<const QTabBar*>(parent)) return false; // arrows of the bar: the tabs are reached in it
    return qobject_cast<const QAbstractButton*>(widget) || qobject_cast<const QComboBox*>(widget) ||
           qobject_cast<const QAbstractSpinBox*>(widget) || qobject_cast<const QLineEdit*>(widget) ||
           qobject_cast<const QAbstractItemView*>(widget) || qobject_cast<const QTabBar*>(widget) ||
           qobject_cast<const app::Sheet3d*>(widget);
}

std::string nameOf(const QWidget* widget) {
    const auto* button = qobject_cast<const QAbstractButton*>(widget);
    return (widget->objectName() + " " + widget->metaObject()->className() + " " + (button ? button->text() : "") +
            " in " + (widget->parentWidget() ? widget->parentWidget()->objectName() : ""))
        .toStdString();
}

/// Chips of one row are one stop: arrows lead on.
bool isReachedByArrows(const QWidget* widget, const QSet<QWidget*>& reached) {
    const auto* button = qobject_cast<const QAbstractButton*>(widget);
    if (!button || !button->group()) return false;
    const auto group = button->group()->buttons();
    return std::any_of(group.begin(), group.end(), [&](QWidget* other) { return reached.contains(other); });
}

struct Keyboard : testing::Test {
    WindowRig rig;

    /// Presses Tab until it has come round; each stop has to be marked.
    void expectAllReached(const std::string& where) {
        QSet<QWidget*> reached;
        for (int i = 0; i < kMostPresses; ++i) {
            QWidget* at = QApplication::focusWidget();
            if (!at || reached.contains(at)) break;
            reached.insert(at);
            rig.key(Qt::Key_Tab);
            if (QApplication::focusWidget() == at) { // Tab means something there; Backtab and shortcuts lead away
                QTest::keyClick(at, Qt::Key_Tab, Qt::ControlModifier);
                if (QApplication::focusWidget() == at) break;
            }
            const auto* mark = rig.window->findChild<app::FocusMark*>();
            EXPECT_EQ(mark->marked(), QApplication::focusWidget())
                << where << ": " << nameOf(QApplication::focusWidget()) << " has the keys, and nobody sees it";
        }
        for (QWidget* widget : rig.window->findChildren<QWidget*>()) {
            if (!isControl(widget) || reached.contains(widget) || isReachedByArrows(widget, reached)) continue;
            if (const QWidget* proxy = widget->focusProxy(); proxy && reached.contains(const_cast<QWidget*>(proxy)))
                continue;
            ADD_FAILURE() << where << ": the keyboard does not reach " << nameOf(widget);
        }
    }
};

} // namespace

TEST_F(Keyboard, ReachesEverythingInEveryStation) {
    ASSERT_TRUE(rig.session().load(test::demoFile("heron.ivrant")));
    rig.settle();
    for (int s = 0; s < rig.window->stationCount(); ++s) {
        rig.key(static_cast<Qt::Key>(Qt::Key_1 + s), Qt::ControlModifier);
        rig.settle();
        ASSERT_EQ(rig.window->currentStation(), s);
        const auto bars = rig.window->station(s)->findChildren<QTabBar*>();
        expectAllReached(rig.window->station(s)->title().toStdString());
        for (auto* bar : bars)
            for (int tab = 1; bar->isVisible() && tab < bar->count(); ++tab) {
                bar->setFocus(Qt::TabFocusReason);
                rig.key(Qt::Key_Right);
                rig.settle();
                ASSERT_EQ(bar->currentIndex(), tab) << rig.window->station(s)->title().toStdString();
                expectAllReached((rig.window->station(s)->title() + ", " + bar->tabText(tab)).toStdString());
            }
    }
}

TEST_F(Keyboard, TheMarkIsSeenAndGoesWithTheMouse) {
    rig.key(Qt::Key_5, Qt::ControlModifier);
    rig.settle();
    auto* mark = rig.window->findChild<app::FocusMark*>();
    QWidget* widget = nullptr;
    for (int i = 0; i < kMostPresses && !qobject_cast<QPushButton*>(widget); ++i) {
        rig.key(Qt::Key_Tab);
        widget = QApplication::focusWidget();
    }
    ASSERT_EQ(mark->marked(), widget);
    const QRect around = QRect(widget->mapTo(rig.window.get(), QPoint()), widget->size()).adjusted(-4, -4, 4, 4);
    const QImage with = rig.window->grab(around).toImage();
    QTest::mousePress(rig.window->slip()->list()->viewport(), Qt::LeftButton);
    EXPECT_EQ(mark->marked(), nullptr);
    EXPECT_NE(with, rig.window->grab(around).toImage());
}

TEST_F(Keyboard, PassesTheVerdictsWithoutGoingAnywhereAndEntersThem) {
    ASSERT_TRUE(rig.session().load(test::demoFile("heron.ivrant")));
    rig.key(Qt::Key_1, Qt::ControlModifier);
    rig.settle();
    auto* list = rig.window->slip()->list();
    for (int i = 0; i < kMostPresses && QApplication::focusWidget() != list; ++i) rig.key(Qt::Key_Tab);
    ASSERT_EQ(QApplication::focusWidget(), list);
    EXPECT_EQ(rig.window->currentStation(), 0) << "still in Brief";
    EXPECT_TRUE(rig.session().looksAt().isEmpty());
    rig.key(Qt::Key_Return);
    EXPECT_NE(rig.window->currentStation(), 0) << "Enter goes to the place of the first";
}

TEST_F(Keyboard, TurnsAndNearsTheView) {
    ASSERT_TRUE(rig.session().load(test::demoFile("heron.ivrant")));
    rig.settle();
    for (const auto station : {verdict::Station::Shape, verdict::Station::Pose, verdict::Station::Stand}) {
        rig.window->goStation(rig.window->indexOf(station));
        rig.settle();
        const auto before = rig.sheet()->camera();
        rig.key(Qt::Key_Left, Qt::AltModifier);
        EXPECT_NEAR(rig.sheet()->camera().yaw - before.yaw, base::kPi / 12, 1e-3);
        rig.key(Qt::Key_Right, Qt::AltModifier);
        rig.key(Qt::Key_Up, Qt::AltModifier);
        EXPECT_NEAR(rig.sheet()->camera().yaw, before.yaw, 1e-9);
        EXPECT_GT(rig.sheet()->camera().pitch, before.pitch);
        rig.key(Qt::Key_PageUp, Qt::AltModifier);
        EXPECT_LT(rig.sheet()->camera().mmPerPixel, before.mmPerPixel);
        rig.key(Qt::Key_PageDown, Qt::AltModifier);
        EXPECT_NEAR(rig.sheet()->camera().mmPerPixel, before.mmPerPixel, 1e-9);
        rig.key(Qt::Key_0, Qt::AltModifier);
    }
}

TEST_F(Keyboard, BuildsJoinsPosesAsksAndTakesBack) {
    // From nothing: two sections, a joint, a wanted range, an ask, all back again; no mouse at all.
    rig.key(Qt::Key_N, Qt::ControlModifier);
    const auto typed = [&](const QString& text) {
        QTest::keyClicks(QApplication::focusWidget(), text);
        rig.key(Qt::Key_Return);
    };
    ASSERT_EQ(QApplication::focusWidget()->objectName(), "partLine") << "typing begins at once";
    typed("plate 4x8 slate at 0 0 0");
    typed("2x2 brick slate at 1 2 1");
    typed("hinge fork slate at 1 2 4");
    rig.key(Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
    rig.find<QLineEdit>("partLine")->setFocus(Qt::TabFocusReason);
    typed("hinge tongue reed at 0 0 0");
    rig.settle();
    ASSERT_EQ(rig.project().partCount(), 4U);
    for (int i = 0; i < 3; ++i) rig.key(Qt::Key_F3);
    EXPECT_EQ(rig.session().selection(), std::set{rig.partId(0, 2)}) << "the fork";
    rig.key(Qt::Key_F3, Qt::ControlModifier);
    EXPECT_EQ(rig.session().selection(), (std::set{rig.partId(0, 2), rig.partId(1, 0)})) << "and the tongue";
    rig.key(Qt::Key_J, Qt::ControlModifier);
    rig.settle();
    ASSERT_EQ(rig.project().joints.size(), 1U);
    rig.key(Qt::Key_3, Qt::ControlModifier);
    rig.settle();
    for (int i = 0; i < kMostPresses && QApplication::focusWidget()->objectName() != "jointWanted"; ++i)
        rig.key(Qt::Key_Tab);
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_A, Qt::ControlModifier);
    typed("-45..45");
    rig.settle();
    ASSERT_EQ(rig.project().joints[0].wanted.size(), 1U);
    EXPECT_EQ(rig.project().joints[0].wanted[0].high, 45);
    // A verdict is chosen in the slip, and leads to its place.
    for (int i = 0; i < kMostPresses && QApplication::focusWidget() != rig.window->slip()->list(); ++i)
        rig.key(Qt::Key_Tab);
    ASSERT_EQ(QApplication::focusWidget(), rig.window->slip()->list());
    for (int i = 0; i < 8; ++i) rig.key(Qt::Key_Z, Qt::ControlModifier);
    rig.settle();
    EXPECT_EQ(rig.project().partCount(), 0U);
}
