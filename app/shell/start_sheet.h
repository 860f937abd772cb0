// SPDX-License-Identifier: GPL-3.0-or-later
// Where does one begin? What was worked on last, models to begin from, and the demo, each with its picture.
#pragma once

#include <QImage>
#include <QListWidget>
#include <QPushButton>
#include <QWidget>
#include <deque>

#include "app/shell/live.h"

namespace ivrant::app {

class StartSheet : public QWidget {
    Q_OBJECT
public:
    StartSheet(Jobs& jobs, QWidget* parent);
    /// Lists what there is now, and draws the pictures one after the other while it is shown.
    void fill(const QStringList& recent, const QStringList& templates, const QStringList& demos);

signals:
    void newAsked();
    void openAsked();
    void fileChosen(const QString& path);
    void templateChosen(const QString& path); ///< a model to begin from: opened as a new one

protected:
    void hideEvent(QHideEvent* event) override;

private:
    struct Preview {
        QString name, about;
        QImage picture;
    };
    QListWidget* addList(const QString& title, const QString& name);
    void addFiles(QListWidget* list, const QStringList& paths);
    void drawNext();
    static std::optional<Preview> makePreview(const QString& path);

    QListWidget *m_recent = nullptr, *m_templates = nullptr, *m_demos = nullptr;
    std::deque<QListWidgetItem*> m_waiting; ///< for their pictures
    Live<Preview> m_live;
};

} // namespace ivrant::app
