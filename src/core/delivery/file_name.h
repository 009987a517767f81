#pragma once

#include "core/project/delivery.h"
#include "core/project/project.h"

#include <filesystem>
#include <optional>

namespace retinex::delivery {

/// ".exr", ".png", ".mkv", ...
[[nodiscard]] std::string endingOf(project::FileKind file);

/// The kind of picture that a name's ending asks for, in any case of letters; nothing where it asks for none.
/// Throws Error where it asks for a kind that is not written, or that is a movie.
[[nodiscard]] std::optional<project::FileKind> pictureKindOf(const std::filesystem::path& name);

/// The names of a delivery's files. Of its template {project} is the project file's name, {shot} that of the
/// frame's shot, {delivery} its own, {eye} that of a
/// stereo render, {frame} or {frame:4} the frame (of so many digits), {date} today's as
/// 2026-01-31. What has no place in a name becomes "_".
class FileNames
{
public:
    /// `projectFile` may be empty: the project is called "untitled". Throws Error naming a word of the
    /// template that is not known, or where the template has no {frame} although each frame is a file.
    FileNames(const project::Project& project, const std::filesystem::path& projectFile,
              const project::Delivery& delivery, const std::filesystem::path& folder = {});

    [[nodiscard]] const std::filesystem::path& folder() const noexcept { return m_folder; }
    /// Of a movie without a frame.
    [[nodiscard]] std::filesystem::path of(int frame) const;
    [[nodiscard]] std::filesystem::path movie() const { return of(m_project.firstFrame); }

private:
    const project::Project& m_project;
    std::string m_projectName;
    project::Delivery m_delivery;
    std::filesystem::path m_folder;
    std::string m_date;
};

} // namespace retinex::delivery
