#pragma once

#include "core/passes/exr/exr_file.h"

#include <cstdint>
#include <map>
#include <string>
#include <vector>

/// ID mattes of the open Cryptomatte specification (version 1.2): ranks of (id, coverage) pairs in float
/// channels, and a manifest of names in the header. The names of attributes and channels are the
/// specification's.
namespace retinex::passes {

/// One set of ID mattes: all objects, or all materials, ...
struct IdMatteSet
{
    int part = 0;
    std::string layer;                             ///< "CryptoObject"
    std::vector<std::string> channels;             ///< id, coverage, id, coverage, ... in order of rank
    std::map<std::string, std::uint32_t> manifest; ///< names and their ids; may be empty

    /// Of an object; one that the manifest does not have is told by its name alone.
    [[nodiscard]] std::uint32_t idOf(const std::string& object) const;
};

/// All sets of a file, with a manifest from the header or from a file beside it. A damaged manifest is
/// treated as none. Throws Error as inspectExr does.
[[nodiscard]] std::vector<IdMatteSet> idMatteSets(const std::filesystem::path& file);

/// The set of that name. Throws Error naming the file when it has none.
[[nodiscard]] IdMatteSet idMatteSet(const std::filesystem::path& file, const std::string& layer);

/// The id of a name: MurmurHash3_x86_32 (Appleby, public domain) of its UTF-8 bytes with seed 0, with one
/// exponent bit turned where the bits would be no normal float.
[[nodiscard]] std::uint32_t idOfName(std::string_view name) noexcept;
[[nodiscard]] std::uint32_t murmurHash3(std::string_view bytes, std::uint32_t seed = 0) noexcept;

/// Coverage of one object, 0..1, the size of the display window: the sum over the ranks that bear its id.
[[nodiscard]] Plane<float> idMatte(const std::filesystem::path& file, const IdMatteSet& set,
                                   std::uint32_t id);

} // namespace retinex::passes
