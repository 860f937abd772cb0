// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/supply_files.h"

#include <QCryptographicHash>
#include <QFile>
#include <QFileInfo>
#include <algorithm>

#include "core/files/atomic_file.h"
#include "core/files/supplies_csv.h"

namespace ivrant::app {
namespace {

QByteArray hashOf(const std::string& path) {
    QFile file(QString::fromStdString(path));
    if (!file.open(QIODevice::ReadOnly)) return {};
    QCryptographicHash hash(QCryptographicHash::Sha256);
    hash.addData(&file);
    return hash.result();
}

} // namespace

void SupplyFiles::read(model::Project& project, const QString& folder) {
    m_folder = folder;
    m_onDisk.clear();
    m_known.clear();
    m_older.insert(m_older.end(), m_seen.begin(), m_seen.end());
    m_seen.clear();
    std::erase_if(m_older, [](const auto& gone) { return gone.expired(); });
    project.supplies.reset();
    if (project.making.stockFiles.empty() && project.making.priceFiles.empty()) return;
    project.supplies = files::loadSupplies(project.making, folder.toStdString());
    for (const auto& stock : project.supplies->stocks) {
        m_onDisk[stock->file] = hashOf(files::getSupplyPath(folder.toStdString(), stock->file));
        m_known[stock->file] = stock;
    }
}

QString SupplyFiles::write(const model::Project& project) {
    if (!project.supplies) return {};
    const auto isIt = [&](const auto& other) { return other.lock() == project.supplies; };
    if (std::any_of(m_older.begin(), m_older.end(), isIt))
        return "The tables were read again since: what is shown is older than what lies on the disk, and was not "
               "written. "
               "Read them again";
    if (std::none_of(m_seen.begin(), m_seen.end(), isIt)) m_seen.push_back(project.supplies);
    for (const auto& stock : project.supplies->stocks) {
        const auto before = m_known.find(stock->file);
        if (before == m_known.end() || before->second->lines == stock->lines) continue;
        const auto text = files::writeStock(*stock);
        const QString name = QString::fromStdString(stock->file);
        if (!text) return name + " was not written: " + QString::fromStdString(text.error().message);
        const std::string path = files::getSupplyPath(m_folder.toStdString(), stock->file);
        if (hashOf(path) != m_onDisk[stock->file])
            return name + " was changed by another program and was not written: read the tables again";
        if (const auto saved = files::writeFileAtomically(path, *text); !saved)
            return name + " was not written: " + QString::fromStdString(saved.error().message);
        m_onDisk[stock->file] = hashOf(path);
        m_known[stock->file] = stock;
    }
    return {};
}

model::Project SupplyFiles::moved(model::Project project, const QString& toFolder) const {
    if (QFileInfo(m_folder) != QFileInfo(toFolder))
        project.making = files::moveTables(std::move(project.making), m_folder.toStdString(), toFolder.toStdString());
    return project;
}

} // namespace ivrant::app
