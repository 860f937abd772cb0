// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/script/line_command.h"

#include <algorithm>
#include <charconv>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/pose/lines.h"

namespace ivrant::script {
namespace {

using base::Error;
using base::Status;
using geometry::Vec3;
using model::Guide;
using model::Line;
using model::LineEnd;
using model::LineKind;

const std::vector<std::string_view> kWords{"through", "round", "to",     "by",    "onto", "left",   "right",
                                           "radius",  "held",  "length", "count", "law",  "travel", "works"};

Error wanted(const std::string& what) { return {"script.word", what + " is expected here", ""}; }

bool isNumber(const std::string& word) { return static_cast<bool>(base::parseNumber(word)); }

/// Radius of what a line may lie round by itself.
double findRadius(const parts::Shape& shape, const parts::Port& port) {
    using parts::PortKind;
    for (const parts::ToothRing& ring : shape.rings)
        if (ring.kind == parts::GearKind::Pulley) return ring.teeth / 2.0; // mm across its groove
    switch (port.kind) {
    case PortKind::Bar:
    case PortKind::BarEnd: return 1.6;
    case PortKind::Axle:
    case PortKind::PinSmooth:
    case PortKind::PinRibbed:
    case PortKind::Stud: return 2.4;
    default: return 0;
    }
}

class Reader {
public:
    Reader(LineKind kind, Words& words, const model::Project& project, const FindThing& findPart,
           const FindThing& findJoint)
        : m_words(words), m_project(project), m_index(project), m_findPart(findPart), m_findJoint(findJoint) {
        m_line.kind = kind;
    }

