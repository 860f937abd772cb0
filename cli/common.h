// What do all verbs share: loading, looking names up, printing?
#pragma once

#include <iostream>
#include <string>

#include "cli/verbs.h"
#include "core/files/results_json.h"
#include "core/verdict/report.h"

namespace ivrant::cli {

inline constexpr int kBadInput = 2;

/// Prints the error as JSON on standard error and returns kBadInput.
int complain(const base::Error& error);
[[nodiscard]] base::Error unknown(const std::string& what, const std::string& name);
/// Prints JSON, or the same as tables of text.
void print(const Request& request, const model::Json& json);

/// The project of a request, with the variant and the workshop's library it names.
base::Result<model::Project> loadRequested(const Request& request);

/// Runs `use(report)` on the loaded project, or complains. Only the facts that are wanted are found.
template <class Use> int withReport(const Request& request, const study::Wanted& wanted, Use use) {
    auto project = loadRequested(request);
    if (!project) return complain(project.error());
    return use(verdict::calcReport(std::make_shared<const model::Project>(std::move(project).value()), nullptr, wanted));
}
template <class Use> int withReport(const Request& request, Use use) { return withReport(request, {}, use); }
/// Facts of the pose that the request names, the present values without a name.
[[nodiscard]] study::Wanted inRequestedPose(const Request& request, unsigned facts);

/// The named pose's report; with no name the present values. Null when the name is unknown.
[[nodiscard]] const study::PoseFacts* findPose(const verdict::Report& report, const std::optional<std::string>& name);
/// Index of a joint by id or name, −1 when there is none.
[[nodiscard]] int findJoint(const model::Project& project, const std::string& name);
[[nodiscard]] int findSection(const model::Project& project, const std::string& name);

/// JSON as text: single values as "key: value", lists of objects as tables, lists of texts as lines.
[[nodiscard]] std::string formatJson(const model::Json& json);

} // namespace ivrant::cli
