#pragma once

#include "core/image/image.h"
#include "core/passes/sequence.h"

#include <optional>
#include <string>
#include <vector>

/// Matte passes: coverage of an object, from a channel, a file of its own, or an ID matte.
namespace retinex::passes {

/// One matte that a file holds. `name` is a channel ("matte.can"), the only channel or luminance of a file of
/// its own, or "SET/object" of an ID matte ("CryptoObject/can").
struct MatteChoice
{
    std::filesystem::path file;
    std::string name;
    bool atEdges = true;   ///< of an object's outline: edge repair may use it; else it is for regions alone
    std::string unknown{}; ///< what the project's file holds of it that this version does not know, as JSON
    [[nodiscard]] std::string title() const; ///< "can": what to call it on screen
    friend bool operator==(const MatteChoice&, const MatteChoice&) = default;
};

/// The two halves of the name of an ID matte.
struct IdMatteName
{
    std::string set;
    std::string object;
};
/// Nothing of a matte that is a channel or a file of its own.
[[nodiscard]] std::optional<IdMatteName> idMatteName(const MatteChoice& matte);

/// All mattes that a file, or the first one of a pattern, holds by the names of its channels and its ID
/// mattes.
[[nodiscard]] std::vector<MatteChoice> mattesIn(const std::filesystem::path& file);
/// Those, or the only channel or colour layer of a file that holds nothing else. Throws Error naming a file
/// that holds no matte.
[[nodiscard]] std::vector<MatteChoice> requireMattes(const std::filesystem::path& file);

/// Mattes of one file that are channels of it, or its only one, in the order of `names`; as readMatte, but
/// the file is read once.
[[nodiscard]] std::vector<Plane<float>> readChannelMattes(const std::filesystem::path& file,
                                                          const std::vector<std::string>& names);

/// Coverage 0..1 at the size of the file's display window; what is not a number counts as 0. Throws Error
/// naming the file when the matte is not there.
[[nodiscard]] Plane<float> readMatte(const MatteChoice& matte);

} // namespace retinex::passes
