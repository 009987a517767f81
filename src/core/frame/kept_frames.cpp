#include "core/frame/kept_frames.h"

#include "core/passes/file_state.h"
#include "core/passes/frames/reduction.h"

namespace retinex::frame {

namespace {

constexpr std::size_t kKeptSizes = 4; ///< of one frame
constexpr std::size_t kKeptOthers = 32;

} // namespace

KeptFrames::KeptFrames(const passes::Keeping& keeping)
    : m_budget(keeping.budget), m_stages(m_budget, 0.2 * keeping.share, keeping.least),
      m_reduced(m_budget, 0.1 * keeping.share, kKeptSizes), m_scenes(m_budget, 0.0, 1),
      m_others(m_budget, 0.0, kKeptOthers)
{
}

passes::FramePassesPtr KeptFrames::stage(const std::string& name,
                                         const std::function<passes::FramePassesPtr()>& make)
{
    if (auto found = m_stages.find(name)) return found;
    passes::FramePassesPtr made = make();
    return m_stages.put(name, made, bytesOf(*made));
}

passes::FramePassesPtr KeptFrames::reduced(const passes::FramePassesPtr& full, int divisor)
{
    if (auto found = m_reduced.find({full, divisor})) return found;
    const int step = passes::reductionStep(full->colour().width(), full->colour().height());
    // Whenever one is made of it, that of `step` becomes one of the newest: it stays.
    passes::FramePassesPtr small = divisor > step && divisor % step == 0 && step > 1
                                       ? passes::reduced(*reduced(full, step), divisor / step)
                                       : passes::reduced(*full, divisor);
    m_reduced.removeIf([&](const Size& size) { return size.full != full; });
    return m_reduced.put({full, divisor}, small, bytesOf(*small) + bytesOf(*small->raw));
}

std::shared_ptr<const passes::SceneFile> KeptFrames::scene(const std::filesystem::path& file)
{
    const std::string name = file.string() + '\n' + passes::fileState(file);
    if (auto found = m_scenes.find(name)) return found;
    return m_scenes.put(name, std::make_shared<const passes::SceneFile>(passes::SceneFile::load(file)), 0);
}

std::shared_ptr<const passes::PassSource> KeptFrames::other(const passes::PassChoice& colour,
                                                            const passes::PassChoice& depth,
                                                            const passes::PassOptions& options)
{
    const std::string name = colour.file.string() + '\n' + colour.name + '\n' + depth.file.string() + '\n' +
                             depth.name + '\n' + options.inputSpace + '\n' + passes::fileState(colour.file) +
                             '\n' + passes::fileState(depth.file);
    if (auto found = m_others.find(name)) return found;
    constexpr double share = 0.1;
    return m_others.put(name,
                        std::make_shared<const passes::PassSource>(colour, depth, options,
                                                                   passes::Keeping{m_budget, share, 1}),
                        0);
}

void KeptFrames::forgetFrames()
{
    m_stages.clear();
    m_reduced.clear();
}

} // namespace retinex::frame
