#pragma once

#include "core/delivery/sequence_export.h"
#include "core/project/delivery.h"

#include <optional>

namespace retinex::delivery {

struct DeliveryJob
{
    std::shared_ptr<const project::Project> project; ///< not null
    std::filesystem::path projectFile;               ///< names and places go by it; may be empty
    project::Delivery delivery;
    std::filesystem::path folder;             ///< in place of the delivery's; empty: that
    std::optional<std::vector<int>> frames{}; ///< in place of the delivery's
    Existing existing = Existing::refuse;
    bool resumes =
        false; ///< frames whose files are whole and made from the same are left; others are made anew
    std::string part{}; ///< of several that share a delivery: names its record
};

struct DeliveryReport
{
    std::vector<int> written;
    std::vector<int> kept; ///< were there, made from the same
    std::vector<FrameFailure> failed;
    std::vector<int> doneWithout; ///< frames that others could not look at
    std::filesystem::path record; ///< of the run: what, from what, how long, what failed (JSON)
};

/// Makes a delivery: renders, finishes, converts, writes. A frame that fails is reported and the others go
/// on; of a movie none may fail. Every file is whole or absent. Throws Error before any work where it cannot
/// be right, and Cancelled when stopped.
[[nodiscard]] DeliveryReport deliver(const passes::PassSource& source, const DeliveryJob& job,
                                     const Run& run = {}, const FrameDone& done = {});

/// What would stop it, each a sentence: names, formats, spaces, ffmpeg, the folder, the disk's room.
[[nodiscard]] std::vector<std::string> deliveryProblems(const passes::PassSource& source,
                                                        const DeliveryJob& job);

/// Bytes that a delivery takes at most, by its size and form.
[[nodiscard]] double estimatedBytes(const passes::PassSource& source, const DeliveryJob& job);

} // namespace retinex::delivery
