#include "core/project/proposal.h"

#include "core/base/file.h"
#include "core/base/file_name.h"
#include "core/base/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <fstream>
#include <map>

namespace wendrix::project {

namespace fs = std::filesystem;

namespace {

constexpr std::pair<const char*, const char*> kSuitabilities[] = {
    {"S0", "Work in progress"},
    {"S1", "Suitable for coordination"},
    {"S2", "Suitable for information"},
    {"S3", "Suitable for review and comment"},
    {"S4", "Suitable for stage approval"},
    {"S5", "Suitable for review and acceptance"},
    {"S6", "Suitable for information model authorisation"},
    {"S7", "Suitable for information model acceptance"},
    {"A1", "Authorised and accepted, stage 1"},
    {"A2", "Authorised and accepted, stage 2"},
    {"A3", "Authorised and accepted, stage 3"},
    {"A4", "Authorised and accepted, stage 4"},
    {"A5", "Authorised and accepted, stage 5"},
    {"A6", "Authorised and accepted, stage 6"},
    {"B1", "Partial sign-off, stage 1"},
    {"B2", "Partial sign-off, stage 2"},
    {"B3", "Partial sign-off, stage 3"},
    {"B4", "Partial sign-off, stage 4"},
    {"B5", "Partial sign-off, stage 5"},
    {"B6", "Partial sign-off, stage 6"},
    {"CR", "As constructed record"}};

/// Role codes as the national annexes list them, and short forms teams use; longer words are matched by their
/// beginning.
constexpr std::pair<const char*, const char*> kRoles[] = {{"A", "Architecture"},
                                                          {"ARC", "Architecture"},
                                                          {"ARCH", "Architecture"},
                                                          {"S", "Structure"},
                                                          {"STR", "Structure"},
                                                          {"STRUC", "Structure"},
                                                          {"M", "Ventilation"},
                                                          {"VEN", "Ventilation"},
                                                          {"HVAC", "Ventilation"},
                                                          {"MEC", "Ventilation"},
                                                          {"P", "Piping"},
                                                          {"PIP", "Piping"},
                                                          {"PLU", "Piping"},
                                                          {"E", "Electrical"},
                                                          {"ELE", "Electrical"},
                                                          {"ELEC", "Electrical"},
                                                          {"F", "Fire protection"},
                                                          {"FIR", "Fire protection"},
                                                          {"FP", "Fire protection"},
                                                          {"SPR", "Fire protection"},
                                                          {"C", "Civil"},
                                                          {"CIV", "Civil"}};

std::string stemOf(const std::string& fileName) { return fs::path(fileName).stem().string(); }

std::vector<std::string> fieldsOf(const std::string& fileName)
{
    std::vector<std::string> fields(1);
    const std::string stem = stemOf(fileName);
    for (std::size_t i = 0; i < stem.size(); ++i) {
        const char c = stem[i];
        // The dot of P02.01 belongs to the revision.
        const bool isWithinRevision = c == '.' && i > 0 && std::isdigit(static_cast<unsigned char>(stem[i - 1])) != 0 &&
                                      i + 1 < stem.size() && std::isdigit(static_cast<unsigned char>(stem[i + 1])) != 0;
        if (!isWithinRevision && (c == '-' || c == '_' || c == ' ' || c == '.'))
            fields.emplace_back();
        else
            fields.back() += c;
    }
    std::erase(fields, "");
    return fields;
}

bool isRevision(const std::string& field)
{
    const auto isDigit = [&](std::size_t i) {
        return i < field.size() && std::isdigit(static_cast<unsigned char>(field[i])) != 0;
    };
    if (field.size() < 3 || (field[0] != 'P' && field[0] != 'C' && field[0] != 'p' && field[0] != 'c') || !isDigit(1) ||
        !isDigit(2))
        return false;
    return field.size() == 3 || (field.size() == 6 && field[3] == '.' && isDigit(4) && isDigit(5));
}

/// The name without revision, suitability and figures of a date: alike from delivery to delivery.
std::string shapeOf(const std::string& fileName)
{
    std::string shape;
    for (const std::string& field : fieldsOf(fileName)) {
        const bool isDate = field.size() >= 6 && std::all_of(field.begin(), field.end(),
                                                             [](unsigned char c) { return std::isdigit(c) != 0; });
        if (!isRevision(field) && suitabilityInWords(upperCase(field)).empty() && !isDate)
            shape += (shape.empty() ? "" : "-") + lowerCase(field);
    }
    return shape;
}

std::string disciplineByName(const std::string& fileName, const std::vector<Discipline>& disciplines)
{
    for (const std::string& field : fieldsOf(fileName)) {
        const std::string word = upperCase(field);
        for (const Discipline& d : disciplines)
            if (word.size() >= 4 && upperCase(d.name).starts_with(word))
                return d.name;
    }
    for (const std::string& field : fieldsOf(fileName))
        for (const auto& [code, name] : kRoles)
            if (upperCase(field) == code)
                for (const Discipline& d : disciplines)
                    if (d.name == name)
                        return d.name;
    return {};
}

/// Whether a company's name is said in another text, whatever its case.
bool says(const std::string& text, const std::string& company)
{
    return !company.empty() && lowerCase(text).find(lowerCase(company)) != std::string::npos;
}

} // namespace

std::string revisionIn(const std::string& fileName)
{
    std::string found;
    for (const std::string& field : fieldsOf(fileName))
        if (isRevision(field))
            found = upperCase(field); // the last one: names end with it
    return found;
}

std::string suitabilityIn(const std::string& fileName)
{
    std::string found;
    const auto fields = fieldsOf(fileName);
    for (std::size_t i = 1; i < fields.size(); ++i) // never the first field, which is the project
        if (!suitabilityInWords(upperCase(fields[i])).empty())
            found = upperCase(fields[i]);
    return found;
}

std::string suitabilityInWords(const std::string& code)
{
    for (const auto& [known, words] : kSuitabilities)
        if (code == known)
            return words;
    return {};
}

std::vector<std::string> suitabilityCodes()
{
    std::vector<std::string> codes;
    for (const auto& [code, words] : kSuitabilities)
        codes.emplace_back(code);
    return codes;
}

std::string nextRevision(const std::string& discipline, const std::vector<Delivery>& deliveries)
{
    // Contractual revisions follow preliminary ones, so C01 is higher than P09.
    std::pair<char, int> highest{'P', 0};
    for (const Delivery& d : deliveries)
        if (d.discipline == discipline && isRevision(d.revision))
            highest = std::max(highest,
                               {static_cast<char>(std::toupper(static_cast<unsigned char>(d.revision[0]))),
                                std::stoi(d.revision.substr(1, 2))},
                               [](const auto& a, const auto& b) {
                                   return std::pair(a.first == 'C', a.second) < std::pair(b.first == 'C', b.second);
                               });
    return fmt::format("{}{:02}", highest.first, highest.second + 1);
}

std::string partName(const std::string& fileName, const std::string& revision)
{
    std::string name;
    for (const std::string& field : fieldsOf(fileName))
        if (upperCase(field) != upperCase(revision) && !isRevision(field))
            name += (name.empty() ? "" : "-") + field;
    return name.empty() ? stemOf(fileName) : name;
}

Proposal proposeDelivery(const FileSigns& signs, const std::vector<Discipline>& disciplines,
                         const std::vector<Delivery>& deliveries)
{
    Proposal p;
    std::vector<std::string> reasons;
    const std::string shape = shapeOf(signs.fileName);
    for (const Delivery& d : deliveries) // oldest first: the newest of that shape stays
        if (shapeOf(d.fileName) == shape) {
            p.discipline = d.discipline;
            p.sender = d.sender;
            p.title = d.title;
        }
    if (!p.discipline.empty())
        reasons.push_back("earlier files named like it are of " + p.discipline);
    if (p.discipline.empty())
        if (p.discipline = disciplineByName(signs.fileName, disciplines); !p.discipline.empty())
            reasons.push_back("its name says " + p.discipline);
    if (p.discipline.empty())
        if (p.discipline = disciplineByName(signs.headerName, disciplines); !p.discipline.empty())
            reasons.push_back("it was written as " + signs.headerName);
    if (p.discipline.empty())
        for (const Discipline& d : disciplines)
            if (says(signs.organisation, d.company) || says(signs.author, d.company) ||
                std::find(d.people.begin(), d.people.end(), signs.author) != d.people.end()) {
                p.discipline = d.name;
                reasons.push_back("its header says " +
                                  (signs.organisation.empty() ? signs.author : signs.organisation));
                break;
            }
    for (const Discipline& d : disciplines)
        if (d.name == p.discipline && p.sender.empty())
            p.sender = !d.company.empty() ? d.company : !signs.organisation.empty() ? signs.organisation : signs.author;
    p.revision = revisionIn(signs.fileName);
    const bool isInHeader = p.revision.empty() && !revisionIn(signs.headerName).empty();
    if (isInHeader)
        p.revision = revisionIn(signs.headerName);
    const std::string where = isInHeader ? "its header says " : "its name says ";
    const auto isThere = [&](const std::string& revision) {
        return std::any_of(deliveries.begin(), deliveries.end(),
                           [&](const Delivery& d) { return d.discipline == p.discipline && d.revision == revision; });
    };
    if (p.revision.empty()) {
        p.revision = nextRevision(p.discipline, deliveries);
        reasons.push_back(p.revision + " is the next revision");
    } else if (isThere(p.revision)) {
        const std::string said = p.revision;
        p.revision = nextRevision(p.discipline, deliveries);
        reasons.push_back(where + said + ", which is there with other content, so " + p.revision + " is proposed");
    } else {
        reasons.push_back(where + p.revision);
    }
    p.suitability = suitabilityIn(signs.fileName);
    if (p.suitability.empty())
        p.suitability = suitabilityIn(signs.headerName);
    if (p.title.empty())
        p.title = partName(signs.fileName, p.revision);
    for (const std::string& reason : reasons)
        p.why += (p.why.empty() ? "" : "; ") + reason;
    if (p.discipline.empty())
        p.why = "Nothing says which discipline it is of" + (p.why.empty() ? "" : "; " + p.why);
    p.why[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(p.why[0])));
    p.why += ".";
    return p;
}

