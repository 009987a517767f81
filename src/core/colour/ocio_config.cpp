#include "core/colour/ocio_config.h"

#include "core/base/error.h"

#include <cstdlib>
#include <fmt/format.h>
#include <sstream>

namespace retinex::colour {

extern const char* const shippedConfig;

OCIO_NAMESPACE::ConstConfigRcPtr loadConfig()
{
    namespace ocio = OCIO_NAMESPACE;
    const char* studio = std::getenv("OCIO");
    try {
        if (studio && *studio) return ocio::Config::CreateFromEnv();
        std::istringstream stream(shippedConfig);
        return ocio::Config::CreateFromStream(stream);
    } catch (const ocio::Exception& cause) {
        throw Error(
            fmt::format("{}: the colour configuration named by the OCIO variable cannot be used. Correct it, "
                        "or unset OCIO to use the one that comes with the program.",
                        studio ? studio : "config.ocio"),
            cause.what());
    }
}

} // namespace retinex::colour
