#include "core/project/file/json_reader.h"

namespace retinex::project {

namespace {

void merge(Json& json, const Json& unknown)
{
    for (const auto& [key, value] : unknown.items()) {
        const auto found = json.find(key);
        if (found == json.end())
            json[key] = value;
        else if (found->is_object() && value.is_object())
            merge(*found, value);
    }
}

} // namespace

void addUnknown(Json& json, const std::string& unknown)
{
    if (unknown.empty()) return;
    const Json kept = Json::parse(unknown, nullptr, false); // our own: written by Reader::unknown()
    if (kept.is_object()) merge(json, kept);
}

std::string relativePath(const fs::path& path, const fs::path& file)
{
    if (path.empty() || file.empty()) return path.string();
    const fs::path folder = fs::absolute(file).parent_path();
    const fs::path relative =
        fs::absolute(path).lexically_normal().lexically_relative(folder.lexically_normal());
    return relative.empty() ? path.string() : relative.string();
}

} // namespace retinex::project
