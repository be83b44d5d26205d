#include "core/project/register_grid.h"

#include <algorithm>

namespace wendrix::project {

namespace {

constexpr int kMostCycles = 500; // a damaged number must not make the table endless

} // namespace

RegisterGrid::RegisterGrid(const std::vector<Discipline>& disciplines, const std::vector<Delivery>& deliveries)
    : rows_(disciplines.size()), of_(deliveries.size())
{
    std::unordered_map<std::string, std::size_t> rowOf;
    for (std::size_t r = 0; r < disciplines.size(); ++r)
        rowOf[disciplines[r].name] = r;
    const auto cycleOf = [](const Delivery& d) { return std::clamp(d.cycle, 1, kMostCycles); };
    for (const Delivery& d : deliveries)
        cycles_ = std::max(cycles_, cycleOf(d));
    cells_.resize(rows_ * static_cast<std::size_t>(cycles_));
    for (Place i = deliveries.size(); i-- > 0;) { // they come oldest first
        const auto row = rowOf.find(deliveries[i].discipline);
        if (row == rowOf.end())
            continue;
        auto& cell = cells_[row->second * static_cast<std::size_t>(cycles_) +
                            static_cast<std::size_t>(cycleOf(deliveries[i]) - 1)];
        of_[i] = Cell{row->second, cycleOf(deliveries[i]), cell.size()};
        cell.push_back(i);
        places_[deliveries[i].id] = i;
    }
    for (Place i = 0; i < deliveries.size(); ++i)
        if (of_[i] && deliveries[i].state == DeliveryState::Waiting)
            waiting_.push_back(i);
}

std::size_t RegisterGrid::tallest(std::size_t row) const
{
    std::size_t most = 0;
    for (int c = 1; c <= cycles_; ++c)
        most = std::max(most, cell(row, c).size());
    return most;
}

std::optional<RegisterGrid::Place> RegisterGrid::find(DeliveryId id) const
{
    const auto found = places_.find(id);
    return found != places_.end() ? std::optional(found->second) : std::nullopt;
}

std::optional<RegisterGrid::Cell> RegisterGrid::cellOf(Place place) const
{
    return place < of_.size() ? of_[place] : std::nullopt;
}

std::optional<RegisterGrid::Place> RegisterGrid::step(Place from, Way way) const
{
    const auto at = cellOf(from);
    if (!at)
        return {};
    if (way == Way::Left || way == Way::Right) {
        const int by = way == Way::Left ? -1 : 1;
        for (int c = at->cycle + by; c >= 1 && c <= cycles_; c += by)
            if (const auto& there = cell(at->row, c); !there.empty())
                return there[std::min(at->level, there.size() - 1)];
        return {};
    }
    const bool isUp = way == Way::Up;
    const auto& own = cell(at->row, at->cycle);
    if (isUp ? at->level > 0 : at->level + 1 < own.size())
        return own[isUp ? at->level - 1 : at->level + 1];
    for (std::size_t r = at->row; isUp ? r > 0 : r + 1 < rows_;) {
        r = isUp ? r - 1 : r + 1;
        // The nearest cycle of that row, so that going down never leaves the column by more than it must.
        for (int away = 0; away < cycles_; ++away)
            for (const int c : {at->cycle - away, at->cycle + away})
                if (c >= 1 && c <= cycles_)
                    if (const auto& there = cell(r, c); !there.empty())
                        return isUp ? there.back() : there.front();
    }
    return {};
}

} // namespace wendrix::project
