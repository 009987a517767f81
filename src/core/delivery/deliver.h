#pragma once

#include "core/passes/pass_source.h"
#include "core/project/delivery.h"
#include "core/project/project.h"

#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace retinex::delivery {

/// What becomes of frames that are there already.
enum class Existing {
    refuse,    ///< an error before any work that lists them
    overwrite, ///< they are written anew
    keep       ///< they stay: only those that are missing are made
};

struct DeliveryJob
{
    std::shared_ptr<const project::Project> project; ///< not null
    std::filesystem::path projectFile{};             ///< names and places go by it; may be empty
    project::Delivery delivery{};
    std::filesystem::path folder{};           ///< in place of the delivery's; empty: that
    std::optional<std::vector<int>> frames{}; ///< in place of the delivery's
    Existing existing = Existing::refuse;
    bool resumes =
        false; ///< frames whose files are whole and made from the same are left; others are made anew
    std::string part{}; ///< of several that share a delivery: names its record
    /// One name, or with "####" a pattern, in place of folder and file name of the delivery; empty: these.
    std::filesystem::path target{};
    bool isNoted = true; ///< what files were made from is noted beside them, for those who resume
};

struct FrameFailure
{
    int frame = 0;
    std::string message;
};

struct DeliveryReport
{
    std::vector<int> written;
    std::vector<int> kept; ///< were there, made from the same
    std::vector<FrameFailure> failed;
    std::vector<int> unreadable; ///< frames that others could not look at
    std::filesystem::path
        record; ///< of the run: what, from what, how long, what failed (JSON); empty where its folder is gone
};

/// Called when a frame has been written (`failure` empty) or has failed.
using FrameDone =
    std::function<void(int frame, const std::filesystem::path& file, const std::string& failure)>;

/// The usual form, of those who ask for none: EXR with R, G, B, A in the colour pass's sample type, its
/// attributes, and the standard `focus` and `aperture`.
[[nodiscard]] project::Delivery usualForm(const passes::PassSource& source);
/// Frames in the usual form, or in the one that the target's ending asks for: PNG and JPEG of 8 bits, TIFF of
/// 16, for a screen. Throws Error as pictureKindOf() does.
[[nodiscard]] DeliveryJob usualJob(const passes::PassSource& source,
                                   std::shared_ptr<const project::Project> project, std::vector<int> frames,
                                   std::filesystem::path target, Existing existing = Existing::refuse);

/// The frames of a job, and those whose files are there already.
[[nodiscard]] std::vector<int> framesOf(const DeliveryJob& job);
[[nodiscard]] std::vector<int> existingFrames(const DeliveryJob& job);

/// Makes a delivery: renders, finishes, converts, writes. A frame that fails is reported and the others go
/// on; of a movie none may fail. Every file is whole or absent. Throws Error before any work where it cannot
/// be right, and Cancelled when stopped.
[[nodiscard]] DeliveryReport deliver(const passes::PassSource& source, const DeliveryJob& job,
                                     const Run& run = {}, const FrameDone& done = {});

/// What would stop it, each a sentence: names, formats, spaces, ffmpeg, the folder, the disk's room.
[[nodiscard]] std::vector<std::string> deliveryProblems(const passes::PassSource& source,
                                                        const DeliveryJob& job);

/// A job for each of several deliveries. `folder` is that given for all of them, or empty: one delivery goes
/// into it, several each into a folder of its name there.
[[nodiscard]] std::vector<DeliveryJob> jobsOf(const std::shared_ptr<const project::Project>& project,
                                              const std::filesystem::path& projectFile,
                                              const std::vector<project::Delivery>& deliveries,
                                              const std::filesystem::path& folder);

/// "" or a sentence naming a file that two of several jobs would write.
[[nodiscard]] std::string sharedTarget(const std::vector<DeliveryJob>& jobs);

/// The same of several that are made one after the other: of each, and files that two of them would write.
[[nodiscard]] std::vector<std::string> deliveryProblems(const passes::PassSource& source,
                                                        const std::vector<DeliveryJob>& jobs);

/// Bytes that a delivery takes at most, by its size and form.
[[nodiscard]] double estimatedBytes(const passes::PassSource& source, const DeliveryJob& job);

} // namespace retinex::delivery
