#include "core/project/file/shot_json.h"

#include "core/project/settings/project_settings.h"

#include <algorithm>
#include <cmath>

namespace retinex::project {

namespace {

using timeline::Place;
using timeline::Sample;
using timeline::Sight;
using timeline::Subject;

/// Below what can be told, and files stay small. Steps are powers of two: rounding twice is rounding once.
double rounded(double value, double step)
{
    return std::round(value / step) * step;
}

/// Long lists of numbers by frame are written as one column each: small, and quick to read.
template <class T>
std::vector<T> column(const Reader& reader, const std::string& pointer, std::size_t count)
{
    std::vector<T> values;
    reader.read(pointer.c_str(), values);
    if (values.size() != count) reader.fail(pointer, "has not as many entries as there are frames");
    return values;
}

/// `list`: "/places".
std::vector<Place> readPlaces(const Reader& reader, const std::string& list)
{
    if (!reader.find(list)) return {};
    std::vector<int> frames;
    reader.read((list + "/frames").c_str(), frames);
    const auto x = column<double>(reader, list + "/x", frames.size());
    const auto y = column<double>(reader, list + "/y", frames.size());
    const bool hasConfidence = reader.find(list + "/confidence") != nullptr;
    const auto confidence = hasConfidence ? column<double>(reader, list + "/confidence", frames.size())
                                          : std::vector<double>(frames.size(), 1.0);
    std::vector<Place> places;
    for (std::size_t i = 0; i < frames.size(); ++i) {
        if (i > 0 && frames[i] <= frames[i - 1]) reader.fail(list + "/frames", "is not in rising order");
        // Rounded as they are written, so that a file that is loaded and saved stays as it is.
        places.push_back({frames[i], rounded(x[i], 1.0 / 64.0), rounded(y[i], 1.0 / 64.0),
                          rounded(confidence[i], 1.0 / 256.0)});
    }
    return places;
}

template <class Places>
Json toJson(const Places& places, bool withConfidence)
{
    Json json{{"frames", Json::array()}, {"x", Json::array()}, {"y", Json::array()}};
    for (const Place& place : places) {
        json["frames"].push_back(place.frame);
        json["x"].push_back(rounded(place.x, 1.0 / 64.0));
        json["y"].push_back(rounded(place.y, 1.0 / 64.0));
        if (withConfidence) json["confidence"].push_back(rounded(place.confidence, 1.0 / 256.0));
    }
    return json;
}

/// Stretches that were not measured: [first, last, "hidden"].
void readUnseen(const Reader& reader, std::vector<Sample>& samples)
{
    const char* const pointer = "/samples/unseen";
    const Json* stretches = reader.find(pointer);
    if (!stretches) return;
    if (!stretches->is_array()) reader.fail(pointer, "is not a list");
    for (const Json& stretch : *stretches) {
        if (!stretch.is_array() || stretch.size() != 3 || !stretch[2].is_string())
            reader.fail(pointer, "is not a list of first frame, last frame and kind");
        const int first = reader.frameOf(stretch[0], pointer);
        const int last = reader.frameOf(stretch[1], pointer);
        const auto sight = fromWord<timeline::Sight>(stretch[2].get<std::string>());
        if (!sight) reader.fail(pointer, "names no kind of sight");
        const auto from = std::lower_bound(samples.begin(), samples.end(), first,
                                           [](const Sample& s, int frame) { return s.frame < frame; });
        for (auto sample = from; sample != samples.end() && sample->frame <= last; ++sample)
            sample->sight = *sight;
    }
}

std::vector<Sample> readSamples(const Reader& reader)
{
    if (!reader.find("/samples")) return {};
    int first = 0;
    std::vector<double> distances;
    reader.readFrame("/samples/firstFrame", first);
    reader.read("/samples/distances", distances);
    std::vector<Sample> samples;
    for (std::size_t i = 0; i < distances.size(); ++i) {
        if (!(distances[i] >= 0.0)) reader.fail("/samples/distances", "holds a number below 0");
        if (distances[i] > 0.0) // 0: none on this frame
            samples.push_back({first + static_cast<int>(i), distances[i]});
    }
    readUnseen(reader, samples);
    return samples;
}

Json toJson(const SharedList<Sample>& samples)
{
    Json json{{"firstFrame", samples.items().front().frame}, {"distances", Json::array()}};
    int frame = samples.items().front().frame;
    const Sample* before = nullptr;
    for (const Sample& sample : samples) {
        for (; frame < sample.frame; ++frame)
            json["distances"].push_back(0);
        ++frame;
        json["distances"].push_back(sample.distance);
        if (sample.sight != Sight::measured) {
            if (before && before->sight == sample.sight && before->frame + 1 == sample.frame)
                json["unseen"].back()[1] = sample.frame;
            else
                json["unseen"].push_back({sample.frame, sample.frame, wordOf(sample.sight)});
        }
        before = &sample;
    }
    return json;
}

} // namespace

void readSubjects(const Reader& reader, std::vector<Subject>& subjects)
{
    reader.readEach("/subjects", [&](const Reader& entry) {
        Subject subject;
        subject.name = entry.readOwnName(subjects, "subject");
        readDescribed(entry, subjectSettings(), subject);
        if (const Json* outline = entry.find("/outline")) {
            if (!outline->is_array()) entry.fail("/outline", "is not a list of pairs of px");
            for (const Json& corner : *outline) {
                if (!corner.is_array() || corner.size() != 2)
                    entry.fail("/outline", "is not a list of pairs of px");
                subject.outline.push_back(
                    {entry.as<double>(corner[0], "/outline"), entry.as<double>(corner[1], "/outline")});
            }
        }
        subject.places = readPlaces(entry, "/places");
        subject.tracked = readPlaces(entry, "/tracked");
        subject.samples = readSamples(entry);
        subject.unknown = entry.unknown();
        subjects.push_back(std::move(subject));
    });
}

Json toJson(const Subject& subject)
{
    Json entry{{"name", subject.name}};
    writeDescribed({}, subjectSettings(), subject, entry);
    for (const auto& corner : subject.outline)
        entry["outline"].push_back({corner.x, corner.y});
    if (!subject.places.empty()) entry["places"] = toJson(subject.places, false);
    if (!subject.tracked.empty()) entry["tracked"] = toJson(subject.tracked, true);
    if (!subject.samples.empty()) entry["samples"] = toJson(subject.samples);
    addUnknown(entry, subject.unknown);
    return entry;
}

} // namespace retinex::project
