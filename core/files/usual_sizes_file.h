// SPDX-License-Identifier: GPL-3.0-or-later
// Where does the person's own list of usual part sizes lie?
#pragma once

#include "core/base/result.h"

namespace ivrant::files {

/// ivrant/usual_sizes.json in the configuration folder ($XDG_CONFIG_HOME, else ~/.config).
[[nodiscard]] std::string getUsualSizesPath();

/// Takes that list instead of the built-in one, when it is there. Errors of reading and of parts::setUsualSizes: the
/// built-in list stays.
base::Status loadOwnUsualSizes();

} // namespace ivrant::files
