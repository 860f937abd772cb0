// SPDX-License-Identifier: GPL-3.0-or-later
// What was worked out from a shared, immutable value, kept as long as the value lives.
//
// Keyed by the value's identity: the same snapshot asked again gives the same object. Safe for any number of threads;
// two that ask for the same at once may both work it out, and both get the one that was first.
#pragma once

#include <memory>
#include <mutex>
#include <unordered_map>

namespace ivrant::base {

template <class Of, class Kept> class Memo {
public:
    /// `make(const Of&)` gives a Kept. O(1) when it is known; values that are gone are forgotten when a new one comes.
    template <class Make> std::shared_ptr<const Kept> get(const std::shared_ptr<const Of>& of, const Make& make) {
        {
            const std::lock_guard lock(m_mutex);
            if (const auto found = m_known.find(of.get()); found != m_known.end() && found->second.of.lock() == of)
                return found->second.kept;
        }
        auto made = std::make_shared<const Kept>(make(*of));
        const std::lock_guard lock(m_mutex);
        std::erase_if(m_known, [](const auto& entry) { return entry.second.of.expired(); });
        return m_known.try_emplace(of.get(), Entry{of, std::move(made)}).first->second.kept;
    }
    /// How many are kept, those that are gone among them.
    [[nodiscard]] std::size_t size() const {
        const std::lock_guard lock(m_mutex);
        return m_known.size();
    }

private:
    struct Entry {
        std::weak_ptr<const Of> of;
        std::shared_ptr<const Kept> kept;
    };
    mutable std::mutex m_mutex;
    std::unordered_map<const Of*, Entry> m_known;
};

} // namespace ivrant::base
