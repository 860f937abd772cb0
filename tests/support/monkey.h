// SPDX-License-Identifier: GPL-3.0-or-later
// Somebody who presses, clicks, drags and resizes at random, the same way for the same seed.
#pragma once

#include <random>
#include <string>

#include "tests/support/window_rig.h"

namespace ivrant::test {

class Monkey {
public:
    /// Files are opened from `folder`, a copy of the demo; exports and saves go to `folder` too.
    Monkey(WindowRig& rig, const QString& folder, unsigned seed);
    ~Monkey();
    /// One random action; what it did is kept in `last`.
    void act();
    [[nodiscard]] const std::string& last() const { return m_last; }

private:
    QWidget* somewhere();
    void answerDialogs();
    void press();
    void click();
    void drag();
    void trigger();
    void openSomething();
    void everyTableAction();

    int pick(int count) { return std::uniform_int_distribution<int>(0, count - 1)(m_random); }

    WindowRig& m_rig;
    QString m_folder;
    std::mt19937 m_random;
    QTimer m_dialogs;
    std::string m_last;
};

} // namespace ivrant::test
