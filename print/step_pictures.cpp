// SPDX-License-Identifier: GPL-3.0-or-later
// Steps as pictures of their own, with their list. Part of guide.h.
#include <QBuffer>
#include <QDir>

#include "core/files/atomic_file.h"
#include "core/files/steps_csv.h"
#include "print/guide.h"
#include "print/pictures.h"

namespace ivrant::print {
namespace {

constexpr int kStepWidth = 1200, kStepHeight = 800;

base::Status writePng(const QImage& image, const QString& path) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "PNG");
    return files::writeFileAtomically(path.toStdString(),
                                      std::string_view(bytes.constData(), static_cast<std::size_t>(bytes.size())));
}

} // namespace

base::Status writeStepPictures(const verdict::Report& report, const std::string& folder, base::Progress* progress) {
    const GuiGuard gui;
    auto pictures = Pictures::create(report);
    if (!pictures) return pictures.error();
    const QDir into(QString::fromStdString(folder));
    if (!into.mkpath(".")) return base::Error{"file.write", "the folder cannot be made: " + folder, folder};
    const auto steps = files::makeSheetSteps(report);
    if (auto saved = files::writeFileAtomically(into.filePath("steps.csv").toStdString(), files::makeStepsCsv(steps));
        !saved)
        return saved;
    if (auto saved = writePng((*pictures)->cover(kStepWidth, kStepHeight), into.filePath("cover.png")); !saved)
        return saved;
    const auto views = (*pictures)->chooseViews(steps, progress);
    for (std::size_t i = 0; i < steps.size(); ++i) {
        if (progress && progress->stopped())
            return base::Error{"stopped", "stopped; the first " + std::to_string(i) + " pictures are there", folder};
        const QString name = QString("step-%1.png").arg(steps[i].step.number, 4, 10, QChar('0'));
        if (auto saved = writePng((*pictures)->step(steps[i], views[i], kStepWidth, kStepHeight), into.filePath(name));
            !saved)
            return saved;
        if (progress) progress->report(static_cast<double>(i + 1) / static_cast<double>(steps.size()));
    }
    return {};
}

} // namespace ivrant::print