    base::Result<Line> run() {
        m_line.name = m_words.takeUntil({"from", "round"});
        if (m_line.name.empty()) return wanted("a name");
        if (m_words.empty()) return wanted("'from' and where it is tied");
        if (m_words.peek() == "round") {
            if (m_line.kind != LineKind::Band) return wanted("'from' and where it is tied");
            m_line.closed = true;
        }
        while (!m_words.empty())
            if (Status st = takeWord(); !st) return st.error();
        if (m_line.guides.size() < 2) return wanted("a second guide");
        if (!m_line.closed && !m_ended) return wanted("where it ends ('to', 'by hand through' or 'onto')");
        chooseSides(m_project, m_line);
        if (m_line.kind != LineKind::String && !m_line.lengthMm) chooseLength();
        return std::move(m_line);
    }

private:
    /// Bands and springs have a length of their own, however the model is posed later: that of their way now.
    void chooseLength() {
        const auto tree = model::makeTree(m_project);
        if (!tree) return;
        model::Project with = m_project;
        with.lines = {m_line};
        const double mm = pose::Lines(with, *tree).restLength(0);
        if (mm >= 1) m_line.lengthMm = std::round(mm * 10) / 10;
    }
    Status takeWord() {
        const std::string word = m_words.take();
        if (word == "from" && m_line.guides.empty()) return takeGuide(false);
        if (word == "through" && !m_ended) return takeGuide(false);
        if (word == "round" && !m_ended) return takeGuide(true);
        if (word == "to" && !m_ended && !m_line.closed) return takeEnd(LineEnd::Tied);
        if (word == "onto" && !m_ended) return takeEnd(LineEnd::Drum);
        if (word == "by" && !m_ended) {
            if (!m_words.takeIf("hand") || !m_words.takeIf("through")) return wanted("'hand through'");
            return takeEnd(LineEnd::Hand);
        }
        if (word == "length") return takeNumber(m_line.lengthMm, "its length in mm");
        if (word == "travel") return takeNumber(m_line.travelMm, "its travel in mm");
        if (word == "count") return takeCount();
        if (word == "law") return takeLaw();
        if (word == "works") return takeWorks();
        return Error{"script.word", "there is no word '" + word + "' of a line", ""};
    }
    template <class Target> Status takeNumber(Target& target, const std::string& what) {
        if (m_words.empty()) return wanted(what);
        const auto number = base::parseNumber(m_words.take());
        if (!number) return number.error();
        target = *number;
        return {};
    }
    Status takeCount() {
        double count = 0;
        if (Status st = takeNumber(count, "how many side by side"); !st) return st;
        if (count < 1 || count > model::kMostLinesAbreast || count != std::floor(count))
            return Error{"line.count", "1 to 50 side by side", ""};
        m_line.count = static_cast<int>(count);
        return {};
    }
    Status takeLaw() {
        while (!m_words.empty() && isNumber(m_words.peek())) {
            model::LawPoint point;
            if (Status st = takeNumber(point.mm, "mm"); !st) return st;
            if (Status st = takeNumber(point.newton, "how much it pulls then, N"); !st) return st;
            m_line.law.push_back(point);
        }
        if (m_line.law.empty()) return wanted("mm and N");
        return {};
    }
    Status takeWorks() {
        if (m_words.empty()) return wanted("a joint");
        const auto joint = m_findJoint(m_words.take());
        if (!joint) return joint.error();
        model::Works works;
        works.joint.text = *joint;
        if (Status st = takeNumber(works.from, "where the joint begins"); !st) return st;
        if (Status st = takeNumber(works.to, "where the joint ends"); !st) return st;
        m_line.works = works;
        return {};
    }
    Status takeEnd(LineEnd end) {
        m_ended = true;
        m_line.end = end;
        return takeGuide(end == LineEnd::Drum);
    }
    Status takeGuide(bool round) {
        if (m_words.empty()) return wanted("a part and its port");
        const auto part = m_findPart(m_words.take());
        if (!part) return part.error();
        Guide guide;
        guide.part.text = *part;
        const model::PartSpot spot = m_index.find(guide.part);
        if (spot.section < 0) return Error{"script.label", "'" + *part + "' is no part", ""};
        guide.port = m_words.takeUntil(kWords);
        const parts::Shape& shape = *model::getPart(m_project, spot).shape;
        const int port = shape.findPort(guide.port);
        if (port < 0)
            return Error{"script.word",
                         guide.port.empty() ? "a port of '" + shape.name + "' is expected here"
                                            : "'" + shape.name + "' has no port '" + guide.port + "'",
                         ""};
        if (round) {
            guide.radiusMm = findRadius(shape, at(shape.ports, port));
            while (!m_words.empty()) {
                if (m_words.takeIf("left"))
                    guide.side = 1;
                else if (m_words.takeIf("right"))
                    guide.side = -1;
                else if (m_words.takeIf("held"))
                    guide.captive = true;
                else if (m_words.takeIf("radius")) {
                    if (Status st = takeNumber(guide.radiusMm, "a radius in mm"); !st) return st;
                } else
                    break;
            }
            if (guide.radiusMm <= 0) return wanted("'radius' and mm, as " + guide.port + " has none of its own,");
        }
        m_line.guides.push_back(guide);
        return {};
    }

