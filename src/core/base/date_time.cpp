#include "core/base/date_time.h"

#include <chrono>

namespace wendrix {

namespace {

/// The digits at `at`, -1 where they are none.
int digits(std::string_view text, std::size_t at, std::size_t count)
{
    if (at + count > text.size())
        return -1;
    int value = 0;
    for (std::size_t i = at; i < at + count; ++i) {
        if (text[i] < '0' || text[i] > '9')
            return -1;
        value = value * 10 + (text[i] - '0');
    }
    return value;
}

} // namespace

std::optional<std::int64_t> microsecondsOf(std::string_view text)
{
    using namespace std::chrono;
    if (text.size() < 19 || text[4] != '-' || text[7] != '-' || text[10] != 'T' || text[13] != ':' || text[16] != ':')
        return {};
    const int y = digits(text, 0, 4), m = digits(text, 5, 2), d = digits(text, 8, 2), h = digits(text, 11, 2),
              min = digits(text, 14, 2), s = digits(text, 17, 2);
    const year_month_day date{year(y), month(static_cast<unsigned>(m)), day(static_cast<unsigned>(d))};
    if (y < 1 || m < 1 || d < 1 || !date.ok() || h < 0 || h > 24 || min < 0 || min > 59 || s < 0 || s > 59 ||
        (h == 24 && (min != 0 || s != 0)))
        return {};
    std::int64_t moment = duration_cast<microseconds>(sys_days(date).time_since_epoch()).count();
    moment += ((h * 60LL + min) * 60 + s) * 1'000'000;
    std::size_t at = 19;
    if (at < text.size() && text[at] == '.') {
        std::int64_t unit = 100'000;
        const std::size_t from = ++at;
        for (; at < text.size() && text[at] >= '0' && text[at] <= '9'; ++at, unit /= 10)
            moment += (text[at] - '0') * unit;
        if (at == from)
            return {};
    }
    if (at == text.size() || (text[at] == 'Z' && at + 1 == text.size()))
        return moment;
    if ((text[at] != '+' && text[at] != '-') || at + 6 != text.size() || text[at + 3] != ':')
        return {};
    const int hours = digits(text, at + 1, 2), minutes = digits(text, at + 4, 2);
    if (hours < 0 || hours > 14 || minutes < 0 || minutes > 59 || (hours == 14 && minutes != 0))
        return {};
    return moment - (text[at] == '-' ? -1 : 1) * (hours * 60LL + minutes) * 60 * 1'000'000;
}

bool isSameMoment(std::string_view a, std::string_view b)
{
    const auto first = microsecondsOf(a), second = microsecondsOf(b);
    return first && second ? *first == *second : a == b;
}

bool isEarlier(std::string_view a, std::string_view b)
{
    const auto first = microsecondsOf(a), second = microsecondsOf(b);
    return first && second ? *first < *second : !first && second;
}

} // namespace wendrix
