// SPDX-License-Identifier: GPL-3.0-or-later
// The desks beside the asks: scale of the model, and how an offset is built.
#include "app/shell/table_tools.h"
#include "app/stations/brief/brief_station.h"
#include "core/base/units.h"
#include "core/brief/offset.h"
#include "core/brief/scale.h"

namespace ivrant::app {
void BriefStation::showScale() {
    std::vector<brief::LengthPair> pairs;
    for (int r = 0; r < m_pairs->rowCount(); ++r) {
        const auto cell = [&](int c) {
            return m_pairs->item(r, c) ? m_pairs->item(r, c)->text().trimmed() : QString();
        };
        if (cell(0).isEmpty() && cell(1).isEmpty()) continue;
        const auto real = base::parseNumber(cell(0).toStdString());
        const auto model = base::parseLengthMm(cell(1).toStdString(), 1);
        if (!real || !model) {
            m_scale->setText("Row " + QString::number(r + 1) + ": a real length and a model length are needed.");
            return;
        }
        pairs.push_back({*real, *model});
    }
    const auto scale = brief::calcScale(pairs);
    if (!scale) {
        m_scale->setText(pairs.empty() ? "Type at least one pair." : QString::fromStdString(scale.error().message));
        return;
    }
    QString text = "1 real = " + numberText(scale->mmPerReal, 3) + " mm of the model";
    if (pairs.size() > 1) text += "; the pairs differ by up to " + numberText(scale->spread * 100, 1) + " %";
    if (!m_real->text().trimmed().isEmpty()) {
        const auto real = base::parseNumber(m_real->text().trimmed().toStdString());
        const auto length =
            real ? brief::calcScaledLength(*scale, *real) : base::Result<brief::ScaledLength>(real.error());
        text += length ? "\n" + m_real->text().trimmed() + " real is " + numberText(length->mm, 1) +
                             " mm: " + numberText(length->studs, 1) + " studs (" + numberText(length->studsErrorMm, 1) +
                             " mm off) or " + QString::number(length->plates) +
                             (length->plates == 1 ? " plate (" : " plates (") + numberText(length->platesErrorMm, 1) +
                             " mm off)"
                       : "\n" + QString::fromStdString(length.error().message);
    }
    m_scale->setText(text);
}

void BriefStation::showOffsets() {
    const QString typed = m_offset->text().trimmed();
    std::vector<TableRow> rows;
    const auto wanted = base::parseLengthMm(typed.toStdString(), 1);
    if (!typed.isEmpty() && wanted)
        if (const auto ways = brief::findOffsets(*wanted))
            for (const auto& way : *ways) {
                QStringList how;
                const auto add = [&](int count, const char* one, const char* many) {
                    if (count != 0) how << QString::number(count) + " " + (std::abs(count) == 1 ? one : many);
                };
                add(way.pitches, "stud", "studs");
                add(way.halfPitches, "half stud", "half studs");
                add(way.plates, "plate sideways", "plates sideways");
                add(way.halfPlates, "leaf", "leaves");
                rows.push_back({{how.isEmpty() ? "nothing" : how.join(", "), {}}, numberCell(way.errorMm, 1)});
            }
    fillTable(m_ways, {"By", "Off mm"}, rows);
}

} // namespace ivrant::app
