#include "test_report.h"

#include "core/base/file.h"
#include "core/base/text.h"

#include <fmt/format.h>
#include <pugixml.hpp>

#include <algorithm>
#include <charconv>

namespace wendrix::cli {

std::optional<bool> holds(const std::string& rule, const Counts& counts)
{
    const std::size_t sign = rule.find_first_of("<>=!");
    if (sign == std::string::npos)
        return {};
    const std::size_t end = rule.find_first_not_of("<>=!", sign);
    const auto trimmed = [](std::string text) {
        text.erase(0, std::min(text.find_first_not_of(' '), text.size()));
        text.erase(text.find_last_not_of(' ') + 1);
        return text;
    };
    const std::string name = trimmed(rule.substr(0, sign)), number = trimmed(end < rule.size() ? rule.substr(end) : ""),
                      comparison = rule.substr(sign, std::min(end, rule.size()) - sign);
    std::size_t limit = 0;
    const auto [at, error] = std::from_chars(number.data(), number.data() + number.size(), limit);
    if (number.empty() || error != std::errc{} || at != number.data() + number.size())
        return {};
    std::size_t count = 0;
    if (name == "clashes")
        count = counts.clashes;
    else if (name == "undecided")
        count = counts.undecided;
    else if (name == "notTested")
        count = counts.notTested;
    else
        return {};
    if (comparison == ">")
        return count > limit;
    if (comparison == ">=")
        return count >= limit;
    if (comparison == "<")
        return count < limit;
    if (comparison == "<=")
        return count <= limit;
    if (comparison == "=" || comparison == "==")
        return count == limit;
    if (comparison == "!=")
        return count != limit;
    return {};
}

Result<void> writeJunit(const std::filesystem::path& file, const std::vector<TestCase>& cases)
{
    // Signs that XML can not hold, as names from files may.
    const auto clean = [](std::string text) {
        std::replace_if(
            text.begin(), text.end(),
            [](char c) { return static_cast<unsigned char>(c) < 0x20 && c != '\n' && c != '\t'; }, ' ');
        return text;
    };
    pugi::xml_document document;
    pugi::xml_node suite = document.append_child("testsuite");
    suite.append_attribute("name") = "wendrix";
    suite.append_attribute("tests") = static_cast<unsigned>(cases.size());
    suite.append_attribute("failures") = static_cast<unsigned>(
        std::count_if(cases.begin(), cases.end(), [](const TestCase& c) { return !c.failures.empty(); }));
    suite.append_attribute("skipped") = static_cast<unsigned>(
        std::count_if(cases.begin(), cases.end(), [](const TestCase& c) { return c.whySkipped.has_value(); }));
    for (const TestCase& c : cases) {
        pugi::xml_node node = suite.append_child("testcase");
        node.append_attribute("classname") = "clash";
        node.append_attribute("name") = clean(c.name).c_str();
        node.append_attribute("time") = fmt::format("{:.3f}", c.seconds).c_str();
        if (c.whySkipped)
            node.append_child("skipped").append_attribute("message") = clean(*c.whySkipped).c_str();
        if (c.failures.empty())
            continue;
        pugi::xml_node failure = node.append_child("failure");
        failure.append_attribute("message") = counted(c.failures.size(), "clash", "clashes").c_str();
        std::string lines;
        for (const std::string& line : c.failures)
            lines += clean(line) + "\n";
        failure.text() = lines.c_str();
    }
    struct Writer final : pugi::xml_writer {
        std::string text;
        void write(const void* data, std::size_t size) override { text.append(static_cast<const char*>(data), size); }
    } writer;
    document.save(writer, "  ");
    return writeFileWhole(file, writer.text);
}

} // namespace wendrix::cli
