#pragma once

#include <unistd.h>

#include <cerrno>
#include <utility>

namespace wendrix {

/// A file descriptor that closes itself; negative where opening failed. Closing leaves errno as it was.
class Descriptor {
public:
    explicit Descriptor(int fd) : fd_(fd) {}
    ~Descriptor() { close(); }
    Descriptor(Descriptor&& other) noexcept : fd_(other.release()) {}
    Descriptor& operator=(Descriptor&& other) noexcept
    {
        if (this != &other) {
            close();
            fd_ = other.release();
        }
        return *this;
    }
    [[nodiscard]] int get() const { return fd_; }
    [[nodiscard]] bool isOpen() const { return fd_ >= 0; }
    /// Whoever takes it closes it.
    [[nodiscard]] int release() { return std::exchange(fd_, -1); }

private:
    void close() const
    {
        if (fd_ < 0)
            return;
        const int before = errno;
        ::close(fd_);
        errno = before;
    }
    int fd_;
};

} // namespace wendrix
