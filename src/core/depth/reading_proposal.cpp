#include "core/depth/reading_proposal.h"

#include "core/system/say.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace retinex::depth {

namespace {

constexpr double kNarrowField = 24.0; ///< degrees; rays of a narrower one are as good as planar

/// What numbers are made of, and which way round: together they are a reading.
enum class Shape { planar, ray, reciprocal, even, evenInReciprocal, clip };

/// A reading, and what is held for it: natural logarithms of odds, added up.
struct Hypothesis
{
    Shape shape;
    bool largerIsFarther;
    double score = 0.0;
    double likelihood = 0.0;
};

bool isMetric(const Hypothesis& h)
{
    return h.shape == Shape::planar || h.shape == Shape::ray || h.shape == Shape::reciprocal;
}

/// Depth buffers spend most of their range close to the camera: what is seen crowds towards 1.
bool bunchedHigh(const DepthStatistics& s)
{
    return s.isNormalised() && s.levels == 0 && s.p50 > 0.8 && s.most > 0.95;
}

/// Brought to fill 0..1, so that the numbers themselves are no distances.
bool isStretched(const DepthStatistics& s)
{
    return s.isNormalised() && (s.levels > 0 || bunchedHigh(s) || (s.most > 0.85 && s.least < 0.1));
}

/// By the look of the numbers alone.
double prior(const Hypothesis& h, const ReadingEvidence& e)
{
    const DepthStatistics& s = e.numbers;
    constexpr double kNever = -30.0;
    if (e.isBelowZero) { // no grey lies below 0, and nobody writes reciprocals of such distances
        if (h.shape == Shape::planar) return h.largerIsFarther ? 0.0 : -5.0;
        return kNever;
    }
    const bool usualWay = h.largerIsFarther == (h.shape != Shape::reciprocal);
    if (isStretched(s)) {
        if (h.shape == Shape::even) return 0.0;
        if (h.shape == Shape::evenInReciprocal) return -0.5;
        if (h.shape == Shape::clip && h.largerIsFarther && s.levels != 255)
            return s.levels > 0 ? -3.0 : bunchedHigh(s) ? 3.0 : -1.0;
        return h.shape == Shape::reciprocal && usualWay && s.levels == 0 && s.most < 0.985 ? -3.0 : kNever;
    }
    if (isMetric(h) && !usualWay) return h.shape == Shape::planar && !s.isNormalised() ? -4.5 : kNever;
    if (s.isNormalised()) {
        if (h.shape == Shape::planar) return s.p50 > 0.05 ? -0.5 : -2.0;
        if (h.shape == Shape::ray) return s.p50 > 0.05 ? -1.5 : -3.0;
        if (h.shape == Shape::reciprocal) return 0.0;
        if (h.shape == Shape::even) return -1.5;
        if (h.shape == Shape::evenInReciprocal) return -2.5;
        return h.largerIsFarther && s.p5 > 0.5 && s.most > 0.85 ? 0.0 : kNever;
    }
    if (h.shape == Shape::planar) return 0.0;
    if (h.shape == Shape::ray) return -1.0;
    // Reciprocals beyond 1 are of distances below 1: hardly any scene is that small throughout.
    if (h.shape == Shape::reciprocal)
        return s.p50 > 20.0 ? kNever : s.p50 > 3.0 ? -8.0 : s.p50 > 1.0 ? -4.5 : -1.5;
    return kNever;
}

/// An even grey may have been encoded for display: what then crowds more speaks.
bool isShown(const Hypothesis& h, const ReadingEvidence& e)
{
    const ReadingEvidence::Side& plain = h.largerIsFarther ? e.belowLow : e.aboveHigh;
    const ReadingEvidence::Side& shown = h.largerIsFarther ? e.shownBelowLow : e.shownAboveHigh;
    return shown.share > 0.2 && shown.share > 1.25 * plain.share;
}

const ReadingEvidence::Side& evenSide(const Hypothesis& h, const ReadingEvidence& e)
{
    if (isShown(h, e)) return h.largerIsFarther ? e.shownBelowLow : e.shownAboveHigh;
    return h.largerIsFarther ? e.belowLow : e.aboveHigh;
}

/// What flat surfaces say: how much more of their votes lie where this reading has its pole than chance has
/// there. Votes of one surface are no witnesses on their own, so that even thousands count as a few.
double ofSurfaces(const Hypothesis& h, const ReadingEvidence& e)
{
    constexpr double kChance = 0.045;
    constexpr double kRoom = 0.02;
    const double most = e.numbers.levels == 255 ? 2.5 : 5.0; // 256 steps spread the votes
    const double witnesses =
        most * std::min(1.0, e.votes / 500.0) * (e.numbers.levels == 255 || e.hasFlatSurfaces() ? 1.0 : 0.25);
    const auto weigh = [&](double share) {
        return witnesses * std::log((share + kRoom) / (kChance + kRoom));
    };
    switch (h.shape) {
    case Shape::planar: {
        if (!h.largerIsFarther)
            return weigh(e.aboveHigh.narrow > 0.3 * e.aboveHigh.share ? e.aboveHigh.share : 0.0);
        return weigh(e.zero);
    }
    case Shape::ray: {
        if (e.rayFieldDeg > 0.0 && e.rayFieldDeg < kNarrowField) return weigh(e.zero) - 4.0;
        // Some field of view always fits a little better than none, and rounded ground like a wider one; at
        // the right one votes crowd.
        const double better = std::log((e.rayNarrow + 0.01) / (e.zeroNarrow + 0.01));
        if (std::max(e.zero, e.ray) < 0.2) return weigh(e.zero); // nothing speaks for either
        const bool crowds = e.ray > 0.15 && e.rayNarrow > 0.4 * e.ray;
        return weigh(e.zero) + 3.0 * witnesses * ((crowds ? better : std::min(better, 0.0)) - 0.08);
    }
    case Shape::even: {
        const ReadingEvidence::Side& side = evenSide(h, e);
        // Rounded things that are mistaken for flat ones spread their votes.
        const double crowding =
            std::clamp((side.narrow / std::max(side.share, 1e-6) - 0.15) / 0.25, 0.1, 1.0);
        return weigh((e.numbers.levels == 255 ? 0.8 : crowding) * side.share);
    }
    default:
        return weigh(e.straight);
    }
}

/// That larger numbers are farther, from what does not depend on the formula.
double thatLargerIsFarther(const ReadingEvidence& e)
{
    const DirectionEvidence& d = e.direction;
    return 2.0 * d.bends + 0.7 * d.strips + 1.6 * d.ground * std::min(1.0, 1.5 * e.cover) + 3.0 * e.emptySide;
}

std::vector<Hypothesis> weighed(const ReadingEvidence& e)
{
    std::vector<Hypothesis> all;
    const double farther = thatLargerIsFarther(e);
    double best = -1e9;
    for (const Shape shape :
         {Shape::planar, Shape::ray, Shape::reciprocal, Shape::even, Shape::evenInReciprocal, Shape::clip})
        for (const bool largerIsFarther : {true, false}) {
            Hypothesis h{shape, largerIsFarther};
            const double way = 0.5 * (largerIsFarther ? farther : -farther);
            h.score = prior(h, e) + ofSurfaces(h, e) + way;
            best = std::max(best, h.score);
            all.push_back(h);
        }
    double sum = 0.0;
    for (Hypothesis& h : all)
        sum += h.likelihood = std::exp(h.score - best);
    for (Hypothesis& h : all)
        h.likelihood /= sum;
    std::stable_sort(all.begin(), all.end(),
                     [](const Hypothesis& a, const Hypothesis& b) { return a.score > b.score; });
    return all;
}

GapRules gapsFor(const Hypothesis& h, const ReadingEvidence& e)
{
    return proposeGaps(e.numbers, !isMetric(h));
}

/// Ends of a grey even in distance whose flat surfaces tell where distance 0 would be.
double endsByPole(const ReadingEvidence& e, ReadingSettings& settings)
{
    const bool nearBright = settings.reading == Reading::greyNearBright;
    const ReadingEvidence::Side& side = nearBright ? e.aboveHigh : e.belowLow;
    if (side.share < 0.2 || e.votes < 200.0) return 0.0;
    settings.storedLow = e.range.low;
    settings.storedHigh = e.range.high;
    const double nearEnd = std::abs(side.pole - (nearBright ? e.range.high : e.range.low));
    const double farEnd = std::abs(side.pole - (nearBright ? e.range.low : e.range.high));
    const double ratio = std::clamp(farEnd / std::max(nearEnd, 1e-4), 1.01, 1000.0);
    settings.farthest = settings.nearest * ratio;
    return ratio;
}

ReadingSettings settingsFor(const Hypothesis& h, const ReadingEvidence& e, double* endsRatio = nullptr)
{
    const DepthStatistics& s = e.numbers;
    ReadingSettings settings;
    switch (h.shape) {
    case Shape::planar:
        settings.reading = e.isBelowZero ? Reading::distanceBelowZero : Reading::distanceFromCameraPlane;
        if (!h.largerIsFarther) { // turned round between these
            settings.reversed = true;
            const double pole = e.aboveHigh.share > 0.2 ? e.aboveHigh.pole : 0.0;
            settings.storedLow = 0.0;
            settings.storedHigh = std::max(pole, s.most * 1.0001);
            if (e.isBelowZero) {
                settings.storedLow = -settings.storedHigh;
                settings.storedHigh = 0.0;
            }
        }
        break;
    case Shape::ray:
        settings.reading = Reading::distanceAlongRay;
        if (e.rayNarrow > e.zeroNarrow) settings.fieldOfViewDeg = e.rayFieldDeg; // else by the lens
        break;
    case Shape::reciprocal:
        settings.reading = Reading::reciprocalDistance;
        break;
    case Shape::even: {
        settings.reading = h.largerIsFarther ? Reading::greyNearDark : Reading::greyNearBright;
        if (isShown(h, e)) {
            settings.encoding = Encoding::sRgb;
            break;
        }
        const double ratio = endsByPole(e, settings);
        if (endsRatio) *endsRatio = ratio;
        break;
    }
    case Shape::evenInReciprocal:
        settings.reading = h.largerIsFarther ? Reading::greyNearDark : Reading::greyNearBright;
        settings.spacing = Spacing::reciprocal;
        break;
    case Shape::clip:
        settings.reading = Reading::clipSpace;
        settings.nearest = 0.1;
        settings.farthest = 100.0;
        if (s.least < -0.01) settings.clipRange = ClipRange::minusOneToOne;
        break;
    }
    settings.gaps = gapsFor(h, e);
    if (s.isAntiAliased()) settings.conditioning.snapEdges = true;
    if (s.levels == 255) settings.conditioning.smoothLevels = 255;
    if (s.isNoisy()) settings.conditioning.softenPx = 4.0;
    (void)settings.reconcile();
    return settings;
}

/// Readings that show the same: nearly the same distances, or greys of one order.
bool looksLike(const Hypothesis& a, const Hypothesis& b)
{
    const auto isGreyish = [](const Hypothesis& h) { return !isMetric(h); };
    return a.shape == b.shape && a.largerIsFarther == b.largerIsFarther && isGreyish(a) == isGreyish(b);
}

std::string percentOf(double share)
{
    return fmt::format("{:.0f} %", 100.0 * share);
}

void tellNumbers(const ReadingEvidence& e, std::vector<std::string>& reasons)
{
    const DepthStatistics& s = e.numbers;
    if (s.levels > 0)
        reasons.push_back(say("{} to {} of {} grey levels", std::lround(s.least * s.levels),
                              std::lround(s.most * s.levels), s.levels + 1));
    else if (e.isBelowZero)
        reasons.push_back(say("values {:.4g} to {:.4g}", -s.most, -s.least));
    else
        reasons.push_back(say("values {:.4g} to {:.4g}", s.least, s.most));
}

void tellSurfaces(const Hypothesis& h, const ReadingEvidence& e, std::vector<std::string>& reasons)
{
    double share = 0.0;
    std::string what;
    if (h.shape == Shape::planar && h.largerIsFarther)
        share = e.zero, what = say("distances from the camera plane");
    else if (h.shape == Shape::ray)
        share = e.ray, what = say("lengths along the ray");
    else if (h.shape == Shape::even)
        share = evenSide(h, e).share, what = say("an even grey");
    else if (h.shape != Shape::planar)
        share = e.straight, what = say("reciprocal distances");
    if (e.votes < 100.0 || share < 0.14)
        reasons.push_back(say("no flat surfaces to tell more by"));
    else
        reasons.push_back(say("flat surfaces foreshorten as {} must, at {} of the places looked at", what,
                              percentOf(share)));
    if (h.shape == Shape::ray && e.rayNarrow > e.zeroNarrow)
        reasons.push_back(say("for a field of view of about {:.0f} degrees", e.rayFieldDeg));
}

/// The strongest signs of which way round the numbers run.
void tellDirection(const Hypothesis& h, const ReadingEvidence& e, std::vector<std::string>& reasons)
{
    if (!e.isBelowZero && e.emptySide * (h.largerIsFarther ? 1.0 : -1.0) > 0.3)
        reasons.push_back(
            say("where nothing is they hold the {} number", e.emptySide > 0.0 ? "largest" : "smallest"));
    std::vector<std::string> signs = e.direction.reasons();
    if (signs.size() > 2) signs.resize(2);
    for (auto& sign : signs)
        reasons.push_back(std::move(sign));
}

void tellGaps(const ReadingEvidence& e, const GapRules& gaps, std::vector<std::string>& reasons)
{
    const DepthStatistics& s = e.numbers;
    if (s.hasAlpha && s.openShare > 0.0005 && s.openAtZero > 0.9 && gaps.zero)
        reasons.push_back(say("gaps, written as 0, where alpha is 0"));
    else if (gaps.outsideAlpha)
        reasons.push_back(say("gaps where alpha is 0"));
    else if (gaps.zero && s.zeros > 0)
        reasons.push_back(say("0 is a gap"));
    if (std::isfinite(gaps.from))
        reasons.push_back(say("{:.4g} stands for nothing", e.isBelowZero ? -s.most : s.most));
}

void tellMending(const DepthStatistics& s, std::vector<std::string>& reasons)
{
    if (s.isAntiAliased())
        reasons.push_back(say("{} of edges are anti-aliased: they are snapped", percentOf(s.betweenShare)));
    if (s.levels == 255) reasons.push_back(say("256 levels: steps are smoothed"));
    if (s.isNoisy()) reasons.push_back(say("noise of {:.1f} % is softened", 100.0 * s.noise));
}

} // namespace

