#include "core/project/shot_json.h"

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
std::vector<T> column(const Reader& reader, const char* pointer, std::size_t count)
{
    std::vector<T> values;
    reader.read(pointer, values);
    if (values.size() != count) reader.fail(pointer, "has not as many entries as there are frames");
    return values;
}

std::vector<Place> readPlaces(const Reader& reader)
{
    std::vector<int> frames;
    reader.read("/frames", frames);
    const auto x = column<double>(reader, "/x", frames.size());
    const auto y = column<double>(reader, "/y", frames.size());
    const bool hasConfidence = reader.find("/confidence") != nullptr;
    const auto confidence = hasConfidence ? column<double>(reader, "/confidence", frames.size())
                                          : std::vector<double>(frames.size(), 1.0);
    std::vector<Place> places;
    for (std::size_t i = 0; i < frames.size(); ++i) {
        if (i > 0 && frames[i] <= frames[i - 1]) reader.fail("/frames", "is not in rising order");
        reader.requireFrame("/frames", frames[i]);
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

std::vector<Sample> readSamples(const Reader& reader)
{
    int first = 0;
    std::vector<double> distances;
    reader.read("/firstFrame", first);
    reader.read("/distances", distances);
    reader.requireFrame("/firstFrame", first);
    std::vector<Sample> samples;
    for (std::size_t i = 0; i < distances.size(); ++i) {
        if (!(distances[i] >= 0.0)) reader.fail("/distances", "holds a number below 0");
        if (distances[i] > 0.0) // 0: none on this frame
            samples.push_back({first + static_cast<int>(i), distances[i]});
    }
    // Stretches that were not measured: [first, last, "hidden"].
    if (const Json* stretches = reader.find("/unseen")) {
        try {
            for (const Json& stretch : *stretches) {
                const auto sight = timeline::sightFromName(stretch.at(2).get<std::string>());
                if (!sight) reader.fail("/unseen", "names no kind of sight");
                for (Sample& sample : samples)
                    if (sample.frame >= stretch.at(0).get<int>() && sample.frame <= stretch.at(1).get<int>())
                        sample.sight = *sight;
            }
        } catch (const Json::exception& cause) {
            reader.fail("/unseen", "is not a list of first frame, last frame and kind", cause.what());
        }
    }
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
                json["unseen"].push_back({sample.frame, sample.frame, timeline::name(sample.sight)});
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
        entry.read("/scenePoint", subject.scenePoint);
        entry.read("/radiusPx", subject.radiusPx);
        if (!(subject.radiusPx >= 0.0 && subject.radiusPx < 1e5))
            entry.fail("/radiusPx", "is not within 0 and 100000");
        entry.read("/bridgesHidden", subject.bridgesHidden);
        if (const Json* outline = entry.find("/outline")) {
            try {
                for (const Json& corner : *outline)
                    subject.outline.push_back({corner.at(0).get<double>(), corner.at(1).get<double>()});
            } catch (const Json::exception& cause) {
                entry.fail("/outline", "is not a list of pairs of px", cause.what());
            }
        }
        if (entry.find("/places")) subject.places = readPlaces(entry.below("/places"));
        if (entry.find("/tracked")) subject.tracked = readPlaces(entry.below("/tracked"));
        if (entry.find("/samples")) subject.samples = readSamples(entry.below("/samples"));
        entry.read("/measuredAs", subject.measuredAs);
        subjects.push_back(std::move(subject));
    });
}

void writeSubjects(const std::vector<Subject>& subjects, Json& json)
{
    json["subjects"] = Json::array();
    for (const Subject& subject : subjects) {
        Json entry{{"name", subject.name}};
        if (!subject.scenePoint.empty()) entry["scenePoint"] = subject.scenePoint;
        entry["radiusPx"] = subject.radiusPx;
        entry["bridgesHidden"] = subject.bridgesHidden;
        for (const auto& corner : subject.outline)
            entry["outline"].push_back({corner.x, corner.y});
        if (!subject.places.empty()) entry["places"] = toJson(subject.places, false);
        if (!subject.tracked.empty()) entry["tracked"] = toJson(subject.tracked, true);
        if (!subject.samples.empty()) entry["samples"] = toJson(subject.samples);
        if (!subject.measuredAs.empty()) entry["measuredAs"] = subject.measuredAs;
        json["subjects"].push_back(std::move(entry));
    }
}

} // namespace retinex::project
