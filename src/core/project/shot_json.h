#pragma once

#include "core/project/json_reader.h"
#include "core/project/project.h"

/// A shot's part of the project file. For this folder.
namespace retinex::project {

/// `reader` stands at the shot. Fields that are not there keep their value.
void readReading(const Reader& reader, depth::ReadingSettings& reading);
void readLens(const Reader& reader, Settings& settings);
void readTracks(const Reader& reader, Tracks& tracks);
void writeReading(const depth::ReadingSettings& reading, Json& json);
void writeLens(const fs::path& file, const Settings& settings, Json& json);
[[nodiscard]] Json toJson(const Tracks& tracks);

void readShot(const Reader& reader, Shot& shot);
/// Into `json`, which may hold keys of other versions.
void writeShot(const fs::path& file, const Shot& shot, Json& json);

void readSubjects(const Reader& reader, std::vector<timeline::Subject>& subjects);
void writeSubjects(const std::vector<timeline::Subject>& subjects, Json& json);

} // namespace retinex::project
