// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/usual_sizes.h"

#include <algorithm>
#include <map>
#include <mutex>
#include <nlohmann/json.hpp>
#include <set>

#include "core/base/units.h"
#include "core/parts/data_files.h"
#include "core/parts/family.h"

namespace ivrant::parts {
namespace {

using SizeList =
    std::map<std::string, std::set<std::pair<int, int>>, std::less<>>; ///< smaller number first; 0 for one number

constexpr int kMostCells = 64;

/// "2x4" or "5".
base::Result<std::pair<int, int>> parseSize(const std::string& text) {
    const auto cross = text.find('x');
    const auto a = base::parseNumber(text.substr(0, cross));
    const auto b = cross == std::string::npos ? base::Result<double>(0.0) : base::parseNumber(text.substr(cross + 1));
    const auto isWhole = [](double n) { return n >= 0 && n < 1000 && n == static_cast<int>(n); };
    if (!a || !b || !isWhole(*a) || !isWhole(*b) || *a < 1)
        return base::Error{"usual.syntax", "'" + text + "' is no size such as 2x4", ""};
    const int one = static_cast<int>(*a), other = static_cast<int>(*b);
    return std::pair(std::min(one, other), std::max(one, other));
}

base::Result<SizeList> readList(std::string_view text) {
    const auto json = nlohmann::json::parse(text, nullptr, false);
    if (!json.is_object() || !json.value("families", nlohmann::json()).is_object())
        return base::Error{"usual.syntax", "an object with \"families\" is expected", "/families"};
    SizeList list;
    for (const auto& [family, sizes] : json["families"].items()) {
        if (!sizes.is_array()) return base::Error{"usual.syntax", "a list of sizes is expected", "/families/" + family};
        auto& known = list[family];
        for (const auto& entry : sizes) {
            const auto size = entry.is_string() ? parseSize(entry.get<std::string>())
                                                : base::Error{"usual.syntax", "a size such as \"2x4\" is expected", ""};
            if (!size) return base::Error{"usual.syntax", size.error().message, "/families/" + family};
            known.insert(*size);
        }
    }
    return list;
}

struct Store {
    std::mutex mutex;
    SizeList list = readList(kUsualSizesJson).value();
};
Store& store() {
    static Store s;
    return s;
}

/// Numbers at the end of a canonical name.
std::optional<std::pair<int, int>> sizeOf(const Shape& shape) {
    if (shape.own || shape.name == shape.family) return std::nullopt;
    const auto size = parseSize(shape.name.substr(shape.name.rfind(' ') + 1));
    return size ? std::optional(*size) : std::nullopt;
}

/// Fewest usual rectangles for a by b cells, by the best straight cut (guillotine cuts; Gilmore and Gomory 1966).
class Cutter {
public:
    explicit Cutter(const std::set<std::pair<int, int>>& usual) : m_usual(usual) {}
    struct Rect {
        int x, y, a, b;
    };
    int count(int a, int b) {
        const auto key = std::pair(a, b);
        if (const auto known = m_best.find(key); known != m_best.end()) return known->second.first;
        std::pair<int, int> best{1'000'000, 0}; // pieces; where it is cut: > 0 along x, < 0 along y
        if (m_usual.count({std::min(a, b), std::max(a, b)}) > 0) {
            best = {1, 0};
        } else {
            for (int x = 1; x <= a / 2; ++x)
                if (const int n = count(x, b) + count(a - x, b); n < best.first) best = {n, x};
            for (int y = 1; y <= b / 2; ++y)
                if (const int n = count(a, y) + count(a, b - y); n < best.first) best = {n, -y};
        }
        m_best[key] = best;
        return best.first;
    }
    void list(int x, int y, int a, int b, std::vector<Rect>& out) {
        (void)count(a, b);
        const int cut = m_best[{a, b}].second;
        if (cut == 0) return out.push_back({x, y, a, b});
        if (cut > 0) {
            list(x, y, cut, b, out);
            list(x + cut, y, a - cut, b, out);
        } else {
            list(x, y, a, -cut, out);
            list(x, y - cut, a, b + cut, out);
        }
    }

private:
    const std::set<std::pair<int, int>>& m_usual;
    std::map<std::pair<int, int>, std::pair<int, int>> m_best;
};

} // namespace

base::Status setUsualSizes(std::string_view json) {
    auto list = readList(json);
    if (!list) return list.error();
    const std::lock_guard lock(store().mutex);
    store().list = std::move(list).value();
    return {};
}

bool isUsualSize(const Shape& shape) {
    const auto size = sizeOf(shape);
    if (!size) return true;
    const std::lock_guard lock(store().mutex);
    const auto family = store().list.find(shape.family);
    return family == store().list.end() || family->second.count(*size) > 0;
}

std::vector<UsualPiece> splitToUsual(const Shape& shape) {
    if (isUsualSize(shape) || (shape.family != "brick" && shape.family != "plate" && shape.family != "tile")) return {};
    const auto cells = shape.name.substr(shape.name.rfind(' ') + 1);
    const int a = std::stoi(cells), b = std::stoi(cells.substr(cells.find('x') + 1));
    if (a > kMostCells || b > kMostCells) return {};
    std::set<std::pair<int, int>> usual;
    {
        const std::lock_guard lock(store().mutex);
        usual = store().list.find(shape.family)->second;
    }
    Cutter cutter(usual);
    if (cutter.count(a, b) >= 1'000'000) return {};
    std::vector<Cutter::Rect> rects;
    cutter.list(0, 0, a, b, rects);
    std::vector<UsualPiece> pieces;
    for (const auto& r : rects) {
        auto piece = makeShape(shape.family + " " + std::to_string(r.a) + "x" + std::to_string(r.b));
        if (!piece) return {};
        pieces.push_back({*piece, geometry::Vec3(r.x * base::kPitchMm, r.y * base::kPitchMm, 0)});
    }
    return pieces;
}

} // namespace ivrant::parts
