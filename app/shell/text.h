// SPDX-License-Identifier: GPL-3.0-or-later
// Text of the core as the window shows it.
#pragma once

#include <QString>
#include <string>

#include "core/base/units.h"

namespace ivrant::app {

[[nodiscard]] inline QString qs(const std::string& text) { return QString::fromStdString(text); }
/// As everywhere: so many decimals at most.
[[nodiscard]] inline QString number(double value, int decimals) { return qs(base::formatNumber(value, decimals)); }

} // namespace ivrant::app
