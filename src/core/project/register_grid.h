#pragma once

#include "core/project/records.h"

#include <optional>
#include <unordered_map>

namespace wendrix::project {

/// The register as a table: disciplines down, cycles across, in each cell the deliveries of that discipline and cycle,
/// the newest first. Places are indices into the deliveries it was made from.
class RegisterGrid {
public:
    using Place = std::size_t;
    enum class Way { Left, Right, Up, Down };

    RegisterGrid() = default;
    RegisterGrid(const std::vector<Discipline>& disciplines, const std::vector<Delivery>& deliveries);

    [[nodiscard]] std::size_t rows() const { return rows_; }
    [[nodiscard]] int cycles() const { return cycles_; } ///< at least 1
    /// @param cycle  from 1
    [[nodiscard]] const std::vector<Place>& cell(std::size_t row, int cycle) const
    {
        return cells_[row * static_cast<std::size_t>(cycles_) + static_cast<std::size_t>(cycle - 1)];
    }
    /// Of the fullest cell of a row.
    [[nodiscard]] std::size_t tallest(std::size_t row) const;
    [[nodiscard]] std::optional<Place> find(DeliveryId id) const;
    struct Cell {
        std::size_t row = 0;
        int cycle = 1;
        std::size_t level = 0; ///< from the top of its cell
    };
    [[nodiscard]] std::optional<Cell> cellOf(Place place) const;
    /// The next delivery that way: within the cell first where that is up or down, over empty cells.
    [[nodiscard]] std::optional<Place> step(Place from, Way way) const;
    /// All that wait, oldest first: what is to be decided.
    [[nodiscard]] const std::vector<Place>& waiting() const { return waiting_; }

private:
    std::size_t rows_ = 0;
    int cycles_ = 1;
    std::vector<std::vector<Place>> cells_;
    std::unordered_map<DeliveryId, Place> places_;
    std::vector<std::optional<Cell>> of_;
    std::vector<Place> waiting_;
};

} // namespace wendrix::project
