// SPDX-License-Identifier: GPL-3.0-or-later
// Makes the demo projects of the Fernby Pier Museum's winter show with the same edits that the program offers: every
// part is a part line as it would be typed, every joint joins two ports. Run again with: ivrant-make-demo FOLDER
#include <cmath>
#include <filesystem>
#include <iostream>

#include "core/base/units.h"
#include "core/files/atomic_file.h"
#include "core/files/brief_file.h"
#include "core/files/project_file.h"
#include "core/make/proposal.h"
#include "core/model/edits_options.h"
#include "core/model/variants.h"
#include "core/parts/family.h"
#include "core/parts/palette.h"
#include "core/parts/part_line.h"
#include "core/script/script.h"
#include "core/stand/size_rows.h"
#include "core/study/stand_cases.h"
#include "core/verdict/report.h"
#include "data/demo/board_builder.h"
#include "data/demo/make_auk.h"
#include "data/demo/make_boards.h"

using namespace ivrant;

namespace {

constexpr double kAukMm = 780; ///< height of the statue

class Builder {
public:
    explicit Builder(const std::string& name) : m_project(model::makeEmptyProject(name)) {}

    /// Renames the first section, or adds one; parts go there from now on.
    void section(const std::string& name) {
        if (m_started) {
            take(model::addSection(m_project, name));
            m_section = m_project.sections.back()->id;
        } else {
            m_section = m_project.sections.front()->id;
            take(model::renameSection(m_project, m_section, name));
        }
        m_started = true;
        m_step = 1;
    }
    /// Back to a section that is there.
    void inSection(const std::string& name) {
        for (const auto& s : m_project.sections)
            if (s->name == name) m_section = s->id;
        m_step = 1;
    }
    void rename(const std::string& name) { take(model::renameProject(m_project, name)); }
    void step() { ++m_step; }

    /// One part, as typed: "plate 4x10 slate at 0 0 0 turn 1". Returns its id.
    model::PartId put(const std::string& typed) {
        model::NewPart part = demo::readPart(typed);
        part.step = m_step;
        std::vector<model::PartId> ids;
        take(model::addParts(m_project, m_section, {&part, 1}, &ids));
        return ids.front();
    }
    void putAll(std::initializer_list<const char*> lines) {
        for (const char* line : lines) put(line);
    }

    model::JointId join(const std::string& name, const std::string& kind, const model::PartId& from,
                        const std::string& fromPort, const model::PartId& to, const std::string& toPort,
                        std::vector<double> value, std::vector<model::Range> wanted) {
        model::Joint joint;
        joint.name = name;
        joint.kind = parts::findJointKind(kind);
        joint.from = {from, fromPort};
        joint.to = {to, toPort};
        joint.value = std::move(value);
        joint.wanted = std::move(wanted);
        take(model::addJoint(m_project, joint));
        return m_project.joints.back().id;
    }

    void pose(const std::string& name, const std::map<model::JointId, std::vector<double>>& changed,
              const std::string& flatOn) {
        std::map<model::JointId, std::vector<double>> values;
        for (const auto& joint : m_project.joints) values[joint.id] = joint.value;
        for (const auto& [id, value] : changed) values[id] = value;
        model::Stance stance;
        stance.kind = model::Stance::Kind::Flat;
        for (const auto& s : m_project.sections)
            if (s->name == flatOn) stance.section = s->id;
        take(model::addPose(m_project, name, values, stance));
    }

    /// The model so far becomes one variant; a copy under another name is shown from now on.
    void variant(const std::string& soFar, const std::string& name) { take(model::addVariant(m_project, name, soFar)); }
    void showVariant(const std::string& name) {
        take(model::showVariant(m_project, demo::findVariant(m_project, name)));
    }
    void exchange(const std::string& joint, const std::string& kind) {
        take(model::exchangeJointKind(m_project, idOf(joint), kind));
    }
    void takePose(const std::string& name) {
        for (const auto& q : m_project.poses)
            if (q.name == name) return take(model::takePose(m_project, q.id));
    }
    void tilt(double degrees) { take(model::setTilt(m_project, degrees)); }
    /// A post of its stand, its top there in the world (mm).
    void post(double x, double y, double z) {
        take(model::putPost(m_project, {{}, {base::mmToUm(x), base::mmToUm(y), base::mmToUm(z)}, nullptr}));
    }
    /// A case of the builder's own: on a shelf that leans.
    void leaning(const std::string& name, double slopeDeg, double towardDeg) {
        model::OwnCase own;
        own.name = name;
        own.slopeDeg = slopeDeg;
        own.towardDeg = towardDeg;
        take(model::putCase(m_project, own));
    }
    void ask(const std::string& measure, model::Comparison comparison, double value, bool must,
             const std::string& joint = "", const std::string& other = "", const std::string& pose = "") {
        model::Ask a;
        a.measure = measure;
        a.comparison = comparison;
        a.value = value;
        a.must = must;
        a.joint = joint.empty() ? "" : idOf(joint).text;
        a.other = other.empty() ? "" : idOf(other).text;
        a.pose = pose;
        take(model::putAsk(m_project, a));
    }
    void decide(const std::string& text, const std::string& reason) {
        model::DiaryEntry entry;
        entry.text = text;
        entry.reason = reason;
        entry.date = "2026-11-02";
        take(model::putDiaryEntry(m_project, entry));
    }
    [[nodiscard]] model::JointId idOf(const std::string& name) const {
        for (const auto& j : m_project.joints)
            if (j.name == name) return j.id;
        throw std::runtime_error("no joint " + name);
    }

