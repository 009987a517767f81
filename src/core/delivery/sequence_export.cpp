#include "core/delivery/sequence_export.h"

#include "core/base/error.h"
#include "core/base/failure.h"
#include "core/base/say.h"
#include "core/colour/input_space.h"
#include "core/delivery/export_target.h"
#include "core/delivery/project_check.h"
#include "core/passes/exr/exr_write.h"

#include "core/project/frame_stages.h"

#include <algorithm>
#include <fmt/format.h>
#include <future>

namespace retinex::delivery {

namespace {

namespace fs = std::filesystem;

void writeFrame(const passes::PassSource& source, const ExportJob& job, int frame, const fs::path& file,
                const Run& run, const std::function<void()>& loaded)
{
    (void)project::framePasses(source, *job.project, frame, run);
    loaded();
    const FrameResult result = renderFrame(source, {job.project, frame, 1, {}, false, job.isUnfinished}, run);
    passes::ExrOutput output;
    output.image = &result.image;
    output.type = result.passes->raw->colourType == passes::SampleType::half ? passes::SampleType::half
                                                                             : passes::SampleType::float32;
    output.keep = result.passes->raw->header;
    output.isConverted = result.passes->raw->isConverted;
    if (output.isConverted) output.chromaticities = colour::sceneLinearChromaticities();
    output.focusMetres = job.project->metres(job.project->focusDistanceAt(frame));
    const project::Settings values = job.project->valuesAt(frame);
    output.fStop = values.simpleLens ? 0.0 : values.fStop;
    run.throwIfStopped();
    passes::writeExr(file, output);
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
    for (std::size_t i = 0; i < frames.size(); ++i) {
        run.throwIfStopped();
        const int frame = frames[i];
        // The next frame is read while this one is computed. The future waits in its destructor.
        std::future<void> reading;
        const auto readNext = [&] {
            if (i + 1 < frames.size())
                reading = std::async(std::launch::async, [&source, &run, next = frames[i + 1]] {
                    source.prefetch(next, {run.threads, {}, run.stop});
                });
        };
        const fs::path file = passes::withFrame(job.out, frame);
        Run inner{run.threads, {}, run.stop};
        if (run.progress)
            inner.progress = [&](double share) { run.progress((static_cast<double>(i) + share) / total); };
        std::string failure;
        try {
            writeFrame(source, job, frame, file, inner, readNext);
            report.written.push_back(frame);
        } catch (const Cancelled&) {
            throw;
        } catch (...) {
            failure =
                failureText(std::current_exception(), say("{}: rendering frame {}", file.string(), frame));
            report.failed.push_back({frame, failure});
        }
        if (done) done(frame, file, failure);
    }
    return report;
}

} // namespace retinex::delivery
