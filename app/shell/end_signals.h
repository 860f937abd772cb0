// SPDX-License-Identifier: GPL-3.0-or-later
// What happens when the system tells the program to end: unsaved work is kept first.
#pragma once

#include <QObject>
#include <functional>

namespace ivrant::app {

/// Calls `end(signal)` from the event loop when SIGTERM, SIGHUP or SIGINT comes. A second signal ends the program at
/// once, as if nobody listened.
class EndSignals : public QObject {
public:
    EndSignals(std::function<void(int)> end, QObject* parent);
    ~EndSignals() override;
};

} // namespace ivrant::app
