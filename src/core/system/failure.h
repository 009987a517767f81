#pragma once

#include <exception>
#include <string>

namespace retinex {

/// What to tell of anything that was thrown, by us or by a library: a sentence fit to be shown, never empty.
/// `doing`: what was under way, "Rendering frame 12"; it begins the sentences of unforeseen failures. Must
/// not be given Cancelled, which is no failure.
[[nodiscard]] std::string failureText(const std::exception_ptr& thrown, const std::string& doing);

/// For the start of a program: a write that fails (into a pipe that nobody reads, beyond the limit of a
/// file's size) returns its error and does not end the program.
void letWritesFail() noexcept;

} // namespace retinex
