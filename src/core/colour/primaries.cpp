#include "core/colour/primaries.h"

#include "core/colour/input_space.h"
#include "core/colour/ocio_config.h"
#include "core/colour/own_primaries.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <mutex>
#include <sstream>

namespace retinex::colour {

namespace {

namespace ocio = OCIO_NAMESPACE;

constexpr std::string_view kOwn = "primaries ";

/// SMPTE ST 2065-1 (AP0), S-2014-004 (AP1), SMPTE EG 432-1 (P3 with D65), Rec. ITU-R BT.2020-2, SMPTE RP
/// 431-2.
constexpr std::array<Primaries, 6> kKnown{
    kRec709,
    Primaries{0.7347F, 0.2653F, 0.0F, 1.0F, 0.0001F, -0.077F, 0.32168F, 0.33767F},
    Primaries{0.713F, 0.293F, 0.165F, 0.830F, 0.128F, 0.044F, 0.32168F, 0.33767F},
    Primaries{0.680F, 0.320F, 0.265F, 0.690F, 0.150F, 0.060F, 0.3127F, 0.3290F},
    Primaries{0.708F, 0.292F, 0.170F, 0.797F, 0.131F, 0.046F, 0.3127F, 0.3290F},
    Primaries{0.680F, 0.320F, 0.265F, 0.690F, 0.150F, 0.060F, 0.314F, 0.351F}};
constexpr std::size_t kAp0 = 1;

Matrix toAp0(const Primaries& p)
{
    const Primaries& ap0 = kKnown[kAp0];
    return inverse(toXyz(ap0)) * adaptation(whiteOf(p), whiteOf(ap0)) * toXyz(p);
}

/// Where red, green and blue of a space lie in ACES2065-1; nothing where the configuration does not tell.
std::optional<Matrix> toAp0(const ocio::ConstConfigRcPtr& config, const std::string& space)
{
    try {
        const auto processor = config->getProcessor(space.c_str(), "aces_interchange")
                                   ->getOptimizedCPUProcessor(ocio::OPTIMIZATION_LOSSLESS);
        Matrix m{};
        for (std::size_t c = 0; c < 3; ++c) {
            float rgb[3] = {0.0F, 0.0F, 0.0F};
            rgb[c] = 1.0F;
            processor->applyRGB(rgb);
            for (std::size_t row = 0; row < 3; ++row)
                m[row][c] = static_cast<double>(rgb[row]);
        }
        return m;
    } catch (const ocio::Exception&) {
        return std::nullopt;
    }
}

/// A colour of 0.18 and one of 0.5 stand as they would in light.
bool isLinear(const ocio::ConstConfigRcPtr& config, const std::string& space)
{
    const auto processor = config->getProcessor(space.c_str(), "aces_interchange")->getDefaultCPUProcessor();
    float low[3] = {0.18F, 0.18F, 0.18F};
    float high[3] = {1.0F, 1.0F, 1.0F};
    processor->applyRGB(low);
    processor->applyRGB(high);
    return std::abs(low[1] - 0.18F * high[1]) < 1e-3F && high[1] > 0.1F;
}

bool isAlike(const Matrix& a, const Matrix& b)
{
    constexpr double kAlike = 2e-3; // primaries are written with three or four digits
    for (std::size_t row = 0; row < 3; ++row)
        for (std::size_t c = 0; c < 3; ++c)
            if (std::abs(a[row][c] - b[row][c]) > kAlike) return false;
    return true;
}

bool isData(const ocio::ConstConfigRcPtr& config, const std::string& name)
{
    const auto space = config->getColorSpace(name.c_str());
    return !space || space->isData();
}

std::string found(const Primaries& primaries)
{
    const auto config = loadConfig();
    if (!config->hasRole("aces_interchange")) return {};
    const Matrix wanted = toAp0(primaries);
    for (const std::string& name : inputSpaces()) {
        if (isData(config, name)) continue;
        const auto matrix = toAp0(config, name);
        if (matrix && isAlike(*matrix, wanted) && isLinear(config, name)) return name;
    }
    std::string own(kOwn);
    for (std::size_t i = 0; i < primaries.size(); ++i)
        own += fmt::format("{}{:.6g}", i > 0 ? " " : "", primaries[i]);
    return own;
}

} // namespace

std::optional<Primaries> ownPrimaries(const std::string& space)
{
    if (!space.starts_with(kOwn)) return std::nullopt;
    std::istringstream in(space.substr(kOwn.size()));
    Primaries primaries{};
    for (float& value : primaries)
        if (!(in >> value)) return std::nullopt;
    return primaries;
}

ocio::ConstTransformRcPtr fromOwnPrimaries(const Primaries& primaries)
{
    const Matrix m = toAp0(primaries);
    double m44[16] = {};
    for (std::size_t row = 0; row < 3; ++row)
        for (std::size_t c = 0; c < 3; ++c)
            m44[4 * row + c] = m[row][c];
    m44[15] = 1.0;
    const auto matrix = ocio::MatrixTransform::Create();
    matrix->setMatrix(m44);
    const auto on = ocio::ColorSpaceTransform::Create();
    on->setSrc("aces_interchange");
    on->setDst(ocio::ROLE_SCENE_LINEAR);
    const auto group = ocio::GroupTransform::Create();
    group->appendTransform(matrix);
    group->appendTransform(on);
    return group;
}

std::string linearSpaceWith(const Primaries& primaries)
{
    static std::mutex mutex;
    static std::map<std::pair<const void*, Primaries>, std::string> kept; // by the configuration
    const std::lock_guard lock(mutex);
    const auto key = std::pair(static_cast<const void*>(loadConfig().get()), primaries);
    const auto at = kept.find(key);
    return at != kept.end() ? at->second : kept.emplace(key, found(primaries)).first->second;
}

std::optional<Primaries> primariesOf(const std::string& space)
{
    if (const auto own = ownPrimaries(space)) return own;
    const auto config = loadConfig();
    if (!config->hasRole("aces_interchange")) return std::nullopt;
    const std::string name = space.empty() ? ocio::ROLE_SCENE_LINEAR : space;
    if (isData(config, name)) return std::nullopt;
    const auto matrix = toAp0(config, name);
    if (!matrix) return std::nullopt;
    // Curves for a screen leave black and white where they are; of others the primaries cannot be told so.
    if (std::abs((*matrix * Vector{1.0, 1.0, 1.0})[1] - 1.0) > 0.02) return std::nullopt;
    for (const Primaries& known : kKnown)
        if (isAlike(*matrix, toAp0(known))) return known;
    const Matrix xyz = toXyz(kKnown[kAp0]) * *matrix;
    Primaries primaries{};
    for (std::size_t c = 0; c < 4; ++c) {
        const Vector rgb{c == 0 || c == 3 ? 1.0 : 0.0, c == 1 || c == 3 ? 1.0 : 0.0,
                         c == 2 || c == 3 ? 1.0 : 0.0};
        const Vector seen = xyz * rgb;
        const double sum = seen[0] + seen[1] + seen[2];
        if (!(sum > 0.0)) return std::nullopt;
        primaries[2 * c] = static_cast<float>(seen[0] / sum);
        primaries[2 * c + 1] = static_cast<float>(seen[1] / sum);
    }
    return primaries;
}

std::string spaceByFileRules(const std::filesystem::path& file)
{
    const auto config = loadConfig();
    if (config->filepathOnlyMatchesDefaultRule(file.string().c_str())) return {};
    return config->getColorSpaceFromFilepath(file.string().c_str());
}

} // namespace retinex::colour
