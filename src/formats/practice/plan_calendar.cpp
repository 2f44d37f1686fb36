#include "formats/practice/plan_calendar.h"

#include "core/base/units.h"

#include <algorithm>
#include <array>
#include <boost/crc.hpp>
#include <boost/date_time/gregorian/formatters.hpp>
#include <cstdio>
#include <ctime>

namespace kite::formats {

namespace {

/// Text values: backslash, comma, semicolon and line ends are escaped (RFC 5545, 3.3.11).
std::string escaped(const std::string& text) {
    std::string out;
    for (const char c : text) {
        if (c == '\\' || c == ',' || c == ';')
            out += '\\';
        if (c == '\n')
            out += "\\n";
        else if (c != '\r')
            out += c;
    }
    return out;
}

/// A content line: no longer than 75 octets, folded between characters (3.1).
void add_line(std::string& out, const std::string& line) {
    constexpr std::size_t kMost = 75;
    std::size_t begin = 0;
    bool first = true;
    while (begin < line.size() || first) {
        const std::size_t room = first ? kMost : kMost - 1;
        std::size_t end = std::min(line.size(), begin + room);
        // Never within a character of several octets.
        while (end < line.size() && end > begin &&
               (static_cast<unsigned char>(line[end]) & 0xC0U) == 0x80U)
            --end;
        if (end == begin)
            end = std::min(line.size(), begin + room);
        out += (first ? "" : " ") + line.substr(begin, end - begin) + "\r\n";
        begin = end;
        first = false;
    }
}

/// The same plan gives the same names again, so that a calendar replaces its entries.
std::string name_of_plan(const Plan& plan) {
    const std::string all = plan.golfer + "\n" + plan.fault + "\n" + plan.main_drill + "\n" +
                            text_of(plan.wish.first_day);
    boost::crc_32_type crc;
    crc.process_bytes(all.data(), all.size());
    std::array<char, 16> out{};
    std::snprintf(out.data(), out.size(), "%08x", crc.checksum());
    return out.data();
}

std::string basic(const Date& date) {
    return boost::gregorian::to_iso_string(date);
}

} // namespace

std::string utc_stamp() {
    const std::time_t now = std::time(nullptr);
    std::tm utc{};
    gmtime_r(&now, &utc);
    std::array<char, 32> out{};
    std::strftime(out.data(), out.size(), "%Y%m%dT%H%M%SZ", &utc);
    return out.data();
}

std::string to_calendar(const Plan& plan, const DrillBook& book, const std::string& now_utc,
                        const Language& language) {
    std::string out;
    add_line(out, "BEGIN:VCALENDAR");
    add_line(out, "VERSION:2.0");
    add_line(out, "PRODID:-//Kite Hinge//Practice plan//EN");
    add_line(out, "CALSCALE:GREGORIAN");
    std::vector<std::string> cautions;
    for (const std::string& id : {plan.main_drill, plan.helper})
        if (const Drill* drill = book.find(id))
            for (const std::string& one : cautions_of(book, *drill))
                if (std::find(cautions.begin(), cautions.end(), one) == cautions.end())
                    cautions.push_back(one);
    const std::string name = name_of_plan(plan);
    for (const PlanDay& day : plan.days) {
        if (day.kind == PlanDayKind::Rest)
            continue;
        const bool lesson = day.kind == PlanDayKind::Lesson;
        std::string text;
        for (const std::string& line : lines_of_day(plan, day, book, language))
            text += line + "\n";
        if (!day.note.empty())
            text += day.note + "\n";
        if (!lesson)
            for (const std::string& one : cautions)
                text += language.translate(one) + "\n";
        add_line(out, "BEGIN:VEVENT");
        add_line(out, "UID:" + name + "-" + basic(day.date) + "@kite-hinge.invalid");
        add_line(out, "DTSTAMP:" + now_utc);
        add_line(out, "DTSTART;VALUE=DATE:" + basic(day.date));
        add_line(out, "DTEND;VALUE=DATE:" + basic(day.date + boost::gregorian::days(1)));
        add_line(out, "SUMMARY:" + escaped(language.translate(lesson ? KITE_TR("Golf lesson")
                                                              : day.kind == PlanDayKind::Measure
                                                                  ? KITE_TR("Practise and measure")
                                                                  : KITE_TR("Practise"))));
        add_line(out, "DESCRIPTION:" + escaped(text));
        add_line(out, "TRANSP:TRANSPARENT");
        add_line(out, "END:VEVENT");
    }
    add_line(out, "END:VCALENDAR");
    return out;
}

} // namespace kite::formats
