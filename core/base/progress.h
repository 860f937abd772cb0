// SPDX-License-Identifier: GPL-3.0-or-later
// How does long work report how far it is, and hear that nobody wants its result any more?
//
// A Progress is shared between the worker and whoever waits. The worker calls report() and looks at stopped();
// the waiter reads fraction() and may call stop(). All members may be called from any thread.
#pragma once

#include <algorithm>
#include <atomic>

namespace ivrant::base {

class Progress {
public:
    void report(double fraction) { m_fraction.store(std::clamp(fraction, 0.0, 1.0), std::memory_order_relaxed); }
    [[nodiscard]] double fraction() const { return m_fraction.load(std::memory_order_relaxed); }
    void stop() { m_stopped.store(true, std::memory_order_relaxed); }
    [[nodiscard]] bool stopped() const { return m_stopped.load(std::memory_order_relaxed); }

private:
    std::atomic<double> m_fraction{0.0};
    std::atomic<bool> m_stopped{false};
};

} // namespace ivrant::base
