// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/board_line.h"

#include <sstream>

#include "core/base/units.h"
#include "core/drive/function_words.h"

namespace ivrant::drive {
namespace {

using base::Error;
using model::BoardAxis;
using model::GearKind;
using What = BoardLine::What;

std::vector<std::string> split(const std::string& text) {
    std::istringstream stream(text);
    std::vector<std::string> words;
    for (std::string word; stream >> word;) words.push_back(word);
    return words;
}

constexpr int kDifferentialTeeth = 28; ///< of our part

class LineParser {
public:
    explicit LineParser(const std::string& text) : m_words(split(text)) {}

    base::Result<BoardLine> run() {
        if (m_words.empty())
            return Error{"line.syntax",
                         "type a wheel such as 24, bevel 12, worm, or shaft, motor medium, function lift", ""};
        if (auto st = readHead(); !st) return st.error();
        while (m_at < m_words.size())
            if (auto st = readTail(); !st) return st.error();
        if (m_line.what == What::Gear && m_line.kind == GearKind::Differential && m_line.teeth == 0)
            m_line.teeth = kDifferentialTeeth;
        const bool needsTeeth = m_line.what == What::Gear && m_line.kind != GearKind::Worm;
        if (needsTeeth && m_line.teeth == 0)
            return Error{"line.syntax",
                         "say how many teeth: " + std::string(model::getGearKindName(m_line.kind)) + " 24", ""};
        if (m_line.kind == GearKind::Worm && m_line.teeth == 0) m_line.teeth = 1;
        return m_line;
    }

private:
    [[nodiscard]] bool has(const std::string& word) const { return m_at < m_words.size() && m_words[m_at] == word; }
    bool take(const std::string& word) {
        if (!has(word)) return false;
        ++m_at;
        return true;
    }
    [[nodiscard]] std::string rest() {
        std::string text;
        for (; m_at < m_words.size(); ++m_at) text += (text.empty() ? "" : " ") + m_words[m_at];
        return text;
    }

