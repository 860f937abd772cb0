// SPDX-License-Identifier: GPL-3.0-or-later
// What the command line prints does nothing to a terminal but show text, and a full disk behind it is not overlooked.
#pragma once

#include <streambuf>
#include <string>

namespace ivrant::cli {

/// Takes the place of a stream's own buffer as long as it lives: control characters (a name may hold any) are shown as
/// '?', but for line ends and tabs. What cannot be written makes the stream fail.
class SafeOutput : public std::streambuf {
public:
    /// `descriptor` is where it goes, 1 or 2.
    SafeOutput(std::ostream& stream, int descriptor);
    SafeOutput(const SafeOutput&) = delete;
    SafeOutput& operator=(const SafeOutput&) = delete;
    ~SafeOutput() override;

protected:
    int overflow(int c) override;
    std::streamsize xsputn(const char* text, std::streamsize size) override;
    int sync() override;

private:
    bool write(bool all);
    std::ostream& m_stream;
    std::streambuf* m_before;
    int m_descriptor;
    std::string m_pending;
};

} // namespace ivrant::cli
