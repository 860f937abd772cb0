// SPDX-License-Identifier: GPL-3.0-or-later
// Source: RFC 5545, sections 3.1 (folding at 75 octets), 3.3.11 (escapes), 3.6.1 (events of whole days: DTEND is the
// day after the last).
#include "core/base/units.h"
#include "core/make/calendar.h"
#include "core/parts/palette.h"

namespace ivrant::make {
namespace {

constexpr std::size_t kMostOctets = 75;

std::string escape(const std::string& text) {
    std::string out;
    for (const char c : text) {
        if (c == '\\' || c == ';' || c == ',') out += '\\';
        if (c == '\n') {
            out += "\\n";
        } else if (c != '\r') {
            out += c;
        }
    }
    return out;
}

/// Lines longer than 75 octets go on in the next, which begins with a blank; letters of several octets stay whole.
std::string fold(const std::string& line) {
    std::string out;
    std::size_t inLine = 0;
    for (std::size_t i = 0; i < line.size();) {
        std::size_t length = 1;
        while (i + length < line.size() && (static_cast<unsigned char>(line[i + length]) & 0xC0) == 0x80) ++length;
        if (inLine + length > kMostOctets) {
            out += "\r\n ";
            inLine = 1;
        }
        out += line.substr(i, length);
        inLine += length;
        i += length;
    }
    return out + "\r\n";
}

std::string compact(base::Day day) {
    std::string text = base::formatDay(day);
    std::erase(text, '-');
    return text;
}

/// The same entry keeps its name from one file to the next, so that a calendar moves it instead of adding one.
std::string makeName(const std::string& model, const std::string& what) {
    std::string name;
    std::string plain = model;
    plain.append("-").append(what);
    for (const char c : plain)
        name += (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') ? c : '-';
    return name + "@ivrant.example";
}

std::string makeEvent(const std::string& name, const std::string& stamp, base::Day from, base::Day to,
                      const std::string& summary, const std::string& description) {
    std::string text = "BEGIN:VEVENT\r\n";
    text += fold("UID:" + name);
    text += fold("DTSTAMP:" + stamp);
    text += fold("DTSTART;VALUE=DATE:" + compact(from));
    text += fold("DTEND;VALUE=DATE:" + compact(to + std::chrono::days(1)));
    text += fold("SUMMARY:" + escape(summary));
    if (!description.empty()) text += fold("DESCRIPTION:" + escape(description));
    return text + "END:VEVENT\r\n";
}

} // namespace

std::string makeICalendar(const std::string& model, const Plan& plan, const std::string& stamp) {
    std::string text = "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//Ivrant//Ivrant//EN\r\nCALSCALE:GREGORIAN\r\n";
    for (const PhaseSpan& span : plan.latest)
        text += makeEvent(makeName(model, getPhaseName(span.phase)), stamp, span.from, span.to,
                          model + ": " + getPhaseName(span.phase),
                          span.hours > 0 ? "at the latest; " + base::formatNumber(span.hours, 1) + " h" : "");
    const std::string head = model + ": ";
    for (const Wait& wait : plan.waits) {
        const std::string what =
            std::to_string(wait.count) + "× " + wait.shape + " " + parts::getColourName(wait.colour);
        text += makeEvent(makeName(model, "part-" + wait.shape + "-" + parts::getColourName(wait.colour)), stamp,
                          wait.neededBy, wait.neededBy, (head + what).append(" must be there"),
                          "step " + std::to_string(wait.step) + " waits for it");
        if (wait.orderBy)
            text +=
                makeEvent(makeName(model, "order-" + wait.shape + "-" + parts::getColourName(wait.colour)), stamp,
                          *wait.orderBy, *wait.orderBy, (head + "order ").append(what), "the last day that is in time");
    }
    return text + "END:VCALENDAR\r\n";
}

} // namespace ivrant::make
