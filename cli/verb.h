// SPDX-License-Identifier: GPL-3.0-or-later
// What is a verb of ivrant-cli?
//
// Each is one small class: the options it takes are its own members, run() prints its result and returns the exit code:
// 0 fine, 1 what was asked does not hold (each verb says which), 2 bad input or the output could not be written.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/files/results_json.h"
#include "core/verdict/report.h"

namespace CLI {
class App;
}

namespace ivrant::cli {

inline constexpr int kBadInput = 2;

/// Prints the error as JSON on standard error and returns kBadInput.
int complain(const base::Error& error);
[[nodiscard]] base::Error unknown(const std::string& what, const std::string& name);

class Verb {
public:
    Verb(const char* name, const char* about) : m_name(name), m_about(about) {}
    virtual ~Verb() = default;
    Verb(const Verb&) = delete;
    Verb& operator=(const Verb&) = delete;

    [[nodiscard]] const char* name() const { return m_name; }
    [[nodiscard]] const char* about() const { return m_about; } ///< one line for --help
    /// Options are bound to members: `sub` must not outlive the verb.
    virtual void addOptions(CLI::App& sub);
    [[nodiscard]] virtual int run() const = 0;

protected:
    [[nodiscard]] bool asJson() const { return m_json; }
    /// As JSON, or the same as tables of text.
    void print(const model::Json& json) const;

private:
    const char *m_name, *m_about;
    bool m_json = false;
};

/// A verb on a project file.
class ProjectVerb : public Verb {
public:
    using Verb::Verb;
    void addOptions(CLI::App& sub) override;

protected:
    /// The project, with the variant and the workshop's library that are named.
    [[nodiscard]] base::Result<model::Project> load() const { return load(m_file); }
    [[nodiscard]] base::Result<model::Project> load(const std::string& file) const;
    /// Runs `use(report)` on the loaded project, or complains. Only the facts that are wanted are found.
    template <class Use> int withReport(const study::Wanted& wanted, Use use) const {
        auto project = load();
        if (!project) return complain(project.error());
        return use(
            verdict::calcReport(std::make_shared<const model::Project>(std::move(project).value()), nullptr, wanted));
    }
    [[nodiscard]] std::string folder() const; ///< that the file lies in: where the files it names are
    virtual void addFile(CLI::App& sub);      ///< FILE; of verbs that take several another

private:
    std::string m_file, m_workshop;
    std::optional<std::string> m_variant;
};

/// A verb on a project file in one of its poses.
class PoseVerb : public ProjectVerb {
public:
    using ProjectVerb::ProjectVerb;
    void addOptions(CLI::App& sub) override;

protected:
    /// Facts of the named pose alone, the present values without a name.
    [[nodiscard]] study::Wanted inPose(unsigned facts) const;
    /// Runs `use(report, pose)`, or complains about file or pose.
    template <class Use> int withPose(const study::Wanted& wanted, Use use) const {
        return withReport(wanted, [&](verdict::Report report) {
            const auto* pose = findPose(report, m_pose);
            return pose ? use(report, *pose) : complain(unknown("pose", *m_pose));
        });
    }
    /// The named pose; with no name the present values. Null when the name is unknown.
    [[nodiscard]] static const study::PoseFacts* findPose(const verdict::Report& report,
                                                          const std::optional<std::string>& name);

private:
    std::optional<std::string> m_pose;
};

/// Index by id or name, −1 when there is none.
[[nodiscard]] int findJoint(const model::Project& project, const std::string& name);
[[nodiscard]] int findSection(const model::Project& project, const std::string& name);
/// Writes a file whole or not at all; returns the exit code.
int save(const std::string& path, std::string_view content);
int save(const std::string& path, const model::Project& project);
[[nodiscard]] std::string extensionOf(const std::string& path);

/// JSON as text: single values as "key: value", lists of objects as tables, lists of texts as lines.
[[nodiscard]] std::string formatJson(const model::Json& json);

} // namespace ivrant::cli
