// What was asked and what was measured: series of readings, the scale desk, the offset finder.
#include "cli/common.h"
#include "core/base/units.h"
#include "core/brief/offset.h"
#include "core/brief/scale.h"
#include "core/files/atomic_file.h"
#include "core/files/project_file.h"
#include "core/files/results_json.h"
#include "core/model/edits.h"
#include "core/trials/readings_csv.h"
#include "core/trials/statistics.h"

namespace ivrant::cli {
namespace {

constexpr std::size_t kMostReadingsBytes = 10u << 20;

/// The joint or kind of a request as a series has it.
base::Status aim(const Request& request, const model::Project& project, model::Series& series) {
    const auto quantity = model::findQuantity(request.quantity);
    if (!quantity) return base::Error{"series.quantity", "'" + request.quantity + "' is no quantity: holding, pull-out, stud pull or stud shear", ""};
    series.quantity = *quantity;
    series.kind = request.kind;
    if (!request.joint) return {};
    const int j = findJoint(project, *request.joint);
    if (j < 0) return unknown("joint", *request.joint);
    series.joint = project.joints[static_cast<std::size_t>(j)].id;
    series.kind = project.joints[static_cast<std::size_t>(j)].kind->name;
    return {};
}

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
    for (const int i : statistics.outliers) json["outliers"].push_back(files::rounded(series.readings[static_cast<std::size_t>(i)]));
    const auto loss = trials::calcLossPer100(series.moves, series.readings);
    json["loss_per_100"] = loss ? model::Json(files::rounded(*loss)) : model::Json(nullptr);
    return json;
}

} // namespace

int runMeasure(const Request& request) {
    auto project = loadRequested(request);
    if (!project) return complain(project.error());
    const auto text = files::readFile(request.readings, kMostReadingsBytes);
    if (!text) return complain(text.error());
    const auto readings = trials::parseReadings(*text);
    if (!readings) return complain(readings.error());
    model::Series series;
    if (auto aimed = aim(request, *project, series); !aimed) return complain(aimed.error());
    series.readings = readings->values;
    series.moves = readings->moves;
    series.note = request.note;
    const auto statistics = trials::calcStatistics(series.readings);
    if (!statistics) return complain(statistics.error());
    const auto next = model::putSeries(*project, series);
    if (!next) return complain(next.error());
    if (auto saved = files::writeFileAtomically(request.output, files::writeProject(*next)); !saved) return complain(saved.error());
    print(request, makeStatisticsJson(series, *statistics));
    return 0;
}

int runScale(const Request& request) {
    std::vector<brief::LengthPair> pairs;
    for (const std::string& pair : request.pairs) {
        const auto sign = pair.find('=');
        const auto real = base::parseNumber(pair.substr(0, sign));
        const auto model = sign == std::string::npos ? base::Result<double>(base::Error{"scale.pairs", "'" + pair + "' is no pair: REAL=MODEL is expected", ""})
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
    if (request.real) {
        const auto length = brief::calcScaledLength(*scale, *request.real);
        if (!length) return complain(length.error());
        json["mm"] = files::rounded(length->mm);
        json["studs"] = files::rounded(length->studs);
        json["studs_error_mm"] = files::rounded(length->studsErrorMm);
        json["plates"] = length->plates;
        json["plates_error_mm"] = files::rounded(length->platesErrorMm);
    }
    print(request, json);
    return 0;
}

int runOffset(const Request& request) {
    const auto wanted = base::parseLengthMm(request.length, 1);
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
    print(request, json);
    return 0;
}

} // namespace ivrant::cli
