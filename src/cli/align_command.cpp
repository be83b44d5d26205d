#include "commands.h"
#include "json_output.h"

#include "core/base/file.h"
#include "core/base/number.h"
#include "core/coordinates/correction.h"
#include "core/coordinates/diagnosis.h"

#include <cmath>
#include <iostream>

namespace wendrix::cli {

namespace {

int sayOff(const std::string& words)
{
    std::cerr << "wendrix-cli: " << words << '\n';
    return kCallIsOff;
}

int say(const Error& error, ExitCode code)
{
    std::cerr << "wendrix-cli: " << error.inWords() << '\n';
    return code;
}

std::optional<Point3> pointFrom(const Json& json)
{
    if (!json.is_array() || json.size() != 3)
        return {};
    for (const Json& number : json)
        if (!number.is_number() || !std::isfinite(number.get<double>()))
            return {};
    return Point3{json[0], json[1], json[2]};
}

/// @return nothing, with a message on standard error, where the file holds no such list
std::optional<std::vector<federation::PlacePair>> pairsFrom(const std::string& file, int& code)
{
    constexpr std::uintmax_t kMostBytes = 16u << 20;
    const auto text = readFileWhole(file, kMostBytes);
    if (!text) {
        code = say(text.error(), kUnreadable);
        return {};
    }
    const Json json = Json::parse(*text, nullptr, false);
    std::vector<federation::PlacePair> pairs;
    const auto refuse = [&](const std::string& where) {
        code = kUnreadable;
        std::cerr << "wendrix-cli: " << file << ": " << where << " is no pair of places, {\"moving\": [x,y,z], "
                  << "\"reference\": [x,y,z], \"weight\": 1}.\n";
    };
    if (!json.is_array()) {
        refuse("the whole");
        return {};
    }
    for (const Json& one : json) {
        const auto moving = one.is_object() && one.contains("moving") ? pointFrom(one["moving"]) : std::nullopt;
        const auto reference =
            one.is_object() && one.contains("reference") ? pointFrom(one["reference"]) : std::nullopt;
        const bool isWeighted = one.is_object() && one.contains("weight");
        if (!moving || !reference || (isWeighted && !one["weight"].is_number())) {
            refuse("entry " + std::to_string(pairs.size() + 1));
            return {};
        }
        pairs.push_back({*moving, *reference, isWeighted ? one["weight"].get<double>() : 1});
    }
    return pairs;
}

std::optional<federation::Fit> valuesFrom(const std::string& words)
{
    double values[5] = {0, 0, 0, 0, 1};
    std::size_t from = 0, count = 0;
    for (; count < 5 && from <= words.size(); ++count) {
        const std::size_t comma = std::min(words.find(',', from), words.size());
        const auto number = numberIn(std::string_view(words).substr(from, comma - from));
        if (!number)
            return {};
        values[count] = *number;
        from = comma + 1;
    }
    if (count != 5 || from <= words.size() || !(values[4] > 0))
        return {};
    return federation::Fit{values[4], fromDegrees(values[3]), {values[0], values[1], values[2]}};
}

coordinates::Facts factsOf(const ifc::Model& model, bool isGeometryWanted, Progress& progress)
{
    coordinates::Facts facts{model, {}};
    if (isGeometryWanted)
        if (const auto geometry = geometry::MemberGeometry::build(model, progress))
            facts.bounds = (*geometry)->bounds();
    return facts;
}

} // namespace

int align(const AlignCall& call)
{
    if (call.method.empty() == !call.isDiagnosis)
        return sayOff("say --method and by what, or --diagnose.");
    if (call.method == "points" && !call.points)
        return sayOff("--method points needs --points FILE.json.");
    if (call.method == "values" && !call.values)
        return sayOff("--method values needs --values TX,TY,TZ,DEGREES,SCALE.");
    if (call.isDiagnosis && call.target)
        return sayOff("--write needs a --method that says by which fit.");
    const auto values = call.values ? valuesFrom(*call.values) : std::nullopt;
    if (call.values && !values)
        return sayOff("--values takes five numbers, TX,TY,TZ,DEGREES,SCALE, the scale over 0; '" + *call.values +
                      "' is none.");
    int code = kDone;
    std::vector<federation::PlacePair> pairs;
    if (call.points) {
        auto read = pairsFrom(*call.points, code);
        if (!read)
            return code;
        pairs = std::move(*read);
    }
    Progress progress;
    const auto first = ifc::Model::open(call.reference, progress);
    if (!first)
        return say(first.error(), kUnreadable);
    const auto second = ifc::Model::open(call.moving, progress);
    if (!second)
        return say(second.error(), kUnreadable);
    const ifc::Model &reference = **first, &moving = **second;

    if (call.isDiagnosis) {
        std::shared_ptr<const ifc::Model> previous;
        if (call.previous) {
            auto read = ifc::Model::open(*call.previous, progress);
            if (!read)
                return say(read.error(), kUnreadable);
            previous = *read;
        }
        const bool isGridMissing = reference.grids().empty() || moving.grids().empty();
        print(diagnosis(coordinates::diagnose(factsOf(reference, isGridMissing, progress),
                                              factsOf(moving, isGridMissing, progress), previous.get())));
        return kDone;
    }
    const auto scale = call.isScaleFree ? federation::Scale::IsFree : federation::Scale::IsOne;
    const Result<coordinates::Alignment> fitted =
        call.method == "georeference" ? coordinates::alignByGeoreference(reference, moving)
        : call.method == "grids"      ? coordinates::alignByGrids(reference, moving)
        : call.method == "pattern"    ? coordinates::alignByPattern(reference, moving)
        : call.method == "storeys"    ? coordinates::alignByStoreys(reference, moving)
        : call.method == "points"     ? coordinates::alignByPoints(pairs, scale)
                                      : coordinates::alignByValues(reference, moving, *values);
    if (!fitted)
        return say(fitted.error(), kDoesNotHold);
    if (call.target) {
        const auto written = coordinates::writeCorrected(reference, moving, fitted->fit, *call.target, progress);
        if (!written)
            return say(written.error(),
                       written.error().code == coordinates::kNotCorrectable ? kDoesNotHold : kUnwritable);
        for (const std::string& warning : written->warnings)
            std::cerr << "wendrix-cli: " << warning << '\n';
    }
    print(alignment(*fitted));
    return kDone;
}

} // namespace wendrix::cli
