#include "bench/reading_trials.h"

#include "core/passes/exr/exr_write.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <half.h>
#include <limits>

namespace retinex::bench {

namespace {

using depth::Spacing;

constexpr double kInfinity = std::numeric_limits<double>::infinity();
constexpr auto kEven = Spacing::distance;
constexpr auto kReciprocal = Spacing::reciprocal;

struct Convention
{
    const char* name;
    bool isMetric;
    bool withAlpha;
    bool antiAliased;
    double unit;
    /// Stored number of a planar distance, of which `ray` is the length along the ray; in gaps 0.
    std::function<double(double d, double ray, const ReadingScene&)> store;
    double gap;     ///< the stored number where nothing is
    int levels = 0; ///< of whole numbers; 0: float
    bool half = false;
    bool display = false; ///< encoded for display
};

/// t of a grey, 0 near to 1 far, with the ends a little beyond what is seen, as artists set them.
double grey(double d, const ReadingScene& scene, Spacing spacing)
{
    const double n = 0.95 * scene.nearest;
    const double f = 1.05 * scene.farthest;
    return spacing == kEven ? (d - n) / (f - n) : (1.0 / d - 1.0 / n) / (1.0 / f - 1.0 / n);
}

/// What fog leaves of the colour; half of it is gone in the middle of the scene.
double fog(double d, const ReadingScene& scene)
{
    return std::exp(-d * std::log(2.0) / std::sqrt(scene.nearest * scene.farthest));
}

double clip(double d, const ReadingScene& scene)
{
    const double n = 0.2 * scene.nearest;
    const double f = 5.0 * scene.farthest;
    return (1.0 - n / d) / (1.0 - n / f);
}

/// IEC 61966-2-1.
double toDisplay(double v)
{
    return v <= 0.0031308 ? v * 12.92 : 1.055 * std::pow(v, 1.0 / 2.4) - 0.055;
}

std::vector<Convention> conventions()
{
    using S = const ReadingScene&;
    const auto planar = [](double d, double, S) { return d; };
    const auto below = [](double d, double, S) { return -d; };
    const auto along = [](double, double ray, S) { return ray; };
    const auto bright = [](Spacing spacing) {
        return [spacing](double d, double, S s) { return 1.0 - grey(d, s, spacing); };
    };
    const auto dark = [](Spacing spacing) {
        return [spacing](double d, double, S s) { return grey(d, s, spacing); };
    };
    const auto clipped = [](double d, double, S s) { return clip(d, s); };
    const auto white = [](double d, double, S s) { return 1.0 - fog(d, s); };
    const auto black = [](double d, double, S s) { return fog(d, s); };
    constexpr double far = -1.0; // stands for a far value, by the scene
    return {
        {"distance, float, gaps 0", true, true, false, 1.0, planar, 0.0},
        {"distance, half, gaps infinite", true, true, false, 1.0, planar, kInfinity, 0, true},
        {"distance, half, gaps 65504, no alpha", true, false, false, 1.0, planar, 65504.0, 0, true},
        {"distance, float, gaps 1e10, no alpha", true, false, false, 1.0, planar, 1e10},
        {"distance, float, gaps far, no alpha", true, false, false, 1.0, planar, far},
        {"distance in cm, float, gaps 0, no alpha", true, false, false, 100.0,
         [](double d, double, S) { return 100.0 * d; }, 0.0},
        {"distance, anti-aliased, gaps 0", true, true, true, 1.0, planar, 0.0},
        {"distance below 0, float, gaps 0", true, true, false, 1.0, below, 0.0},
        {"distance below 0, float, gaps -1e10, no alpha", true, false, false, 1.0, below, -1e10},
        {"distance below 0, float, gaps far, no alpha", true, false, false, 1.0, below, far},
        {"along the ray, float, gaps 0", true, true, false, 1.0, along, 0.0},
        {"reciprocal, float, gaps 0", true, true, false, 1.0, [](double d, double, S) { return 1.0 / d; },
         0.0},
        {"near bright, float, gaps black", false, true, false, 1.0, bright(kEven), 0.0},
        {"near dark, float, gaps white, no alpha", false, false, false, 1.0, dark(kEven), 1.0},
        {"near bright, 8-bit, gaps black", false, true, false, 1.0, bright(kEven), 0.0, 255},
        {"near dark, 8-bit, gaps white, no alpha", false, false, false, 1.0, dark(kEven), 1.0, 255},
        {"near bright, 16-bit, gaps black, no alpha", false, false, false, 1.0, bright(kEven), 0.0, 65535},
        {"near dark, 16-bit, gaps white", false, true, false, 1.0, dark(kEven), 1.0, 65535},
        {"near bright in 1/distance, 8-bit, gaps black", false, true, false, 1.0, bright(kReciprocal), 0.0,
         255},
        {"near dark in 1/distance, 8-bit, gaps white, no alpha", false, false, false, 1.0, dark(kReciprocal),
         1.0, 255},
        {"near bright in 1/distance, 16-bit, gaps black", false, true, false, 1.0, bright(kReciprocal), 0.0,
         65535},
        {"near bright, 8-bit for display, gaps black", false, true, false, 1.0, bright(kEven), 0.0, 255,
         false, true},
        {"near dark, 8-bit for display, gaps white, no alpha", false, false, false, 1.0, dark(kEven), 1.0,
         255, false, true},
        {"white fog, 8-bit, no alpha", false, false, false, 1.0, white, 1.0, 255},
        {"black fog, 8-bit, no alpha", false, false, false, 1.0, black, 0.0, 255},
        {"near bright, anti-aliased, 8-bit, gaps black", false, true, true, 1.0, bright(kEven), 0.0, 255},
        {"near dark, anti-aliased, 16-bit, gaps white, no alpha", false, false, true, 1.0, dark(kEven), 1.0,
         65535},
        {"clip space, float, gaps 1", false, true, false, 1.0, clipped, 1.0},
    };
}

/// As a file holds it.
float written(double v, const Convention& convention)
{
    if (convention.display) v = toDisplay(v);
    if (convention.levels > 0)
        v = std::round(std::clamp(v, 0.0, 1.0) * convention.levels) / convention.levels;
    if (convention.half) return static_cast<float>(half(static_cast<float>(v)));
    return static_cast<float>(v);
}

/// All rays of the pixel lie on one surface, or all on none.
bool isInside(const ReadingScene& scene, int x, int y)
{
    const float d = scene.distance.at(x, y);
    const int n = scene.fineness;
    for (int i = 0; i < n * n; ++i)
        if (std::abs(scene.fine.at(n * x + i % n, n * y + i / n) - d) > 0.02F * d) return false;
    return true;
}

} // namespace

depth::ReadingProposal ReadingTrial::propose() const
{
    const Plane<float>* given = alpha.empty() ? nullptr : &alpha;
    return depth::proposeReading(stored, given, depth::statisticsOf(stored, given));
}

bool ReadingTrial::isRight(const depth::ReadingSettings& settings) const
{
    const Plane<float>& truth = scene->distance;
    depth::ViewGeometry view{static_cast<double>(truth.width()), static_cast<double>(truth.height())};
    view.fieldOfViewDeg = settings.fieldOfViewDeg > 0.0 ? settings.fieldOfViewDeg : scene->fieldOfViewDeg;
    const auto read = depth::toDistance(stored, alpha.empty() ? nullptr : &alpha, settings, view);
    std::size_t surface = 0;
    std::size_t good = 0;
    std::size_t nothing = 0;
    std::size_t nearNothing = 0;
    std::vector<std::pair<float, float>> pairs; // truth and what was read
    std::vector<float> distances;
    for (int y = 0; y < truth.height(); ++y)
        for (int x = 0; x < truth.width(); ++x)
            if (truth.at(x, y) > 0.0F && read.gaps.at(x, y) == 0) distances.push_back(read.distance.at(x, y));
    if (distances.size() < 16) return false;
    std::nth_element(distances.begin(), distances.begin() + static_cast<std::ptrdiff_t>(distances.size() / 2),
                     distances.end());
    const float middle = distances[distances.size() / 2];
    for (int y = 0; y < truth.height(); ++y)
        for (int x = 0; x < truth.width(); ++x) {
            if (!isInside(*scene, x, y)) continue;
            const float d = read.distance.at(x, y);
            if (truth.at(x, y) <= 0.0F) {
                ++nothing;
                if (read.gaps.at(x, y) == 0 && d < middle) ++nearNothing;
                continue;
            }
            ++surface;
            if (read.gaps.at(x, y) != 0) continue;
            if (std::abs(static_cast<double>(d) / (unit * static_cast<double>(truth.at(x, y))) - 1.0) < 0.03)
                ++good;
            pairs.emplace_back(truth.at(x, y), d);
        }
    if (20 * nearNothing > nothing) return false;
    if (isMetric) return 10 * good >= 9 * surface;
    if (20 * pairs.size() < 17 * surface) return false; // what is there became gaps
    std::size_t compared = 0;
    std::size_t ordered = 0;
    const std::size_t stride = pairs.size() / 2 + 1; // any two that are far apart
    for (std::size_t i = 0; i < pairs.size(); ++i) {
        const auto& a = pairs[i];
        const auto& b = pairs[(i * 7919 + stride) % pairs.size()];
        if (std::abs(a.first - b.first) < 0.05F * std::min(a.first, b.first)) continue;
        if (a.second == b.second) continue; // one step of 256
        ++compared;
        ordered += (a.first < b.first) == (a.second < b.second) ? 1 : 0;
    }
    return compared > 0 && 100 * ordered >= 97 * compared;
}

std::vector<ReadingTrial> readingTrials(const ReadingScenePtr& scene)
{
    const int n = scene->fineness;
    depth::ViewGeometry view{static_cast<double>(scene->fine.width()),
                             static_cast<double>(scene->fine.height())};
    view.fieldOfViewDeg = scene->fieldOfViewDeg;
    const depth::PlanarShare fineShare(view);
    view.frameWidth /= n;
    view.frameHeight /= n;
    const depth::PlanarShare share(view);
    std::vector<ReadingTrial> trials;
    for (const Convention& convention : conventions()) {
        ReadingTrial trial{scene, convention.name, convention.isMetric, convention.unit, {}, {}};
        if (convention.withAlpha) trial.alpha = scene->alpha;
        double gap = convention.gap;
        if (convention.isMetric && gap == -1.0)
            gap = convention.store(3.0 * scene->farthest, 3.0 * scene->farthest, *scene);
        trial.stored = Plane<float>(scene->distance.width(), scene->distance.height());
        const auto number = [&](float d, double planarShare) {
            const auto distance = static_cast<double>(d);
            return d > 0.0F ? convention.store(distance, distance / planarShare, *scene) : gap;
        };
        for (int y = 0; y < trial.stored.height(); ++y)
            for (int x = 0; x < trial.stored.width(); ++x) {
                double sum = 0.0;
                if (convention.antiAliased)
                    for (int i = 0; i < n * n; ++i) {
                        const int fx = n * x + i % n;
                        const int fy = n * y + i / n;
                        sum += number(scene->fine.at(fx, fy), fineShare(fx, fy)) / (n * n);
                    }
                else
                    sum = number(scene->distance.at(x, y), share(x, y));
                trial.stored.at(x, y) = written(sum, convention);
            }
        trials.push_back(std::move(trial));
    }
    return trials;
}

void ReadingScore::add(const ReadingTrial& trial, const depth::ReadingProposal& proposal, bool right)
{
    Kind& kind = trial.isMetric ? metric : grey;
    ++kind.trials;
    if (right)
        ++kind.right;
    else if (proposal.isSure())
        ++kind.wrongAndSure;
    auto& [count, rightOnes] =
        byConfidence[static_cast<std::size_t>(std::clamp(proposal.confidence, 0.0, 0.999) * 10.0)];
    ++count;
    rightOnes += right ? 1 : 0;
}

void ReadingScore::print() const
{
    const auto row = [](const char* name, const Kind& kind) {
        fmt::print("{:<10} {:>4} trials, right {:>5.1f} %, wrong and sure {:>4.1f} %\n", name, kind.trials,
                   100.0 * kind.right / std::max(1, kind.trials),
                   100.0 * kind.wrongAndSure / std::max(1, kind.trials));
    };
    row("distances", metric);
    row("greys", grey);
    fmt::print("said to be sure to   ");
    for (std::size_t i = 0; i < byConfidence.size(); ++i)
        if (byConfidence[i].first > 0)
            fmt::print("{:>3}-{} %: {:<6}", 10 * i, 10 * i + 10, byConfidence[i].first);
    fmt::print("\nof these were right  ");
    for (const auto& [count, rightOnes] : byConfidence)
        if (count > 0) fmt::print("{:>7.1f} %       ", 100.0 * rightOnes / count);
    fmt::print("\n");
}

void writeTrials(const ReadingScenePtr& scene, const std::filesystem::path& folder)
{
    std::string name;
    for (const char c : scene->name)
        if (std::isalnum(static_cast<unsigned char>(c))) name += c;
    int number = 0;
    for (const ReadingTrial& trial : readingTrials(scene)) {
        ++number;
        const std::filesystem::path own = folder / name / std::to_string(number);
        std::filesystem::create_directories(own);
        const auto file = [&](const char* what) { return own / what; };
        RgbaImage colour = scene->colour;
        if (!trial.alpha.empty()) colour.plane(3) = trial.alpha;
        passes::ExrOutput picture;
        picture.channels = {{"R", &colour.plane(0)}, {"G", &colour.plane(1)}, {"B", &colour.plane(2)}};
        if (!trial.alpha.empty()) picture.channels.push_back({"A", &colour.plane(3)});
        passes::writeExr(file("colour.exr"), picture);
        const int levels = depth::statisticsOf(trial.stored, nullptr).levels;
        if (levels > 0) {
            passes::PictureOutput depth;
            depth.channels = {{"Y", &trial.stored}};
            depth.type = levels == 255 ? passes::SampleType::uint8 : passes::SampleType::uint16;
            passes::writePicture(file("depth.png"), depth);
        } else {
            passes::ExrOutput depth;
            depth.channels = {{"Z", &trial.stored}};
            depth.type = passes::SampleType::float32;
            passes::writeExr(file("depth.exr"), depth);
        }
    }
}

void tryReadings(const ReadingScenePtr& scene, bool onlyWrong, ReadingScore& score)
{
    for (const ReadingTrial& trial : readingTrials(scene)) {
        const auto proposal = trial.propose();
        const bool right = trial.isRight(proposal.settings);
        score.add(trial, proposal, right);
        if (right && onlyWrong) continue;
        std::fflush(stdout);
        fmt::print("{:<22} {:<54} {:>4.2f} {:<14} {}\n", scene->name, trial.convention, proposal.confidence,
                   right               ? (proposal.isSure() ? "right" : "right, unsure")
                   : proposal.isSure() ? "WRONG"
                                       : "wrong, unsure",
                   depth::title(proposal.settings.reading));
        if (!onlyWrong) continue;
        fmt::print("    {}\n", proposal.inWords());
        const Plane<float>* alpha = trial.alpha.empty() ? nullptr : &trial.alpha;
        const auto e = depth::evidenceOf(trial.stored, alpha, depth::statisticsOf(trial.stored, alpha));
        fmt::print(
            "    votes {:.0f}: zero {:.2f} ({:.2f}) ray {:.2f} ({:.2f} at {:.1f} deg) straight {:.2f} above "
            "{:.2f} ({:.2f}) below {:.2f} ({:.2f}); bends {:+.2f} strips {:+.2f} ground {:+.2f} empty "
            "{:+.2f} cover {:.2f}\n",
            e.votes, e.zero, e.zeroNarrow, e.ray, e.rayNarrow, e.rayFieldDeg, e.straight, e.aboveHigh.share,
            e.aboveHigh.narrow, e.belowLow.share, e.belowLow.narrow, e.direction.bends, e.direction.strips,
            e.direction.ground, e.emptySide, e.cover);
    }
}

} // namespace retinex::bench
