// SPDX-License-Identifier: GPL-3.0-or-later
// A field for a number with its unit, as the benches use them.
#pragma once

#include <QDoubleSpinBox>

namespace ivrant::app {

[[nodiscard]] inline QDoubleSpinBox* makeNumberBox(QWidget* parent, const char* name, const char* spoken, double low,
                                                   double high, double value, const char* suffix) {
    auto* box = new QDoubleSpinBox(parent);
    box->setObjectName(name);
    box->setAccessibleName(spoken);
    box->setRange(low, high);
    box->setDecimals(1);
    box->setValue(value);
    box->setSuffix(suffix);
    box->setButtonSymbols(QAbstractSpinBox::NoButtons);
    return box;
}

} // namespace ivrant::app
