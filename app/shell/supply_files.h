// SPDX-License-Identifier: GPL-3.0-or-later
// The tables of stocks and prices that a project names: read with it, and written when what they hold is changed in
// the window, so that other models (and table programs) find it. What another program wrote meanwhile is never written
// over.
#pragma once

#include <QByteArray>
#include <QString>
#include <map>

#include "core/model/project.h"

namespace ivrant::app {

class SupplyFiles {
public:
    /// The project with what its tables hold. `folder`: where its own file lies; empty: nowhere yet.
    void read(model::Project& project, const QString& folder);
    /// Writes the stocks that differ from what was read or written last. What went wrong, for the person; else empty.
    [[nodiscard]] QString write(const model::Project& project);
    /// Names of tables as seen from another folder; those that lie nowhere stay as they are.
    [[nodiscard]] model::Project moved(model::Project project, const QString& toFolder) const;
    [[nodiscard]] const QString& folder() const { return m_folder; }
    void setFolder(const QString& folder) { m_folder = folder; } ///< of a project that names no table

private:
    QString m_folder;
    std::map<std::string, QByteArray> m_onDisk;     ///< by name: hash of the file as read or written here
    std::map<std::string, model::StockPtr> m_known; ///< by name: as read or written last
    /// Seen since the last reading, and before it: an undo that leads back behind a reading writes nothing.
    std::vector<std::weak_ptr<const model::Supplies>> m_seen, m_older;
};

} // namespace ivrant::app
