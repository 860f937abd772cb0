// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/family.h"

#include <algorithm>
#include <cctype>
#include <map>
#include <mutex>

namespace ivrant::parts {
namespace {

using base::Error;
using base::Result;
using Bag = std::vector<std::string>;

struct Spec {
    const Family* family = nullptr;
    Size size;
};

struct Tokens {
    Bag words; ///< sorted
    std::vector<long> numbers;
};

bool isDigit(char c) { return c >= '0' && c <= '9'; }
bool isLetter(char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z'); }

/// Splits into words and whole numbers; "x" between two numbers (also "×") only joins them.
Tokens split(std::string_view text) {
    std::string clean;
    for (std::size_t i = 0; i < text.size(); ++i) {
        if (text.substr(i, 2) == "×") {
            clean += 'x';
            ++i;
        } else {
            clean += static_cast<char>(std::tolower(static_cast<unsigned char>(text[i])));
        }
    }
    Tokens tokens;
    for (std::size_t i = 0; i < clean.size();) {
        if (isDigit(clean[i])) {
            long value = 0;
            for (; i < clean.size() && isDigit(clean[i]); ++i)
                value = std::min(1'000'000L, value * 10 + (clean[i] - '0'));
            tokens.numbers.push_back(value);
        } else if (isLetter(clean[i])) {
            std::string word;
            for (; i < clean.size() &&
                   (isLetter(clean[i]) || (clean[i] == '-' && i + 1 < clean.size() && isLetter(clean[i + 1])));
                 ++i)
                word += clean[i];
            if (word != "x" && word != "with" && word != "a" && word != "and") tokens.words.push_back(word);
        } else {
            ++i;
        }
    }
    std::sort(tokens.words.begin(), tokens.words.end());
    return tokens;
}

struct NamedBag {
    Bag bag;
    const Family* family;
};

const std::vector<NamedBag>& namedBags() {
    static const std::vector<NamedBag> bags = [] {
        std::vector<NamedBag> all;
        for (const Family& family : getFamilies()) {
            all.push_back({split(family.name).words, &family});
            std::string_view rest = family.otherNames;
            while (!rest.empty()) {
                const auto slash = rest.find('/');
                all.push_back({split(rest.substr(0, slash)).words, &family});
                rest = slash == std::string_view::npos ? std::string_view() : rest.substr(slash + 1);
            }
        }
        return all;
    }();
    return bags;
}

Result<Size> readSize(const Family& family, const std::vector<long>& numbers) {
    const Error wrong{"shape.size", "there is no '" + family.name + "' of this size; sizes: " + family.sizesText, ""};
    const std::size_t wanted = family.form == SizeForm::None ? 0 : family.form == SizeForm::Count ? 1 : 2;
    if (numbers.empty() && wanted > 0) return family.usual;
    if (numbers.size() != wanted) return wrong;
    Size size;
    if (wanted > 0) size.a = static_cast<int>(numbers[0]);
    if (wanted > 1) size.b = static_cast<int>(numbers[1]);
    const bool inside =
        size.a >= family.low.a && size.a <= family.high.a && size.b >= family.low.b && size.b <= family.high.b;
    if (!inside || (family.allows && !family.allows(size))) return wrong;
    return size;
}

Result<Spec> parseSpec(std::string_view text) {
    if (text.size() > 120) return Error{"shape.unknown", "a shape name has at most 120 characters", ""};
    const Tokens tokens = split(text);
    for (const NamedBag& named : namedBags()) {
        if (named.bag != tokens.words) continue;
        auto size = readSize(*named.family, tokens.numbers);
        if (!size) return size.error();
        return Spec{named.family, *size};
    }
    std::string message = "there is no shape called '" + std::string(text) + "'";
    const auto near = suggestShapes(text, 1);
    if (!near.empty()) message += "; did you mean '" + near.front() + "'?";
    return Error{"shape.unknown", message, ""};
}

/// How many words of `typed` begin a word of `bag`; −1 when one of them begins none.
int matchWords(const Bag& typed, const Bag& bag) {
    int hits = 0;
    for (const auto& word : typed) {
        const bool begins = std::any_of(bag.begin(), bag.end(), [&](const auto& w) { return w.starts_with(word); });
        if (!begins) return -1;
        ++hits;
    }
    return hits;
}

} // namespace

std::span<const Family> getFamilies() {
    static const std::vector<Family> all = [] {
        std::vector<Family> list;
        for (const auto group : {detail::getStudFamilies(), detail::getSideFamilies(), detail::getJointFamilies(),
                                 detail::getHoleFamilies(), detail::getShapeFamilies(), detail::getLinkFamilies(),
                                 detail::getBearingFamilies(), detail::getDriveFamilies()})
            list.insert(list.end(), group.begin(), group.end());
        return list;
    }();
    return all;
}

std::string detail::makeName(const Family& family, Size size) {
    if (family.form == SizeForm::None) return family.name;
    if (family.form == SizeForm::Count) return family.name + " " + std::to_string(size.a);
    return family.name + " " + std::to_string(size.a) + "x" + std::to_string(size.b);
}

Result<std::string> parseShapeName(std::string_view text) {
    auto spec = parseSpec(text);
    if (!spec) return spec.error();
    return detail::makeName(*spec->family, spec->size);
}

Result<ShapePtr> makeShape(std::string_view text) {
    static std::mutex mutex;
    static std::map<std::string, ShapePtr, std::less<>> made; // keyed by text as given: the usual case is one look-up
    {
        const std::lock_guard lock(mutex);
        if (const auto found = made.find(text); found != made.end()) return found->second;
    }
    auto spec = parseSpec(text);
    if (!spec) return spec.error();
    const std::string name = detail::makeName(*spec->family, spec->size);
    const std::lock_guard lock(mutex);
    ShapePtr& shape = made[name];
    if (!shape) shape = std::make_shared<const Shape>(spec->family->make(*spec->family, spec->size));
    if (made.size() < 100'000) made[std::string(text)] = shape;
    return shape;
}

std::vector<std::string> suggestShapes(std::string_view typed, std::size_t most) {
    const Tokens tokens = split(typed);
    struct Offer {
        int rank;
        std::string name;
    };
    std::vector<Offer> offers;
    for (const NamedBag& named : namedBags()) {
        const int hits = matchWords(tokens.words, named.bag);
        if (hits < 0) continue;
        const auto size = readSize(*named.family, tokens.numbers);
        const std::string name = detail::makeName(*named.family, size ? *size : named.family->usual);
        const int rank = (size ? 0 : 100) + static_cast<int>(named.bag.size()) - hits;
        const bool known = std::any_of(offers.begin(), offers.end(), [&](const Offer& o) { return o.name == name; });
        if (!known) offers.push_back({rank, name});
    }
    if (offers.empty() && !tokens.words.empty()) { // a wrong word: offer families that share any word
        for (const NamedBag& named : namedBags())
            for (const auto& word : tokens.words)
                if (std::find(named.bag.begin(), named.bag.end(), word) != named.bag.end())
                    offers.push_back(
                        {static_cast<int>(named.bag.size()), detail::makeName(*named.family, named.family->usual)});
    }
    std::stable_sort(offers.begin(), offers.end(), [](const Offer& l, const Offer& r) { return l.rank < r.rank; });
    std::vector<std::string> names;
    for (const Offer& offer : offers) {
        if (names.size() == most) break;
        if (std::find(names.begin(), names.end(), offer.name) == names.end()) names.push_back(offer.name);
    }
    return names;
}

std::string getListName(const Shape& shape) {
    if (shape.family != "brick" && shape.family != "plate" && shape.family != "tile" && shape.family != "jumper")
        return shape.name;
    const auto spec = parseSpec(shape.name);
    Size size = spec->size;
    if (size.a > size.b) std::swap(size.a, size.b);
    return detail::makeName(*spec->family, size);
}

} // namespace ivrant::parts
