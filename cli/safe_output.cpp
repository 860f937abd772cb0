// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/safe_output.h"

#include <cerrno>
#include <ostream>
#include <unistd.h>

#include "core/base/units.h"

namespace ivrant::cli {
namespace {
constexpr std::size_t kChunk = 1 << 16;
}

SafeOutput::SafeOutput(std::ostream& stream, int descriptor)
    : m_stream(stream), m_before(stream.rdbuf(this)), m_descriptor(descriptor) {}

SafeOutput::~SafeOutput() {
    (void)write(true);
    m_stream.rdbuf(m_before);
}

int SafeOutput::overflow(int c) {
    if (c != traits_type::eof()) m_pending += static_cast<char>(c);
    return m_pending.size() < kChunk || write(false) ? 0 : traits_type::eof();
}

std::streamsize SafeOutput::xsputn(const char* text, std::streamsize size) {
    m_pending.append(text, static_cast<std::size_t>(size));
    return m_pending.size() < kChunk || write(false) ? size : 0;
}

int SafeOutput::sync() { return write(false) ? 0 : -1; }

/// A carriage return stays before a new line (as CSV has it). Its fate, and that of half a character at the end, waits
/// for what comes next.
bool SafeOutput::write(bool all) {
    std::string text = std::move(m_pending);
    m_pending.clear();
    if (!all && !text.empty() && (text.back() == '\r' || text.back() == '\xC2')) {
        m_pending = text.back();
        text.pop_back();
    }
    std::string shown;
    for (std::size_t from = 0; from < text.size();) {
        const auto end = std::min(text.find("\r\n", from), text.size());
        shown += base::printable(std::string_view(text).substr(from, end - from));
        if (end < text.size()) shown += "\r\n";
        from = end + 2;
    }
    for (std::string_view left = shown; !left.empty();) {
        const auto count = ::write(m_descriptor, left.data(), left.size());
        if (count < 0 && errno == EINTR) continue;
        if (count <= 0) return false;
        left.remove_prefix(static_cast<std::size_t>(count));
    }
    return true;
}

} // namespace ivrant::cli
