#pragma once

#include "core/bcf/form.h"

#include <array>
#include <string>
#include <vector>

namespace wendrix::bcf {

/// The values a project allows: extensions.xsd of 2.1, extensions.xml of 3.0. An empty list allows everything.
struct Extensions {
    std::vector<std::string> types, statuses, priorities, labels, users, snippetTypes, stages;

    [[nodiscard]] bool isEmpty() const;
    friend bool operator==(const Extensions&, const Extensions&) = default;
};

/// One of the seven lists, and what each version calls it.
struct ExtensionList {
    std::vector<std::string> Extensions::*values;
    const char *type21, *wrapper30, *item30;
};
/// In the order of 3.0.
[[nodiscard]] const std::array<ExtensionList, 7>& extensionLists();

[[nodiscard]] Extensions extensionsOf(const pugi::xml_document& document, Version version);
/// Adds what the document does not list yet, to lists that are there or that `extensions` begins; what else stands
/// there stays.
void layExtensions(pugi::xml_document& document, Version version, const Extensions& extensions);
/// Without any list yet.
[[nodiscard]] Xml emptyExtensions(Version version);
/// Puts values into lists that limit something and do not hold them.
void allow(Extensions& extensions, const Extensions& used);

} // namespace wendrix::bcf
