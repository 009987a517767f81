#pragma once

#include "core/image/object_shares.h"
#include "core/passes/frames/fit_size.h"
#include "core/passes/mattes/mattes.h"

namespace retinex::passes {

/// What all of these mattes say of a frame, as objects of each pixel; each is an object of its own. ID mattes
/// of one set are read together. A sequence that lacks the frame gives its nearest one where `isHeld`, else
/// an Error naming it. Mattes of another size are brought to `width` x `height` by `fit`. `colour` is the
/// colour pass (see Sequence::findBeside). Throws Error as readMatte does.
[[nodiscard]] ObjectShares readMatteObjects(const std::vector<MatteChoice>& mattes, int frame, bool isHeld,
                                            int width, int height, SizeFit fit,
                                            const Sequence& colour = Sequence::absent({}));

} // namespace retinex::passes
