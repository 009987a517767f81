#pragma once

namespace retinex::cli {

/// The whole of retinex-cli: parses, does what is asked for, and returns the exit code (0 done, 1 something
/// failed, 2 wrong usage). Throws nothing.
int run(int argc, const char* const* argv);

} // namespace retinex::cli
