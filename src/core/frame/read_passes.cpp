#include "core/frame/read_passes.h"

#include "core/frame/depends_on.h"

namespace retinex::frame {

const StageInfo kReadPasses{project::Stage::passes, 1, [](DependsOn& on) { on.passes(on.frame()); }};

passes::RawPassesPtr readPasses(const passes::PassSource& source, int frame, const Run& run)
{
    return source.loadRaw(frame, run);
}

} // namespace retinex::frame
