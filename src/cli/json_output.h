#pragma once

#include "core/changes/comparison.h"
#include "core/clash/engine.h"
#include "core/coordinates/diagnosis.h"
#include "core/federation/member.h"
#include "core/project/workspace.h"

#include <nlohmann/json.hpp>

/// Turns results into the JSON of the command line's contract. SI throughout.
namespace wendrix::cli {

using Json = nlohmann::ordered_json;

/// @param geometry  null for --no-geometry: shapes are then left null
/// Everything a file says about one element, for `inspect --properties`.
[[nodiscard]] Json properties(const ifc::Model& model, const ifc::Element& element);
[[nodiscard]] Json inspection(const ifc::Model& model, const geometry::MemberGeometry* geometry);
[[nodiscard]] Json clashes(const clash::Findings& findings, std::span<const federation::Member> members,
                           const clash::Question& question);
/// The same of a project's tests, each clash with the test that found it, and the members that were not tested.
/// How one finding stands against the runs before.
struct Standing {
    std::string state, cause; ///< "new", "Duct 4 was lowered by 205 mm in P02"; no cause for what is still there
};
/// @param standings  of each finding
[[nodiscard]] Json clashes(const project::NewRun& run, const std::vector<Standing>& standings, double seconds);
/// @param toleranceMetres  that it was compared with; the volumes of what was reshaped are made here
[[nodiscard]] Json comparison(const changes::Comparison& result, const federation::Member& before,
                              const federation::Member& after, double toleranceMetres);
[[nodiscard]] Json alignment(const coordinates::Alignment& alignment);
[[nodiscard]] Json diagnosis(const coordinates::Diagnosis& diagnosis);
[[nodiscard]] Json triple(Vector3 v);
/// Onto standard output. Bytes that are no UTF-8, as files hold them, are replaced, and that is said.
void print(const Json& json);

} // namespace wendrix::cli
