#include "core/frame/through_lens.h"

#include "core/defocus/engine_version.h"
#include "core/defocus/part.h"
#include "core/frame/depends_on.h"
#include "core/frame/make_lens_input.h"
#include "core/image/reduced.h"
#include "core/system/hash.h"

#include <algorithm>
#include <fmt/format.h>

namespace retinex::frame {

namespace {

/// In all that goes through the lens; empty: all of it.
PixelBox partOfAll(const passes::RawPasses& raw, const PixelBox& part)
{
    if (part.empty()) return raw.hasOverscan() ? raw.frame : part;
    return PixelBox::at(part.minX + raw.frame.minX, part.minY + raw.frame.minY, part.width(), part.height());
}

std::string nameOf(const std::string& lens, int divisor, const PixelBox& part)
{
    return fmt::format("{} {} {} {} {}\n", divisor, part.minX, part.minY, part.maxX, part.maxY) + lens;
}

/// A part of a picture of the whole frame, or all of it made smaller.
RgbaImage takenFrom(const RgbaImage& whole, int divisor, const PixelBox& part)
{
    RgbaImage taken = divisor > 1 ? RgbaImage() : RgbaImage(part.width(), part.height());
    for (int c = 0; c < RgbaImage::channels; ++c) {
        if (divisor > 1) {
            taken.plane(c) = averaged(whole.plane(c), divisor);
            continue;
        }
        for (int y = 0; y < part.height(); ++y)
            std::copy_n(whole.plane(c).row(y + part.minY) + part.minX, part.width(), taken.plane(c).row(y));
    }
    return taken;
}

void addLens(DependsOn& on)
{
    const auto& picture = on.values().iris.picture;
    if (!picture) return;
    const auto pixels = picture->pixels(); // what is in it counts, when it was chosen
    on.text(hashText({reinterpret_cast<const char*>(pixels.data()), pixels.size_bytes()}));
    on.text(std::to_string(picture->width()));
}

} // namespace

const StageInfo kThroughLens{Stage::throughLens, defocus::kEngineVersion, addLens};

RgbaImage throughLens(const passes::PassSource& source, const LensRequest& request,
                      const passes::FramePassesPtr& passes, const Run& run, std::vector<int>& unreadable)
{
    const bool isCoarse = request.divisor > 1;
    const LensReady ready =
        isCoarse ? makeReducedLensInput(source, request.project, request.frame, request.divisor, passes, run)
                 : makeLensInput(source, request.project, request.frame, passes, run, &unreadable);
    run.throwIfStopped();
    const PixelBox part = isCoarse ? request.part : partOfAll(*passes->raw, request.part);
    return part.empty() ? defocus::defocus(ready.input, ready.settings, run)
                        : defocus::defocusPart(ready.input, ready.settings, part, run);
}

std::shared_ptr<const RgbaImage> keptThroughLens(const passes::PassSource& source, const LensRequest& request,
                                                 const passes::FramePassesPtr& passes, LensPictures& kept,
                                                 const Run& run, std::vector<int>& unreadable)
{
    const int divisor = request.divisor;
    const PixelBox& part = request.part;
    const std::string lens = fmt::format(
        "{} {}", request.frame, fingerprint(source, request.project, request.frame, Stage::throughLens));
    const std::string name = nameOf(lens, divisor, part);
    if (auto found = kept.find(name)) return found;
    for (int finer = 1; finer <= divisor; ++finer) {
        if (divisor % finer != 0 || (finer == divisor && part.empty())) continue;
        const auto whole = kept.find(nameOf(lens, finer, {}));
        if (!whole) continue;
        if (!part.empty() &&
            (finer != divisor || !PixelBox::at(0, 0, whole->width(), whole->height()).contains(part)))
            continue;
        auto picture = std::make_shared<const RgbaImage>(takenFrom(*whole, divisor / finer, part));
        kept.keep(name, picture);
        return picture;
    }
    auto picture = std::make_shared<const RgbaImage>(throughLens(source, request, passes, run, unreadable));
    kept.put(name, picture);
    return picture;
}

} // namespace retinex::frame
