// SPDX-License-Identifier: GPL-3.0-or-later
// Reports for tests, and their verdicts.
#pragma once

#include <algorithm>
#include <memory>

#include "core/verdict/report.h"

namespace ivrant::test {

inline verdict::Report reportOf(const model::Project& project) {
    return verdict::calcReport(std::make_shared<const model::Project>(project));
}

/// The first verdict of a check; null: there is none.
inline const verdict::Verdict* findCheck(const verdict::Report& report, const std::string& check) {
    const auto found =
        std::find_if(report.verdicts.begin(), report.verdicts.end(), [&](const auto& v) { return v.check == check; });
    return found == report.verdicts.end() ? nullptr : &*found;
}
inline const verdict::Verdict* findVerdict(const verdict::Report& report, const std::string& id) {
    const auto found =
        std::find_if(report.verdicts.begin(), report.verdicts.end(), [&](const auto& v) { return v.id == id; });
    return found == report.verdicts.end() ? nullptr : &*found;
}

} // namespace ivrant::test
