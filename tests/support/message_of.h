#pragma once

#include "core/system/error.h"

#include <functional>
#include <string>

namespace retinex::test {

/// What the Error says that `work` throws; "" when it throws none.
[[nodiscard]] inline std::string messageOf(const std::function<void()>& work)
{
    try {
        work();
    } catch (const Error& error) {
        return error.what();
    }
    return {};
}

} // namespace retinex::test
