// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/end_signals.h"

#include <QSocketNotifier>
#include <array>
#include <csignal>
#include <fcntl.h>
#include <unistd.h>

namespace ivrant::app {
namespace {

constexpr std::array<int, 3> kSignals{SIGTERM, SIGHUP, SIGINT};
int g_pipe[2] = {-1, -1}; // a handler may do little more than write to a pipe

extern "C" void tellLoop(int signal) {
    const auto byte = static_cast<char>(signal);
    (void)!::write(g_pipe[1], &byte, 1);
}

} // namespace

EndSignals::EndSignals(std::function<void(int)> end, QObject* parent) : QObject(parent) {
    if (::pipe2(g_pipe, O_CLOEXEC | O_NONBLOCK) != 0) return;
    auto* notifier = new QSocketNotifier(g_pipe[0], QSocketNotifier::Read, this);
    connect(notifier, &QSocketNotifier::activated, this, [end = std::move(end)] {
        char signal = 0;
        if (::read(g_pipe[0], &signal, 1) == 1) end(signal);
    });
    struct sigaction action {};
    action.sa_handler = tellLoop;
    action.sa_flags = SA_RESTART | static_cast<int>(SA_RESETHAND);
    for (int signal : kSignals) ::sigaction(signal, &action, nullptr);
}

EndSignals::~EndSignals() {
    for (int signal : kSignals) ::signal(signal, SIG_DFL);
    for (int& end : g_pipe) {
        if (end >= 0) ::close(end);
        end = -1;
    }
}

} // namespace ivrant::app
