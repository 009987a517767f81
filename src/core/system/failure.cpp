#include "core/system/failure.h"

#include "core/system/error.h"
#include "core/system/say.h"

#include <csignal>
#include <filesystem>
#include <fmt/format.h>
#include <new>
#include <system_error>

namespace retinex {

std::string failureText(const std::exception_ptr& thrown, const std::string& doing)
{
    const auto unexpected = [&](const std::exception& error) {
        return say("{} failed unexpectedly ({}). Try again; if it stays, please report it.", doing,
                   error.what());
    };
    try {
        std::rethrow_exception(thrown);
    } catch (const Error& error) {
        return error.what();
    } catch (const std::bad_alloc&) {
        return say("{} needs more memory than there is. Close other programs, or work on a smaller "
                   "picture.",
                   doing);
    } catch (const std::filesystem::filesystem_error& error) {
        return say("{}: {} stopped here ({}). Check that it is there and may be used.",
                   error.path1().string(), doing, error.code().message());
    } catch (const std::system_error& error) {
        if (error.code() != std::errc::resource_unavailable_try_again) return unexpected(error);
        return say(
            "{} needs more threads or memory than the system gives. Close other programs, or raise the "
            "limits (ulimit -u, ulimit -v).",
            doing);
    } catch (const std::exception& error) {
        return unexpected(error);
    } catch (...) {
        return say("{} failed for a reason that is not known. Try again; if it stays, please report "
                   "it.",
                   doing);
    }
}

void letWritesFail() noexcept
{
    std::signal(SIGPIPE, SIG_IGN);
    std::signal(SIGXFSZ, SIG_IGN);
}

} // namespace retinex
