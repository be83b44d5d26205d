#pragma once

#include "core/federation/member.h"
#include "support/ifc_text.h"
#include "support/made_model.h"

#include <memory>
#include <random>

namespace wendrix::test {

/// Boxes to the millimetre; tolerances between, so that rounding decides nothing.
inline std::vector<MadeModel::Box> boxesAtRandom(unsigned seed, int count, const std::string& word,
                                                 const std::string& ifcClass)
{
    std::mt19937 random(seed);
    // To the millimetre, and tolerances between, so that rounding decides nothing.
    const auto millimetres = [&](int from, int to) { return 0.001 * std::uniform_int_distribution(from, to)(random); };
    std::vector<MadeModel::Box> boxes;
    for (int i = 0; i < count; ++i) {
        const Point3 low{millimetres(0, 12'000), millimetres(0, 12'000), millimetres(0, 7'000)};
        const Vector3 size{millimetres(60, 2'500), millimetres(60, 2'500), millimetres(60, 1'000)};
        boxes.push_back({word + " " + std::to_string(i), low, low + size, ifcClass});
    }
    return boxes;
}

inline MadeModel made(const std::string& name, std::vector<MadeModel::Box> boxes)
{
    MadeModel m;
    m.name = name;
    m.boxes = std::move(boxes);
    return m;
}

inline federation::Member memberOf(const MadeModel& made)
{
    static std::vector<std::unique_ptr<Read>> kept; // members share what was read
    kept.push_back(readText(made.text()));
    federation::Member member;
    member.discipline = made.name;
    member.model = kept.back()->model;
    member.geometry = kept.back()->geometry;
    return member;
}

} // namespace wendrix::test
