#include "core/clash/test_sheet.h"

#include <nlohmann/json.hpp>

#include <cmath>
#include <optional>

namespace wendrix::clash {

namespace {

using Json = nlohmann::json;

constexpr const char* kFormat = "wendrix-test-sheet";
constexpr std::size_t kLargest = 16 << 20, kMost = 10'000, kLongestName = 1'000;
constexpr double kLongestDistance = 1'000; // metres

Json jsonOf(const Test& t, bool isWhole)
{
    Json ignored = Json::array();
    for (const Meeting m : kMeetings)
        if (t.ignored.has(m))
            ignored.push_back(nameOf(m));
    Json json{{"kind", nameOf(t.kind)},           {"toleranceMetres", t.tolerance}, {"ignored", ignored},
              {"jointMetres", t.joint},           {"priority", nameOf(t.priority)}, {"decider", t.decider},
              {"direction", nameOf(t.direction)}, {"clearanceMetres", t.clearance}};
    if (isWhole) {
        json["name"] = t.name;
        json["left"] = t.left;
        json["right"] = t.right;
        json["on"] = t.isOn;
    }
    return json;
}

/// Reads fields, and keeps the first that is wrong.
class Reader {
public:
    Reader(const Json& json, std::string where) : json_(json), where_(std::move(where)) {}

