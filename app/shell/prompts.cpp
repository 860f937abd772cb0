// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/prompts.h"

#include <QDialog>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QMessageBox>
#include <QPushButton>
#include <QVBoxLayout>

namespace ivrant::app {
namespace {

const QString kFilter = "Ivrant project (*.ivrant)";

CopyAnswer askForCopies(QWidget* parent, const QStringList& copies) {
    QDialog dialog(parent);
    dialog.setWindowTitle("Unsaved work");
    dialog.resize(620, 300);
    auto* column = new QVBoxLayout(&dialog);
    auto* text =
        new QLabel("Ivrant ended before this was saved. What is opened stays kept until you save it.", &dialog);
    text->setWordWrap(true);
    column->addWidget(text);
    auto* list = new QListWidget(&dialog);
    list->setObjectName("copies");
    list->setWordWrap(true);
    list->addItems(copies);
    list->setCurrentRow(0);
    column->addWidget(list);
    auto* row = new QHBoxLayout;
    column->addLayout(row);
    CopyAnswer answer;
    const auto add = [&](const QString& name, CopyAnswer::What what) {
        auto* button = new QPushButton(name, &dialog);
        QObject::connect(button, &QPushButton::clicked, &dialog, [&dialog, &answer, list, what] {
            answer = {what, list->currentRow()};
            dialog.accept();
        });
        row->addWidget(button);
    };
    add("Discard", CopyAnswer::What::Discard);
    row->addStretch();
    add("Later", CopyAnswer::What::Later);
    add("Open", CopyAnswer::What::Open);
    dialog.exec();
    return answer;
}

} // namespace

Prompts makeDialogPrompts() {
    Prompts p;
    p.openPath = [](QWidget* w) { return QFileDialog::getOpenFileName(w, "Open", QString(), kFilter); };
    p.scriptPath = [](QWidget* w, bool writes) {
        const QString filter = "Models as text (*.script)";
        if (!writes) return QFileDialog::getOpenFileName(w, "Build from a script", "", filter);
        return QFileDialog::getSaveFileName(w, "Export as script", "model.script", filter);
    };
    p.savePath = [](QWidget* w, const QString& name) {
        QFileDialog dialog(w, "Save", name, kFilter);
        dialog.selectFile(name);
        dialog.setAcceptMode(QFileDialog::AcceptSave);
        dialog.setDefaultSuffix("ivrant"); // before the question whether to replace a file
        return dialog.exec() == QDialog::Accepted && !dialog.selectedFiles().isEmpty()
                   ? dialog.selectedFiles().constFirst()
                   : QString();
    };
    p.keepChanges = [](QWidget* w) {
        const auto answer = QMessageBox::question(w, "Unsaved changes", "Save the changes first?",
                                                  QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel);
        return answer == QMessageBox::Save ? 'y' : answer == QMessageBox::Discard ? 'n' : 'c';
    };
    p.copies = askForCopies;
    p.changedOnDisk = [](QWidget* w, const QString& what) {
        QMessageBox box(QMessageBox::Warning, "Changed meanwhile", what, QMessageBox::Cancel, w);
        auto* both = box.addButton("Keep both", QMessageBox::AcceptRole);
        auto* over = box.addButton("Replace it", QMessageBox::DestructiveRole);
        box.setDefaultButton(both);
        box.exec();
        return box.clickedButton() == both ? 'k' : box.clickedButton() == over ? 'o' : 'c';
    };
    p.sure = [](QWidget* w, const QString& what) {
        return QMessageBox::question(w, "Sure?", what) == QMessageBox::Yes;
    };
    return p;
}

} // namespace ivrant::app
