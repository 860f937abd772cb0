// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/cut_text.h"

#include <QAbstractButton>
#include <QAbstractScrollArea>
#include <QAbstractSpinBox>
#include <QComboBox>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QTabBar>
#include <QTabWidget>
#include <QTableWidget>
#include <QTextDocument>
#include <QTreeWidget>

namespace ivrant::test {
namespace {

constexpr int kSlackPx = 2; ///< rounding of font metrics

QString pathOf(const QWidget* widget) {
    QStringList names;
    for (const QWidget* w = widget; w; w = w->parentWidget())
        if (!w->objectName().isEmpty() && !w->objectName().startsWith("qt_")) names.prepend(w->objectName());
    return names.join("/") + " " + widget->metaObject()->className();
}

QString plainText(const QString& text) {
    if (!Qt::mightBeRichText(text)) return text;
    QTextDocument document;
    document.setHtml(text);
    return document.toPlainText();
}

/// Is all of it seen where the widget can be scrolled to?
bool isClipped(const QWidget* widget) {
    const QWidget* window = widget->window();
    return !window->rect().contains(QRect(widget->mapTo(window, QPoint()), widget->size()).center());
}

/// Is a part of it, sideways, where nobody can see or scroll to?
bool isCutByParent(const QWidget* widget) {
    for (const QWidget* w = widget->parentWidget(); w; w = w->parentWidget())
        if (qobject_cast<const QAbstractScrollArea*>(w)) return false;
    const QRect seen = widget->visibleRegion().boundingRect();
    return !seen.isEmpty() && seen.width() + kSlackPx < widget->width();
}

class Walk {
public:
    explicit Walk(bool scrolls) : m_scrolls(scrolls) {}
    void look(const QWidget* widget) {
        const bool told = qobject_cast<const QLabel*>(widget) || qobject_cast<const QAbstractButton*>(widget);
        if (told && isCutByParent(widget)) cut << pathOf(widget) + ": stands beyond the edge of what it is in";
        if (const auto* label = qobject_cast<const QLabel*>(widget))
            lookAtLabel(label);
        else if (const auto* button = qobject_cast<const QAbstractButton*>(widget))
            need(widget, button->text(), button->sizeHint().width(), widget->width());
        else if (const auto* box = qobject_cast<const QComboBox*>(widget))
            lookAtCombo(box);
        else if (const auto* spin = qobject_cast<const QAbstractSpinBox*>(widget))
            need(widget, spin->text(), spin->fontMetrics().horizontalAdvance(spin->text()), lineWidth(spin));
        else if (const auto* tabs = qobject_cast<const QTabBar*>(widget))
            lookAtTabs(tabs);
        else if (const auto* table = qobject_cast<const QTableWidget*>(widget))
            lookAtTable(table);
        else if (const auto* list = qobject_cast<const QListWidget*>(widget))
            lookAtList(list);
    }
    QStringList cut;

private:
    bool m_scrolls;
    static int lineWidth(const QWidget* widget) {
        const auto* line = widget->findChild<QLineEdit*>();
        return line ? line->contentsRect().width() - 4 : widget->width();
    }
    void need(const QWidget* widget, const QString& text, int needed, int available) {
        if (text.isEmpty() || needed <= available + kSlackPx) return;
        const QString whole = plainText(text);
        if (widget->toolTip().contains(whole)) return;
        cut << QString("%1: '%2' needs %3, has %4").arg(pathOf(widget), whole.left(60)).arg(needed).arg(available);
    }
    void lookAtLabel(const QLabel* label) {
        if (label->text().isEmpty()) return;
        if (label->wordWrap()) {
            const int needed = label->heightForWidth(label->width());
            if (needed > label->height() + kSlackPx && label->toolTip() != label->text())
                cut << QString("%1: '%2' needs height %3, has %4")
                           .arg(pathOf(label), plainText(label->text()).left(60))
                           .arg(needed)
                           .arg(label->height());
            return;
        }
        need(label, label->text(), label->sizeHint().width(), label->width());
    }
    void lookAtCombo(const QComboBox* box) {
        const int arrow = 24;
        need(box, box->currentText(), box->fontMetrics().horizontalAdvance(box->currentText()), box->width() - arrow);
    }
    void lookAtTabs(const QTabBar* tabs) {
        for (int i = 0; i < tabs->count(); ++i) {
            if (!tabs->isTabVisible(i)) continue;
            const int needed = tabs->fontMetrics().horizontalAdvance(tabs->tabText(i));
            // What is scrolled out of the bar is reached by its arrows; the one that is up has to be seen.
            const bool beyond = tabs->tabRect(i).right() > tabs->width() + kSlackPx;
            if (needed > tabs->tabRect(i).width() || (beyond && (i == tabs->currentIndex() || !m_scrolls)))
                cut << QString("%1: tab '%2' needs %3, ends at %4 of %5")
                           .arg(pathOf(tabs), tabs->tabText(i))
                           .arg(needed)
                           .arg(tabs->tabRect(i).right())
                           .arg(tabs->width());
        }
    }
    void lookAtTable(const QTableWidget* table) {
        for (int c = 0; c < table->columnCount(); ++c) {
            const auto* head = table->horizontalHeaderItem(c);
            if (!head) {
                if (table->horizontalHeader()->isVisible())
                    cut << pathOf(table) + QString(": column %1 has no heading").arg(c);
                continue;
            }
            const int needed = table->horizontalHeader()->fontMetrics().horizontalAdvance(head->text());
            if (needed > table->columnWidth(c) && head->toolTip() != head->text())
                cut << QString("%1: heading '%2'").arg(pathOf(table), head->text());
            for (int r = 0; r < table->rowCount(); ++r) {
                const auto* item = table->item(r, c);
                if (!item || table->isRowHidden(r)) continue;
                const int wide = table->fontMetrics().horizontalAdvance(item->text());
                const bool wraps = table->wordWrap() && table->rowHeight(r) >= 2 * table->fontMetrics().height();
                if (wide > table->columnWidth(c) && !wraps && !item->toolTip().contains(item->text())) {
                    cut << QString("%1: cell '%2'").arg(pathOf(table), item->text().left(60));
                    break;
                }
            }
        }
    }
    void lookAtList(const QListWidget* list) {
        for (int i = 0; i < list->count(); ++i)
            if (const auto* item = list->item(i);
                item->toolTip().isEmpty() &&
                list->fontMetrics().horizontalAdvance(item->text()) > list->viewport()->width() && !list->wordWrap())
                cut << QString("%1: line '%2'").arg(pathOf(list), item->text().left(60));
    }
};

bool isLabelled(const QWidget* widget) {
    for (const auto* label : widget->window()->findChildren<QLabel*>())
        if (label->buddy() == widget) return true;
    return false;
}

} // namespace

QStringList listCutText(const QWidget* window, bool tabsMayScroll) {
    Walk walk(tabsMayScroll);
    for (const auto* widget : window->findChildren<QWidget*>())
        if (widget->isVisible() && !isClipped(widget)) walk.look(widget);
    return walk.cut;
}

QStringList listNameless(const QWidget* window) {
    QStringList nameless;
    for (const auto* widget : window->findChildren<QWidget*>()) {
        if (!widget->isVisible() || widget->focusPolicy() == Qt::NoFocus) continue;
        if (widget->objectName().startsWith("qt_") || qobject_cast<const QTabBar*>(widget)) continue;
        if (qobject_cast<const QTabWidget*>(widget)) continue; // its bar is what is read
        const auto* parent = widget->parentWidget();
        if (qobject_cast<const QAbstractSpinBox*>(parent) || qobject_cast<const QComboBox*>(parent)) continue;
        const auto* button = qobject_cast<const QAbstractButton*>(widget);
        const bool named =
            !widget->accessibleName().isEmpty() || (button && button->text().size() > 1) || isLabelled(widget);
        if (!named) nameless << pathOf(widget);
    }
    return nameless;
}

} // namespace ivrant::test
