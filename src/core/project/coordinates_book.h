#pragma once

#include "core/ifc/georeference.h"
#include "core/project/deliveries_book.h"

namespace wendrix::project {

inline constexpr ErrorCode kFitLocked{"fit.locked"};
inline constexpr ErrorCode kNoReason{"fit.no-reason"};
inline constexpr ErrorCode kOddLimit{"fit.odd-limit"};

/// Where the project says that the reference's frame lies on the map and on earth.
struct AgreedPlace {
    ifc::Georeference says;
    std::string from; ///< whose coordinates were taken over: "Structure P02"
    WhoAndWhen by;
};

/// Fits: how each delivery stands on the reference, who says so, and by what.
///
/// A fit is made on a delivery and never changed. In force for a delivery is the newest one made on it; where none was,
/// the newest one made on an earlier delivery of the discipline: a team that moves its origin gets another fit, and
/// what was delivered before keeps the one it had.
class CoordinatesBook {
public:
    explicit CoordinatesBook(Store& store) : store_(store) {}
    static std::span<const Table> tables();
    static std::span<const char* const> indexes();

    /// In force for a delivery; as delivered where nobody made one.
    [[nodiscard]] Result<StoredFit> fitOf(const Delivery& delivery) const;
    /// In force for what is in use of a discipline.
    [[nodiscard]] Result<StoredFit> fitInUse(const std::string& discipline) const;
    [[nodiscard]] Result<std::vector<StoredFit>> allOf(const std::string& discipline) const; ///< oldest first

    /// Makes the next fit of what is in use of a discipline; `id`, `delivery` and `by` of `fit` are given here.
    /// @return kFitLocked where the one in force is locked and this is another: a locked one moves by nothing
    /// but unlock()
    [[nodiscard]] Result<void> setFit(const std::string& discipline, const StoredFit& fit, const WhoAndWhen& who);
    /// The fit in force stays, but others may take its place from now on.
    /// @return kNoReason where none is given
    [[nodiscard]] Result<void> unlock(const std::string& discipline, const std::string& reason, const WhoAndWhen& who);

    /// Nothing where the project has none of its own: then the reference's holds.
    [[nodiscard]] Result<std::optional<AgreedPlace>> place() const;
    [[nodiscard]] Result<void> setPlace(const AgreedPlace& place, const WhoAndWhen& who);
    /// Residuals up to this are the drawing's, not a fault of the place.
    [[nodiscard]] Result<Metres> standsRight() const;
    /// @return kOddLimit unless it lies between 0.1 mm and 1 m
    [[nodiscard]] Result<void> setStandsRight(Metres limit, const WhoAndWhen& who);

    /// setFit() within a command that spans several books, whatever is locked.
    static void write(SQLite::Database& db, const std::string& discipline, const StoredFit& fit, const WhoAndWhen& who);
    [[nodiscard]] static std::string subjectOf(const std::string& discipline) { return "fit:" + discipline; }

private:
    Store& store_;
};

} // namespace wendrix::project