Result<FileSigns> signsOf(const fs::path& file)
{
    // Read, not mapped: its sender may be writing it.
    std::ifstream in(file, std::ios::binary);
    if (!in)
        return fail(
            {kFileUnreadable, "The file can not be opened; check that it exists and may be read.", file.string()});
    FileSigns signs;
    signs.fileName = nameInUtf8(file);
    Progress progress;
    // The header alone, closed like a whole file; a zip says nothing until it is unpacked.
    constexpr std::size_t kHeaderLimit = 64 * 1024;
    std::string start(kHeaderLimit, '\0');
    in.read(start.data(), static_cast<std::streamsize>(start.size()));
    start.resize(static_cast<std::size_t>(in.gcount()));
    const std::size_t end = start.find("ENDSEC;");
    if (end == std::string::npos)
        return signs;
    const std::string head = start.substr(0, end) + "ENDSEC;DATA;ENDSEC;END-ISO-10303-21;";
    const auto step = step::File::index(head, signs.fileName, progress);
    if (step) {
        signs.headerName = fs::path(step->header().name).filename().string();
        signs.timeStamp = step->header().timeStamp;
        signs.application = step->header().originatingSystem;
        signs.author = step->header().author;
        signs.organisation = step->header().organisation;
    }
    return signs;
}

} // namespace wendrix::project
