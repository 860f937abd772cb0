// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trials/instrument.h"

#include <algorithm>
#include <array>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <map>
#include <optional>
#include <poll.h>
#include <regex>
#include <termios.h>
#include <unistd.h>

#include "core/base/units.h"

namespace ivrant::trials {
namespace {

constexpr std::size_t kLongestLine = 400;
constexpr std::chrono::milliseconds kInMidLine{60}; ///< longest pause between the bytes of one line

class SerialInstrument : public Instrument {
public:
    SerialInstrument(int file, std::string device) : m_file(file), m_device(std::move(device)) {}
    ~SerialInstrument() override { close(m_file); }
    SerialInstrument(const SerialInstrument&) = delete;
    SerialInstrument& operator=(const SerialInstrument&) = delete;

    [[nodiscard]] std::string name() const override { return m_device; }

    base::Result<double> read(std::chrono::milliseconds patience) override {
        const auto until = std::chrono::steady_clock::now() + patience;
        if (const auto emptied = emptyQueue(); !emptied) return emptied.error();
        for (;;) {
            if (const auto line = takeLine()) {
                if (line->find_first_not_of(" \t") == std::string::npos) continue;
                return parseForceLine(*line);
            }
            if (m_waiting.size() > kLongestLine) {
                m_waiting.clear();
                return base::Error{"instrument.text", m_device + " sends no lines of readings", m_device};
            }
            const auto left =
                std::chrono::duration_cast<std::chrono::milliseconds>(until - std::chrono::steady_clock::now());
            if (left.count() <= 0)
                return base::Error{"instrument.silent", m_device + " sent no reading in time", m_device};
            if (const auto came = receive(left); !came) return came.error();
        }
    }

private:
    /// What was sent before the reading was asked for is no answer to it, and what has begun is not a whole line.
    base::Status emptyQueue() {
        m_waiting.clear();
        for (auto patience = m_opened ? kInMidLine : std::chrono::milliseconds(0);;
             patience = std::chrono::milliseconds(0)) {
            m_opened = false;
            const auto came = receive(patience);
            if (!came) return came.error();
            if (!*came) return {};
            m_midLine = !isLineEnd(m_waiting.back());
            m_waiting.clear();
        }
    }

    /// The next whole line, without its end; nothing when there is none yet.
    std::optional<std::string> takeLine() {
        const auto end = std::find_if(m_waiting.begin(), m_waiting.end(), isLineEnd);
        if (end == m_waiting.end()) return std::nullopt;
        std::string line(m_waiting.begin(), end);
        m_waiting.erase(m_waiting.begin(), end + 1);
        if (m_midLine) line.clear();
        m_midLine = false;
        return line;
    }

    /// True when bytes came within the time.
    base::Result<bool> receive(std::chrono::milliseconds patience) {
        pollfd waits{m_file, POLLIN, 0};
        const int ready = poll(&waits, 1, static_cast<int>(patience.count()));
        if (ready == 0 || (ready < 0 && errno == EINTR)) return false;
        if (ready < 0 || (waits.revents & (POLLERR | POLLNVAL)) != 0) return gone();
        std::array<char, 256> piece{};
        const ssize_t count = ::read(m_file, piece.data(), piece.size());
        if (count > 0)
            m_waiting.append(piece.data(), static_cast<std::size_t>(count));
        else if (count == 0 || (errno != EAGAIN && errno != EINTR))
            return gone();
        return count > 0;
    }

    static bool isLineEnd(char c) { return c == '\n' || c == '\r'; }
    [[nodiscard]] base::Error gone() const {
        return {"instrument.gone", m_device + " is gone; what was read so far is kept", m_device};
    }
    int m_file;
    std::string m_device, m_waiting;
    bool m_opened = true;   ///< just now: it may be in the middle of a line
    bool m_midLine = false; ///< the beginning of the present line was thrown away
};

std::optional<speed_t> findSpeed(int baud) {
    switch (baud) {
    case 1200: return B1200;
    case 2400: return B2400;
    case 4800: return B4800;
    case 9600: return B9600;
    case 19200: return B19200;
    case 38400: return B38400;
    case 57600: return B57600;
    case 115200: return B115200;
    default: return std::nullopt;
    }
}

} // namespace

SimulatedScale::SimulatedScale(double trueN, double spreadN, unsigned seed, int lasts)
    : m_trueN(trueN), m_random(seed), m_noise(0, spreadN), m_left(lasts), m_lasts(lasts > 0) {}

base::Result<double> SimulatedScale::read(std::chrono::milliseconds patience) {
    (void)patience; // it answers at once
    if (m_lasts && m_left-- <= 0)
        return base::Error{"instrument.gone", "the simulated scale is gone; what was read so far is kept", name()};
    return std::max(0.0, m_trueN + m_noise(m_random));
}

base::Result<double> parseForceLine(const std::string& line) {
    // Words of state and kind that scales put before the number, a sign, a number, a unit; nothing else.
    static const std::regex pattern(
        R"(^\s*(?:(?:ST|US|S|D|GS|NT|G|N|net|gross|weight|force)\s*[,:]?\s+|(?:ST|US|S|D|GS|NT|G|N|net|gross|weight|force)\s*[,:]\s*)*)"
        R"(([+-]?)\s*(\d+(?:[.,]\d+)?|[.,]\d+)\s*([A-Za-z]*)\s*$)");
    std::smatch found;
    const base::Error nothing{"instrument.text", "'" + base::printable(line.substr(0, 60)) + "' holds no reading", ""};
    if (line.size() > kLongestLine || !std::regex_match(line, found, pattern)) return nothing;
    const auto number = base::parseNumber(found[2].str());
    if (!number) return base::Error{"instrument.text", number.error().message, ""};
    const double signedNumber = found[1] == "-" ? -*number : *number;
    static const std::map<std::string, double> newtons{{"N", 1},
                                                       {"mN", 1e-3},
                                                       {"cN", 1e-2},
                                                       {"kN", 1e3},
                                                       {"g", base::weightN(1)},
                                                       {"", base::weightN(1)},
                                                       {"kg", base::weightN(1e3)},
                                                       {"mg", base::weightN(1e-3)}};
    const auto unit = newtons.find(found[3].str());
    if (unit == newtons.end())
        return base::Error{"instrument.text",
                           "'" + found[3].str() + "' is no unit of force that is known here: g, kg, mg, N, mN, cN, kN",
                           ""};
    return signedNumber * unit->second;
}

base::Result<std::unique_ptr<Instrument>> openSerialInstrument(const std::string& device, int baud) {
    const auto speed = findSpeed(baud);
    if (!speed) return base::Error{"instrument.open", std::to_string(baud) + " baud is not a usual speed", device};
    const int file = open(device.c_str(), O_RDWR | O_NOCTTY | O_NONBLOCK | O_CLOEXEC);
    if (file < 0) return base::Error{"instrument.open", device + " cannot be opened: " + std::strerror(errno), device};
    termios settings{};
    if (tcgetattr(file, &settings) != 0) {
        close(file);
        return base::Error{"instrument.open", device + " is no serial device", device};
    }
    cfmakeraw(&settings);
    cfsetispeed(&settings, *speed);
    cfsetospeed(&settings, *speed);
    settings.c_cflag |= CLOCAL | CREAD;
    tcsetattr(file, TCSANOW, &settings);
    return std::unique_ptr<Instrument>(std::make_unique<SerialInstrument>(file, device));
}

} // namespace ivrant::trials
