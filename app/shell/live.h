// SPDX-License-Identifier: GPL-3.0-or-later
// How does a panel show a result that takes a while to compute, and never a stale one?
#pragma once

#include <functional>
#include <memory>
#include <optional>

#include "app/shell/jobs.h"

namespace ivrant::app {

/// One background question at a time: asking anew stops and forgets the one before. The work must only use what it has
/// been given by value.
template <class Result> class Live {
public:
    explicit Live(Jobs& jobs) : m_jobs(jobs) {}
    ~Live() { cancel(); }
    Live(const Live&) = delete;
    Live& operator=(const Live&) = delete;

    void ask(const QString& name, std::function<std::optional<Result>(base::Progress&)> work,
             std::function<void(Result)> show) {
        cancel();
        const auto box = std::make_shared<std::optional<Result>>();
        const auto alive = std::make_shared<bool>(true);
        m_alive = alive;
        m_progress = m_jobs.start(
            name, [work = std::move(work), box](base::Progress& progress) { *box = work(progress); },
            [this, box, alive, show = std::move(show)] {
                if (!*alive) return;
                *alive = false;
                m_progress.reset();
                if (*box) show(std::move(**box));
            },
            [this, alive] {
                if (!*alive) return;
                *alive = false;
                m_progress.reset();
            });
    }
    void cancel() {
        if (m_alive) *m_alive = false;
        if (m_progress) m_progress->stop();
        m_progress.reset();
    }
    [[nodiscard]] bool isBusy() const { return m_alive && *m_alive; }

private:
    Jobs& m_jobs;
    std::shared_ptr<base::Progress> m_progress;
    std::shared_ptr<bool> m_alive;
};

} // namespace ivrant::app
