// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/variants.h"

#include <algorithm>

#include "core/base/at.h"
#include "core/model/edits_common.h"

namespace ivrant::model {

using base::Error;
using detail::checked;
using detail::noSuch;

namespace {

base::Status checkName(const Project& project, const std::string& name, int own) {
    if (name.empty()) return Error{"edit.name", "a variant needs a name", ""};
    for (std::size_t v = 0; v < project.variants.size(); ++v)
        if (static_cast<int>(v) != own && project.variants[v].name == name)
            return Error{"edit.name", "there is a variant called '" + name + "' already", ""};
    return {};
}

} // namespace

int findShownVariant(const Project& project) {
    const auto shown =
        std::find_if(project.variants.begin(), project.variants.end(), [](const Variant& v) { return !v.body; });
    return shown == project.variants.end() ? -1 : static_cast<int>(shown - project.variants.begin());
}

int findVariant(const Project& project, const VariantId& id) {
    const auto found =
        std::find_if(project.variants.begin(), project.variants.end(), [&](const Variant& v) { return v.id == id; });
    return found == project.variants.end() ? -1 : static_cast<int>(found - project.variants.begin());
}

Project takeVariant(const Project& project, int index) {
    Project next = project;
    Variant& wanted = at(next.variants, index);
    if (!wanted.body) return next;
    const std::shared_ptr<const VariantBody> body = wanted.body;
    at(next.variants, findShownVariant(project)).body = std::make_shared<const VariantBody>(
        VariantBody{project.sections, project.joints, project.poses, project.boards, project.posts, project.options,
                    project.modules, project.motions, project.lines});
    wanted.body = nullptr;
    next.sections = body->sections;
    next.joints = body->joints;
    next.poses = body->poses;
    next.boards = body->boards;
    next.posts = body->posts;
    next.options = body->options;
    next.modules = body->modules;
    next.motions = body->motions;
    next.lines = body->lines;
    return next;
}

EditResult addVariant(const Project& project, const std::string& name, const std::string& firstName) {
    Project next = project;
    if (next.variants.empty())
        next.variants.push_back({{detail::takeId(next, "v")}, firstName.empty() ? "A" : firstName, nullptr});
    if (auto st = checkName(next, name, -1); !st) return st.error();
    at(next.variants, findShownVariant(next)).body =
        std::make_shared<const VariantBody>(VariantBody{next.sections, next.joints, next.poses, next.boards, next.posts,
                                                        next.options, next.modules, next.motions, next.lines});
    next.variants.push_back({{detail::takeId(next, "v")}, name, nullptr});
    return checked(std::move(next));
}

EditResult showVariant(const Project& project, const VariantId& id) {
    const int v = findVariant(project, id);
    if (v < 0) return noSuch("variant", id.text);
    return checked(takeVariant(project, v));
}

EditResult renameVariant(const Project& project, const VariantId& id, const std::string& name) {
    const int v = findVariant(project, id);
    if (v < 0) return noSuch("variant", id.text);
    if (auto st = checkName(project, name, v); !st) return st.error();
    Project next = project;
    at(next.variants, v).name = name;
    return next;
}

EditResult removeVariant(const Project& project, const VariantId& id) {
    const int v = findVariant(project, id);
    if (v < 0) return noSuch("variant", id.text);
    if (!at(project.variants, v).body)
        return Error{"variant.shown", "show another variant before this one is removed", id.text};
    Project next = project;
    next.variants.erase(next.variants.begin() + v);
    if (next.variants.size() == 1) next.variants.clear();
    return next;
}

} // namespace ivrant::model
