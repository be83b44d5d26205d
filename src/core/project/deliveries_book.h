#pragma once

#include "core/project/setup_book.h"

#include <filesystem>
#include <map>

namespace wendrix::project {

inline constexpr ErrorCode kSameDelivery{"project.same-delivery"};
inline constexpr ErrorCode kSameRevision{"project.same-revision"};

/// A delivery about to be kept.
struct NewDelivery {
    std::string discipline, revision, title, sender;
    int cycle = 1;
    Timestamp time;
    struct Model {
        std::filesystem::path file;
        std::string projectGuid, schema;
        std::size_t elements = 0;
        std::string sha256 = {}; ///< of the project's own copy, where there is one already
    };
    std::vector<Model> models; ///< at least one
    std::vector<std::filesystem::path> documents;
    std::vector<std::string> documentSums = {}; ///< of the project's own copies, where there are some already
    std::string note, suitability;
};

/// What may still be said differently of a delivery that is there.
struct DeliveryWords {
    std::string title, sender, suitability, note;
};

/// Deliveries: received, looked at, taken in, declined, held; and what was in use when.
class DeliveriesBook {
public:
    DeliveriesBook(Store& store, std::filesystem::path folder) : store_(store), folder_(std::move(folder)) {}
    static std::span<const Table> tables();
    static std::span<const char* const> indexes();

    [[nodiscard]] Result<std::vector<Delivery>> all() const; ///< oldest first
    /// @return kUnknown where it is no longer there
    [[nodiscard]] Result<Delivery> get(DeliveryId id) const;
    [[nodiscard]] Result<std::optional<Delivery>> find(DeliveryId id) const;
    [[nodiscard]] Result<std::optional<Delivery>> inUse(const std::string& discipline) const;
    [[nodiscard]] Result<std::vector<Delivery>> allInUse() const; ///< by time
    /// How many deliveries newer than the one in use wait.
    [[nodiscard]] Result<std::size_t> waitingBehind(const std::string& discipline) const;
    /// The delivery that holds a model of this SHA-256.
    [[nodiscard]] Result<std::optional<Delivery>> withContent(const std::string& sha256) const;
    [[nodiscard]] std::filesystem::path fileOf(const ModelFile& model) const;
    [[nodiscard]] Result<std::vector<Document>> documentsOf(DeliveryId delivery) const;
    [[nodiscard]] std::filesystem::path fileOf(const Document& document) const;
    /// The hold of a discipline, unless its last day is over.
    [[nodiscard]] Result<std::optional<Hold>> hold(const std::string& discipline, const Timestamp& now) const;
    /// Which delivery of each discipline was in use at the end of a cycle.
    [[nodiscard]] Result<std::map<std::string, DeliveryId>> compositionOf(int cycle) const;
    [[nodiscard]] Result<int> cycle() const; ///< the newest cycle anything was delivered in
    /// The subject of a delivery's history in the log.
    [[nodiscard]] static std::string subjectOf(DeliveryId id) { return "delivery:" + std::to_string(id); }

    /// Copies its files into the project.
    /// @return kSameDelivery where the same content is already there, kSameRevision where its name is
    [[nodiscard]] Result<DeliveryId> add(const NewDelivery& delivery, const WhoAndWhen& who);
    [[nodiscard]] Result<void> describe(DeliveryId delivery, const DeliveryWords& words, const WhoAndWhen& who);
    /// @param report  an HTML page that goes back with it and is kept as its document; empty for none
    [[nodiscard]] Result<void> decline(DeliveryId delivery, const std::string& reason, const std::string& report,
                                       const WhoAndWhen& who);
    /// Keeps a member at what is in use, until a day (the last one of it) or until it is released.
    [[nodiscard]] Result<void> hold(const Hold& hold, const WhoAndWhen& who);
    [[nodiscard]] Result<void> release(const std::string& discipline, const WhoAndWhen& who);
    /// Notes who looked inside it first.
    [[nodiscard]] Result<void> lookedAt(DeliveryId delivery, const WhoAndWhen& who);

    /// Makes it the one in use, as part of a command that does more.
    void use(SQLite::Database& db, const Delivery& delivery, const WhoAndWhen& who) const;

private:
    template <class... Values>
    [[nodiscard]] Result<std::vector<Delivery>> where(const std::string& condition, const Values&... values) const;
    Store& store_;
    std::filesystem::path folder_;
};

} // namespace wendrix::project
