#include "core/delivery/frame_contents.h"

#include "core/colour/input_space.h"
#include "core/colour/output_space.h"
#include "core/delivery/depth_map.h"
#include "core/frame/lay_in.h"
#include "core/frame/places/region_places.h"
#include "core/image/crop.h"
#include "core/regions/name_list.h"
#include "core/system/say.h"

#include <algorithm>
#include <array>
#include <opencv2/imgproc.hpp>

namespace retinex::delivery {

namespace {

using project::Delivery;
using project::FileKind;
using Channel = FrameContents::Channel;

constexpr std::array<std::string_view, 7> kContents{"finished", "unfinished", "source", "distance",
                                                    "coc",      "depthmap",   "areas"};

bool isColourWord(const std::string& word)
{
    return word == "finished" || word == "unfinished" || word == "source";
}

/// Colours and areas are averaged as they shrink; distances are not, there is nothing between two surfaces.
Plane<float> sized(const Plane<float>& plane, int width, int height, bool isAveraged)
{
    if (plane.width() == width && plane.height() == height) return plane;
    Plane<float> result(width, height);
    cv::Mat to(height, width, CV_32F, result.row(0));
    const cv::Mat from(plane.height(), plane.width(), CV_32F, const_cast<float*>(plane.row(0)));
    const int how = !isAveraged             ? cv::INTER_NEAREST
                    : width < plane.width() ? cv::INTER_AREA
                                            : cv::INTER_CUBIC;
    cv::resize(from, to, to.size(), 0.0, 0.0, how);
    return result;
}

std::array<int, 2> sizeOf(const Delivery& delivery, int width, int height)
{
    if (delivery.size == project::DeliveredSize::full) return {width, height};
    const double scale = delivery.size == project::DeliveredSize::half ? 0.5 : delivery.widthPx / width;
    return {std::max(1, static_cast<int>(std::lround(scale * width))),
            std::max(1, static_cast<int>(std::lround(scale * height)))};
}

/// "a layer's name" in front of a channel's, but for the first content.
std::string channelName(bool isFirst, const std::string& layer, const char* channel)
{
    return isFirst ? channel : layer + '.' + channel;
}

class Gathering
{
public:
    Gathering(const passes::PassSource& source, const std::shared_ptr<const project::Project>& project,
              const Delivery& delivery, int frame, const Run& run)
        : m_source(source), m_project(project), m_delivery(delivery), m_frame(frame), m_run(run)
    {
        m_contents.passes = frame::framePasses(source, *project, frame, run);
        const auto size = sizeOf(delivery, source.width(), source.height());
        m_contents.frameWidth = size[0];
        m_contents.frameHeight = size[1];
        m_contents.box = PixelBox::at(0, 0, size[0], size[1]);
        m_hasOverscan = delivery.keepsOverscan && delivery.file == FileKind::exr &&
                        delivery.size == project::DeliveredSize::full && contentsOf(delivery).size() == 1 &&
                        isColourWord(contentsOf(delivery).front()) &&
                        contentsOf(delivery).front() != "source" && m_contents.passes->raw->hasOverscan();
    }

