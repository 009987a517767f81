#include "core/passes/picture_write.h"

#include "core/passes/format_module.h"
#include "core/system/atomic_file.h"

namespace retinex::passes {

void writePicture(const std::filesystem::path& file, const PictureOutput& output)
{
    writeFileAtomically(file, formatModule().encoded(file, output));
}

} // namespace retinex::passes