std::string inWords(const ReadingSettings& settings)
{
    std::string words(title(settings.reading));
    if (isGrey(settings.reading) && settings.spacing == Spacing::reciprocal)
        words += say(", even in 1/distance");
    if (settings.reversed) words += say(", reversed");
    return words;
}

bool ReadingProposal::isTakenBy(const ReadingSettings& reading) const noexcept
{
    ReadingSettings proposed = settings;
    proposed.nearest = reading.nearest;
    proposed.farthest = reading.farthest;
    proposed.clamp = reading.clamp;
    return proposed == reading;
}

std::string ReadingProposal::inWords() const
{
    return fmt::format("{}, {}: {}", depth::inWords(settings), isSure() ? say("sure") : say("unsure"),
                       fmt::join(reasons, "; "));
}

ReadingProposal proposeReading(const ReadingEvidence& e)
{
    ReadingProposal proposal;
    if (e.numbers.distinct < 3) {
        proposal.reasons.push_back(say("fewer than three different numbers: nothing can be told"));
        return proposal;
    }
    std::vector<Hypothesis> all = weighed(e);
    const Hypothesis best = all.front();
    proposal.settings = settingsFor(best, e, &proposal.endsRatio);
    proposal.scaleKnown = isMetric(best);
    // Of greys the order is what can be right: nobody knows their ends.
    for (const Hypothesis& h : all)
        if (isMetric(best) ? h.shape == best.shape && h.largerIsFarther == best.largerIsFarther
                           : !isMetric(h) && h.largerIsFarther == best.largerIsFarther)
            proposal.confidence += h.likelihood;
    for (const Hypothesis& h : all) {
        const bool isNew = std::none_of(all.cbegin(), all.cbegin() + (&h - all.data()),
                                        [&](const Hypothesis& before) { return looksLike(before, h); });
        if (isNew && h.likelihood > 0.02 && proposal.likely.size() < 3)
            proposal.likely.push_back({settingsFor(h, e), h.likelihood});
    }
    tellNumbers(e, proposal.reasons);
    tellSurfaces(best, e, proposal.reasons);
    if (best.shape == Shape::clip && bunchedHigh(e.numbers))
        proposal.reasons.push_back(say("values crowd towards 1, as depth buffers do"));
    if (!isMetric(best) || best.shape == Shape::reciprocal || !best.largerIsFarther)
        tellDirection(best, e, proposal.reasons);
    tellGaps(e, proposal.settings.gaps, proposal.reasons);
    tellMending(e.numbers, proposal.reasons);
    return proposal;
}

ReadingProposal proposeReading(const Plane<float>& stored, const Plane<float>* alpha,
                               const DepthStatistics& statistics, const ProposalHints& hints)
{
    return proposeReading(evidenceOf(stored, alpha, statistics, hints));
}

} // namespace retinex::depth
