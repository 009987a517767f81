#pragma once

#include "core/project/project.h"

#include <string>

/// Texts that are equal when, and only when, what they are of is: for caches, also those that outlive a run.
/// One for each stage: it has the settings that its stage names, and that of the stage before.
namespace retinex::project {

/// Which passes are read, by name; not what is in their files.
[[nodiscard]] std::string passesFingerprint(const Project& project);
/// How depth is read.
[[nodiscard]] std::string fingerprint(const depth::ReadingSettings& reading);
/// What a frame's distances depend on besides its passes, after regions.
[[nodiscard]] std::string layersFingerprint(const Project& project, int frame);
[[nodiscard]] std::string regionsFingerprint(const Project& project, int frame);
/// What its picture through the lens depends on: the stage before, all settings of the lens at their value
/// there, mattes, and the engine's version.
[[nodiscard]] std::string throughLensFingerprint(const Project& project, int frame);
/// What its finished picture depends on: the stage before, and the finish.
[[nodiscard]] std::string finishFingerprint(const Project& project, int frame);
/// What a subject's samples depend on: its places and how it is measured, the shots, and how depth is read;
/// or of a subject in the scene file the scene. What is in the files counts by their size and time of change.
/// Sixteen hexadecimal digits.
[[nodiscard]] std::string subjectFingerprint(const Project& project, const timeline::Subject& subject,
                                             const passes::PassSource& source);

} // namespace retinex::project
