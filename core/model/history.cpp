#include "core/model/history.h"

namespace ivrant::model {

void History::push(std::string name, Project project) {
    m_entries.resize(m_cursor + 1, Entry{"", project});
    m_entries.push_back({std::move(name), std::move(project)});
    if (m_entries.size() > kMost) m_entries.pop_front();
    m_cursor = m_entries.size() - 1;
}

void History::pushOrReplace(const std::string& name, Project project) {
    if (canUndo() && !canRedo() && m_entries[m_cursor].name == name)
        m_entries[m_cursor].project = std::move(project);
    else
        push(name, std::move(project));
}

} // namespace ivrant::model
