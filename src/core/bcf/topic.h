#pragma once

#include "core/bcf/archive.h"
#include "core/bcf/form.h"
#include "core/issues/issue.h"

#include <map>
#include <string>

namespace wendrix::bcf {

/// A topic as a file holds it: what is understood of it, and its XML and its files as they came, so that what nobody
/// here knows is written again.
struct Topic {
    issues::Issue issue;
    Version version = Version::V30;                    ///< of the XML
    std::string folder;                                ///< in the archive it came from
    std::string markup;                                ///< as it came; empty for a topic made here
    std::map<std::string, std::string> views;          ///< XML as it came, by uuid of the viewpoint
    std::map<std::string, Blob> pictures;              ///< snapshots, by uuid of the viewpoint
    std::map<std::string, std::string> pictureEntries; ///< what they are called in the archive it came from
    std::map<std::string, Blob> files; ///< of its folder, by name within it: bitmaps, snippets and whatever is unknown
    std::map<std::string, Blob> documents; ///< those inside that it refers to, by DocumentReference::target
};

/// What a topic's markup says, but for what its viewpoints and documents hold; brought into the form of its version.
/// @param tell  of values that can not be what they should
[[nodiscard]] issues::Issue issueOf(pugi::xml_document& markup, Version version, const Telling& tell);
/// What a *.bcfv says; its uuid is the markup's business.
[[nodiscard]] issues::Viewpoint viewpointOf(const pugi::xml_document& info, Version version, const Telling& tell);
/// The file names that a viewpoint's element in the markup gives.
struct ViewFiles {
    std::string viewpoint, snapshot;
};
[[nodiscard]] ViewFiles filesOf(pugi::xml_node view);
/// A name without a path, of a file beside the markup.
[[nodiscard]] bool isPlainName(std::string_view name);
/// The entry a reference from a topic's folder names ("../plan.pdf" is the root's); empty where it leads out.
[[nodiscard]] std::string entryOf(const std::string& folder, std::string_view reference);

/// Lays an issue over a topic's markup: what equals `was` stays as it is written there, everything else becomes what it
/// says; comments, viewpoints and what else comes in lists are matched by GUID or by what they are.
/// @param markup  in the form of `version`
/// @param was     what the markup says now
/// @param entries what the inside documents of the issue are called in the archive written, by their target
void layOver(pugi::xml_document& markup, Version version, const issues::Issue& was, const issues::Issue& issue,
             const std::map<std::string, std::string>& entries);
/// A viewpoint made here, as the XML of a version.
[[nodiscard]] Xml viewpointXml(const issues::Viewpoint& viewpoint, Version version, const Telling& tell);
/// Makes a viewpoint's XML of one version valid in the other: cameras, fields of view, aspect ratios.
/// @param snapshot  its picture, for its proportions; may be empty
void convertViewpoint(pugi::xml_document& info, Version to, std::string_view snapshot, const Telling& tell);
/// The same of a markup: what one version asks for and the other does not know.
void convertMarkup(pugi::xml_document& markup, Version to, const Telling& tell);

} // namespace wendrix::bcf
