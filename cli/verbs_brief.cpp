// SPDX-License-Identifier: GPL-3.0-or-later
// What was asked and what was measured: series of readings, own shapes, the scale desk, the offset finder.
#include <CLI/CLI.hpp>

#include "cli/verbs.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/brief/offset.h"
#include "core/brief/scale.h"
#include "core/files/atomic_file.h"
#include "core/files/mesh_import.h"
#include "core/files/own_json.h"
#include "core/files/results_pose.h"
#include "core/model/edits.h"
#include "core/trials/readings_csv.h"
#include "core/trials/statistics.h"

namespace ivrant::cli {
namespace {

constexpr std::size_t kMostReadingsBytes = 10u << 20;

model::Json makeStatisticsJson(const model::Series& series, const trials::Statistics& statistics) {
    model::Json json = files::makeHead("measure");
    json["quantity"] = model::getQuantityName(series.quantity);
    json["kind"] = series.kind.empty() ? model::Json(nullptr) : model::Json(series.kind);
    json["count"] = statistics.count;
    json["mean"] = files::rounded(statistics.mean);
    json["spread"] = files::rounded(statistics.spread);
    json["factor"] = statistics.factor ? model::Json(files::rounded(*statistics.factor)) : model::Json(nullptr);
    json["counted_on"] = files::rounded(statistics.lowerBound);
    json["outliers"] = model::Json::array();
    for (const int i : statistics.outliers) json["outliers"].push_back(files::rounded(at(series.readings, i)));
    const auto loss = trials::calcLossPer100(series.moves, series.readings);
    json["loss_per_100"] = loss ? model::Json(files::rounded(*loss)) : model::Json(nullptr);
    return json;
}

class Measure : public ProjectVerb {
public:
    Measure() : ProjectVerb("measure", "take a series of readings in: statistics, and the project with it") {}
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        sub.add_option("--readings", m_readings, "CSV, one reading a line, moves in a second column")->required();
        sub.add_option("--quantity", m_quantity, "holding, pull-out, stud pull or stud shear");
        sub.add_option("--kind", m_kind, "joint kind tested: counts for all of its joints");
        sub.add_option("--joint", m_joint, "id or name of a joint");
        sub.add_option("--note", m_note, "which parts, how old, how cold");
        sub.add_option("-o,--output", m_output, "OUT.ivrant")->required();
    }
    [[nodiscard]] int run() const override {
        auto project = load();
        if (!project) return complain(project.error());
        const auto text = files::readFile(m_readings, kMostReadingsBytes);
        if (!text) return complain(text.error());
        const auto readings = trials::parseReadings(*text);
        if (!readings) return complain(readings.error());
        model::Series series;
        if (auto aimed = aim(*project, series); !aimed) return complain(aimed.error());
        series.readings = readings->values;
        series.moves = readings->moves;
        series.note = m_note;
        const auto statistics = trials::calcStatistics(series.readings);
        if (!statistics) return complain(statistics.error());
        const auto next = model::putSeries(*project, series);
        if (!next) return complain(next.error());
        if (const int code = save(m_output, *next); code != 0) return code;
        print(makeStatisticsJson(series, *statistics));
        return 0;
    }

private:
    /// The joint or kind that is named, as a series has it.
    [[nodiscard]] base::Status aim(const model::Project& project, model::Series& series) const {
        const auto quantity = model::findQuantity(m_quantity);
        if (!quantity)
            return base::Error{"series.quantity",
                               "'" + m_quantity + "' is no quantity: holding, pull-out, stud pull or stud shear", ""};
        series.quantity = *quantity;
        series.kind = m_kind;
        if (!m_joint) return {};
        const int j = findJoint(project, *m_joint);
        if (j < 0) return unknown("joint", *m_joint);
        series.joint = at(project.joints, j).id;
        series.kind = at(project.joints, j).kind->name;
        return {};
    }

