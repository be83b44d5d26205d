#include "core/base/who_and_when.h"

#include <fmt/format.h>

#include <chrono>
#include <cstdio>

namespace wendrix {

namespace {

constexpr const char* kMonths[] = {"Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"};

struct Parts {
    int year = 0, month = 0, day = 0, hour = 0, minute = 0, second = 0;
};

bool parse(const Timestamp& time, Parts& p)
{
    return std::sscanf(time.c_str(), "%d-%d-%dT%d:%d:%d", &p.year, &p.month, &p.day, &p.hour, &p.minute, &p.second) ==
               6 &&
           p.month >= 1 && p.month <= 12 && p.day >= 1 && p.day <= 31;
}

std::string write(std::chrono::sys_seconds time)
{
    const auto day = std::chrono::floor<std::chrono::days>(time);
    const std::chrono::year_month_day date{day};
    const std::chrono::hh_mm_ss clock{time - day};
    return fmt::format("{:04}-{:02}-{:02}T{:02}:{:02}:{:02}Z", static_cast<int>(date.year()),
                       static_cast<unsigned>(date.month()), static_cast<unsigned>(date.day()), clock.hours().count(),
                       clock.minutes().count(), clock.seconds().count());
}

} // namespace

Timestamp currentTime() { return write(std::chrono::floor<std::chrono::seconds>(std::chrono::system_clock::now())); }

std::string timeInWords(const Timestamp& time)
{
    Parts p;
    if (!parse(time, p))
        return time;
    return fmt::format("{} {} {:02}:{:02}", p.day, kMonths[p.month - 1], p.hour, p.minute);
}

std::string dayInWords(const Timestamp& time)
{
    Parts p;
    if (!parse(time, p))
        return time;
    return fmt::format("{} {}", p.day, kMonths[p.month - 1]);
}

Timestamp daysLater(const Timestamp& time, int days)
{
    using namespace std::chrono;
    Parts p;
    if (!parse(time, p))
        return time;
    const sys_days date = year{p.year} / month{static_cast<unsigned>(p.month)} / day{static_cast<unsigned>(p.day)};
    return write(date + std::chrono::days{days} + hours{p.hour} + minutes{p.minute} + seconds{p.second});
}

} // namespace wendrix
