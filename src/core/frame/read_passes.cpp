// First stage: the passes of a frame as their files have them, made safe (PassSource::loadRaw, which keeps
// them).
#include "core/frame/depends_on.h"

namespace retinex::frame {

const StageInfo kReadPasses{project::Stage::passes, 1, [](DependsOn& on) { on.passes(on.frame()); }};

} // namespace retinex::frame
