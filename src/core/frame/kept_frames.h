#pragma once

#include "core/passes/pass_source.h"
#include "core/passes/scene/scene_file.h"

#include <functional>
#include <string>

namespace retinex::frame {

/// What the stages keep of what they make of a source's frames, in its memory budget. Thread-safe.
class KeptFrames final : public passes::KeptOfFrames
{
public:
    explicit KeptFrames(const passes::Keeping& keeping);
    [[nodiscard]] static KeptFrames& of(const passes::PassSource& source)
    {
        return source.kept<KeptFrames>();
    }

    /// What `make` makes, kept under a name that says all it depends on.
    [[nodiscard]] passes::FramePassesPtr stage(const std::string& name,
                                               const std::function<passes::FramePassesPtr()>& make);
    /// Passes at 1/divisor of the size (see passes::reduced), for settings that change quickly; of one frame.
    [[nodiscard]] passes::FramePassesPtr reduced(const passes::FramePassesPtr& full, int divisor);
    /// A scene file as it is now. Throws Error as SceneFile::load does.
    [[nodiscard]] std::shared_ptr<const passes::SceneFile> scene(const std::filesystem::path& file);
    /// Another source in the same budget. Throws Error as the constructor of PassSource does.
    [[nodiscard]] std::shared_ptr<const passes::PassSource> other(const passes::PassChoice& colour,
                                                                  const passes::PassChoice& depth,
                                                                  const passes::PassOptions& options);

    void forgetFrames() override;

private:
    struct Size
    {
        passes::FramePassesPtr full;
        int divisor;
        bool operator==(const Size&) const = default;
    };

    MemoryBudgetPtr m_budget;
    KeptValues<std::string, passes::FramePasses> m_stages;
    KeptValues<Size, passes::FramePasses> m_reduced;
    KeptValues<std::string, passes::SceneFile> m_scenes;
    KeptValues<std::string, passes::PassSource> m_others;
};

} // namespace retinex::frame
