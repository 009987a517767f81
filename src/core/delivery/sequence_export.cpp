#include "core/delivery/sequence_export.h"

#include "core/base/error.h"
#include "core/passes/exr/exr_write.h"

#include <fmt/format.h>
#include <future>

namespace retinex::delivery {

namespace {

namespace fs = std::filesystem;

void refuseOverwritingInput(const passes::PassSource& source, int frame, const fs::path& out)
{
    for (const passes::Sequence* files : {&source.colourFiles(), &source.depthFiles()}) {
        std::error_code code;
        const fs::path input = files->file(frame);
        if (fs::equivalent(input, out, code) && !code)
            throw Error(
                fmt::format("{}: this is one of the input files, which are never written. Choose another "
                            "name or folder.",
                            out.string()));
    }
}

void checkTarget(const passes::PassSource& source, const ExportJob& job)
{
    if (job.frames.size() > 1 && !passes::isPattern(job.out))
        throw Error(fmt::format("{}: one name cannot hold {} frames. Put #### where the frame number goes.",
                                job.out.string(), job.frames.size()));
    for (const int frame : job.frames)
        refuseOverwritingInput(source, frame, passes::withFrame(job.out, frame));
    const fs::path folder = job.out.parent_path();
    std::error_code code;
    if (!folder.empty()) fs::create_directories(folder, code);
    if (code)
        throw Error(fmt::format("{}: this folder cannot be made ({}). Choose another folder.",
                                folder.string(), code.message()),
                    code.message());
}

void writeFrame(const passes::PassSource& source, const ExportJob& job, int frame, const fs::path& file,
                const Run& run, const std::function<void()>& loaded)
{
    (void)source.load(frame, job.project->readingAt(frame));
    loaded();
    const FrameResult result = renderFrame(source, {job.project, frame, 1, {}}, run);
    passes::ExrOutput output;
    output.image = &result.image;
    output.type = result.passes->raw->colourType == passes::SampleType::half ? passes::SampleType::half
                                                                             : passes::SampleType::float32;
    output.keep = result.passes->raw->header;
    output.focusMetres = job.project->metres(job.project->focusDistanceAt(frame));
    output.fStop = job.project->valuesAt(frame).fStop;
    run.throwIfStopped();
    passes::writeExr(file, output);
}

} // namespace

ExportReport exportFrames(const passes::PassSource& source, const ExportJob& job, const Run& run,
                          const FrameDone& done)
{
    source.requireFrames(job.frames);
    checkTarget(source, job);
    ExportReport report;
    const auto total = static_cast<double>(job.frames.size());
    for (std::size_t i = 0; i < job.frames.size(); ++i) {
        run.throwIfStopped();
        const int frame = job.frames[i];
        // The next frame is read while this one is computed. The future waits in its destructor.
        std::future<void> reading;
        const auto readNext = [&] {
            if (i + 1 < job.frames.size())
                reading = std::async(std::launch::async,
                                     [&source, next = job.frames[i + 1]] { source.prefetch(next); });
        };
        const fs::path file = passes::withFrame(job.out, frame);
        Run inner{run.threads, {}, run.stop};
        if (run.progress)
            inner.progress = [&](double share) { run.progress((static_cast<double>(i) + share) / total); };
        std::string failure;
        try {
            writeFrame(source, job, frame, file, inner, readNext);
            report.written.push_back(frame);
        } catch (const Error& error) {
            failure = error.what();
            report.failed.push_back({frame, failure});
        } catch (const std::bad_alloc&) {
            failure = fmt::format("{}: frame {} needs more memory than there is.", file.string(), frame);
            report.failed.push_back({frame, failure});
        }
        if (done) done(frame, file, failure);
    }
    return report;
}

} // namespace retinex::delivery
