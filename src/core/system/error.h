#pragma once

#include <stdexcept>
#include <string>

namespace retinex {

/// What a user or a file can cause. `what()` is a sentence fit to be shown: it names the file or field,
/// says what is wrong and what to do. `cause()` is the technical reason for the log; it may be empty.
class Error : public std::runtime_error
{
public:
    explicit Error(const std::string& message, std::string cause = {})
        : std::runtime_error(message), m_cause(std::move(cause))
    {
    }
    [[nodiscard]] const std::string& cause() const noexcept { return m_cause; }

private:
    std::string m_cause;
};

/// Thrown to leave work whose stop was requested. An outcome of its own, not an error, and so not a
/// std::exception: nothing that reports errors catches it by accident.
struct Cancelled final
{
};

} // namespace retinex