    base::Status readHead() {
        if (take("shaft")) {
            m_line.what = What::Shaft;
        } else if (take("motor")) {
            m_line.what = What::Motor;
            m_line.name = "motor " + (m_at < m_words.size() ? m_words[m_at++] : "medium");
        } else if (take("crank")) {
            m_line.what = What::Motor;
            m_line.name = "hand crank";
        } else if (take("function")) {
            m_line.what = What::Function;
            return readFunction();
        } else if (take("selector")) {
            m_line.what = What::Selector;
            m_line.name = rest();
        } else if (has("walls") || has("seat") || has("lid")) {
            m_line.what = What::Walls;
            m_line.name = m_words[m_at++];
        } else if (take("chain")) {
            m_line.what = What::Chain;
        } else if (take("belt")) {
            m_line.what = What::Belt;
        } else if (has("crossed") && m_words.size() > 1 && m_words[1] == "belt") {
            m_at = 2;
            m_line.what = What::Belt;
            m_line.crossed = true;
        } else if (take("string") || take("wire")) {
            m_line.what = What::Strand;
            m_line.wire = m_words[m_at - 1] == "wire";
        } else if (take("couple")) {
            m_line.what = What::Couple;
        } else if (take("wall")) {
            m_line.what = What::Wall;
            const auto height = readLength();
            if (!height) return height.error();
            m_line.heightUm = *height;
        } else if (isAsk(m_at)) {
            m_line.what = What::Asks;
            return readAsks();
        } else {
            return readGear();
        }
        return {};
    }
    /// A name, then what is asked of it.
    base::Status readFunction() {
        for (; m_at < m_words.size() && !isAsk(m_at); ++m_at)
            m_line.name += (m_line.name.empty() ? "" : " ") + m_words[m_at];
        return readAsks();
    }
    [[nodiscard]] bool isAsk(std::size_t word) const {
        model::DriveFunction probe;
        std::size_t at = word;
        const auto read = readFunctionWord(m_words, at, probe);
        return !read || *read;
    }
    base::Status readAsks() {
        model::DriveFunction probe;
        while (m_at < m_words.size()) {
            const std::size_t from = m_at;
            const auto read = readFunctionWord(m_words, m_at, probe);
            if (!read) return read.error();
            if (!*read) return Error{"line.syntax", "'" + m_words[m_at] + "' is not understood here", ""};
            m_line.asks.insert(m_line.asks.end(), m_words.begin() + static_cast<std::ptrdiff_t>(from),
                               m_words.begin() + static_cast<std::ptrdiff_t>(m_at));
        }
        return {};
    }
    base::Status readGear() {
        m_line.loose = take("clutch") || take("loose");
        if (take("left")) m_line.leftHand = true;
        for (const auto& [word, kind] : {std::pair{"bevel", GearKind::Bevel},
                                         {"crown", GearKind::Crown},
                                         {"worm", GearKind::Worm},
                                         {"ring", GearKind::Ring},
                                         {"rack", GearKind::Rack},
                                         {"sprocket", GearKind::Sprocket},
                                         {"pulley", GearKind::Pulley},
                                         {"turntable", GearKind::Turntable},
                                         {"differential", GearKind::Differential},
                                         {"actuator", GearKind::Actuator},
                                         {"spur", GearKind::Spur}})
            if (take(word)) {
                m_line.kind = kind;
                return {};
            }
        if (const auto teeth = base::parseNumber(m_words[m_at]); !teeth)
            return Error{"line.syntax",
                         "'" + m_words[m_at] +
                             "' is nothing to put on a board: type a wheel such as 24, bevel 12, worm, or shaft, "
                             "motor, function",
                         ""};
        return {};
    }
    base::Result<std::int64_t> readLength() {
        if (m_at >= m_words.size()) return Error{"line.syntax", "a length is missing", ""};
        const auto mm = base::parseLengthMm(m_words[m_at], base::kPitchMm);
        if (!mm) return mm.error();
        ++m_at;
        return base::mmToUm(*mm);
    }
    base::Status readTail() {
        if (take("right")) {
            m_line.axis = BoardAxis::Right;
        } else if (take("up")) {
            m_line.axis = BoardAxis::Up;
        } else if (take("out")) {
            m_line.axis = BoardAxis::Out;
        } else if (take("left")) {
            m_line.leftHand = true;
        } else if (take("loose")) {
            m_line.loose = true;
        } else if (m_line.what == What::Motor && take("end")) {
            m_line.atEnd = true;
        } else if (take("at")) {
            const auto x = readLength();
            if (!x) return x.error();
            const auto y = readLength();
            if (!y) return y.error();
            m_line.atUm = {*x, *y};
            if (m_at < m_words.size() && base::parseLengthMm(m_words[m_at], base::kPitchMm))
                m_line.heightUm = *readLength();
        } else if (m_line.what == What::Strand) {
            std::int64_t* length = take("off")     ? &m_line.offUm
                                   : take("gap")   ? &m_line.gapUm
                                   : take("slack") ? &m_line.slackUm
                                                   : nullptr;
            if (!length)
                return Error{"line.syntax",
                             "'" + m_words[m_at] + "' is not understood here: string off 2 gap 1 slack 3", ""};
            const auto value = readLength();
            if (!value) return value.error();
            *length = *value;
        } else if (const auto amount = base::parseNumber(m_words[m_at]);
                   amount && (m_line.what == What::Chain || m_line.what == What::Belt) && m_line.count == 0) {
            if (*amount != static_cast<int>(*amount) || *amount < 1 || *amount > 100'000)
                return Error{
                    "line.syntax",
                    m_line.what == What::Chain ? "links are counted in whole numbers" : "a belt is whole mm long", ""};
            m_line.count = static_cast<int>(*amount);
            ++m_at;
        } else if (m_line.what == What::Shaft && !m_line.lengthUm) {
            const auto length = readLength();
            if (!length) return length.error();
            m_line.lengthUm = *length;
        } else if (const auto number = base::parseNumber(m_words[m_at]);
                   number && m_line.what == What::Gear && m_line.teeth == 0) {
            if (*number != static_cast<int>(*number) || std::abs(*number) > 10'000)
                return Error{"line.syntax", "teeth are counted in whole numbers", ""};
            m_line.teeth = static_cast<int>(*number);
            if (m_line.teeth == 0) return Error{"gear.teeth", "a wheel without teeth drives nothing", ""};
            ++m_at;
        } else {
            return Error{"line.syntax", "'" + m_words[m_at] + "' is not understood here", ""};
        }
        return {};
    }

    std::vector<std::string> m_words;
    std::size_t m_at = 0;
    BoardLine m_line;
};

} // namespace

base::Result<BoardLine> parseBoardLine(const std::string& text) { return LineParser(text).run(); }

} // namespace ivrant::drive
