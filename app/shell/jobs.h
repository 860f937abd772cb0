// SPDX-License-Identifier: GPL-3.0-or-later
// What is the program doing in the background, how far is it, and how is it stopped?
#pragma once

#include <QObject>
#include <QString>
#include <QTimer>
#include <functional>
#include <list>
#include <memory>

#include "core/base/progress.h"

namespace ivrant::app {

class Jobs : public QObject {
    Q_OBJECT
public:
    explicit Jobs(QObject* parent = nullptr);
    ~Jobs() override;

    /// Runs `work` on another thread, then `done` on this one (also when stopped). When `work` throws, failed() tells
    /// what, and `gaveUp` is called instead.
    std::shared_ptr<base::Progress> start(const QString& name, std::function<void(base::Progress&)> work,
                                          std::function<void()> done, std::function<void()> gaveUp = {});
    [[nodiscard]] bool isBusy() const { return !m_running.empty(); }
    /// The longest running job that is not `quiet`, for the line at the foot; empty name when there is none to show.
    [[nodiscard]] QString shownName() const;
    [[nodiscard]] double shownFraction() const;
    void stopShown();
    void stopAll();

signals:
    void changed();
    void failed(const QString& name, const QString& what);

private:
    struct Job;
    [[nodiscard]] const Job* shown() const;
    std::list<std::shared_ptr<Job>> m_running;
    QTimer m_tick;
};

} // namespace ivrant::app
