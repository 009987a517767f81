#include "core/finish/colour_steps.h"

#include "core/colour/input_space.h"
#include "core/colour/ocio_config.h"
#include "core/finish/grade_tables.h"
#include "core/finish/table_check.h"
#include "core/passes/file_state.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <list>
#include <map>
#include <mutex>
#include <optional>

namespace retinex::finish {

namespace {

namespace ocio = OCIO_NAMESPACE;
namespace fs = std::filesystem;

constexpr std::uintmax_t kLargestLook = 256U << 20U; ///< bytes; a table of 129^3 as text has some 60 MB
constexpr std::size_t kKept = 8;

/// A piece of the way: into the space it works in, itself, and back. Where it is all of it, the outer two are
/// null.
struct Link
{
    ocio::ConstCPUProcessorRcPtr into;
    ocio::ConstCPUProcessorRcPtr itself;
    ocio::ConstCPUProcessorRcPtr back;
    float strength = 1.0F;
};

/// A configuration keeps processors by the names of their files, whatever is in these now: one that keeps
/// none.
ocio::ConstConfigRcPtr forgetfulConfig()
{
    static std::mutex mutex;
    static ocio::ConstConfigRcPtr of;
    static ocio::ConstConfigRcPtr copy;
    const std::lock_guard lock(mutex);
    const auto config = colour::loadConfig();
    if (config != of) {
        const auto made = config->createEditableCopy();
        made->setProcessorCacheFlags(ocio::PROCESSOR_CACHE_OFF);
        of = config;
        copy = made;
    }
    return copy;
}

ocio::ConstCPUProcessorRcPtr made(const ocio::ConstConfigRcPtr& config,
                                  const ocio::ConstTransformRcPtr& transform, Quality quality)
{
    return config->getProcessor(transform)->getOptimizedCPUProcessor(
        ocio::BIT_DEPTH_F32, ocio::BIT_DEPTH_F32,
        quality == Quality::exact ? ocio::OPTIMIZATION_LOSSLESS : ocio::OPTIMIZATION_GOOD);
}

ocio::ConstTransformRcPtr between(const std::string& from, const std::string& to)
{
    auto transform = ocio::ColorSpaceTransform::Create();
    transform->setSrc(from.c_str());
    transform->setDst(to.c_str());
    return transform;
}

Link fileLink(const ocio::ConstConfigRcPtr& config, const Look& look, Quality quality)
{
    std::error_code code;
    const auto size = fs::file_size(look.file, code);
    if (code)
        throw Error(
            say("The look file {} is not there or cannot be read. Choose another one in Finish.", look.file),
            code.message());
    if (size > kLargestLook)
        throw Error(say("The look file {} has {} MB; {} at most are read. Choose a smaller table.", look.file,
                        size >> 20U, kLargestLook >> 20U));
    if (!look.space.empty() && !config->getColorSpace(look.space.c_str()))
        throw Error(
            say("The colour configuration has no space \"{}\", which the look {} is to work in; it has {}.",
                look.space, look.file, fmt::join(colour::inputSpaces(), ", ")));
    checkTable(look.file);
    Link link;
    link.strength = static_cast<float>(look.strength);
    try {
        auto file = ocio::FileTransform::Create();
        // Else it would be searched for in the configuration's folder.
        file->setSrc(fs::absolute(look.file).c_str());
        file->setInterpolation(ocio::INTERP_BEST);
        link.itself = made(config, file, quality);
        if (!colour::isSceneLinear(look.space)) {
            link.into = made(config, between(ocio::ROLE_SCENE_LINEAR, look.space), quality);
            link.back = made(config, between(look.space, ocio::ROLE_SCENE_LINEAR), quality);
        }
    } catch (const ocio::Exception& cause) {
        throw Error(
            say("The look file {} cannot be read: it is damaged, or no format that OpenColorIO knows. "
                "Choose another one in Finish.",
                look.file),
            cause.what());
    }
    // Whatever its format, it makes numbers of numbers.
    for (const float level : {0.0F, 0.18F, 0.5F, 1.0F}) {
        std::array<float, 3> rgb{level, level, level};
        link.itself->applyRGB(rgb.data());
        if (!std::ranges::all_of(rgb, [](float v) { return std::isfinite(v); }))
            throw Error(say(
                "The look file {} makes no number of {:g}. Write it again, or choose another one in Finish.",
                look.file, level));
    }
    return link;
}

Link namedLink(const ocio::ConstConfigRcPtr& config, const Look& look, Quality quality)
{
    if (!config->getLook(look.look.c_str()))
        throw Error(
            say("The colour configuration has no look \"{}\". Choose another one in Finish, or set the "
                "environment variable OCIO to the configuration that has it.",
                look.look));
    try {
        auto transform = ocio::LookTransform::Create();
        transform->setSrc(ocio::ROLE_SCENE_LINEAR);
        transform->setDst(ocio::ROLE_SCENE_LINEAR);
        transform->setLooks(look.look.c_str());
        return {nullptr, made(config, transform, quality), nullptr, static_cast<float>(look.strength)};
    } catch (const ocio::Exception& cause) {
        throw Error(say("The look \"{}\" of the colour configuration cannot be used. Choose another one in "
                        "Finish.",
                        look.look),
                    cause.what());
    }
}

std::string textOf(const Steps& steps, Quality quality)
{
    const Grade& g = steps.finish.grade;
    std::string text = std::to_string(static_cast<int>(quality));
    if (steps.hasGrade()) {
        text += fmt::format("{} {} {} {} {} {} ", g.exposureStops, g.white.temperatureK, g.white.tint,
                            g.contrast, g.pivot, g.saturation);
        for (const Tones* tones : {&g.shadows, &g.midtones, &g.highlights})
            text += fmt::format("{} ", fmt::join(*tones, ","));
        for (const Curve* curve : {&g.curve, &g.redCurve, &g.greenCurve, &g.blueCurve}) {
            for (const auto& [in, out] : *curve)
                text += fmt::format("{}>{} ", in, out);
            text += '/';
        }
        text += fmt::format("{} {} {} {} {} ", fmt::join(g.cdl.slope, ","), fmt::join(g.cdl.offset, ","),
                            fmt::join(g.cdl.power, ","), g.cdl.saturation, static_cast<int>(g.cdl.scale));
    }
    if (steps.hasLook())
        for (const Look& look : steps.looks)
            if (isUsed(look))
                text += fmt::format("\n{} {} {} {} {}", look.file, passes::fileState(look.file),
                                    look.file.empty() ? look.look : std::string(), look.space, look.strength);
    return text;
}

/// What OpenColorIO keeps of look files it keeps by name: when one has changed, all of it goes.
void forgetChangedFiles(const Steps& steps)
{
    static std::mutex mutex;
    static std::map<std::string, std::string> states;
    const std::lock_guard lock(mutex);
    for (const Look& look : steps.looks) {
        if (look.file.empty()) continue;
        const std::string now = passes::fileState(look.file);
        const auto [known, isNew] = states.try_emplace(look.file, now);
        if (isNew || known->second == now) continue;
        known->second = now;
        ocio::ClearAllCaches();
    }
}

} // namespace

struct ColourSteps::Impl
{
    std::optional<GradeTables> grade;
    std::vector<Link> links;
    std::array<float, 3> ofBlack{};

