#pragma once

#include "core/passes/pass_source.h"

namespace retinex::test {

/// Numbers are read as they are, whatever primaries a file lacks: for files of tools that say none.
[[nodiscard]] inline passes::PassOptions asWritten()
{
    passes::PassOptions options;
    options.inputSpace = "scene_linear";
    return options;
}

} // namespace retinex::test