    void text(const char* key, std::string& to, std::size_t longest)
    {
        const Json* v = find(key);
        if (v == nullptr)
            return;
        if (!v->is_string())
            return wrong(key, "a text is expected");
        to = v->get<std::string>();
        if (to.size() > longest)
            wrong(key, "it is longer than " + std::to_string(longest) + " signs");
    }
    void length(const char* key, double& to)
    {
        const Json* v = find(key);
        if (v == nullptr)
            return;
        if (!v->is_number() || !std::isfinite(v->get<double>()) || v->get<double>() < 0 ||
            v->get<double>() > kLongestDistance)
            return wrong(key, "metres from 0 to 1000 are expected");
        to = v->get<double>();
    }
    void flag(const char* key, bool& to)
    {
        const Json* v = find(key);
        if (v != nullptr && !v->is_boolean())
            return wrong(key, "true or false is expected");
        if (v != nullptr)
            to = v->get<bool>();
    }
    template <class Value>
    void oneOf(const char* key, Value& to, std::initializer_list<Value> values)
    {
        const Json* v = find(key);
        if (v == nullptr)
            return;
        std::string names;
        for (const Value value : values) {
            if (v->is_string() && v->get<std::string>() == nameOf(value)) {
                to = value;
                return;
            }
            names += (names.empty() ? "" : ", ") + std::string(nameOf(value));
        }
        wrong(key, "one of these is expected: " + names);
    }
    void meetings(const char* key, Meetings& to)
    {
        const Json* v = find(key);
        if (v == nullptr)
            return;
        Meetings read = Meetings::none();
        for (const Json& name : *v) {
            const auto meeting = name.is_string() ? meetingFrom(name.get<std::string>()) : std::nullopt;
            if (!v->is_array() || !meeting)
                return wrong(key, "a list of openings, connected, assembly, covering, hosted is expected");
            read.set(*meeting, true);
        }
        if (!v->is_array())
            return wrong(key, "a list is expected");
        to = read;
    }
    void fields(Test& t)
    {
        oneOf("kind", t.kind, {Kind::Hard, Kind::Clearance, Kind::Duplicate});
        oneOf("direction", t.direction, {Direction::Any, Direction::Up, Direction::Down, Direction::Side});
        oneOf("priority", t.priority, {Priority::Low, Priority::Normal, Priority::High});
        length("toleranceMetres", t.tolerance);
        length("clearanceMetres", t.clearance);
        length("jointMetres", t.joint);
        meetings("ignored", t.ignored);
        text("decider", t.decider, kLongestName);
    }
    void wrong(const std::string& key, const std::string& what)
    {
        if (!error_)
            error_ = Error{kBadSheet, where_ + ", " + key + ": " + what + "."};
    }
    [[nodiscard]] const std::optional<Error>& error() const { return error_; }

private:
    [[nodiscard]] const Json* find(const char* key) const
    {
        const auto at = json_.find(key);
        return at != json_.end() ? &*at : nullptr;
    }
    const Json& json_;
    std::string where_;
    std::optional<Error> error_;
};

} // namespace

std::string toJson(const TestSheet& sheet)
{
    Json json{{"format", kFormat},     {"formatVersion", 1},
              {"name", sheet.name},    {"defaults", jsonOf(sheet.defaults, false)},
              {"sets", Json::array()}, {"tests", Json::array()}};
    for (const NamedSet& s : sheet.sets)
        json["sets"].push_back({{"name", s.name}, {"line", s.line}});
    for (const Test& t : sheet.tests)
        json["tests"].push_back(jsonOf(t, true));
    return json.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

Result<TestSheet> sheetFromJson(std::string_view text)
{
    if (text.size() > kLargest)
        return fail({kBadSheet, "The test sheet is larger than 16 MB."});
    // Nothing of a sheet is nested deeper; what is, is none.
    const Json json = Json::parse(
        text, [](int depth, Json::parse_event_t, Json&) { return depth <= 5; }, false);
    if (!json.is_object())
        return fail({kBadSheet, "This is no test sheet: it is not well-formed JSON."});
    if (const auto format = json.find("format"); format == json.end() || *format != kFormat)
        return fail({kBadSheet, "This is no test sheet; save one from a project under Clashes, Tests."});
    if (const auto version = json.find("formatVersion");
        version == json.end() || !version->is_number_integer() || version->get<int>() != 1)
        return fail({kBadSheet, "The test sheet was written by a newer version of this program."});
    TestSheet sheet;
    Reader head(json, "Test sheet");
    head.text("name", sheet.name, kLongestName);
    if (head.error())
        return fail(*head.error());
    if (sheet.name.empty())
        return fail({kBadSheet, "The test sheet has no name."});
    const auto listOf = [&](const char* key) -> const Json& {
        static const Json kNone = Json::array();
        const auto at = json.find(key);
        if (at == json.end())
            return kNone;
        if (!at->is_array() || at->size() > kMost)
            head.wrong(key, "a list of at most 10 000 is expected");
        return *at;
    };
    const Json &sets = listOf("sets"), &tests = listOf("tests");
    if (head.error())
        return fail(*head.error());
    if (const auto defaults = json.find("defaults"); defaults != json.end()) {
        Reader r(*defaults, "Defaults");
        if (!defaults->is_object())
            r.wrong("all", "fields of a test are expected");
        else
            r.fields(sheet.defaults);
        if (r.error())
            return fail(*r.error());
    }
    std::size_t number = 0;
    for (const Json& s : sets) {
        NamedSet set;
        Reader r(s, "Set " + std::to_string(++number));
        if (!s.is_object())
            r.wrong("all", "a name and a line are expected");
        else {
            r.text("name", set.name, kLongestName);
            r.text("line", set.line, 10'000);
        }
        if (r.error())
            return fail(*r.error());
        sheet.sets.push_back(std::move(set));
    }
    number = 0;
    for (const Json& t : tests) {
        Test test = sheet.defaults;
        const auto name = t.is_object() ? t.find("name") : t.end();
        const bool isNamed = t.is_object() && name != t.end() && name->is_string();
        ++number;
        Reader r(t, "Test " + (isNamed ? "\"" + name->get<std::string>().substr(0, kLongestName) + "\""
                                       : std::to_string(number)));
        if (!t.is_object())
            r.wrong("all", "fields of a test are expected");
        else {
            r.text("name", test.name, kLongestName);
            r.text("left", test.left, 10'000);
            r.text("right", test.right, 10'000);
            r.flag("on", test.isOn);
            r.fields(test);
            if (test.left.empty())
                r.wrong("left", "a set is expected");
        }
        if (r.error())
            return fail(*r.error());
        sheet.tests.push_back(std::move(test));
    }
    return sheet;
}

} // namespace wendrix::clash
