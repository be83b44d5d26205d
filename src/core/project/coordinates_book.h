#pragma once

#include "core/project/deliveries_book.h"

namespace wendrix::project {

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
    [[nodiscard]] Result<void> setFit(const std::string& discipline, const StoredFit& fit, const WhoAndWhen& who);

private:
    Store& store_;
};

} // namespace wendrix::project