    /// What these parts are becomes the first alternative of an option.
    void option(const std::string& name, const std::string& alternative, const std::vector<model::PartId>& ids) {
        take(model::addOption(m_project, name, alternative, ids));
        const auto none = m_project.options.list.back().alternatives.back().id;
        if (name == "Hat") take(model::removeAlternative(m_project, none)); // nobody goes bare-headed in winter
    }
    /// A further one, of parts put into a section from a step on.
    void alternative(const std::string& option, const std::string& name, const std::string& section, int step,
                     const std::vector<const char*>& lines, double price) {
        const auto find = [&] {
            for (const auto& each : m_project.options.list)
                if (each.name == option) return each;
            throw std::runtime_error("no option " + option);
        };
        const auto id = find().id;
        take(model::addAlternative(m_project, id, name));
        inSection(section);
        m_step = step;
        std::vector<model::PartId> ids;
        for (const char* line : lines) ids.push_back(put(line));
        take(model::assignToChosen(m_project, id, ids));
        take(model::describeAlternative(m_project, find().alternatives.back().id, name, "", price));
        take(model::chooseAlternative(m_project, find().alternatives.front().id));
    }
    /// What is chosen for the option, or a section with all it carries, lifts off.
    void lifts(const std::string& name, bool isOption) {
        model::Module one;
        one.name = name;
        for (const auto& option : m_project.options.list)
            if (isOption && option.name == name) one.option = option.id;
        for (const auto& section : m_project.sections)
            if (!isOption && section->name == name) one.sections.push_back(section->id);
        take(model::putModule(m_project, std::move(one)));
    }
    void exclude(const std::string& first, const std::string& second) {
        model::OptionRule rule;
        for (const auto& each : m_project.options.list)
            for (const auto& one : each.alternatives) {
                if (one.name == first) rule.first = one.id;
                if (one.name == second) rule.second = one.id;
            }
        take(model::putRule(m_project, rule));
    }
    void make(model::Making making) { m_project.making = std::move(making); }
    void save(const std::filesystem::path& path) const {
        if (auto saved = files::saveProject(m_project, path.string()); !saved)
            throw std::runtime_error(saved.error().message);
        std::cout << path.filename().string() << ": " << m_project.partCount() << " parts, " << m_project.joints.size()
                  << " joints\n";
    }

private:
    void take(model::EditResult result) {
        if (!result) throw std::runtime_error(result.error().message);
        m_project = std::move(result).value();
    }
    model::Project m_project;
    model::SectionId m_section;
    bool m_started = false;
    int m_step = 1;
};

struct Leg {
    model::JointId hip, knee, ankle;
};

Leg buildLeg(Builder& b, const std::string& side, const model::PartId& hipFork) {
    b.section(side + " thigh");
    const auto hipTongue = b.put("stepped hinge large tongue slate at 0 0 0");
    const auto kneeFork = b.put("stepped hinge small fork slate at 0 4 0");
    b.put("plate 1x2 slate at 0 2 0");
    b.step();
    b.put("plate 1x6 slate at 0 0 1");
    b.put("tile 1x6 fog at 0 0 2");
    b.section(side + " shin");
    const auto kneeTongue = b.put("stepped hinge small tongue reed at 0 0 0");
    const auto ankleFork = b.put("stepped hinge large fork reed at 0 8 0");
    b.put("plate 1x6 reed at 0 2 0");
    b.step();
    b.put("plate 1x10 reed at 0 0 1");
    b.step();
    b.putAll({"tile 1x6 reed at 0 0 2", "tile 1x4 reed at 0 6 2"});
    b.section(side + " foot");
    b.putAll({"plate 3x3 reed at -1 -2 0", "plate 3x3 reed at -1 1 0", "plate 1x3 reed at 0 4 0"});
    b.step();
    b.putAll(
        {"plate 1x2 reed at 0 0 1", "plate 1x4 reed at 0 2 1", "tile 1x4 reed at -1 -1 1", "tile 1x4 reed at 1 -1 1"});
    b.step();
    const auto ankleTongue = b.put("stepped hinge large tongue reed at 0 0 2");
    Leg leg;
    leg.hip =
        b.join(side + " hip", "stepped hinge large", hipFork, "finger", hipTongue, "finger", {-90}, {{-100, -40}});
    leg.knee =
        b.join(side + " knee", "stepped hinge small", kneeFork, "finger", kneeTongue, "finger", {0}, {{-67.5, 0}});
    leg.ankle =
        b.join(side + " ankle", "stepped hinge large", ankleFork, "finger", ankleTongue, "finger", {90}, {{67.5, 105}});
    return leg;
}

model::JointId buildWing(Builder& b, const std::string& side, const model::PartId& bar) {
    b.section(side + " wing");
    const auto clip = b.put("clip plate 1x2 fog at 0 -1 0");
    b.put("plate 3x2 fog at -1 -3 0");
    b.step();
    b.putAll({"plate 1x4 slate at -1 -3 1", "plate 2x4 slate at 0 -3 1"});
    b.step();
    b.putAll({"plate 3x3 slate at -1 -6 1", "plate 2x6 slate at -1 -6 2", "plate 1x6 slate at 1 -6 2"});
    b.step();
    b.putAll(
        {"tile 1x6 soot at -1 -6 3", "tile 1x6 soot at 1 -6 3", "tile 1x2 fog at 0 -4 3", "tile 1x2 fog at 0 -6 3"});
    return b.join(side + " wing", "clip on bar", bar, "bar", clip, "clip", {0, 0}, {{-60, 45}, {0, 0}});
}

void makeHeron(const std::filesystem::path& folder) {
    Builder b("Heron");
    b.section("Body");
    b.put("plate 4x10 fog at 0 0 0");
    b.putAll({"plate 2x4 slate at 1 0 -1", "plate 2x6 slate at 1 4 -1"});
    b.step();
    b.putAll({"brick 1x2 fog at 0 2 -3", "brick 1x2 fog at 3 2 -3"});
    const auto leftHip = b.put("stepped hinge large fork slate at 0 2 -4");
    const auto rightHip = b.put("stepped hinge large fork slate at 3 2 -4");
    b.step();
    b.putAll({"brick 2x4 fog at 0 0 1", "brick 2x4 fog at 2 0 1", "brick 2x4 fog at 0 4 1", "brick 2x4 fog at 2 4 1",
              "brick 2x2 fog at 0 8 1", "brick 2x2 fog at 2 8 1"});
    b.step();
    b.putAll({"brick 4x2 fog at 0 1 4", "brick 4x2 fog at 0 3 4", "brick 4x2 fog at 0 5 4"});
    const auto neckRoot = b.put("stepped hinge small fork fog at 1 8 4");
    b.putAll({"plate 1x2 fog at 2 8 4", "slope 4x2 slate at 3 0 4 turn 2"});
    b.step();
    b.put("plate 1x3 fog at 1 7 5");
    b.put("plate 1x3 fog at 2 7 5");
    b.step();
    const auto leftBar = b.put("bar plate 1x2 slate at 0 4 7 turn 3");
    const auto rightBar = b.put("bar plate 1x2 slate at 3 4 7 turn 1");
    b.putAll({"plate 4x2 slate at 0 1 7", "plate 4x1 slate at 0 3 7", "plate 4x2 slate at 0 5 7"});
    b.step();
    b.putAll({"plate 2x4 slate at 0 2 8", "plate 2x4 slate at 2 2 8", "plate 4x1 slate at 0 6 8"});
    b.step();
    b.putAll({"tile 1x5 soot at 0 2 9", "tile 1x5 soot at 3 2 9", "tile 2x4 fog at 1 3 9", "tile 2x1 fog at 1 2 9"});

    const auto tailStud = b.put("jumper 2x2 slate at 1 -1 7");
    b.section("Tail");
    const auto tailRoot = b.put("plate 2x4 slate at 0 0 0");
    b.putAll({"plate 2x3 soot at 0 3 -1", "tile 2x4 soot at 0 0 1"});
    b.join("Tail", "one-stud swivel", tailStud, "stud 0,0", tailRoot, "tube 0,0", {180}, {{150, 210}});

    const Leg left = buildLeg(b, "Left", leftHip), right = buildLeg(b, "Right", rightHip);

    // The neck: each piece carries the next one pitch beyond its upper plate, 24 mm on and 3.2 mm up.
    struct Piece {
        const char *lower, *upper, *kind, *fromPort, *toPort;
        double value;
        std::vector<model::Range> wanted;
    };
    const std::vector<Piece> pieces{
        {"stepped hinge small tongue",
         "stepped hinge small fork",
         "stepped hinge small",
         "finger",
         "finger",
         45,
         {{0, 90}}},
        {"stepped hinge small tongue",
         "stepped hinge small fork",
         "stepped hinge small",
         "finger",
         "finger",
         22.5,
         {{-22.5, 67.5}}},
        {"stepped hinge small tongue",
         "stepped hinge small fork",
         "stepped hinge small",
         "finger",
         "finger",
         22.5,
         {{-45, 45}}},
        {"stepped hinge small tongue",
         "ball plate small 1x2",
         "stepped hinge small",
         "finger",
         "finger",
         0,
         {{-67.5, 45}}},
        {"cup plate small 1x2",
         "ball plate small 1x2",
         "small ball and cup",
         "ball",
         "cup",
         -15,
         {{-10, 10}, {-40, 20}, {-45, 45}}},
        {"cup plate small 1x2",
         "ball plate small 1x2",
         "small ball and cup",
         "ball",
         "cup",
         -25,
         {{-10, 10}, {-40, 20}, {-45, 45}}},
    };
    std::vector<model::JointId> neck;
    model::PartId carrier = neckRoot;
    for (std::size_t i = 0; i < pieces.size(); ++i) {
        b.section("Neck " + std::to_string(i + 1));
        const auto lower = b.put(std::string(pieces[i].lower) + " fog at 0 0 0");
        const auto upper = b.put(std::string(pieces[i].upper) + " fog at 0 0 1");
        b.put(i % 2 ? "tile 1x2 fog at 0 0 2" : "tile 1x2 slate at 0 0 2");
        const bool ball = std::string(pieces[i].toPort) == "cup";
        neck.push_back(b.join("Neck " + std::to_string(i + 1), pieces[i].kind, carrier, pieces[i].fromPort, lower,
                              pieces[i].toPort,
                              ball ? std::vector<double>{0, pieces[i].value, 0} : std::vector<double>{pieces[i].value},
                              pieces[i].wanted));
        carrier = upper;
    }
    b.section("Head");
    const auto headCup = b.put("cup plate small 1x2 fog at 0 0 0");
    b.step();
    b.putAll({"brick 2x3 slate at 0 0 1", "plate 1x3 gorse at 0 2 0"});
    b.step();
    b.putAll({"plate 1x4 gorse at 0 3 1", "round plate 1x1 soot at 1 1 4", "brick 1x3 slate at 0 0 4",
              "tile 1x3 soot at 0 0 7", "plate 1x1 slate at 1 0 4", "plate 1x1 slate at 1 2 4",
              "tile 1x1 soot at 1 0 5", "tile 1x1 soot at 1 2 5"});
    b.step();
    b.putAll({"tile 1x4 gorse at 0 3 2", "tooth plate gorse at 0 5 0"});
    neck.push_back(b.join("Head", "small ball and cup", carrier, "ball", headCup, "cup", {0, -25, 0},
                          {{-15, 15}, {-40, 30}, {-60, 60}}));

    const auto leftWing = buildWing(b, "Left", leftBar), rightWing = buildWing(b, "Right", rightBar);
    const std::string stand = "Left foot";
    const auto ball = [](double bend) { return std::vector<double>{0, bend, 0}; };
    b.pose("Standing", {}, stand);
    b.pose("Reach",
           {{neck[0], {0}},
            {neck[1], {-22.5}},
            {neck[2], {0}},
            {neck[3], {0}},
            {neck[4], ball(0)},
            {neck[5], ball(0)},
            {neck[6], ball(0)}},
           stand);
    b.pose("Asleep",
           {{neck[0], {67.5}},
            {neck[1], {45}},
            {neck[2], {22.5}},
            {neck[3], {-67.5}},
            {neck[4], ball(-40)},
            {neck[5], ball(-30)},
            {neck[6], ball(-20)}},
           stand);
    b.pose("Wings out", {{leftWing, {40, 0}}, {rightWing, {40, 0}}}, stand);
    b.pose("Stepping", {{left.hip, {-45}}, {left.knee, {-45}}}, "Right foot");
    using model::Comparison;
    b.ask("mass", Comparison::AtMost, 600, true);
    b.ask("height", Comparison::AtLeast, 240, true, "", "", "Standing");
    b.ask("range-total", Comparison::AtLeast, 120, true, "Neck 2");
    b.ask("tip-play", Comparison::AtMost, 20, true, "Neck 1", "Head");
    b.ask("freedoms", Comparison::AtLeast, 24, false);
    b.leaning("A shelf that leans", 3, 270);
    b.decide("Steps low in the neck, balls near the head",
             "the low joints carry the rest; the head should look anywhere");
    b.variant("A firm", "B smooth");
    for (const char* joint : {"Neck 1", "Neck 2", "Neck 3", "Neck 4"}) b.exchange(joint, "small ball and cup");
    b.takePose("Standing");
    b.showVariant("A firm");
    b.save(folder / "heron.ivrant");

    // The standing study: by itself, with plates under its feet, and on a post under its breast.
    b.rename("Heron's standing study");
    b.variant("A firm", "C on a stand");
    b.inSection("Left foot");
    b.put("plate 4x12 soot at -2 -4 -1");
    b.inSection("Right foot");
    b.put("plate 4x12 soot at -1 -4 -1");
    b.showVariant("A firm");
    b.variant("A firm", "D on a post");
    b.post(0, -24, 150.4);
    b.showVariant("A firm");
    b.save(folder / "heron-stand.ivrant");
}

/// Three stacked rings on one axis, each on a turntable, that pass a pointer beside them. A peg on the middle ring
/// stops the top one too early.
void makeDrum(const std::filesystem::path& folder) {
    Builder b("Cipher drum");
    b.section("Base");
    b.put("plate 12x12 driftwood at 0 0 0");
    const auto foot = b.put("small turntable lower tar at 5 5 1");
    b.step();
    b.putAll({"brick 1x2 tar at 11 5 1", "brick 1x2 tar at 11 5 4", "brick 1x2 tar at 11 5 7",
              "brick 1x2 tar at 11 5 10", "tile 1x2 gorse at 11 5 13"});
    struct Ring {
        const char *name, *colour;
        std::vector<const char*> parts;
    };
    // Cells of the upper half are (0, 0) to (1, 1); the axis is at (0.5, 0.5).
    const std::vector<Ring> rings{
        {"Low ring",
         "deep water",
         {"plate 6x6 deep water at -2 -2 1", "tile 6x1 chalk at -2 -2 2", "tile 6x1 chalk at -2 3 2"}},
        {"Middle ring",
         "kelp",
         {"plate 8x4 kelp at -3 -1 1", "plate 4x8 kelp at -1 -3 2", "tile 4x1 chalk at -1 -3 3",
          "tile 4x1 chalk at -1 4 3", "brick 1x1 soot at 4 0 2", "brick 1x1 soot at 4 0 5"}},
        {"Top ring",
         "gorse",
         {"plate 6x6 gorse at -2 -2 1", "brick 1x2 soot at -2 0 2", "tile 6x1 chalk at -2 -2 2",
          "tile 6x1 chalk at -2 3 2"}}};
    model::PartId carrier = foot;
    std::vector<model::JointId> joints;
    for (std::size_t i = 0; i < rings.size(); ++i) {
        b.section(rings[i].name);
        const auto upper = b.put(std::string("small turntable upper ") + rings[i].colour + " at 0 0 0");
        b.step();
        for (const char* part : rings[i].parts) b.put(part);
        joints.push_back(
            b.join(rings[i].name, "small turntable", carrier, "lower", upper, "upper", {0}, {{-180, 180}}));
        if (i + 1 == rings.size()) break;
        b.step();
        carrier = b.put(std::string("small turntable lower ") + rings[i].colour + (i == 0 ? " at 0 0 2" : " at 0 0 3"));
    }
    b.tilt(10);
    b.ask("hold-worst", model::Comparison::AtLeast, 1.5, true, "Low ring");
    b.ask("colours", model::Comparison::AtMost, 5, false);
    b.pose("Closed", {}, "Base");
    b.pose("Turned", {{joints[0], {30}}, {joints[1], {-20}}, {joints[2], {0}}}, "Base");
    b.save(folder / "drum.ivrant");
}

/// What all fair-goers have in common.
void makeFairGoersBrief(const std::filesystem::path& folder) {
    files::Brief brief;
    brief.name = "Fair-goers";
    const auto add = [&](model::Ask ask) { brief.asks.push_back(std::move(ask)); };
    model::Ask head;
    head.measure = "joint-kind";
    head.joint = "Head";
    head.word = "one-stud swivel";
    add(head);
    model::Ask shoulders;
    shoulders.measure = "joint-kind";
    shoulders.joint = "*shoulder";
    shoulders.word = "*ball and cup";
    add(shoulders);
    model::Ask width;
    width.measure = "width-studs";
    width.section = "Body";
    width.comparison = model::Comparison::Equal;
    width.value = 4;
    add(width);
    model::Ask height;
    height.measure = "height";
    height.comparison = model::Comparison::AtMost;
    height.value = 125;
    height.pose = "Standing";
    add(height);
    model::Ask colours;
    colours.measure = "colours";
    colours.comparison = model::Comparison::AtMost;
    colours.value = 6;
    colours.must = false;
    add(colours);
    const auto path = folder / "fairgoers.brief.json";
    if (auto saved = files::writeFileAtomically(path.string(), files::writeBrief(brief)); !saved)
        throw std::runtime_error(saved.error().message);
}

struct FairGoer {
    const char *file, *name, *coat, *trousers, *hat, *tool;
    std::vector<const char*> hatParts, toolParts;
    double price = 0; ///< of the hat, when it is a choice
};

/// `others`: their hats and tools become alternatives of this one's.
void makeFairGoer(const std::filesystem::path& folder, const FairGoer& f, const std::vector<FairGoer>& others = {}) {
    Builder b(f.name);
    const std::string coat = f.coat, trousers = f.trousers;
    b.section("Legs");
    b.putAll({"plate 4x4 sand at -1 -1 0"});
    b.step();
    for (const char* x : {"0", "1"}) {
        b.put("brick 1x2 soot at " + std::string(x) + " 0 1");
        b.put("brick 1x1 " + trousers + " at " + x + " 0 4");
        b.put("brick 1x1 " + trousers + " at " + x + " 0 7");
    }
    b.put("plate 2x1 " + trousers + " at 0 0 10");
    b.step();
    b.put("plate 2x2 " + trousers + " at 0 -1 11");
    b.put("brick 2x1 " + trousers + " at 0 -1 8");
    b.put("brick 2x1 " + trousers + " at 0 -1 5");
    const auto lower = b.put("small turntable lower " + trousers + " at 0 -1 12");
    b.section("Body");
    const auto upper = b.put("small turntable upper " + coat + " at 0 0 0");
    b.step();
    b.put("brick 2x2 " + coat + " at 0 0 1");
    b.put("brick 2x2 " + coat + " at 0 0 4");
    b.step();
    const auto leftBall = b.put("ball plate small 1x2 " + coat + " at 1 1 7 turn 1");
    const auto rightBall = b.put("ball plate small 1x2 " + coat + " at 0 0 7 turn 3");
    b.step();
    b.put("plate 2x2 " + coat + " at 0 0 8");
    b.put("jumper 2x2 " + coat + " at 0 0 9");
    const auto jumper = b.put("round plate 1x1 shell at 0.5 0.5 10");
    std::vector<model::JointId> arms;
    std::vector<model::PartId> hatIds, toolIds;
    b.join("Waist", "small turntable", lower, "lower", upper, "upper", {0}, {{-90, 90}});
    for (const bool left : {true, false}) {
        const std::string side = left ? "Left" : "Right";
        b.section(side + " arm");
        const auto cup = b.put("cup plate small 1x2 " + coat + " at 0 0 0");
        b.put("plate 1x2 " + coat + " at 0 0 1");
        b.put("plate 1x1 shell at 0 2 0");
        b.put("plate 1x2 " + coat + " at 0 1 -1");
        if (!left)
            for (const char* part : f.toolParts) toolIds.push_back(b.put(part));
        arms.push_back(b.join(side + " shoulder", "small ball and cup", left ? leftBall : rightBall, "ball", cup, "cup",
                              {0, -40, 0}, {{-10, left || f.toolParts.empty() ? 10.0 : 30.0}, {-40, 40}, {0, 0}}));
    }
    b.section("Head");
    const auto neckPart = b.put("round brick 2x2 shell at 0 0 0");
    b.step();
    b.put("round plate 2x2 shell at 0 0 3");
    b.step();
    for (const char* part : f.hatParts) hatIds.push_back(b.put(part));
    const auto head = b.join("Head", "one-stud swivel", jumper, "stud 0,0", neckPart, "tube 0,0", {0}, {{-90, 90}});
    b.pose("Standing", {}, "Legs");
    b.pose("Waving", {{arms[0], {0, 40, 0}}, {head, {30}}}, "Legs");
    b.pose("Pointing", {{arms[1], {0, 0, 0}}, {head, {-60}}}, "Legs");
    if (!f.hatParts.empty()) { // somebody for the show: out of the workshop's drawers, in its evenings
        model::Making making;
        making.stockFiles = {"fernby-drawers.csv"};
        making.priceFiles = {"shop-lantern.csv", "shop-quayside.csv"};
        making.schedule = {"2026-12-19", {0, 2, 0, 2, 0, 4, 0}, {{"2026-12-08", 0}}, 1, 1, 1, 1};
        b.make(std::move(making));
    }
    if (!others.empty()) {
        b.option("Hat", f.hat, hatIds);
        b.option("Tool", f.tool, toolIds);
        for (const FairGoer& other : others) {
            b.alternative("Hat", other.hat, "Head", 3, other.hatParts, other.price);
            b.alternative("Tool", other.tool, "Right arm", 1, other.toolParts, other.price * 2);
        }
        b.exclude("captain's cap", "fishing net"); // a captain does not fish
        b.lifts("Hat", true);
        b.lifts("Tool", true);
        b.lifts("Head", false);
    }
    b.save(folder / (std::string(f.file) + ".ivrant"));
}

/// Models to begin from: what every figure needs, without what makes it somebody.
void makeTemplates(const std::filesystem::path& folder) {
    makeFairGoer(folder, {"standing-figure", "Standing figure", "fog", "slate", "", "", {}, {}});
    Builder b("Arm on a base");
    b.section("Base");
    b.putAll({"plate 8x8 slate at 0 0 0"});
    b.step();
    b.putAll({"brick 2x2 fog at 3 3 1", "brick 2x2 fog at 3 3 4"});
    const auto lower = b.put("small turntable lower fog at 3 3 7");
    b.section("Post");
    const auto upper = b.put("small turntable upper fog at 0 0 0");
    b.step();
    b.putAll({"brick 2x2 fog at 0 0 1", "brick 2x2 fog at 0 0 4"});
    b.step();
    const auto ball = b.put("ball plate small 1x2 fog at 1 1 7 turn 1");
    b.step();
    b.putAll({"plate 2x1 fog at 0 0 7", "plate 2x2 fog at 0 0 8"});
    b.section("Arm");
    const auto cup = b.put("cup plate small 1x2 harbour at 0 0 0");
    b.putAll({"plate 1x4 harbour at 0 0 1"});
    b.join("Turn", "small turntable", lower, "lower", upper, "upper", {0}, {{-90, 90}});
    const auto lift =
        b.join("Lift", "small ball and cup", ball, "ball", cup, "cup", {0, -40, 0}, {{-10, 10}, {-40, 0}, {0, 0}});
    b.pose("Down", {}, "Base");
    b.pose("Out", {{lift, {0, 0, 0}}}, "Base");
    b.save(folder / "arm-on-a-base.ivrant");
}

void makeFairGoers(const std::filesystem::path& folder) {
    const std::vector<FairGoer> all{
        {"fairgoer-captain",
         "Fair-goer: captain",
         "deep water",
         "soot",
         "captain's cap",
         "staff",
         {"plate 2x2 deep water at 0 0 4", "tile 2x2 chalk at 0 0 5"},
         {"brick 1x1 driftwood at 0 2 1", "brick 1x1 driftwood at 0 2 4", "round plate 1x1 gorse at 0 2 7"}},
        {"fairgoer-baker",
         "Fair-goer: baker",
         "chalk",
         "fog",
         "baker's hat",
         "tray",
         {"round brick 2x2 chalk at 0 0 4", "round plate 2x2 chalk at 0 0 7"},
         {"plate 2x2 driftwood at 0 2 1", "tile 2x2 sand at 0 2 2"}},
        {"fairgoer-fisher",
         "Fair-goer: fisher",
         "gorse",
         "harbour",
         "sou'wester",
         "fishing net",
         {"plate 4x4 gorse at -1 -1 4", "plate 2x2 gorse at 0 0 5"},
         {"brick 1x1 soot at 0 2 1", "brick 1x4 driftwood at 0 2 4", "plate 1x6 driftwood at 0 4 7",
          "brick 2x4 shallows at 0 7 8"}},
        {"fairgoer-keeper",
         "Fair-goer: pier keeper",
         "kelp",
         "tar",
         "keeper's cap",
         "lantern",
         {"round plate 2x2 kelp at 0 0 4", "tile 1x2 kelp at 0 0 5", "tile 1x2 kelp at 1 0 5"},
         {"round brick 1x1 lantern at 0 2 1", "round plate 1x1 soot at 0 2 4"}},
    };
    for (const auto& f : all) makeFairGoer(folder, f);
    FairGoer choices = all.front();
    choices.file = "fairgoer-choices";
    choices.name = "Fair-goer of your choice";
    std::vector<FairGoer> others(all.begin() + 1, all.end());
    double price = 1.5;
    for (FairGoer& other : others) other.price = price += 0.25;
    makeFairGoer(folder, choices, others);
}

/// A crest feather for the heron that no family makes: ellipses along a bow, closed at both ends; OBJ, mm, z up.
void makeCrest(const std::filesystem::path& folder) {
    constexpr int kRings = 14, kSides = 16;
    std::string points, faces;
    const auto point = [&](double x, double y, double z) {
        points +=
            "v " + base::formatNumber(x, 3) + " " + base::formatNumber(y, 3) + " " + base::formatNumber(z, 3) + "\n";
    };
    point(0, 0, 0);
    for (int i = 1; i < kRings; ++i) {
        const double t = static_cast<double>(i) / kRings, bow = 1.1 * t; // rad
        const double middleY = 38 * std::sin(bow), middleZ = 38 * (1 - std::cos(bow)) + 2.4,
                     wide = 4 * std::sqrt(1 - t) * std::min(1.0, 6 * t), high = 0.6 * wide;
        for (int k = 0; k < kSides; ++k) {
            const double a = 2 * base::kPi * k / kSides;
            point(wide * std::cos(a), middleY - high * std::sin(a) * std::sin(bow),
                  middleZ + high * std::sin(a) * std::cos(bow));
        }
    }
    point(0, 38 * std::sin(1.1), 38 * (1 - std::cos(1.1)) + 2.4);
    const auto corner = [](int ring, int k) { return 2 + (ring - 1) * kSides + (k + kSides) % kSides; };
    const auto face = [&](int a, int b, int c) {
        faces += "f " + std::to_string(a) + " " + std::to_string(b) + " " + std::to_string(c) + "\n";
    };
    const int tip = 2 + (kRings - 1) * kSides;
    for (int k = 0; k < kSides; ++k) {
        face(1, corner(1, k), corner(1, k + 1));
        face(tip, corner(kRings - 1, k + 1), corner(kRings - 1, k));
        for (int i = 1; i + 1 < kRings; ++i) {
            face(corner(i, k), corner(i + 1, k), corner(i + 1, k + 1));
            face(corner(i, k), corner(i + 1, k + 1), corner(i, k + 1));
        }
    }
    const auto path = folder / "heron-crest.obj";
    if (auto saved = files::writeFileAtomically(path.string(),
                                                "# Crest feather of the heron; mm, z up\no crest\n" + points + faces);
        !saved)
        throw std::runtime_error(saved.error().message);
}

/// The statue: its mesh, and bricks for it in a solid variant and a hollow one.
void makeAuk(const std::filesystem::path& folder) {
    const auto mesh = demo::makeAukMesh();
    if (auto saved = files::writeFileAtomically((folder / "great-auk.obj").string(), demo::formatObj(mesh)); !saved)
        throw std::runtime_error(saved.error().message);
    const auto body = geometry::makeMeshBody(mesh).value();
    const auto row = stand::calcSize(body, {kAukMm, 0, {{2, 4}, {2, 3}, {2, 2}, {1, 4}, {1, 3}, {1, 2}}});
    const auto solid = stand::makeStatue("Great auk", row.value().layers, parts::findColour("soot")).value();
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(solid));
    const auto core = study::calcCore(report, report.present).value();
    auto both = study::leaveOutCore(solid, core.leaveOut).value();
    // What joins only the layer above comes with it.
    both = make::takeProposals(both, make::Take::Moves).value();
    if (auto saved = files::writeFileAtomically((folder / "auk.ivrant").string(), files::writeProject(both)); !saved)
        throw std::runtime_error(saved.error().message);
}

