#pragma once

#include "core/checks/quality.h"
#include "core/project/records.h"
#include "core/project/store.h"

namespace wendrix::project {

inline constexpr ErrorCode kUnknown{"project.unknown"};

/// Who works on the project and with what: disciplines, people, federations, what was agreed.
class SetupBook {
public:
    explicit SetupBook(Store& store) : store_(store) {}
    static std::span<const Table> tables();

    [[nodiscard]] Result<std::string> name() const { return meta("name"); }
    [[nodiscard]] Result<std::string> id() const { return meta("id"); }
    [[nodiscard]] Result<std::vector<Discipline>> disciplines() const; ///< the reference first
    [[nodiscard]] Result<std::string> reference() const;
    [[nodiscard]] Result<std::vector<PersonGroup>> personGroups() const; ///< by name
    /// At least one, the whole building, which every discipline belongs to until it is retired there.
    [[nodiscard]] Result<std::vector<Federation>> federations() const;
    [[nodiscard]] Result<std::vector<MemberGroup>> memberGroups() const; ///< by name
    /// What was agreed that deliveries should be like; the storeys are those of the reference and not kept.
    [[nodiscard]] Result<checks::Expectations> expectations() const;
    /// IDS files that deliveries are checked against: their names and their text.
    [[nodiscard]] Result<std::vector<std::pair<std::string, std::string>>> specifications() const;

    [[nodiscard]] Result<void> begin(const std::string& name, const WhoAndWhen& who); ///< of a new project
    [[nodiscard]] Result<void> addDiscipline(const Discipline& discipline, const WhoAndWhen& who);
    /// Company, people, colour, drop folder and classes left out of the discipline of this name.
    [[nodiscard]] Result<void> setDiscipline(const Discipline& discipline, const WhoAndWhen& who);
    /// Everything that speaks of it goes on with the new name: deliveries, fits, tests, pairs, issues.
    [[nodiscard]] Result<void> renameDiscipline(const std::string& from, const std::string& to, const WhoAndWhen& who);
    /// Makes a group, or gives the one of this name other people; with none it is dissolved.
    [[nodiscard]] Result<void> setPersonGroup(const PersonGroup& group, const WhoAndWhen& who);
    /// Makes a federation, or changes the one of this name: its members, those retired, whether it is retired itself.
    [[nodiscard]] Result<void> setFederation(const Federation& federation, const WhoAndWhen& who);
    /// Makes a group of members, or gives the one of this name other members; with none it is dissolved.
    [[nodiscard]] Result<void> setMemberGroup(const MemberGroup& group, const WhoAndWhen& who);
    [[nodiscard]] Result<void> setExpectations(const checks::Expectations& expectations, const WhoAndWhen& who);
    /// Keeps an IDS under its file's name; empty text removes it.
    [[nodiscard]] Result<void> setSpecification(const std::string& name, const std::string& text,
                                                const WhoAndWhen& who);

private:
    [[nodiscard]] Result<std::string> meta(const std::string& key) const;
    Store& store_;
};

} // namespace wendrix::project