    /// Planes of `count` pixels.
    void run(float* red, float* green, float* blue, long count) const
    {
        if (grade) grade->apply(red, green, blue, count);
        std::vector<float> before;
        for (const Link& link : links) {
            const auto through = [&](const ocio::ConstCPUProcessorRcPtr& processor) {
                if (!processor || processor->isNoOp()) return;
                ocio::PlanarImageDesc pixels(red, green, blue, nullptr, count, 1);
                processor->apply(pixels);
            };
            through(link.into);
            if (link.strength != 1.0F) {
                before.assign(red, red + count);
                before.insert(before.end(), green, green + count);
                before.insert(before.end(), blue, blue + count);
            }
            through(link.itself);
            if (link.strength != 1.0F) {
                const float* was = before.data();
                for (float* plane : {red, green, blue})
                    for (long i = 0; i < count; ++i, ++was)
                        plane[i] = *was + link.strength * (plane[i] - *was);
            }
            through(link.back);
        }
    }
};

ColourSteps::ColourSteps() : m_impl(std::make_unique<Impl>()) {}
ColourSteps::~ColourSteps() = default;

std::shared_ptr<const ColourSteps> ColourSteps::make(const Steps& steps, Quality quality)
{
    static std::mutex mutex;
    static std::list<std::pair<std::string, std::shared_ptr<const ColourSteps>>> kept;
    const std::string text = textOf(steps, quality);
    {
        const std::lock_guard lock(mutex);
        for (auto it = kept.begin(); it != kept.end(); ++it)
            if (it->first == text) {
                kept.splice(kept.begin(), kept, it);
                return kept.front().second;
            }
    }
    forgetChangedFiles(steps);
    const auto config = forgetfulConfig();
    auto result = std::make_shared<ColourSteps>();
    if (steps.hasGrade()) {
        checkCurves(steps.finish.grade);
        try {
            result->m_impl->grade.emplace(steps.finish.grade);
        } catch (const ocio::Exception& cause) {
            throw Error(say("The grade cannot be made. Set it back step by step in Finish."), cause.what());
        }
    }
    if (steps.hasLook())
        for (const Look& look : steps.looks)
            if (isUsed(look))
                result->m_impl->links.push_back(look.file.empty() ? namedLink(config, look, quality)
                                                                  : fileLink(config, look, quality));
    result->m_impl->ofBlack = result->applied({});
    const std::lock_guard lock(mutex);
    kept.emplace_front(text, result);
    if (kept.size() > kKept) kept.pop_back();
    return result;
}

std::array<float, 3> ColourSteps::applied(const std::array<float, 3>& rgb) const
{
    std::array<float, 3> result = rgb;
    m_impl->run(&result[0], &result[1], &result[2], 1);
    return result;
}

void ColourSteps::apply(Canvas& canvas, const Run& run) const
{
    if (!m_impl->grade && m_impl->links.empty()) return;
    constexpr float kOpen = 1e-4F; // from here on alpha is divided by
    const long width = canvas.image.width();
    parallelFor(canvas.image.height(), run, [&](int y) {
        const float* alpha = canvas.image.plane(3).row(y);
        const std::array<float*, 3> rows{canvas.image.plane(0).row(y), canvas.image.plane(1).row(y),
                                         canvas.image.plane(2).row(y)};
        const bool isOpaque = std::all_of(alpha, alpha + width, [](float a) { return a == 1.0F; });
        if (!isOpaque)
            for (float* row : rows)
                for (long x = 0; x < width; ++x)
                    if (alpha[x] > kOpen) row[x] /= alpha[x];
        m_impl->run(rows[0], rows[1], rows[2], width);
        if (isOpaque) return;
        for (std::size_t c = 0; c < 3; ++c)
            for (long x = 0; x < width; ++x)
                rows[c][x] = alpha[x] > kOpen ? rows[c][x] * alpha[x] : rows[c][x] - m_impl->ofBlack[c];
    });
}

std::vector<std::string> namedLooks()
{
    const auto config = colour::loadConfig();
    std::vector<std::string> names;
    for (int i = 0; i < config->getNumLooks(); ++i)
        names.emplace_back(config->getLookNameByIndex(i));
    return names;
}

std::vector<std::string> lookEndings()
{
    std::vector<std::string> endings;
    for (int i = 0; i < ocio::FileTransform::GetNumFormats(); ++i) {
        const std::string ending = std::string(".") + ocio::FileTransform::GetFormatExtensionByIndex(i);
        if (std::ranges::find(endings, ending) == endings.end()) endings.push_back(ending);
    }
    return endings;
}

namespace {

void applyColours(Canvas& canvas, const Steps& steps, const Sources& sources, const Run& run)
{
    ColourSteps::make(steps, sources.quality)->apply(canvas, run);
    makeFinite(canvas.image, run); // a table may make anything
}

} // namespace

const Step kGrade{"grade", "Grade", "Of the picture itself; the view above it is for this screen alone.",
                  [](const Steps& steps) { return steps.hasGrade(); }, applyColours};

const Step kLook{"look", "Look", "Look-up tables from files.",
                 [](const Steps& steps) { return steps.hasLook(); },
                 [](Canvas& canvas, const Steps& steps, const Sources& sources, const Run& run) {
                     if (!steps.hasGrade()) applyColours(canvas, steps, sources, run);
                 }};

} // namespace retinex::finish
