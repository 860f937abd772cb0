#include "core/bench/instrument.h"

#include <array>
#include <cerrno>
#include <cmath>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <poll.h>
#include <termios.h>
#include <unistd.h>

#include "core/base/units.h"

namespace ivrant::bench {
namespace {

constexpr std::size_t kLongestLine = 400;

class SerialInstrument : public Instrument {
public:
    SerialInstrument(int file, std::string device) : m_file(file), m_device(std::move(device)) {}
    ~SerialInstrument() override { close(m_file); }
    SerialInstrument(const SerialInstrument&) = delete;
    SerialInstrument& operator=(const SerialInstrument&) = delete;

    [[nodiscard]] std::string name() const override { return m_device; }

    base::Result<double> read(std::chrono::milliseconds patience) override {
        const auto until = std::chrono::steady_clock::now() + patience;
        for (;;) {
            if (const auto end = m_waiting.find('\n'); end != std::string::npos) {
                const std::string line = m_waiting.substr(0, end);
                m_waiting.erase(0, end + 1);
                if (line.find_first_not_of(" \r\t") == std::string::npos) continue;
                return parseForceLine(line);
            }
            if (m_waiting.size() > kLongestLine) {
                m_waiting.clear();
                return base::Error{"instrument.text", m_device + " sends no lines of readings", m_device};
            }
            const auto left = std::chrono::duration_cast<std::chrono::milliseconds>(until - std::chrono::steady_clock::now());
            if (left.count() <= 0) return base::Error{"instrument.silent", m_device + " sent no reading in time", m_device};
            pollfd waits{m_file, POLLIN, 0};
            const int ready = poll(&waits, 1, static_cast<int>(left.count()));
            if (ready < 0 && errno == EINTR) continue;
            if (ready < 0 || (waits.revents & (POLLERR | POLLNVAL)) != 0) return gone();
            if (ready == 0) continue;
            std::array<char, 256> piece{};
            const ssize_t count = ::read(m_file, piece.data(), piece.size());
            if (count > 0)
                m_waiting.append(piece.data(), static_cast<std::size_t>(count));
            else if (count == 0 || (errno != EAGAIN && errno != EINTR))
                return gone();
        }
    }

private:
    [[nodiscard]] base::Error gone() const { return {"instrument.gone", m_device + " is gone; what was read so far is kept", m_device}; }
    int m_file;
    std::string m_device, m_waiting;
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
    if (m_lasts && m_left-- <= 0) return base::Error{"instrument.gone", "the simulated scale is gone; what was read so far is kept", name()};
    return std::max(0.0, m_trueN + m_noise(m_random));
}

base::Result<double> parseForceLine(const std::string& line) {
    const auto isDigit = [](char c) { return c >= '0' && c <= '9'; };
    std::size_t start = 0;
    while (start < line.size() && !isDigit(line[start])) ++start;
    const base::Error nothing{"instrument.text", "'" + line.substr(0, 60) + "' holds no reading", ""};
    if (start == line.size()) return nothing;
    if (start > 0 && line[start - 1] == '.') --start;
    std::size_t sign = start; // "-12.5" and "-  12.5"
    while (sign > 0 && line[sign - 1] == ' ') --sign;
    const bool negative = sign > 0 && line[sign - 1] == '-';
    char* end = nullptr;
    const double number = std::strtod(line.c_str() + start, &end);
    if (!std::isfinite(number)) return nothing;
    while (*end == ' ') ++end;
    std::string unit;
    for (; *end != '\0' && std::isalpha(static_cast<unsigned char>(*end)) != 0; ++end) unit += *end;
    double force = 0;
    if (unit == "N")
        force = number;
    else if (unit == "mN")
        force = number / 1000;
    else if (unit == "cN")
        force = number / 100;
    else if (unit == "kN")
        force = number * 1000;
    else if (unit == "kg")
        force = base::weightN(number * 1000);
    else if (unit == "mg")
        force = base::weightN(number / 1000);
    else if (unit == "g" || unit.empty())
        force = base::weightN(number);
    else
        return base::Error{"instrument.text", "'" + unit + "' is no unit of force that is known here: g, kg, mg, N, mN, cN, kN", ""};
    return negative ? -force : force;
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

} // namespace ivrant::bench
