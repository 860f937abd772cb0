// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/plain_labels.h"

#include <QApplication>
#include <QEvent>

namespace ivrant::app {
namespace {

/// Labels are polished before they are shown and before a tool tip gets its text.
class PlainLabels : public QObject {
public:
    using QObject::QObject;
    bool eventFilter(QObject* object, QEvent* event) override {
        if (event->type() == QEvent::Polish)
            if (auto* label = qobject_cast<QLabel*>(object); label && label->textFormat() != Qt::RichText)
                label->setTextFormat(Qt::PlainText);
        return QObject::eventFilter(object, event);
    }
};

} // namespace

void keepLabelsPlain(QObject* parent) { qApp->installEventFilter(new PlainLabels(parent)); }

QLabel* makeMarkup(QLabel* label) {
    label->setTextFormat(Qt::RichText);
    return label;
}

QString buttonText(QString name) { return name.replace("&", "&&"); }

} // namespace ivrant::app