/// A machine of parts, from the text of commands beside it.
void buildScript(const std::filesystem::path& folder, const std::string& name) {
    const auto text = files::readFile((std::filesystem::path(IVRANT_DATA_DIR) / "demo" / (name + ".script")).string(),
                                      script::kMostBytes);
    if (!text) throw std::runtime_error(text.error().message);
    const auto project = script::runScript(*text);
    if (!project) throw std::runtime_error(name + ": " + project.error().message + " at " + project.error().place);
    if (auto saved = files::saveProject(*project, (folder / (name + ".ivrant")).string()); !saved)
        throw std::runtime_error(saved.error().message);
}

} // namespace

int main(int argc, char** argv) {
    try {
        const std::filesystem::path folder = argc > 1 ? argv[1] : ".";
        makeHeron(folder);
        makeFairGoers(folder);
        std::filesystem::create_directories(folder / "templates");
        makeTemplates(folder / "templates");
        makeFairGoersBrief(folder);
        makeDrum(folder);
        makeCrest(folder);
        makeAuk(folder);
        demo::makeSpan(folder);
        for (const char* machine : {"bridge", "cart", "neck-drive", "crab-leg", "heron-beak"})
            buildScript(folder, machine);
        return 0;
    } catch (const std::exception& e) {
        std::cerr << e.what() << "\n";
        return 1;
    }
}
