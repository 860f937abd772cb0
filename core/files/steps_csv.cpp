// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/steps_csv.h"

#include "core/files/parts_csv.h"
#include "core/parts/palette.h"

namespace ivrant::files {

std::string makeStepsCsv(const std::vector<SheetStep>& steps) {
    std::string csv = "step,title,times,count,shape,colour,notes\r\n";
    for (const SheetStep& step : steps) {
        std::string notes;
        for (const std::string& note : step.notes) notes += (notes.empty() ? "" : " ") + note;
        const std::string number = std::to_string(step.step.number), times = std::to_string(step.copies);
        if (step.step.tray.empty()) csv += csvRow({number, step.title, times, "", "", "", notes});
        for (std::size_t t = 0; t < step.step.tray.size(); ++t) {
            const auto& line = step.step.tray[t];
            const bool first = t == 0;
            csv += csvRow({number, first ? step.title : "", first ? times : "", std::to_string(line.count), line.shape,
                           parts::getColourName(line.colour), first ? notes : ""});
        }
    }
    return csv;
}

} // namespace ivrant::files
