#pragma once

#include "core/base/result.h"

#include <cstdlib>
#include <iostream>

namespace wendrix::test {

/// What an answer holds, by value; ends the test program with the error where it is one.
template <class T>
[[nodiscard]] T must(Result<T> result)
{
    if (!result) {
        std::cerr << result.error().inWords() << '\n';
        std::abort();
    }
    return std::move(*result);
}

} // namespace wendrix::test
