#pragma once

#include <filesystem>
#include <string>

namespace retinex::passes {

/// A file (a still, any one frame, or a pattern) and the layer or channel in it; an empty name means the one
/// found by its usual names.
struct PassChoice
{
    std::filesystem::path file;
    std::string name;
    friend bool operator==(const PassChoice&, const PassChoice&) = default;
};

} // namespace retinex::passes
