#include "core/base/mapping_watch.h"

#include <sys/mman.h>
#include <unistd.h>

#include <array>
#include <atomic>
#include <csignal>
#include <cstdint>
#include <mutex>

namespace wendrix {

namespace {

// Read by a signal handler, which may neither lock nor allocate: a table that never moves.
struct Watched {
    std::atomic<std::uintptr_t> first{0}, end{0};
    std::atomic<bool> isTaken{false}, isShortened{false};
};
constexpr std::size_t kMost = 4096;
std::array<Watched, kMost> table;
constexpr std::size_t kUnwatched = kMost;

struct sigaction before;
std::uintptr_t page = 4096;

void onBusError(int signal, siginfo_t* info, void* context)
{
    const auto at = reinterpret_cast<std::uintptr_t>(info->si_addr);
    for (Watched& watched : table) {
        const std::uintptr_t first = watched.first.load(std::memory_order_acquire), end = watched.end;
        if (at < first || at >= end)
            continue;
        watched.isShortened = true;
        // A file that was shortened has nothing from here on.
        void* const from = reinterpret_cast<void*>(at / page * page);
        if (::mmap(from, end - at / page * page, PROT_READ, MAP_PRIVATE | MAP_ANONYMOUS | MAP_FIXED, -1, 0) == from)
            return;
    }
    if ((before.sa_flags & SA_SIGINFO) != 0 && before.sa_sigaction != nullptr)
        before.sa_sigaction(signal, info, context);
    else if (before.sa_handler != SIG_DFL && before.sa_handler != SIG_IGN)
        before.sa_handler(signal);
    else
        std::signal(SIGBUS, SIG_DFL); // it comes again, and ends the process as it should
}

void startWatching()
{
    page = static_cast<std::uintptr_t>(::sysconf(_SC_PAGESIZE));
    struct sigaction action {};
    action.sa_sigaction = onBusError;
    action.sa_flags = SA_SIGINFO | SA_NODEFER;
    ::sigaction(SIGBUS, &action, &before);
}

} // namespace

std::size_t watchMapping(const void* data, std::size_t size)
{
    static std::once_flag once;
    std::call_once(once, startWatching);
    for (std::size_t i = 0; i < kMost; ++i) {
        bool isTaken = false;
        if (!table[i].isTaken.compare_exchange_strong(isTaken, true))
            continue;
        const auto first = reinterpret_cast<std::uintptr_t>(data);
        table[i].isShortened = false;
        table[i].end = first + size;
        table[i].first.store(first, std::memory_order_release);
        return i;
    }
    return kUnwatched;
}

void unwatchMapping(std::size_t watch)
{
    if (watch >= kMost)
        return;
    table[watch].first.store(0, std::memory_order_release);
    table[watch].end = 0;
    table[watch].isTaken = false;
}

bool wasShortened(std::size_t watch) { return watch < kMost && table[watch].isShortened; }

} // namespace wendrix
