// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/jobs.h"

#include <QElapsedTimer>
#include <QThread>
#include <QThreadPool>
#include <algorithm>
#include <exception>

namespace ivrant::app {
namespace {
constexpr qint64 kShowAfterMs = 300;
constexpr int kLeastThreads = 4; ///< so that a long sheet never keeps the verdicts or the copy of unsaved work waiting
} // namespace

struct Jobs::Job {
    QString name;
    std::shared_ptr<base::Progress> progress = std::make_shared<base::Progress>();
    QElapsedTimer since;
};

Jobs::Jobs(QObject* parent) : QObject(parent) {
    QThreadPool::globalInstance()->setMaxThreadCount(std::max(kLeastThreads, QThread::idealThreadCount()));
    m_tick.setInterval(100);
    connect(&m_tick, &QTimer::timeout, this, [this] {
        emit changed();
        if (m_running.empty()) m_tick.stop();
    });
}

Jobs::~Jobs() {
    stopAll();
    QThreadPool::globalInstance()->waitForDone();
}

std::shared_ptr<base::Progress> Jobs::start(const QString& name, std::function<void(base::Progress&)> work,
                                            std::function<void()> done, std::function<void()> gaveUp) {
    auto job = std::make_shared<Job>();
    job->name = name;
    job->since.start();
    m_running.push_back(job);
    m_tick.start();
    QThreadPool::globalInstance()->start(
        [this, job, work = std::move(work), done = std::move(done), gaveUp = std::move(gaveUp)] {
            QString failure;
            try {
                work(*job->progress);
            } catch (const std::exception& e) {
                failure = QString::fromUtf8(e.what());
            } catch (...) {
                failure = "an unknown error";
            }
            QMetaObject::invokeMethod(
                this,
                [this, job, done, gaveUp, failure] {
                    m_running.remove(job);
                    if (failure.isNull()) {
                        done();
                    } else {
                        if (gaveUp) gaveUp();
                        emit failed(job->name, failure);
                    }
                    emit changed();
                },
                Qt::QueuedConnection);
        });
    return job->progress;
}

const Jobs::Job* Jobs::shown() const {
    for (const auto& job : m_running)
        if (job->since.elapsed() > kShowAfterMs && !job->progress->stopped()) return job.get();
    return nullptr;
}

QString Jobs::shownName() const { return shown() ? shown()->name : QString(); }
double Jobs::shownFraction() const { return shown() ? shown()->progress->fraction() : 0; }

void Jobs::stopShown() {
    if (const Job* job = shown()) job->progress->stop();
}

void Jobs::stopAll() {
    for (const auto& job : m_running) job->progress->stop();
}

} // namespace ivrant::app
