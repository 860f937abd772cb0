// SPDX-License-Identifier: GPL-3.0-or-later
// How does a function say that something foreseeable went wrong?
//
// Result<T> holds either a value or an Error. An Error has a domain code ("shape.unknown"), one sentence for the
// person, and a JSON pointer or other place ("" when there is none). Asking a failed Result for its value is a
// broken precondition and throws std::logic_error, also in release builds.
#pragma once

#include <optional>
#include <stdexcept>
#include <string>
#include <utility>

namespace ivrant::base {

struct Error {
    std::string code;    ///< stable, for programs: "file.syntax", "shape.unknown", "joint.ring" …
    std::string message; ///< for the person: what happened, what was expected
    std::string place;   ///< JSON pointer into the project file, or a part or joint id; may be empty
};

template <class T> class [[nodiscard]] Result {
public:
    Result(T value) : m_value(std::move(value)) {}
    Result(Error error) : m_error(std::move(error)) {}

    [[nodiscard]] bool ok() const { return m_value.has_value(); }
    explicit operator bool() const { return ok(); }

    [[nodiscard]] const T& value() const& {
        requireValue();
        return *m_value;
    }
    [[nodiscard]] T& value() & {
        requireValue();
        return *m_value;
    }
    [[nodiscard]] T&& value() && {
        requireValue();
        return std::move(*m_value);
    }
    const T& operator*() const& { return value(); }
    const T* operator->() const { return &value(); }

    [[nodiscard]] const Error& error() const {
        if (ok()) throw std::logic_error("Result holds a value, not an error");
        return m_error;
    }

private:
    void requireValue() const {
        if (!ok()) throw std::logic_error("Result holds an error: " + m_error.message);
    }
    std::optional<T> m_value;
    Error m_error;
};

/// A Result without a value: either fine or an Error.
class [[nodiscard]] Status {
public:
    Status() = default;
    Status(Error error) : m_error(std::move(error)) {}
    [[nodiscard]] bool ok() const { return !m_error.has_value(); }
    explicit operator bool() const { return ok(); }
    [[nodiscard]] const Error& error() const { return m_error.value(); }

private:
    std::optional<Error> m_error;
};

} // namespace ivrant::base
