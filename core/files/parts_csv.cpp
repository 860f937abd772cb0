#include "core/files/parts_csv.h"

#include "core/base/units.h"
#include "core/make/parts_list.h"
#include "core/parts/palette.h"

namespace ivrant::files {

std::string csvField(const std::string& text) {
    if (text.find_first_of(",\"\r\n") == std::string::npos) return text;
    std::string quoted = "\"";
    for (char c : text) quoted += c == '"' ? std::string("\"\"") : std::string(1, c);
    return quoted + "\"";
}

std::string makePartsCsv(const model::Project& project) {
    std::string csv = "shape,colour,count,each_g,basis\r\n";
    for (const auto& line : make::listParts(project))
        csv += csvField(line.shape) + "," + csvField(parts::getPalette()[static_cast<std::size_t>(line.colour)].name) + "," + std::to_string(line.count) + "," +
               base::formatNumber(line.eachG, 3) + "," + (line.weighed ? "measured" : "starting") + "\r\n";
    for (const auto& line : make::listBallast(project))
        csv += "ballast," + csvField(line.section) + ",1," + base::formatNumber(line.massG, 3) + ",measured\r\n";
    return csv;
}

} // namespace ivrant::files
