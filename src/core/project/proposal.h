#pragma once

#include "core/project/project.h"

/// What a file says about the delivery it belongs to, before anybody is asked.
namespace wendrix::project {

/// What can be read off a model's name and its header without reading the model.
struct FileSigns {
    std::string fileName;
    std::string headerName;                                   ///< what it was called when it was written
    std::string author, organisation, timeStamp, application; ///< all of FILE_NAME; empty where it says nothing
};

/// What is proposed, and why; a person may say otherwise.
struct Proposal {
    std::string discipline, revision, suitability, title, sender;
    std::string why; ///< one sentence: "The name says Structure and P04."
};

/// Proposes discipline, revision and suitability.
///
/// A revision (P03, C01, P03.02) and a suitability (S0-S7, A1, B2, CR) are fields of the file's name, set apart by '-',
/// '_',
/// '.' or blanks, as in the naming of ISO 19650-2 and its national annexes, else of the name it had when it was
/// written; else the next revision after the latest is proposed. The discipline is what earlier deliveries with a name
/// of the same shape or of the same sender were of, else what a role code or a discipline's name in the name says; it
/// is empty where nothing tells.
[[nodiscard]] Proposal proposeDelivery(const FileSigns& signs, const std::vector<Discipline>& disciplines,
                                       const std::vector<Delivery>& deliveries);

/// The one after the highest of a discipline: P04 after P03, also C02 after C01; P01 where there is none.
[[nodiscard]] std::string nextRevision(const std::string& discipline, const std::vector<Delivery>& deliveries);

/// A revision as ISO 19650 writes it ("P03", "C01", "P02.01") among the fields of a name; empty if there is none.
[[nodiscard]] std::string revisionIn(const std::string& fileName);
[[nodiscard]] std::string suitabilityIn(const std::string& fileName);

/// What a suitability code of ISO 19650 means: "Suitable for coordination"; empty for another text.
[[nodiscard]] std::string suitabilityInWords(const std::string& code);
[[nodiscard]] std::vector<std::string> suitabilityCodes();

/// The name of one of several models, without what changes from delivery to delivery: "MSS-VLW-vaults" of
/// "MSS-VLW-vaults-P03.ifc".
[[nodiscard]] std::string partName(const std::string& fileName, const std::string& revision);

/// The signs of a file on the disk; only its beginning is read. @return kFileUnreadable where it can not be
[[nodiscard]] Result<FileSigns> signsOf(const std::filesystem::path& file);

} // namespace wendrix::project
