// SPDX-License-Identifier: GPL-3.0-or-later
// Which joint carries which section, and which joints close rings.
#include <algorithm>

#include "core/base/at.h"
#include "core/model/validate.h"

namespace ivrant::model {

using base::Error;

int SectionTree::parent(int section) const {
    const int joint = at(carrier, section);
    return joint < 0 ? -1 : at(from, joint).section;
}

int SectionTree::rootOf(int section) const {
    while (parent(section) >= 0) section = parent(section);
    return section;
}

std::vector<int> SectionTree::wayBetween(int fromSection, int toSection) const {
    const auto wayUp = [&](int section) {
        std::vector<int> joints;
        for (int s = section; parent(s) >= 0; s = parent(s)) joints.push_back(at(carrier, s));
        return joints;
    };
    std::vector<int> way = wayUp(fromSection), back = wayUp(toSection);
    while (!way.empty() && !back.empty() &&
           way.back() == back.back()) { // the joints that both ways share lie between neither
        way.pop_back();
        back.pop_back();
    }
    way.insert(way.end(), back.rbegin(), back.rend());
    return way;
}

std::vector<int> SectionTree::carriedBy(int joint) const {
    std::vector<bool> moved(carrier.size(), false);
    std::vector<int> sections;
    for (int s : order) {
        const int up = parent(s);
        const bool moves = at(carrier, s) == joint || (up >= 0 && at(moved, up));
        at(moved, s) = moves;
        if (moves) sections.push_back(s);
    }
    return sections;
}

bool SectionTree::isClosing(int joint) const { return std::binary_search(closing.begin(), closing.end(), joint); }

std::vector<int> SectionTree::ringOf(int closingJoint) const {
    const auto j = static_cast<std::size_t>(closingJoint);
    return wayBetween(from[j].section, to[j].section);
}

bool SectionTree::isInRing(int joint) const {
    return isClosing(joint) || std::any_of(closing.begin(), closing.end(), [&](int c) {
               const auto ring = ringOf(c);
               return std::find(ring.begin(), ring.end(), joint) != ring.end();
           });
}

base::Result<SectionTree> makeTree(const Project& project) {
    const PartIndex index(project);
    SectionTree tree;
    tree.carrier.assign(project.sections.size(), -1);
    for (std::size_t j = 0; j < project.joints.size(); ++j) {
        tree.from.push_back(index.find(project.joints[j].from.part));
        tree.to.push_back(index.find(project.joints[j].to.part));
        if (tree.from.back().section < 0 || tree.to.back().section < 0)
            return Error{"joint.part", "the joint names a part that is not there", "/joints/" + std::to_string(j)};
        if (tree.from.back().section == tree.to.back().section)
            return Error{"joint.self", "joint '" + project.joints[j].name + "' carries the section it stands on",
                         "/joints/" + std::to_string(j)};
    }
    std::vector<int> root(project.sections.size()); // of the group that a section hangs together with
    for (std::size_t s = 0; s < root.size(); ++s) root[s] = static_cast<int>(s);
    const auto rootOf = [&](int section) {
        int s = section;
        while (at(root, s) != s) s = at(root, s);
        at(root, section) = s;
        return s;
    };
    std::vector<std::size_t> waiting(project.joints.size());
    for (std::size_t j = 0; j < waiting.size(); ++j) waiting[j] = j;
    while (!waiting.empty()) { // one that carries what is carried already waits until its own side hangs on as well
        std::vector<std::size_t> later;
        for (const std::size_t j : waiting) {
            const int from = rootOf(tree.from[j].section), to = rootOf(tree.to[j].section);
            int& carrier = at(tree.carrier, tree.to[j].section);
            if (from == to) {
                tree.closing.push_back(static_cast<int>(j));
            } else if (carrier >= 0) {
                later.push_back(j);
            } else {
                carrier = static_cast<int>(j);
                at(root, to) = from;
            }
        }
        if (later.size() == waiting.size()) {
            const std::size_t j = later.front();
            const auto carried = static_cast<std::size_t>(tree.to[j].section);
            return Error{"joint.ring",
                         "section '" + project.sections[carried]->name + "' is already carried by joint '" +
                             at(project.joints, tree.carrier[carried]).name +
                             "', and nothing ties it to the other side of joint '" + project.joints[j].name + "'",
                         "/joints/" + std::to_string(j)};
        }
        waiting = std::move(later);
    }
    std::sort(tree.closing.begin(), tree.closing.end());
    std::vector<bool> placed(project.sections.size(), false);
    bool grew = true;
    while (grew) { // depth of the tree rounds, each O(sections)
        grew = false;
        for (std::size_t s = 0; s < project.sections.size(); ++s) {
            if (placed[s]) continue;
            const int up = tree.parent(static_cast<int>(s));
            if (up >= 0 && !at(placed, up)) continue;
            placed[s] = grew = true;
            tree.order.push_back(static_cast<int>(s));
        }
    }
    return tree;
}

} // namespace ivrant::model
