#include "core/step/file.h"

#include <cstdint>

/// Any bytes as a STEP file: indexing, every entity's arguments, every value of them.
namespace {

std::size_t visit(wendrix::step::Value value)
{
    std::size_t sum = value.text().size() + value.enumeration().size() + value.typeName().size() + value.reference();
    sum += value.number() ? 1 : 0;
    for (const wendrix::step::Value inner : value)
        sum += visit(inner);
    return sum;
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    using namespace wendrix;
    Progress progress;
    const auto file = step::File::index({reinterpret_cast<const char*>(data), size}, "fuzz.ifc", progress);
    if (!file)
        return 0;
    volatile std::size_t sum = 0;
    for (const step::Entry& entry : file->entities().all()) {
        Diagnostic problem;
        const step::Instance instance = file->read(entry, &problem);
        sum = sum + visit(instance.arguments());
        if (file->entities().find(entry.id()) != &entry)
            __builtin_trap();
    }
    return 0;
}
