// SPDX-License-Identifier: GPL-3.0-or-later
// The plumb line from the centre of gravity and the support polygon, drawn over a 3-D sheet.
#pragma once

#include "app/sheet3d/sheet3d.h"
#include "core/stand/tipping.h"

namespace ivrant::app {

/// Coloured by the tip angle against the usual one.
void drawPlumb(QPainter& painter, const Sheet3d& sheet, const stand::Tipping& tipping);

} // namespace ivrant::app
