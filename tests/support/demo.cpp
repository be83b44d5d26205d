#include "support/demo.h"

#include <cstdlib>
#include <fstream>
#include <iostream>

namespace wendrix::test {

namespace {

nlohmann::json readJson(const std::string& path)
{
    std::ifstream in(path);
    return nlohmann::json::parse(in);
}

} // namespace

std::string demoFolder() { return WENDRIX_DEMO_DIR; }

nlohmann::json truth() { return readJson(demoFolder() + "/truth.json"); }

std::size_t designedWithoutPiping(const std::string& revision)
{
    const nlohmann::json all = truth();
    std::size_t count = all["clearances"].size();
    for (const auto& designed : all["clashes"][revision])
        count += designed["test"].get<std::string>().starts_with("Piping") ? 0 : 1;
    return count;
}

federation::Member demoMember(const std::string& discipline, const std::string& revision, std::size_t model)
{
    const auto demo = readJson(demoFolder() + "/data/demo.json");
    for (const auto& delivery : demo["deliveries"])
        if (delivery["discipline"] == discipline && delivery["revision"] == revision) {
            Progress progress;
            auto member = federation::openMember(demoFolder() + "/data/" + delivery["models"][model].get<std::string>(),
                                                 progress);
            if (!member) {
                std::cerr << member.error().inWords() << '\n';
                std::abort();
            }
            member->discipline = discipline;
            member->revision = revision;
            return *member;
        }
    std::cerr << "no demo delivery " << discipline << ' ' << revision << '\n';
    std::abort();
}

federation::Fit trueFit(const std::string& discipline)
{
    const auto fits = truth()["fits"];
    if (!fits.contains(discipline))
        return {};
    const auto fit = fits[discipline];
    return {fit["scale"], fromDegrees(fit["rotationDegrees"]), vectorOf(fit["translation"])};
}

Vector3 vectorOf(const nlohmann::json& triple) { return {triple[0], triple[1], triple[2]}; }

} // namespace wendrix::test
