#include "core/ifc/source.h"

#include <tbb/parallel_sort.h>

#include "core/step/parse.h"

#include <algorithm>
#include <map>
#include <mutex>

namespace wendrix::ifc {

struct Source::Malformed {
    static constexpr std::size_t kMost = 1000; // a damaged file must not fill the memory with messages
    std::mutex mutex;
    std::map<EntityId, Diagnostic> found;
};

Source::Source(step::File file, const Schema& schema)
    : file_(std::move(file)), schema_(&schema), malformed_(std::make_shared<Malformed>())
{
    for (const std::string& keyword : file_.entities().keywords())
        keywordTypes_.push_back(schema_->typeOfKeyword(keyword));
}

Entity Source::entity(EntityId id) const
{
    const step::Entry* found = entry(id);
    return found != nullptr ? entity(*found) : Entity{};
}

Entity Source::entity(const step::Entry& entry) const
{
    const TypeId type = typeOf(entry);
    if (type == kUnknownType)
        return {};
    step::Instance instance = file_.read(entry);
    if (instance.nodes.empty()) {
        const std::lock_guard lock(malformed_->mutex);
        if (malformed_->found.size() < Malformed::kMost)
            if (const auto [at, isNew] = malformed_->found.try_emplace(entry.id()); isNew)
                (void)file_.read(entry, &at->second);
        return {};
    }
    return {*schema_, entry.id(), type, std::move(instance)};
}

TypeId Source::typeOf(EntityId id) const
{
    const step::Entry* found = entry(id);
    return found != nullptr ? typeOf(*found) : kUnknownType;
}

std::vector<std::uint32_t> Source::positions(Name ancestor) const
{
    const TypeId wanted = schema_->type(ancestor);
    std::vector<std::uint32_t> positions;
    bool isMerged = false;
    for (std::size_t k = 0; k < keywordTypes_.size(); ++k) {
        if (!schema_->isA(keywordTypes_[k], wanted))
            continue;
        const auto some = file_.entities().withKeyword(static_cast<step::KeywordIndex>(k));
        isMerged = isMerged || !positions.empty();
        positions.insert(positions.end(), some.begin(), some.end());
    }
    if (isMerged)
        tbb::parallel_sort(positions.begin(), positions.end());
    return positions;
}

std::vector<Diagnostic> Source::malformed() const
{
    const std::lock_guard lock(malformed_->mutex);
    std::vector<Diagnostic> list;
    for (const auto& [id, diagnostic] : malformed_->found)
        list.push_back(diagnostic);
    return list;
}

} // namespace wendrix::ifc
