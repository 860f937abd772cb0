// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/texts.h"

namespace ivrant::model {
namespace {

class Checker {
public:
    void look(const std::string& text, std::size_t most, const std::string& place) {
        if (!m_status.ok() || text.size() <= most) return;
        m_status = base::Error{"text.long",
                               "a text of at most " + std::to_string(most) + " bytes is expected, this one has " +
                                   std::to_string(text.size()),
                               place};
    }
    /// `key` of every entry of a list.
    template <class List, class Get>
    void lookAll(const List& list, const std::string& place, const char* key, std::size_t most, Get get) {
        for (std::size_t i = 0; i < list.size(); ++i) look(get(list[i]), most, place + "/" + std::to_string(i) + key);
    }
    [[nodiscard]] base::Status status() const { return m_status; }

private:
    base::Status m_status;
};

void lookAtBoard(Checker& check, const Board& board, const std::string& place) {
    const auto name = [](const auto& thing) { return thing.name; };
    check.look(board.name, kMostShortName, place + "/name");
    check.lookAll(board.shafts, place + "/shafts", "/name", kMostShortName, name);
    check.lookAll(board.strands, place + "/strands", "/name", kMostShortName, name);
    check.lookAll(board.motors, place + "/motors", "/name", kMostShortName, name);
    check.lookAll(board.selectors, place + "/selectors", "/name", kMostShortName, name);
    check.lookAll(board.functions, place + "/functions", "/name", kMostShortName, name);
    for (std::size_t i = 0; i < board.selectors.size(); ++i)
        check.lookAll(board.selectors[i].positions, place + "/selectors/" + std::to_string(i) + "/positions", "/name",
                      kMostShortName, name);
}

void lookAtNotes(Checker& check, const Project& project) {
    for (std::size_t i = 0; i < project.asks.size(); ++i) {
        const Ask& a = project.asks[i];
        const std::string place = "/asks/" + std::to_string(i);
        for (const auto& [key, text] : {std::pair<const char*, const std::string*>{"/word", &a.word},
                                        {"/joint", &a.joint},
                                        {"/other", &a.other},
                                        {"/section", &a.section},
                                        {"/pose", &a.pose},
                                        {"/shape", &a.shape},
                                        {"/function", &a.function}})
            check.look(*text, kMostShortName, place + key);
    }
    check.lookAll(project.measured, "/measured", "/kind", kMostShortName, [](const Series& s) { return s.kind; });
    check.lookAll(project.measured, "/measured", "/note", kMostName, [](const Series& s) { return s.note; });
    check.lookAll(project.diary, "/diary", "/text", kMostDiaryText, [](const DiaryEntry& e) { return e.text; });
    check.lookAll(project.diary, "/diary", "/reason", kMostDiaryText, [](const DiaryEntry& e) { return e.reason; });
    check.lookAll(project.diary, "/diary", "/answer", kMostDiaryText, [](const DiaryEntry& e) { return e.answer; });
    const Making& making = project.making;
    const auto itself = [](const std::string& text) { return text; };
    check.lookAll(making.stockFiles, "/making/stocks", "", kMostName, itself);
    check.lookAll(making.priceFiles, "/making/prices", "", kMostName, itself);
    check.lookAll(making.orders, "/making/orders", "/seller", kMostShortName, [](const Order& o) { return o.seller; });
    for (std::size_t i = 0; i < making.orders.size(); ++i)
        check.lookAll(making.orders[i].lines, "/making/orders/" + std::to_string(i) + "/lines", "/shape",
                      kMostShortName, [](const OrderLine& line) { return line.shape; });
    check.lookAll(making.builds, "/making/builds", "/who", kMostShortName, [](const BuildSession& b) { return b.who; });
    check.lookAll(making.notes, "/making/notes", "/text", kMostName, [](const StepNote& n) { return n.text; });
    check.lookAll(making.builds, "/making/builds", "/note", kMostName, [](const BuildSession& b) { return b.note; });
    check.lookAll(project.cases, "/cases", "/name", kMostShortName, [](const OwnCase& c) { return c.name; });
}

} // namespace

base::Status checkTexts(const Project& project) {
    Checker check;
    check.look(project.name, kMostName, "/name");
    check.lookAll(project.sections, "/sections", "/name", kMostName, [](const auto& section) { return section->name; });
    for (std::size_t s = 0; s < project.sections.size(); ++s)
        for (std::size_t p = 0; p < project.sections[s]->parts.size(); ++p)
            if (const std::string& name = project.sections[s]->parts[p].name; name.size() > kMostShortName)
                check.look(name, kMostShortName,
                           "/sections/" + std::to_string(s) + "/parts/" + std::to_string(p) + "/name");
    check.lookAll(project.joints, "/joints", "/name", kMostName, [](const Joint& joint) { return joint.name; });
    check.lookAll(project.poses, "/poses", "/name", kMostName, [](const NamedPose& pose) { return pose.name; });
    check.lookAll(project.variants, "/variants", "/name", kMostShortName,
                  [](const Variant& variant) { return variant.name; });
    for (std::size_t o = 0; o < project.options.list.size(); ++o) {
        const Option& option = project.options.list[o];
        const std::string place = "/options/" + std::to_string(o);
        check.look(option.name, kMostShortName, place + "/name");
        check.lookAll(option.alternatives, place + "/alternatives", "/name", kMostShortName,
                      [](const Alternative& a) { return a.name; });
        check.lookAll(option.alternatives, place + "/alternatives", "/text", kMostDiaryText,
                      [](const Alternative& a) { return a.text; });
    }
    check.lookAll(project.modules.list, "/modules", "/name", kMostShortName, [](const Module& m) { return m.name; });
    check.lookAll(project.modules.reaches, "/reaches", "/name", kMostShortName, [](const Reach& r) { return r.name; });
    check.lookAll(project.ownShapes, "/own_shapes", "/name", kMostOwnName,
                  [](const auto& shape) { return shape->name; });
    for (std::size_t b = 0; b < project.boards.size(); ++b)
        lookAtBoard(check, *project.boards[b], "/boards/" + std::to_string(b));
    lookAtNotes(check, project);
    return check.status();
}

} // namespace ivrant::model