    Words& m_words;
    const model::Project& m_project;
    model::PartIndex m_index;
    const FindThing &m_findPart, &m_findJoint;
    Line m_line;
    bool m_ended = false;
};

std::string shortNumber(double value) {
    char text[40];
    const auto end = std::to_chars(text, text + sizeof text, value == 0 ? 0.0 : value);
    return {text, end.ptr};
}

} // namespace

base::Result<Line> readLineCommand(LineKind kind, Words& words, const model::Project& project,
                                   const FindThing& findPart, const FindThing& findJoint) {
    return Reader(kind, words, project, findPart, findJoint).run();
}

base::Result<Line> parseLine(const model::Project& project, const std::string& text) {
    auto split = splitLine(text);
    if (!split) return split.error();
    Words words(std::move(split).value());
    if (words.empty()) return wanted("'string', 'band' or 'spring'");
    const std::string kind = words.take();
    const auto findPart = [&](const std::string& word) -> base::Result<std::string> {
        for (const auto& section : project.sections)
            for (const model::Part& part : section->parts)
                if (part.id.text == word || (!part.name.empty() && part.name == word)) return part.id.text;
        return Error{"script.label", "there is no part '" + word + "'", ""};
    };
    const auto findJoint = [&](const std::string& word) -> base::Result<std::string> {
        for (const model::Joint& joint : project.joints)
            if (joint.id.text == word || joint.name == word) return joint.id.text;
        return Error{"script.label", "there is no joint '" + word + "'", ""};
    };
    for (const LineKind one : {LineKind::String, LineKind::Band, LineKind::Spring})
        if (kind == model::getLineKindName(one)) return readLineCommand(one, words, project, findPart, findJoint);
    return wanted("'string', 'band' or 'spring'");
}

std::string writeLine(const model::Project& project, const Line& line) {
    const auto guideText = [](const Guide& guide) {
        std::string text = guide.part.text + " " + guide.port;
        if (guide.radiusMm > 0)
            text += std::string(guide.side > 0 ? " left" : " right") + " radius " + shortNumber(guide.radiusMm) +
                    (guide.captive ? " held" : "");
        return text;
    };
    std::string name = line.name;
    std::replace(name.begin(), name.end(), '"', '\'');
    std::string text = std::string(model::getLineKindName(line.kind)) + " \"" + name + "\"";
    for (std::size_t g = 0; g < line.guides.size(); ++g) {
        const Guide& guide = line.guides[g];
        const bool last = g + 1 == line.guides.size();
        const char* word = guide.radiusMm > 0 ? " round " : " through ";
        if (!line.closed && g == 0) word = " from ";
        if (!line.closed && last)
            word = line.end == LineEnd::Hand ? " by hand through " : line.end == LineEnd::Drum ? " onto " : " to ";
        text += word + guideText(guide);
    }
    if (line.lengthMm) text += " length " + shortNumber(*line.lengthMm);
    if (line.count != 1) text += " count " + std::to_string(line.count);
    if (!line.law.empty()) text += " law";
    for (const model::LawPoint& point : line.law) text += " " + shortNumber(point.mm) + " " + shortNumber(point.newton);
    if (line.travelMm > 0) text += " travel " + shortNumber(line.travelMm);
    if (line.works && project.findJoint(line.works->joint) >= 0)
        text += " works " + line.works->joint.text + " " + shortNumber(line.works->from) + " " +
                shortNumber(line.works->to);
    return text;
}

void chooseSides(const model::Project& project, Line& line) {
    const auto tree = model::makeTree(project);
    if (!tree) return;
    const model::Placed placed = pose::calcPlaced(project, *tree, pose::getValues(project, nullptr));
    const model::PartIndex index(project);
    const auto frameOf = [&](const Guide& guide) {
        const model::PartSpot spot = index.find(guide.part);
        if (spot.section < 0) return geometry::Frame::Identity();
        const parts::Shape& shape = *model::getPart(project, spot).shape;
        const int port = shape.findPort(guide.port);
        return port < 0 ? placed.X_WP(spot) : geometry::Frame(placed.X_WP(spot) * at(shape.ports, port).X_PF());
    };
    const std::size_t count = line.guides.size();
    for (std::size_t g = 0; g < count; ++g) {
        Guide& guide = line.guides[g];
        if (guide.radiusMm <= 0 || guide.side != 0) continue;
        guide.side = 1;
        if (count < 2) continue;
        const geometry::Frame X = frameOf(guide);
        const Vec3 axis = X.linear().col(2), here = X.translation();
        const Vec3 before = frameOf(line.guides[(g + count - 1) % count]).translation();
        // A drum at the end has nothing behind it: the line comes on at the side that is wound first.
        if (!line.closed && (g == 0 || g + 1 == count)) continue;
        const Vec3 after = frameOf(line.guides[(g + 1) % count]).translation();
        Vec3 along = after - before;
        const double off = axis.dot(along.cross(here - before)); // above 0: its middle lies left of the straight way
        if (std::abs(off) > 1e-6) guide.side = off > 0 ? -1 : 1;
        if (!line.closed) continue;
        // A loop has all of them inside: it turns the same way about each.
        Vec3 middle = Vec3::Zero();
        for (const Guide& one : line.guides) middle += frameOf(one).translation() / static_cast<double>(count);
        const double inside = axis.dot((here - before).cross(middle - before));
        if (std::abs(inside) > 1e-6)
            guide.side = inside > 0 ? 1 : -1;
        else
            guide.side =
                g == 0 ? 1 : line.guides[0].side * (axis.dot(frameOf(line.guides[0]).linear().col(2)) > 0 ? 1 : -1);
    }
}

} // namespace ivrant::script