    std::string m_readings, m_quantity = "holding", m_kind, m_note, m_output;
    std::optional<std::string> m_joint;
};

class Own : public ProjectVerb {
public:
    Own() : ProjectVerb("own", "take a closed mesh in as an own shape of the project") {}
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        sub.add_option("--mesh", m_mesh, "mesh as .stl, .obj, .gltf, .glb or .ply")->required();
        sub.add_option("--name", m_shapeName, "name of the shape")->required();
        sub.add_option("--mass", m_massG, "its mass in g")->required();
        sub.add_option("--unit", m_unitMm, "mm for each unit of the file");
        sub.add_flag("--y-up", m_yUp, "y points up in the file");
        sub.add_option("--ports", m_ports, "JSON list of its ports");
        sub.add_option("-o,--output", m_output, "OUT.ivrant")->required();
    }
    [[nodiscard]] int run() const override {
        auto project = load();
        if (!project) return complain(project.error());
        auto import = files::getUsualImport(m_mesh);
        if (m_unitMm) import.mmPerUnit = *m_unitMm;
        import.yUp = import.yUp || m_yUp;
        auto shape = files::importOwnShape(m_mesh, import, m_shapeName, m_massG);
        if (!shape) return complain(shape.error());
        if (!m_ports.empty()) {
            const auto text = files::readFile(m_ports, files::kMostMeshBytes);
            if (!text) return complain(text.error());
            auto ports = files::parseOwnPorts(*text);
            if (!ports) return complain(ports.error());
            shape = parts::changeOwnShape(**shape, m_massG, *ports);
            if (!shape) return complain(shape.error());
        }
        const auto next = model::putOwnShape(*project, *shape);
        if (!next) return complain(next.error());
        print(files::makeOwnShapeJson(**shape));
        return save(m_output, *next);
    }

private:
    std::string m_mesh, m_shapeName, m_ports, m_output;
    double m_massG = 0;
    std::optional<double> m_unitMm;
    bool m_yUp = false;
};

class Scale : public Verb {
public:
    Scale() : Verb("scale", "scale of a model from pairs of lengths") {}
    void addOptions(CLI::App& sub) override {
        Verb::addOptions(sub);
        sub.add_option("PAIRS", m_pairs, "REAL=MODEL each, such as 90=346mm")->required();
        sub.add_option("--real", m_real, "a real length to bring to the model");
    }
    [[nodiscard]] int run() const override {
        std::vector<brief::LengthPair> pairs;
        for (const std::string& pair : m_pairs) {
            const auto sign = pair.find('=');
            const auto real = base::parseNumber(pair.substr(0, sign));
            const auto model = sign == std::string::npos
                                   ? base::Result<double>(base::Error{
                                         "scale.pairs", "'" + pair + "' is no pair: REAL=MODEL is expected", ""})
                                   : base::parseLengthMm(pair.substr(sign + 1), 1);
            if (!model) return complain(model.error());
            if (!real) return complain(real.error());
            pairs.push_back({*real, *model});
        }
        const auto scale = brief::calcScale(pairs);
        if (!scale) return complain(scale.error());
        model::Json json = files::makeHead("scale");
        json["mm_per_real"] = files::rounded(scale->mmPerReal);
        json["spread"] = files::rounded(scale->spread);
        if (m_real) {
            const auto length = brief::calcScaledLength(*scale, *m_real);
            if (!length) return complain(length.error());
            json["mm"] = files::rounded(length->mm);
            json["studs"] = files::rounded(length->studs);
            json["studs_error_mm"] = files::rounded(length->studsErrorMm);
            json["plates"] = length->plates;
            json["plates_error_mm"] = files::rounded(length->platesErrorMm);
        }
        print(json);
        return 0;
    }

private:
    std::vector<std::string> m_pairs;
    std::optional<double> m_real;
};

class Offset : public Verb {
public:
    Offset() : Verb("offset", "ways to make an offset of half pitches, sideways plates and leaves") {}
    void addOptions(CLI::App& sub) override {
        Verb::addOptions(sub);
        sub.add_option("LENGTH", m_length, "such as 5.6mm, 0.5s, 1p")->required();
    }
    [[nodiscard]] int run() const override {
        const auto wanted = base::parseLengthMm(m_length, 1);
        if (!wanted) return complain(wanted.error());
        const auto ways = brief::findOffsets(*wanted);
        if (!ways) return complain(ways.error());
        model::Json json = files::makeHead("offset");
        json["wanted_mm"] = files::rounded(*wanted);
        json["ways"] = model::Json::array();
        for (const auto& way : *ways)
            json["ways"].push_back({{"studs", way.pitches},
                                    {"half_studs", way.halfPitches},
                                    {"plates_sideways", way.plates},
                                    {"leaves", way.halfPlates},
                                    {"mm", files::rounded(way.mm)},
                                    {"error_mm", files::rounded(way.errorMm)}});
        print(json);
        return 0;
    }

private:
    std::string m_length;
};

} // namespace

void addBriefVerbs(Verbs& verbs) {
    verbs.push_back(std::make_unique<Measure>());
    verbs.push_back(std::make_unique<Own>());
    verbs.push_back(std::make_unique<Scale>());
    verbs.push_back(std::make_unique<Offset>());
}

} // namespace ivrant::cli
