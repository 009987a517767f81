#include "core/delivery/deliver.h"

#include "core/colour/input_space.h"
#include "core/colour/output_space.h"
#include "core/defocus/engine_version.h"
#include "core/delivery/file_name.h"
#include "core/delivery/frame_contents.h"
#include "core/delivery/frame_list.h"
#include "core/delivery/frame_record.h"
#include "core/delivery/movie.h"
#include "core/delivery/project_check.h"
#include "core/delivery/target_check.h"
#include "core/delivery/writes.h"
#include "core/frame/lay_in.h"
#include "core/frame/others/other_frames.h"
#include "core/passes/exr/exr_write.h"
#include "core/system/atomic_file.h"
#include "core/system/failure.h"
#include "core/system/hash.h"
#include "core/system/json_text.h"
#include "core/system/say.h"
#include "core/system/size_text.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <fmt/format.h>
#include <future>
#include <map>
#include <nlohmann/json.hpp>

namespace retinex::delivery {

namespace {

namespace fs = std::filesystem;
using project::Delivery;
using project::FileKind;
using project::Samples;

/// Where its files go.
class Targets
{
public:
    explicit Targets(const DeliveryJob& job) : m_target(job.target)
    {
        if (m_target.empty()) m_names.emplace(*job.project, job.projectFile, job.delivery, job.folder);
        const std::size_t count = m_target.empty() ? 1 : framesOf(job).size();
        if (count > 1 && !passes::isPattern(m_target) && !job.delivery.isMovie())
            throw Error(say("{}: one name cannot hold {} frames. Put #### where the frame number goes.",
                            m_target.string(), count));
    }
    [[nodiscard]] fs::path of(int frame) const
    {
        return m_names ? m_names->of(frame) : passes::withFrame(m_target, frame);
    }
    [[nodiscard]] fs::path movie() const { return m_names ? m_names->movie() : m_target; }
    [[nodiscard]] fs::path folder() const { return m_names ? m_names->folder() : m_target.parent_path(); }

private:
    std::optional<FileNames> m_names;
    fs::path m_target;
};

/// All files of a job; a movie is one.
std::vector<fs::path> filesOf(const DeliveryJob& job)
{
    const Targets targets(job);
    if (job.delivery.isMovie()) return {targets.movie()};
    std::vector<fs::path> files;
    for (const int frame : framesOf(job))
        files.push_back(targets.of(frame));
    return files;
}

/// The frames that those stand for.
std::vector<int> numbersOf(const DeliveryJob& job)
{
    std::vector<int> frames = framesOf(job);
    if (job.delivery.isMovie()) frames.resize(1);
    return frames;
}

/// px, as the pictures of a delivery become.
std::pair<int, int> sizeOf(const passes::PassSource& source, const Delivery& delivery)
{
    const double width = delivery.size == project::DeliveredSize::width  ? delivery.widthPx
                         : delivery.size == project::DeliveredSize::half ? 0.5 * source.width()
                                                                         : source.width();
    return {static_cast<int>(std::lround(width)),
            std::max(1, static_cast<int>(std::lround(width * source.height() / source.width())))};
}

/// Throws Error where a format cannot hold the pictures, or there is nothing to put into them.
void checkForm(const passes::PassSource& source, const DeliveryJob& job)
{
    const Delivery& delivery = job.delivery;
    const auto words = contentsOf(delivery);
    const project::Project& project = *job.project;
    if (std::ranges::find(words, "areas") != words.end() && project.mattes.empty())
        for (const int frame : framesOf(job))
            if (project.valuesAt(frame).regions.empty())
                throw Error(say("The delivery \"{}\" asks for areas, and frame {} has neither regions nor "
                                "mattes. Draw a region, add mattes, or leave the areas out.",
                                delivery.name, frame));
    const auto size = sizeOf(source, delivery);
    const int width = size.first;
    const int height = size.second;
    const auto hold = [&](int most, std::string_view format) {
        if (std::max(width, height) > most)
            throw Error(say("The delivery \"{}\" is {} x {} px, and {} holds {} px at most. Choose another "
                            "format or size.",
                            delivery.name, width, height, format, most));
    };
    constexpr int kJpegMost = 65'500; // JPEG_MAX_DIMENSION of libjpeg
    constexpr int kMovieMost = 16'384;
    if (delivery.file == FileKind::jpeg) hold(kJpegMost, "JPEG");
    if (!delivery.isMovie()) return;
    hold(kMovieMost, "a movie");
    // Its colour is kept for squares of two by two pixels.
    if (delivery.file != FileKind::ffv1 && std::min(width, height) < 2)
        throw Error(say("The delivery \"{}\" is {} x {} px, and such a movie has 2 x 2 px at least. Choose "
                        "another format or size.",
                        delivery.name, width, height));
    if (std::string problem = movieProblem(delivery.file); !problem.empty()) throw Error(std::move(problem));
}

/// With the ends of a depth map, where these are to be found.
Delivery withEnds(const passes::PassSource& source, const DeliveryJob& job, const std::vector<int>& frames,
                  const Run& run)
{
    Delivery delivery = job.delivery;
    const auto words = contentsOf(delivery);
    if (std::ranges::find(words, "depthmap") == words.end()) return delivery;
    if (delivery.mapNearest > 0.0 && delivery.mapFarthest > 0.0) return delivery;
    depth::DepthRange all;
    // Those of the whole delivery, whichever of its frames are made now: chunks agree.
    for (const int frame : job.frames ? framesOf(delivery, *job.project) : frames) {
        run.throwIfStopped();
        const auto range =
            frame::framePasses(source, *job.project, frame, {run.threads, {}, run.stop})->range;
        if (!range.hasSurface()) continue;
        all.nearest = all.hasSurface() ? std::min(all.nearest, range.nearest) : range.nearest;
        all.farthest = std::max(all.farthest, range.farthest);
    }
    if (!(delivery.mapNearest > 0.0)) delivery.mapNearest = all.nearest;
    if (!(delivery.mapFarthest > 0.0))
        delivery.mapFarthest = std::max(all.farthest, delivery.mapNearest * 1.001);
    return delivery;
}

passes::SampleType typeOf(const Delivery& delivery)
{
    static constexpr std::array<passes::SampleType, 4> kTypes{
        passes::SampleType::uint8, passes::SampleType::uint16, passes::SampleType::half,
        passes::SampleType::float32};
    return kTypes[static_cast<std::size_t>(project::samplesIn(delivery.file, delivery.samples))];
}

Imf::Compression compressionOf(project::Compression compression)
{
    static constexpr std::array<Imf::Compression, 5> kAll{Imf::ZIP_COMPRESSION, Imf::ZIPS_COMPRESSION,
                                                          Imf::PIZ_COMPRESSION, Imf::DWAA_COMPRESSION,
                                                          Imf::NO_COMPRESSION};
    return kAll[static_cast<std::size_t>(compression)];
}

std::string encodedExr(const fs::path& file, const FrameContents& contents, const passes::PassSource& source,
                       const project::Project& project, const Delivery& delivery, int frame,
                       const std::string& fingerprint)
{
    passes::ExrOutput output;
    for (const auto& channel : contents.channels)
        output.channels.push_back({channel.name, &channel.values});
    output.type = typeOf(delivery);
    output.compression = compressionOf(delivery.compression);
    output.level = static_cast<float>(delivery.level);
    output.keep = contents.passes->raw->header;
    const bool isOtherSpace = !delivery.colourSpace.empty();
    output.isConverted = contents.passes->raw->isConverted || isOtherSpace;
    output.chromaticities = colour::primariesOf(spaceOf(delivery, source));
    output.focusMetres = project.metres(project.focusDistanceAt(frame));
    const project::Settings values = project.valuesAt(frame);
    output.fStop = values.simpleLens ? 0.0 : values.fStop;
    output.left = contents.box.minX;
    output.top = contents.box.minY;
    output.frameWidth = contents.frameWidth;
    output.frameHeight = contents.frameHeight;
    if (!fingerprint.empty()) output.texts.emplace_back("retinexFingerprint", fingerprint);
    if (isOtherSpace) output.texts.emplace_back("colorSpace", delivery.colourSpace);
    return passes::encodedExr(file, output);
}

/// Colour without its alpha multiplied in, where the format has it so; JPEG has none.
void makeStraight(FrameContents& contents)
{
    if (!contents.isColour) return;
    const Plane<float>& alpha = contents.channels[3].values;
    for (std::size_t c = 0; c < 3; ++c)
        for (std::size_t i = 0; i < alpha.size(); ++i)
            if (const float a = alpha.pixels()[i]; a > 1e-4F) contents.channels[c].values.pixels()[i] /= a;
}

void writePlainFrame(const fs::path& file, FrameContents& contents, const std::string& colourSpace,
                     const Delivery& delivery, const std::string& fingerprint)
{
    passes::PictureOutput output;
    output.type = typeOf(delivery);
    const bool isJpeg = delivery.file == FileKind::jpeg;
    if (!isJpeg) makeStraight(contents);
    output.isUnassociated = !isJpeg && contents.isColour;
    for (const auto& channel : contents.channels) {
        if (isJpeg && channel.name == "A") continue;
        output.channels.push_back({channel.name, &channel.values});
    }
    if (contents.isColour) output.colourSpace = colourSpace;
    if (!fingerprint.empty()) output.texts.emplace_back("retinexFingerprint", fingerprint);
    passes::writePicture(file, output);
}

std::string burnt(const project::Project& project, int frame)
{
    const std::size_t shot = project.shotIndexAt(frame);
    const project::Settings values = project.valuesAt(frame);
    std::string text = fmt::format("{}", frame);
    if (!project.shots[shot].name.empty()) text += "   " + project.shots[shot].name;
    const double metres = project.metres(values.focusDistance);
    const double inUnit = metres / optics::metresPer(project.unit);
    text += fmt::format("   {:.4g} {}", inUnit, optics::symbol(project.unit));
    if (!values.simpleLens) text += fmt::format("   f/{:.3g}", values.fStop);
    return text;
}

void addToMovie(MovieWriter& movie, FrameContents& contents, const project::Project& project,
                const Delivery& delivery, int frame)
{
    auto& channels = contents.channels;
    if (!contents.isColour) { // a grey
        channels.resize(3, channels.front());
        for (std::size_t c = 1; c < 3; ++c)
            channels[c].values = channels.front().values;
    }
    if (delivery.burnsIn)
        burnIn(channels[0].values, channels[1].values, channels[2].values, burnt(project, frame));
    movie.add(channels[0].values, channels[1].values, channels[2].values);
}

/// What the run did, for those who look for it later.
void writeRecord(const DeliveryJob& job, const Targets& names, DeliveryReport& report, double seconds)
{
    nlohmann::ordered_json failed = nlohmann::ordered_json::array();
    for (const FrameFailure& failure : report.failed)
        failed.push_back({{"frame", failure.frame}, {"message", failure.message}});
    const nlohmann::ordered_json json{{"delivery", job.delivery.name},
                                      {"project", job.projectFile.string()},
                                      {"colour", job.project->colour.file.string()},
                                      {"engine", defocus::kEngineVersion},
                                      {"seconds", seconds},
                                      {"written", report.written},
                                      {"kept", report.kept},
                                      {"failed", failed},
                                      {"unreadable", frame::unreadableInWords(report.unreadable)}};
    std::string name = job.delivery.name.empty() ? "delivery" : job.delivery.name;
    std::ranges::replace(name, '/', '_');
    std::error_code code;
    // A folder that is gone is not made anew; the frames that could not be written have said so.
    const fs::path folder = names.folder();
    if (!report.failed.empty() && !folder.empty() && !fs::is_directory(folder, code)) return;
    report.record = noteFolder(folder) / (name + job.part + ".json");
    fs::create_directory(report.record.parent_path(), code); // what cannot be made, the writing tells of
    writeFileAtomically(report.record,
                        json.dump(2, ' ', false, nlohmann::json::error_handler_t::replace) + "\n");
}

/// One run of a delivery.
class Delivering
{
public:
    Delivering(const passes::PassSource& source, const DeliveryJob& job, const Run& run,
               const FrameDone& done)
        : m_source(source), m_job(job), m_run(run), m_done(done), m_frames(framesOf(job)),
          m_delivery(withEnds(source, job, m_frames, run)), m_names(job),
          m_overlaps(areOverlapped(source.width(), source.height()))
    {
    }

