#include "core/delivery/sequence_export.h"

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/base/failure.h"
#include "core/base/say.h"
#include "core/colour/output_space.h"
#include "core/colour/primaries.h"
#include "core/delivery/export_target.h"
#include "core/delivery/project_check.h"
#include "core/delivery/writes.h"
#include "core/passes/exr/exr_write.h"

#include "core/frame/lay_in.h"

#include <algorithm>
#include <fmt/format.h>
#include <future>

namespace retinex::delivery {

namespace {

namespace fs = std::filesystem;

/// Colour goes out with the primaries it came in with.
std::string encodedFrame(const passes::PassSource& source, const frame::FrameResult& result,
                         const ExportJob& job, int frame, const fs::path& file)
{
    RgbaImage image = result.image;
    colour::fromSceneLinear(image, source.nativeSpace());
    passes::ExrOutput output;
    output.image = &image;
    output.type = result.passes->raw->colourType == passes::SampleType::half ? passes::SampleType::half
                                                                             : passes::SampleType::float32;
    output.keep = result.passes->raw->header;
    output.isConverted = result.passes->raw->isConverted;
    output.chromaticities = colour::primariesOf(source.nativeSpace());
    output.focusMetres = job.project->metres(job.project->focusDistanceAt(frame));
    const project::Settings values = job.project->valuesAt(frame);
    output.fStop = values.simpleLens ? 0.0 : values.fStop;
    return passes::encodedExr(file, output);
}

} // namespace

ExportReport exportFrames(const passes::PassSource& source, const ExportJob& job, const Run& run,
                          const FrameDone& done)
{
    source.requireFrames(job.frames);
    if (const auto stops = contradictions(*job.project); !stops.empty()) throw Error(stops.front());
    checkTarget(source, job);
    std::vector<int> frames = job.frames;
    if (job.existing == Existing::keep) {
        const std::vector<int> there = existingFrames(job);
        std::erase_if(frames, [&](int frame) { return std::ranges::binary_search(there, frame); });
    }
    ExportReport report;
    const auto total = static_cast<double>(frames.size());
    Writes writes([&](int frame, const fs::path& file, const std::string& failure) {
        if (failure.empty())
            report.written.push_back(frame);
        else
            report.failed.push_back({frame, failure});
        if (done) done(frame, file, failure);
    });
    const bool overlaps = areOverlapped(source.width(), source.height());
    std::future<void> reading; // waits in its destructor
    for (std::size_t i = 0; i < frames.size(); ++i) {
        run.throwIfStopped();
        const int frame = frames[i];
        const fs::path file = passes::withFrame(job.out, frame);
        const Run reader{run.threads, {}, run.stop};
        Run inner = reader;
        if (run.progress)
            inner.progress = [&, i](double share) { run.progress((static_cast<double>(i) + share) / total); };
        const auto guarded = [frame, file](auto work) -> std::string {
            try {
                work();
                return {};
            } catch (const Cancelled&) {
                throw;
            } catch (...) {
                return failureText(std::current_exception(),
                                   say("{}: rendering frame {}", file.string(), frame));
            }
        };
        auto result = std::make_shared<frame::FrameResult>();
        std::string failure = guarded([&] {
            (void)frame::framePasses(source, *job.project, frame, reader);
            if (overlaps && i + 1 < frames.size())
                reading = std::async(std::launch::async, [&source, reader, next = frames[i + 1]] {
                    source.prefetch(next, reader);
                });
            *result = frame::renderFrame(source, {job.project, frame, 1, {}, false, job.isUnfinished}, inner);
        });
        report.doneWithout.insert(report.doneWithout.end(), result->doneWithout.begin(),
                                  result->doneWithout.end());
        writes.add(frame, file, [=, &job, &source, result = std::move(result)]() mutable {
            if (!failure.empty()) return failure;
            return guarded([&] {
                const std::string bytes = encodedFrame(source, *result, job, frame, file);
                result.reset(); // a slow disk holds on to what is packed alone
                writeFileAtomically(file, bytes);
            });
        });
        if (!overlaps) writes.finish();
    }
    writes.finish();
    return report;
}

} // namespace retinex::delivery
