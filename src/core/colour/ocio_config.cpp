#include "core/colour/ocio_config.h"

#include "core/colour/input_space.h"
#include "core/system/error.h"
#include "core/system/file_state.h"
#include "core/system/say.h"

#include <cstdlib>
#include <fmt/format.h>
#include <map>
#include <mutex>
#include <sstream>

namespace retinex::colour {

extern const char* const shippedConfig;

namespace {

OCIO_NAMESPACE::ConstConfigRcPtr parse(const char* studio)
{
    namespace ocio = OCIO_NAMESPACE;
    try {
        if (studio && *studio) return ocio::Config::CreateFromFile(studio);
        std::istringstream stream(shippedConfig);
        return ocio::Config::CreateFromStream(stream);
    } catch (const ocio::Exception& cause) {
        throw Error(say("{}: the colour configuration named by the OCIO variable cannot be used. Correct it, "
                        "or unset OCIO to use the one that comes with the program.",
                        studio ? studio : "config.ocio"),
                    cause.what());
    }
}

} // namespace

OCIO_NAMESPACE::ConstConfigRcPtr loadConfig()
{
    // Parsed once for each state of its file: configurations are large, and frames many.
    static std::mutex mutex;
    static std::map<std::string, OCIO_NAMESPACE::ConstConfigRcPtr> parsed;
    const char* studio = std::getenv("OCIO");
    const std::lock_guard lock(mutex);
    auto& config = parsed[studio ? studio + ('\n' + fileState(studio)) : std::string()];
    if (!config) config = parse(studio);
    return config;
}

std::string configurationState()
{
    return loadConfig()->getCacheID();
}

} // namespace retinex::colour
