#pragma once

#include "core/passes/mattes/mattes.h"
#include "core/passes/pass_check.h"
#include "core/passes/pass_roles.h"
#include "core/passes/scene/scene_file.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>

/// What `inspect` and `check` tell of files, as JSON (docs/inspect-json.md) and as lines.
namespace retinex::cli {

using Json = nlohmann::ordered_json;

/// One document on stdout. Names that are no UTF-8 have their bad bytes replaced.
template <class Document>
void printJson(const Document& document)
{
    fmt::print("{}\n", document.dump(2, ' ', false, Document::error_handler_t::replace));
}

struct DepthReport
{
    passes::DepthChannel channel;
    depth::DepthStatistics statistics;
    depth::ReadingProposal proposal;
    depth::DepthRange range; ///< of distances, read as proposed
};

struct FileReport
{
    passes::Sequence files;
    passes::FileInfo info;
    std::vector<passes::ColourLayer> layers;
    std::vector<DepthReport> depths;
    std::vector<passes::MatteChoice> mattes;
    passes::CameraData camera;
    std::vector<passes::Finding> findings;
    std::string inputSpace; ///< "" without colour
};

/// What the window would make of several files.
struct Together
{
    passes::SortedPasses sorted;
    std::optional<passes::PassAnalysis> analysis; ///< nothing without depth
};
/// Throws Error.
[[nodiscard]] Together examineTogether(const std::vector<std::string>& names);
[[nodiscard]] Json toJson(const Together& together);
void print(const Together& together);

/// Reads one file or frame. Throws Error.
[[nodiscard]] FileReport examine(const std::string& name);
[[nodiscard]] Json toJson(const FileReport& report);
[[nodiscard]] Json toJson(const std::vector<passes::Finding>& findings);
[[nodiscard]] Json toJson(const std::string& file, const passes::SceneFile& scene);
void print(const FileReport& report);
void print(const std::vector<passes::Finding>& findings);
void print(const std::string& file, const passes::SceneFile& scene);
/// True for names that end in .gltf or .glb.
[[nodiscard]] bool isSceneName(const std::string& name);

} // namespace retinex::cli