    void add(const std::string& word)
    {
        const bool isFirst = m_contents.channels.empty();
        if (isColourWord(word)) {
            if (isFirst) m_contents.isColour = true;
            addColour(word, isFirst);
        } else if (word == "distance") {
            addPlane(channelName(isFirst, word, "Z"), m_contents.passes->distance(), false);
        } else if (word == "coc") {
            addPlane(channelName(isFirst, word, "px"), circles(), false);
        } else if (word == "depthmap") {
            const DepthMap map{m_delivery.nearIsBright, m_delivery.spacing, m_delivery.mapNearest,
                               m_delivery.mapFarthest};
            addPlane(channelName(isFirst, word, "Y"),
                     depthMap(m_contents.passes->distance(), m_contents.passes->gaps(), map), true);
        } else {
            addAreas();
        }
    }
    [[nodiscard]] FrameContents take() { return std::move(m_contents); }

private:
    void addPlane(std::string name, const Plane<float>& plane, bool isAveraged)
    {
        m_contents.channels.push_back(
            {std::move(name), sized(plane, m_contents.frameWidth, m_contents.frameHeight, isAveraged)});
    }
    void addColour(const std::string& word, bool isFirst)
    {
        RgbaImage image;
        if (word == "source") {
            image = m_contents.passes->colour();
        } else {
            frame::FrameRequest request{m_project, m_frame, 1, {}, false, word == "unfinished"};
            request.withOverscan = m_hasOverscan;
            frame::FrameResult result = frame::renderFrame(m_source, request, m_run);
            image = std::move(result.image);
            m_contents.unreadable = std::move(result.unreadable);
            if (m_hasOverscan) m_contents.box = result.box;
        }
        if (!m_hasOverscan)
            for (int c = 0; c < RgbaImage::channels; ++c)
                image.plane(c) = sized(image.plane(c), m_contents.frameWidth, m_contents.frameHeight, true);
        colour::fromSceneLinear(image, spaceOf(m_delivery, m_source), m_run);
        static constexpr std::array<const char*, 4> kNames{"R", "G", "B", "A"};
        for (int c = 0; c < RgbaImage::channels; ++c)
            m_contents.channels.push_back(
                {channelName(isFirst, word, kNames[static_cast<std::size_t>(c)]), std::move(image.plane(c))});
    }
    /// The diameter of the blur disc, px of the delivered frame; below 0 in front of the focal plane.
    Plane<float> circles() const
    {
        const auto settings = m_project->lensSettingsAt(m_frame, m_contents.passes->raw->pixelAspect);
        Plane<float> radius =
            defocus::blurRadiusPx(m_contents.passes->distance(), m_contents.passes->blur(), settings, m_run);
        const float scale =
            2.0F * static_cast<float>(m_contents.frameHeight) / static_cast<float>(radius.height());
        for (float& value : radius.pixels())
            value *= scale;
        return radius;
    }
    void addAreas()
    {
        for (const regions::Region& region : m_project->valuesAt(m_frame).regions) {
            const auto placed = frame::placedRegion(m_source, *m_project, region, m_frame);
            addPlane("region." + region.name,
                     frame::regionCoverage(m_source, *m_project, placed, m_frame, m_run), true);
        }
        // All mattes are read at once: a file may hold thousands.
        const auto objects = m_source.loadObjects(m_frame, m_project->mattes, m_run);
        const PixelBox all = m_source.loadRaw(m_frame, m_run)->extent();
        for (std::size_t i = 0; i < m_project->mattes.size(); ++i) {
            Plane<float> coverage(m_source.width(), m_source.height());
            if (objects)
                coverage = cropped(coverageOf(*objects, static_cast<std::uint32_t>(i + 1)),
                                   PixelBox::at(-all.minX, -all.minY, coverage.width(), coverage.height()));
            addPlane("matte." + m_project->mattes[i].title(), coverage, true);
        }
        if (m_contents.channels.empty())
            throw Error(
                say("There are no regions and no mattes, and the delivery \"{}\" asks for their areas.",
                    m_delivery.name));
    }

    const passes::PassSource& m_source;
    std::shared_ptr<const project::Project> m_project;
    const Delivery& m_delivery;
    int m_frame;
    Run m_run;
    bool m_hasOverscan = false;
    FrameContents m_contents;
};

} // namespace

std::vector<std::string> contentsOf(const Delivery& delivery)
{
    const auto words = regions::namesIn(delivery.what);
    const auto complain = [&](const std::string& what) {
        throw Error(say("The delivery \"{}\" {}", delivery.name, what));
    };
    if (words.empty()) complain(say("does not say what. Choose the finished picture, or something else."));
    for (const std::string& word : words)
        if (std::ranges::find(kContents, word) == kContents.end())
            complain(say(
                "asks for \"{}\". There are finished, unfinished, source, distance, coc, depthmap and areas.",
                word));
    const bool isExr = delivery.file == FileKind::exr;
    if (words.size() > 1 && !isExr) complain(say("has several layers, which only EXR can hold."));
    const std::string& first = words.front();
    if (first == "areas" && !isExr)
        complain(say("asks for areas, which are channels of their own: choose EXR."));
    const bool isFloat =
        isExr || (delivery.file == FileKind::tiff && delivery.samples >= project::Samples::half);
    if ((first == "distance" || first == "coc") && !isFloat)
        complain(say("asks for numbers beyond 0 to 1: choose EXR or float TIFF, or a depth map."));
    if (delivery.isMovie() && !isColourWord(first) && first != "depthmap")
        complain(say("asks for a movie of what is no picture."));
    return words;
}

std::string spaceOf(const Delivery& delivery, const passes::PassSource& source)
{
    if (!delivery.colourSpace.empty()) return delivery.colourSpace;
    const bool isFloat = delivery.file == FileKind::exr ||
                         (delivery.file == FileKind::tiff && delivery.samples >= project::Samples::half);
    return isFloat ? source.nativeSpace() : colour::screenSpace();
}

FrameContents frameContents(const passes::PassSource& source,
                            const std::shared_ptr<const project::Project>& project, const Delivery& delivery,
                            int frame, const Run& run)
{
    Gathering gathering(source, project, delivery, frame, run);
    for (const std::string& word : contentsOf(delivery))
        gathering.add(word);
    return gathering.take();
}

} // namespace retinex::delivery
