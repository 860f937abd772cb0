// SPDX-License-Identifier: GPL-3.0-or-later
// Names are text, never markup: labels, tool tips and message boxes show them letter by letter.
#pragma once

#include <QLabel>
#include <QObject>

namespace ivrant::app {

/// Makes every label of the program plain that was not made for markup by makeMarkup, tool tips and message boxes too.
/// Owned by `parent`.
void keepLabelsPlain(QObject* parent);

/// This label's text is put together by the program as markup, with every name in it escaped. Returns the label.
QLabel* makeMarkup(QLabel* label);

/// A name in a button or menu: "&" does not underline the letter behind it.
[[nodiscard]] QString buttonText(QString name);

} // namespace ivrant::app
