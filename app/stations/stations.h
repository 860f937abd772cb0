// SPDX-License-Identifier: GPL-3.0-or-later
// All stations that exist, in rail order.
#pragma once

#include <vector>

#include "app/shell/station.h"

namespace ivrant::app {

[[nodiscard]] std::vector<Station*> makeStations(Session& session, QWidget* parent);

} // namespace ivrant::app
