#pragma once

#include "core/project/setup_book.h"

#include <map>

namespace wendrix::project {

/// An element that goes on under another name.
struct Continuation {
    ElementRef element, before;
};

inline constexpr ErrorCode kBadRule{"changes.bad-rule"};

/// One change, as reviews and lists call it.
struct ChangeKey {
    std::int64_t comparison = 0, number = 0;
    friend bool operator==(const ChangeKey&, const ChangeKey&) = default;
    friend auto operator<=>(const ChangeKey&, const ChangeKey&) = default;
};

/// What a list of changes is put together from, without words.
struct ChangeBrief {
    ChangeKey key;
    unsigned kinds = 0; ///< of ChangeKind
    /// Into ChangeBriefs' words.
    std::uint32_t storey = 0, className = 0, type = 0, system = 0, zone = 0, phase = 0, part = 0, review = 0;
    std::int64_t alike = 0;
    Box3 place; ///< reference frame
    ElementRef element;
    [[nodiscard]] bool isReviewed() const { return review != 0; }
};
struct ChangeBriefs {
    std::vector<ComparisonRecord> comparisons;
    std::vector<ChangeBrief> changes; ///< by comparison, then number
    std::vector<std::string> words{""};
};

/// What comparing two deliveries gave, about to be kept.
struct NewComparison {
    ComparisonRecord record; ///< id, discipline and by are given when it is kept
    DisciplineId discipline = 0;
    std::vector<ChangeRecord> changes;       ///< each element once
    std::vector<Continuation> continuations; ///< changed or not
};

/// Comparisons of deliveries, what they found, and what people said of it.
///
/// A comparison is a fact and never changed; it counts while its row is there. In force for a discipline is the newest
/// one of what is in use that nobody asked for by hand.
class ChangesBook {
public:
    explicit ChangesBook(Store& store) : store_(store) {}
    static std::span<const Table> tables();
    static std::span<const char* const> indexes();

    [[nodiscard]] Result<std::vector<ComparisonRecord>> inForce() const; ///< by discipline
    /// Those of these ids that are there, in this order.
    [[nodiscard]] Result<std::vector<ComparisonRecord>> find(std::span<const std::int64_t> comparisons) const;
    [[nodiscard]] Result<std::vector<ComparisonRecord>> comparisonsOf(DeliveryId to) const; ///< newest first
    [[nodiscard]] Result<std::vector<ChangeRecord>> changesOf(std::int64_t comparison) const;
    /// Of these comparisons, in their order; none given: of all in force.
    [[nodiscard]] Result<ChangeBriefs> briefs(std::span<const std::int64_t> comparisons = {}) const;
    /// Those that people asked for, the newest first.
    [[nodiscard]] Result<std::vector<ComparisonRecord>> asked() const;
    /// Whole, of all comparisons in force.
    [[nodiscard]] Result<std::vector<ChangeRecord>> current() const;
    /// These of them, in this order; what is no longer there is left out.
    [[nodiscard]] Result<std::vector<ChangeRecord>> get(std::span<const ChangeKey> keys) const;
    /// How many are of each kind; a change may be of several.
    [[nodiscard]] Result<std::map<ChangeKind, std::size_t>> countsOf(std::int64_t comparison) const;
    [[nodiscard]] Result<std::size_t> toReview() const; ///< of those in force, how many nobody looked at
    /// Everything recorded of one element over all deliveries, newest first, also under the names it had before.
    [[nodiscard]] Result<std::vector<ChangeRecord>> historyOf(ElementRef element) const;
    /// What the comparisons in force say of an element, under its name before or after.
    [[nodiscard]] Result<std::vector<ChangeRecord>> currentOf(const ElementRef& element) const;
    /// Elements that deliveries taken in since a day (2026-11-28) or a cycle (3) added or changed. Nothing in the first
    /// delivery of a discipline has: there is none before it.
    [[nodiscard]] Result<std::vector<ElementRef>> elementsChangedSince(const std::string& since) const;
    /// Which elements go on under another name, by comparisons that count.
    [[nodiscard]] std::vector<Continuation> continuations(SQLite::Database& db) const;

    [[nodiscard]] Result<void> review(std::span<const ChangeKey> changes, const std::string& review,
                                      const std::string& name, const WhoAndWhen& who);
    /// What counts as a change, in the rule that is used, and all that were saved by name, the one in use first. Where
    /// none was saved, the usual one.
    struct NamedRule {
        std::string name;
        changes::ChangeRule rule;
        friend bool operator==(const NamedRule&, const NamedRule&) = default;
    };
    [[nodiscard]] Result<std::vector<NamedRule>> rules() const;
    /// Saves a rule under its name and uses it from now on. @return kBadRule with what is wrong
    [[nodiscard]] Result<void> useRule(const NamedRule& rule, const WhoAndWhen& who);
    [[nodiscard]] Result<void> removeRule(const std::string& name, const WhoAndWhen& who);

    /// Keeps comparisons that a person asked for, or that take the place of those in force under another rule. What was
    /// reviewed of the same elements that changed the same way stays reviewed. @return their ids
    [[nodiscard]] Result<std::vector<std::int64_t>> keep(std::span<const NewComparison> comparisons,
                                                         const std::string& what, const WhoAndWhen& who);
    /// Takes comparisons that were asked for off the list.
    [[nodiscard]] Result<void> drop(std::span<const std::int64_t> comparisons, const WhoAndWhen& who);
    /// Keeps a comparison, as part of a command that does more. @return its id
    std::int64_t write(SQLite::Database& db, const NewComparison& comparison, const WhoAndWhen& who) const;
    /// Drops what comparisons found that were taken back for good.
    static void tidy(SQLite::Database& db);

private:
    Store& store_;
};

} // namespace wendrix::project