    DeliveryReport all()
    {
        const auto start = std::chrono::steady_clock::now();
        prepare();
        if (m_delivery.isMovie())
            makeMovie();
        else
            makePictures();
        if (m_job.isNoted)
            writeRecord(m_job, m_names, m_report,
                        std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
        return std::move(m_report);
    }

private:
    void prepare()
    {
        m_source.requireFrames(m_frames);
        if (const auto stops = contradictions(*m_job.project); !stops.empty()) throw Error(stops.front());
        checkForm(m_source, m_job);
        // What is resumed may be written over: it is this delivery's own.
        const Existing existing = m_job.resumes ? Existing::overwrite : m_job.existing;
        checkFiles(m_source, *m_job.project, filesOf(m_job), numbersOf(m_job),
                   {existing, m_job.isNoted, {m_job.projectFile}});
        if (m_job.isNoted) {
            checkNotes(m_names.folder());
            removeAbandoned(m_names.folder());
            removeAbandoned(noteFolder(m_names.folder()));
        }
    }

    Run inner(std::size_t index) const
    {
        Run inner{m_run.threads, {}, m_run.stop};
        if (m_run.progress)
            inner.progress = [this, index](double share) {
                m_run.progress((static_cast<double>(index) + share) / static_cast<double>(m_frames.size()));
            };
        return inner;
    }

    void readNext(std::size_t index)
    {
        if (m_overlaps && index + 1 < m_frames.size())
            m_reading = std::async(std::launch::async, [this, next = m_frames[index + 1]] {
                m_source.prefetch(next, {m_run.threads, {}, m_run.stop});
            });
    }

    void tell(int frame, const fs::path& file, const std::string& failure)
    {
        if (failure.empty())
            m_report.written.push_back(frame);
        else
            m_report.failed.push_back({frame, failure});
        if (m_done) m_done(frame, file, failure);
    }

    void note(const FrameContents& contents)
    {
        m_report.unreadable.insert(m_report.unreadable.end(), contents.unreadable.begin(),
                                   contents.unreadable.end());
    }

    void makePictures()
    {
        Writes writes(
            [this](int frame, const fs::path& file, const std::string& why) { tell(frame, file, why); });
        for (std::size_t i = 0; i < m_frames.size(); ++i) {
            m_run.throwIfStopped();
            const int frame = m_frames[i];
            const fs::path file = m_names.of(frame);
            const std::string fingerprint =
                m_job.isNoted ? deliveryFingerprint(m_source, *m_job.project, m_delivery, frame)
                              : std::string();
            if (isLeft(file, fingerprint)) {
                m_report.kept.push_back(frame);
                if (m_run.progress) inner(i).progress(1.0);
                continue;
            }
            try {
                (void)frame::framePasses(m_source, *m_job.project, frame, {m_run.threads, {}, m_run.stop});
                readNext(i);
                auto contents = std::make_shared<FrameContents>(
                    frameContents(m_source, m_job.project, m_delivery, frame, inner(i)));
                note(*contents);
                writes.add(frame, file, [this, contents, frame, file, fingerprint] {
                    return write(*contents, frame, file, fingerprint);
                });
                if (!m_overlaps) writes.finish();
            } catch (const Cancelled&) {
                throw;
            } catch (...) {
                writes.add(frame, file, [why = failure(frame, file)] { return why; });
            }
        }
        writes.finish();
    }

    bool isLeft(const fs::path& file, const std::string& fingerprint) const
    {
        std::error_code code;
        if (m_job.existing == Existing::keep && fs::exists(file, code)) return true;
        return m_job.resumes && isMadeFrom(file, fingerprint);
    }

    /// "" or why it was not.
    std::string write(FrameContents& contents, int frame, const fs::path& file,
                      const std::string& fingerprint) const
    {
        try {
            if (m_delivery.file == FileKind::exr) {
                const std::string bytes =
                    encodedExr(file, contents, m_source, *m_job.project, m_delivery, frame, fingerprint);
                contents = {}; // a slow disk holds on to what is packed alone
                writeFileAtomically(file, bytes);
            } else {
                writePlainFrame(file, contents, spaceOf(m_delivery, m_source), m_delivery, fingerprint);
            }
            if (m_job.isNoted) noteFile(file, fingerprint);
            return {};
        } catch (...) {
            return failure(frame, file);
        }
    }

    /// Of the exception that is being handled.
    static std::string failure(int frame, const fs::path& file)
    {
        return failureText(std::current_exception(), say("{}: rendering frame {}", file.string(), frame));
    }

    void makeMovie()
    {
        const fs::path file = m_names.movie();
        std::string fingerprint;
        for (const int frame : m_frames)
            fingerprint += deliveryFingerprint(m_source, *m_job.project, m_delivery, frame);
        fingerprint = hashText(fingerprint);
        if (isLeft(file, fingerprint)) {
            m_report.kept = m_frames;
            return;
        }
        const double rate = m_delivery.framesPerSecond > 0.0 ? m_delivery.framesPerSecond
                                                             : m_job.project->playing.framesPerSecond;
        std::unique_ptr<MovieWriter> movie;
        for (std::size_t i = 0; i < m_frames.size(); ++i) {
            m_run.throwIfStopped();
            (void)frame::framePasses(m_source, *m_job.project, m_frames[i], {m_run.threads, {}, m_run.stop});
            readNext(i);
            FrameContents contents =
                frameContents(m_source, m_job.project, m_delivery, m_frames[i], inner(i));
            note(contents);
            if (!movie)
                movie = std::make_unique<MovieWriter>(file, m_delivery.file, contents.frameWidth,
                                                      contents.frameHeight, rate);
            addToMovie(*movie, contents, *m_job.project, m_delivery, m_frames[i]);
            m_report.written.push_back(m_frames[i]);
            if (m_done) m_done(m_frames[i], file, {});
        }
        movie->finish();
        if (m_job.isNoted) noteFile(file, fingerprint);
    }

    const passes::PassSource& m_source;
    const DeliveryJob& m_job;
    Run m_run;
    FrameDone m_done;
    std::vector<int> m_frames;
    Delivery m_delivery;
    Targets m_names;
    bool m_overlaps;
    DeliveryReport m_report;
    std::future<void> m_reading; ///< waits in its destructor
};

/// One job for each eye that is made, with the source that reads it (null: the one that is there).
std::vector<std::pair<std::shared_ptr<const passes::PassSource>, DeliveryJob>>
jobsOfEyes(const passes::PassSource& source, const DeliveryJob& job)
{
    std::vector<std::pair<std::shared_ptr<const passes::PassSource>, DeliveryJob>> jobs;
    const auto add = [&](const std::string& eye) {
        DeliveryJob of = job;
        auto project = std::make_shared<project::Project>(*job.project);
        project->passOptions.eye = eye;
        if (eye == source.eye()) {
            of.project = std::move(project);
            jobs.emplace_back(nullptr, std::move(of));
            return;
        }
        project->colour.name.clear(); // they are called otherwise in the other eye
        project->depth.name.clear();
        of.part += '-' + eye;
        auto other = std::make_shared<const passes::PassSource>(
            project->colour, project->depth, project->passOptions, passes::Keeping::oneByOne());
        of.project = std::move(project);
        jobs.emplace_back(std::move(other), std::move(of));
    };
    if (source.eyes().empty())
        jobs.emplace_back(nullptr, job);
    else if (job.delivery.bothEyes)
        std::ranges::for_each(source.eyes(), add);
    else
        add(source.eye());
    return jobs;
}

} // namespace

project::Delivery usualForm(const passes::PassSource& source)
{
    Delivery form;
    form.samples = source.colourLayer().type == passes::SampleType::half ? Samples::half : Samples::float32;
    return form;
}

DeliveryJob usualJob(const passes::PassSource& source, std::shared_ptr<const project::Project> project,
                     std::vector<int> frames, fs::path target, Existing existing)
{
    DeliveryJob job;
    job.project = std::move(project);
    job.delivery = usualForm(source);
    job.delivery.file = pictureKindOf(target).value_or(FileKind::exr);
    if (job.delivery.file != FileKind::exr)
        job.delivery.samples = job.delivery.file == FileKind::tiff ? Samples::bits16 : Samples::bits8;
    job.frames = std::move(frames);
    job.existing = existing;
    job.target = std::move(target);
    return job;
}

std::vector<int> framesOf(const DeliveryJob& job)
{
    return job.frames ? *job.frames : framesOf(job.delivery, *job.project);
}

std::vector<int> existingFrames(const DeliveryJob& job)
{
    const Targets targets(job);
    std::vector<int> there;
    for (const int frame : framesOf(job)) {
        std::error_code code;
        if (fs::exists(targets.of(frame), code)) there.push_back(frame);
    }
    return there;
}

DeliveryReport deliver(const passes::PassSource& source, const DeliveryJob& job, const Run& run,
                       const FrameDone& done)
{
    DeliveryReport whole;
    const auto jobs = jobsOfEyes(source, job);
    for (std::size_t i = 0; i < jobs.size(); ++i) {
        const auto& [eyeSource, eyeJob] = jobs[i];
        Run part = run;
        if (run.progress)
            part.progress = [&, i](double share) {
                run.progress((static_cast<double>(i) + share) / static_cast<double>(jobs.size()));
            };
        DeliveryReport report = Delivering(eyeSource ? *eyeSource : source, eyeJob, part, done).all();
        const auto add = [](auto& to, const auto& from) { to.insert(to.end(), from.begin(), from.end()); };
        add(whole.written, report.written);
        add(whole.kept, report.kept);
        add(whole.failed, report.failed);
        add(whole.unreadable, report.unreadable);
        whole.record = report.record;
    }
    return whole;
}

double estimatedBytes(const passes::PassSource& source, const DeliveryJob& job)
{
    const double frames = static_cast<double>(framesOf(job).size());
    const auto [width, height] = sizeOf(source, job.delivery);
    const double pixels = static_cast<double>(width) * height;
    if (job.delivery.isMovie()) return frames * pixels * (job.delivery.file == FileKind::ffv1 ? 6.0 : 0.5);
    double channels = 0.0;
    for (const std::string& word : contentsOf(job.delivery))
        channels += word == "finished" || word == "unfinished" || word == "source" ? 4.0 : 1.0;
    const auto type = typeOf(job.delivery);
    const double bytes = type == passes::SampleType::float32 ? 4.0
                         : type == passes::SampleType::uint8 ? 1.0
                                                             : 2.0;
    return frames * pixels * channels * bytes;
}

std::vector<std::string> deliveryProblems(const passes::PassSource& source, const DeliveryJob& job)
{
    std::vector<std::string> problems;
    const auto gather = [&](auto look) {
        try {
            look();
        } catch (const Error& error) {
            if (std::ranges::find(problems, error.what()) == problems.end()) // two may stumble over it
                problems.emplace_back(error.what());
        }
    };
    gather([&] { checkForm(source, job); });
    gather([&] {
        checkTargets(source, *job.project, filesOf(job), numbersOf(job),
                     {Existing::overwrite, false, {job.projectFile}});
        if (job.isNoted) checkNotes(Targets(job).folder());
    });
    gather([&] { source.requireFrames(framesOf(job)); });
    gather([&] {
        const std::string space = spaceOf(job.delivery, source);
        const auto known = colour::outputSpaces();
        if (!space.empty() && std::ranges::find(known, space) == known.end()) {
            RgbaImage pixel(1, 1);
            colour::fromSceneLinear(pixel, space);
        }
    });
    gather([&] {
        const Targets names(job);
        fs::path there = names.folder();
        std::error_code code;
        while (!there.empty() && !fs::exists(there, code) && there != there.parent_path())
            there = there.parent_path();
        const auto room = fs::space(there, code);
        const double needed = estimatedBytes(source, job);
        if (!code && needed > static_cast<double>(room.available))
            problems.push_back(say(
                "The delivery \"{}\" takes up to {}, and {} has {} left. Free some space, or choose another "
                "folder.",
                job.delivery.name, sizeText(needed), there.string(),
                sizeText(static_cast<double>(room.available))));
    });
    return problems;
}

std::vector<DeliveryJob> jobsOf(const std::shared_ptr<const project::Project>& project,
                                const fs::path& projectFile, const std::vector<Delivery>& deliveries,
                                const fs::path& folder)
{
    std::vector<DeliveryJob> jobs;
    for (const Delivery& delivery : deliveries) {
        jobs.push_back({project, projectFile, delivery, folder});
        if (!folder.empty() && deliveries.size() > 1) jobs.back().folder = folder / delivery.name;
    }
    return jobs;
}

std::string sharedTarget(const std::vector<DeliveryJob>& jobs)
{
    std::map<fs::path, std::string> taken; // by which delivery
    for (const DeliveryJob& job : jobs)
        for (const fs::path& file : filesOf(job)) {
            std::error_code code;
            const auto [it, isFree] =
                taken.emplace(fs::weakly_canonical(fs::absolute(file, code), code), job.delivery.name);
            if (!isFree && it->second != job.delivery.name)
                return say(
                    "{}: the deliveries \"{}\" and \"{}\" would both write this file. Give one of them "
                    "another name or folder.",
                    file.string(), it->second, job.delivery.name);
        }
    return {};
}

std::vector<std::string> deliveryProblems(const passes::PassSource& source,
                                          const std::vector<DeliveryJob>& jobs)
{
    std::vector<std::string> problems;
    for (const DeliveryJob& job : jobs)
        std::ranges::move(deliveryProblems(source, job), std::back_inserter(problems));
    if (problems.empty())
        if (std::string shared = sharedTarget(jobs); !shared.empty()) problems.push_back(std::move(shared));
    return problems;
}

} // namespace retinex::delivery
