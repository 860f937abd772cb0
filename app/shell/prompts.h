// SPDX-License-Identifier: GPL-3.0-or-later
// Questions put to the person: which file, save first, replace it?
#pragma once

#include <QString>
#include <QStringList>
#include <functional>

class QWidget;

namespace ivrant::app {

/// What the person wants of the copies of unsaved work: open or discard the one in a row, or leave all for later.
struct CopyAnswer {
    enum class What { Open, Discard, Later } what = What::Later;
    int row = 0;
};

/// Questions put to the person, replaceable in tests.
struct Prompts {
    std::function<QString(QWidget*)> openPath;
    std::function<QString(QWidget*, const QString&)> savePath;
    /// Save, discard or cancel unsaved work: 'y', 'n' or 'c'.
    std::function<char(QWidget*)> keepChanges;
    /// What to do with the copies of unsaved work that earlier runs left, told one a line.
    std::function<CopyAnswer(QWidget*, const QStringList&)> copies;
    /// The file is another one than was read: 'o' overwrites it, 'k' keeps both, 'c' cancels.
    std::function<char(QWidget*, const QString&)> changedOnDisk;
    /// A question with yes and no.
    std::function<bool(QWidget*, const QString&)> sure;
    /// Of a model as text, to write or to read.
    std::function<QString(QWidget*, bool writes)> scriptPath = [](QWidget*, bool) { return QString(); };
};
[[nodiscard]] Prompts makeDialogPrompts();

} // namespace ivrant::app
