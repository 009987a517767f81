#pragma once

#include "core/project/project.h"

#include <string>

/// Texts that are equal when, and only when, what they are of is: for caches that outlive a run.
namespace retinex::project {

/// How depth is read.
[[nodiscard]] std::string fingerprint(const depth::ReadingSettings& reading);
/// Which passes are read, by name; not what is in their files.
[[nodiscard]] std::string passesFingerprint(const Project& project);
/// What a frame's picture through the lens depends on besides its passes: how depth is read, and all settings
/// at their value there.
[[nodiscard]] std::string frameFingerprint(const Project& project, int frame);
/// What a subject's samples depend on: its places and how it is measured, the shots, and how depth is read;
/// or of a subject in the scene file the scene. Sixteen hexadecimal digits.
[[nodiscard]] std::string subjectFingerprint(const Project& project, const timeline::Subject& subject);

} // namespace retinex::project
