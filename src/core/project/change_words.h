#pragma once

#include "core/project/change_list.h"

/// How changes are said, in lists, tables and reports alike.
namespace wendrix::project {

/// "moved"
[[nodiscard]] const char* nameOf(ChangeKind kind);
/// "moved, redescribed", those that matter most first.
[[nodiscard]] std::string kindsInWords(unsigned kinds);
/// "X +573, Y +178 mm", past ten metres "X +50.00 m", only what is not nothing; "nowhere" where all is.
[[nodiscard]] std::string shiftAlongAxes(Vector3 shift);
/// "turned 30.0° counter-clockwise"; about another axis than the vertical "turned 30.0°". Empty where it was not.
[[nodiscard]] std::string turnInWords(const ChangeRecord& change);
/// What happened, as a figure: "Z +50 mm", "120 mm narrower, 300 mm longer", "EI 30, now EI 60", "3 parts".
[[nodiscard]] std::string measureInWords(const ChangeRecord& change);
/// "FireRating was EI 30, is EI 60"
[[nodiscard]] std::string inWords(const changes::FieldChange& field);
/// A row as a sentence: "Beam B-12", or of a group "240 elements on Level 2 moved", "40 of IPE 300 redescribed".
[[nodiscard]] std::string titleOf(const ChangeRow& row);
/// "0.35 m³", "12.4 l".
[[nodiscard]] std::string volumeInWords(double cubicMetres);

} // namespace wendrix::project
