// SPDX-License-Identifier: GPL-3.0-or-later
// Which visible text is cut? Walks all visible widgets and compares what their text needs with what they have. Text
// that is shortened on purpose counts as whole when a tool tip has all of it.
#pragma once

#include <QStringList>
#include <QWidget>

namespace ivrant::test {

/// One line for each cut text: where it stands, the text, needed and available width. `tabsMayScroll`: tabs but the one
/// that is up may be beyond the end of their bar.
[[nodiscard]] QStringList listCutText(const QWidget* window, bool tabsMayScroll);

/// Controls without a name for screen readers: neither a text of their own, an accessible name, nor a label for them.
[[nodiscard]] QStringList listNameless(const QWidget* window);

} // namespace ivrant::test
