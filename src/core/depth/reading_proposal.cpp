#include "core/depth/reading_proposal.h"

#include "core/base/reduced.h"
#include "core/base/say.h"
#include "core/depth/conditioning.h"
#include "core/depth/straight_lines.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace retinex::depth {

namespace {

/// Poles within this of infinity count as infinitely far.
constexpr double kStraight = 0.22;
/// A reading needs this share of the votes to be heard, and this to be certain.
constexpr double kHeard = 0.14;
constexpr double kCertain = 0.34;
constexpr double kNarrow = 0.02;
constexpr double kVeryNarrow = 0.007;
constexpr double kFewVotes = 50.0;
constexpr double kNarrowField = 24.0; ///< degrees; rays of a narrower one are as good as planar
constexpr double kUsualField = 40.0;

/// All that is weighed.
struct Case
{
    const DepthStatistics& numbers;
    PoleVotes votes;
    double peak = 0.0;
    double peakShare = 0.0;
    double zeroShare = 0.0; ///< for a pole at 0: distances from the camera plane
    double peakNarrow = 0.0;
    double straightShare = 0.0; ///< for a pole infinitely far
    double zeroNarrow = 0.0;
    double rayNarrow = 0.0;
    double rayUsual = 0.0; ///< rayNarrow for a usual field of view
    double rayShare = 0.0; ///< for a pole at 0 once lengths along the ray are made planar
    double rayFieldOfView = 0.0;
    DirectionEvidence direction;

    [[nodiscard]] bool enoughVotes() const { return votes.total > kFewVotes; }
    /// Votes of flat surfaces crowd at one pole; a rounded thing that is mistaken for flat spreads them.
    /// A pole that a reading fixes beforehand (0, infinity) is not hit by accident; any other has to crowd.
    [[nodiscard]] bool crowds() const { return peakNarrow > 0.38 * peakShare; }
};

double confidenceOf(double share, const DepthStatistics& numbers)
{
    const double confidence = 0.5 + 0.45 * std::clamp((share - kHeard) / (kCertain - kHeard), 0.0, 1.0);
    // 256 steps spread the votes so far that even and reciprocal spacing can be taken for each other.
    return numbers.levels == 255 ? std::min(confidence, 0.68) : confidence;
}

/// The field of view for which lengths along the ray become planar best. The right one stands out within half
/// a degree, so a quick look at all of them comes first.
void weighRays(Case& c, const Plane<float>& stored, const Plane<std::uint8_t>& gaps,
               const ProposalHints& hints)
{
    const auto votesFor = [&](double field, int thinning) {
        ViewGeometry view = hints.view(stored);
        view.fieldOfViewDeg = field;
        const PlanarShare share(view);
        return poleVotes(stored, gaps, {c.votes.low, c.votes.high}, c.numbers.quantum(), share, thinning);
    };
    const auto weigh = [&](double field) {
        const PoleVotes votes = votesFor(field, 1);
        const double share = votes.total > kFewVotes ? votes.share(votes.position(0.0), kNarrow) : 0.0;
        if (share > c.rayNarrow) {
            c.rayNarrow = share;
            c.rayShare = votes.share(votes.position(0.0));
            c.rayFieldOfView = field;
        }
        return share;
    };
    c.rayUsual = weigh(kUsualField);
    if (hints.fieldOfViewDeg > 0.0) {
        c.rayNarrow = 0.0;
        c.rayUsual = weigh(hints.fieldOfViewDeg);
        return;
    }
    double best = kUsualField;
    double most = -1.0;
    for (double field = 18.0; field <= 100.0; field += 0.5) {
        const PoleVotes votes = votesFor(field, 6);
        const double count = votes.total * votes.share(votes.position(0.0), 0.04);
        if (count > most) {
            most = count;
            best = field;
        }
    }
    double top = weigh(best);
    for (const double step : {0.25, 0.12, 0.06})
        for (const double other : {best - step, best + step})
            if (const double share = weigh(other); share > top) {
                top = share;
                best = other;
            }
}

/// Brought to fill 0..1, so that the numbers themselves are no distances.
bool isStretched(const DepthStatistics& s)
{
    return s.isNormalised() && (s.most > 0.985 || s.levels > 0 || s.p50 > 0.6);
}

/// Depth buffers spend most of their range close to the camera: what is seen crowds towards 1.
bool bunchedHigh(const DepthStatistics& s)
{
    return s.isNormalised() && s.levels == 0 && s.p50 > 0.8 && s.most > 0.95;
}

std::string ofFlatSurfaces(const std::string& what, double share)
{
    return say("flat surfaces foreshorten as {} must, at {:.0f} % of the places looked at", what,
               100.0 * share);
}

/// The two strongest signs of which way round the numbers run.
void tellDirection(const Case& c, ReadingProposal& proposal)
{
    std::vector<std::string> reasons = c.direction.reasons();
    if (reasons.size() > 2) reasons.resize(2);
    for (auto& reason : reasons)
        proposal.reasons.push_back(std::move(reason));
}

void tellRange(const Case& c, ReadingProposal& proposal)
{
    const DepthStatistics& s = c.numbers;
    if (s.levels > 0)
        proposal.reasons.push_back(say("{} to {} of {} grey levels", std::lround(s.least * s.levels),
                                       std::lround(s.most * s.levels), s.levels + 1));
    else
        proposal.reasons.push_back(say("values {:.4g} to {:.4g}", s.least, s.most));
}

void asDistance(const Case& c, ReadingProposal& proposal)
{
    const bool ray = c.rayNarrow > 1.15 * c.zeroNarrow + 0.02 && c.rayFieldOfView > kNarrowField;
    const double share = ray ? c.rayShare : c.zeroShare;
    proposal.settings.reading = ray ? Reading::distanceAlongRay : Reading::distanceFromCameraPlane;
    if (ray) proposal.settings.fieldOfViewDeg = c.rayFieldOfView;
    proposal.scaleKnown = true;
    proposal.confidence = confidenceOf(share, c.numbers);
    // Which of the two it is must stand out as well: rays with a margin, planar against rays of a usual lens.
    const bool clear = ray ? c.rayNarrow > 1.25 * c.zeroNarrow : c.zeroNarrow > 1.2 * c.rayUsual;
    if (!clear) proposal.confidence = std::min(proposal.confidence, 0.65);
    proposal.reasons.push_back(
        ofFlatSurfaces(ray ? "lengths along the ray" : "distances from the camera plane", share));
    if (ray) proposal.reasons.push_back(say("for a field of view of about {:.0f} degrees", c.rayFieldOfView));
}

/// What stands at the far end of the numbers, as far as empty pixels tell: 1 the largest, -1 the smallest.
double emptySide(const DepthStatistics& s)
{
    if (s.openShare > 0.002) {
        if (s.openAtMost > 0.8) return 1.0;
        if (s.openAtZero > 0.8 && s.isNormalised()) return -1.0;
    }
    return 0.0;
}

/// Numbers that run straight themselves: 1/d up to scale and offset, in either direction.
void asReciprocal(const Case& c, ReadingProposal& proposal)
{
    const DepthStatistics& s = c.numbers;
    double farther = c.direction.verdict();
    const double empty = emptySide(s);
    const bool bunched = bunchedHigh(s);
    farther += 0.8 * empty + (bunched ? 1.0 : 0.0);
    proposal.reasons.push_back(ofFlatSurfaces("reciprocal distances", c.straightShare));
    if (bunched) proposal.reasons.push_back("values crowd towards 1, as depth buffers do");
    if (empty != 0.0)
        proposal.reasons.push_back(
            say("empty pixels hold the {} value", empty > 0.0 ? "largest" : "smallest"));
    tellDirection(c, proposal);
    ReadingSettings& settings = proposal.settings;
    if (!isStretched(s) && s.least > 0.0 && farther < 0.5) {
        settings.reading = Reading::reciprocalDistance;
        proposal.scaleKnown = true;
        farther = std::min(farther - 0.4, 0.0); // reciprocals fall with distance: that is the usual case
    } else if (farther > 0.0 && (bunched || s.levels == 0)) {
        settings.reading = Reading::clipSpace;
        settings.nearest = 0.1;
        settings.farthest = 100.0;
        if (s.least < -0.01) settings.clipRange = ClipRange::minusOneToOne;
    } else {
        settings.reading = farther > 0.0 ? Reading::greyNearDark : Reading::greyNearBright;
        settings.spacing = Spacing::reciprocal;
    }
    proposal.confidence = std::min(confidenceOf(c.straightShare, s),
                                   0.5 + 0.45 * std::clamp(1.6 * std::abs(farther), 0.0, 1.0));
}

/// Most of a picture is far within its range (common practice). 256 steps mislead the votes of flat surfaces
/// and rounded edges so that a grey even in 1/distance is now and then taken for an even one that runs the
/// other way; there nearly all of the picture would be at its nearest, which is said.
void doubtDirection(const DepthStatistics& s, ReadingProposal& proposal)
{
    constexpr double kNearEnd = 0.25;
    const bool nearBright = proposal.settings.reading == Reading::greyNearBright;
    if (s.levels != 255 || proposal.settings.spacing != Spacing::distance ||
        (nearBright ? 1.0 - s.p50 : s.p50) >= kNearEnd)
        return;
    proposal.confidence = std::min(proposal.confidence, 0.5);
    proposal.reasons.push_back(
        "near and far may be exchanged: this way most of the picture is at its nearest, and 256 steps are "
        "too coarse to be sure");
}

/// A grey even in distance, or distances turned round: the pole lies beyond one end.
void asGrey(const Case& c, ReadingProposal& proposal)
{
    const DepthStatistics& s = c.numbers;
    const bool nearBright = c.peak > 0.0;
    ReadingSettings& settings = proposal.settings;
    const double pole = c.votes.pole(c.peak);
    if (s.isNormalised()) {
        settings.reading = nearBright ? Reading::greyNearBright : Reading::greyNearDark;
        // d is 0 at the pole and runs evenly from it: the ratio of the distances at the ends of what is there
        // follows.
        settings.storedLow = c.votes.low;
        settings.storedHigh = c.votes.high;
        const double nearEnd = std::abs(pole - (nearBright ? c.votes.high : c.votes.low));
        const double farEnd = std::abs(pole - (nearBright ? c.votes.low : c.votes.high));
        proposal.endsRatio = std::clamp(farEnd / std::max(nearEnd, 1e-4), 1.01, 1000.0);
        settings.farthest = settings.nearest * proposal.endsRatio;
        proposal.reasons.push_back(ofFlatSurfaces("an even grey", c.peakShare));
        proposal.reasons.push_back(nearBright ? "bright is near" : "bright is far");
        proposal.confidence = confidenceOf(c.peakShare, s);
    } else {
        settings.reading = Reading::distanceFromCameraPlane;
        settings.reversed = nearBright;
        settings.storedHigh = std::max(pole, s.most * 1.0001);
        settings.storedLow = 0.0;
        proposal.reasons.push_back(nearBright ? "distances that run the wrong way"
                                              : "distances with an offset");
        if (!nearBright) settings.conditioning.offset = -pole;
        proposal.confidence = std::min(0.6, confidenceOf(c.peakShare, s));
    }
    // Two sources that contradict each other make it unsure.
    const double other = 1.6 * c.direction.bends + 1.2 * c.direction.strips;
    if ((nearBright && other > 0.8) || (!nearBright && other < -0.8))
        proposal.confidence = std::min(proposal.confidence, 0.6);
}

/// Flat surfaces say nothing: what is left are the range and the usual.
void asRangeTells(const Case& c, ReadingProposal& proposal)
{
    const DepthStatistics& s = c.numbers;
    if (!s.isNormalised()) {
        proposal.settings.reading = Reading::distanceFromCameraPlane;
        proposal.scaleKnown = true;
        proposal.confidence = s.least > 0.0 ? 0.68 : 0.5;
        if (c.direction.seemsExchanged()) {
            proposal.settings.reversed = true;
            proposal.settings.storedLow = 0.0;
            proposal.settings.storedHigh =
                std::max(c.peak > 0.0 ? c.votes.pole(c.peak) : 0.0, s.most * 1.0001);
            proposal.confidence = 0.6;
            tellDirection(c, proposal);
        }
        proposal.reasons.emplace_back("numbers beyond 1, as distances have");
        return;
    }
    const double farther = c.direction.verdict() + emptySide(s);
    if (!isStretched(s) && s.least > 0.0 && farther < 0.0) {
        proposal.settings.reading = Reading::reciprocalDistance;
        proposal.confidence = 0.55;
        proposal.reasons.push_back("small numbers that do not fill 0..1, as reciprocals have");
        return;
    }
    if (bunchedHigh(s)) {
        proposal.settings.reading = Reading::clipSpace;
        proposal.settings.nearest = 0.1;
        proposal.settings.farthest = 100.0;
        proposal.confidence = 0.6;
        proposal.reasons.push_back("values crowd towards 1, as depth buffers do");
        return;
    }
    proposal.settings.reading = farther > 0.0 ? Reading::greyNearDark : Reading::greyNearBright;
    proposal.confidence = 0.4 + 0.25 * std::min(1.0, std::abs(farther));
    // Grey that is even in 1/distance leaves most of a scene near its far end, spread over the last few
    // steps.
    const double low = farther > 0.0 ? 1.0 - s.p95 : s.p5;
    const double middle = farther > 0.0 ? 1.0 - s.p50 : s.p50;
    if (middle < 0.25 && middle - low > 0.012) {
        proposal.settings.spacing = Spacing::reciprocal;
        proposal.reasons.push_back(
            "most numbers lie near the far end, as in a grey that is even in 1/distance");
    }
    tellDirection(c, proposal);
    proposal.reasons.push_back("no flat surfaces to tell more by");
}

bool isAntiAliased(const DepthStatistics& s)
{
    return s.edges > 200 && s.betweenShare > 0.35;
}

void proposeMending(const DepthStatistics& s, ReadingProposal& proposal)
{
    if (isAntiAliased(s)) {
        proposal.settings.conditioning.snapEdges = true;
        proposal.reasons.push_back(
            say("{:.0f} % of edges are anti-aliased: they are snapped", 100.0 * s.betweenShare));
    }
    if (s.levels == 255) {
        proposal.settings.conditioning.smoothLevels = 255;
        proposal.reasons.push_back("256 levels: steps are smoothed");
    }
    if (s.isNoisy()) {
        proposal.settings.conditioning.softenPx = 4.0;
        proposal.reasons.push_back(say("noise of {:.1f} % is softened", 100.0 * s.noise));
    }
}

void tellGaps(const DepthStatistics& s, ReadingProposal& proposal)
{
    const GapRules& gaps = proposal.settings.gaps;
    if (s.hasAlpha && s.openShare > 0.0005 && s.openAtZero > 0.9 && gaps.zero)
        proposal.reasons.push_back("gaps, written as 0, where alpha is 0");
    else if (gaps.outsideAlpha)
        proposal.reasons.push_back("gaps where alpha is 0");
    else if (gaps.zero && s.zeros > 0)
        proposal.reasons.push_back("0 is a gap");
    if (std::isfinite(gaps.from)) proposal.reasons.push_back(say("{:.4g} stands for nothing", s.most));
}

/// The mask that the tests work on: whatever may be a gap is left out.
Plane<std::uint8_t> cautiousMask(const Plane<float>& stored, const Plane<float>* alpha,
                                 const DepthStatistics& s)
{
    Plane<std::uint8_t> mask(stored.width(), stored.height());
    const GapRules rules = proposeGaps(s, false);
    for (std::size_t i = 0; i < stored.size(); ++i) {
        const float v = stored.pixels()[i];
        const bool end = (s.shareAtMost > 0.003 && static_cast<double>(v) >= s.most) || v == 0.0F;
        const bool open = alpha && alpha->pixels()[i] <= 0.0F;
        mask.pixels()[i] = !std::isfinite(v) || end || open || static_cast<double>(v) >= rules.from ? 1 : 0;
    }
    return mask;
}

} // namespace

int enoughDivisor(int width) noexcept
{
    constexpr double kEnough = 1920.0;
    return std::max(1, static_cast<int>(std::lround(width / kEnough)));
}

ViewGeometry ProposalHints::view(const Plane<float>& stored) const
{
    ViewGeometry view{static_cast<double>(stored.width()), static_cast<double>(stored.height())};
    view.pixelAspect = pixelAspect;
    view.fieldOfViewDeg = fieldOfViewDeg;
    return view;
}

std::string ReadingProposal::inWords() const
{
    return fmt::format("{}{}, {}: {}", title(settings.reading), settings.reversed ? ", reversed" : "",
                       isSure() ? "sure" : "unsure", fmt::join(reasons, "; "));
}

GapRules proposeGaps(const DepthStatistics& s, bool greys)
{
    GapRules rules;
    // Black is a grey's end; it is a gap where alpha says so.
    rules.zero = !greys || (s.openShare > 0.0005 && s.openAtZero > 0.9);
    // A number far beyond all others, held by many: 1e10, 65504 and the like.
    const bool lonely = s.most > 20.0 * std::max(s.p50, 1e-12) && s.shareAtMost > 0.0005;
    const bool emptyAtMost = s.openShare > 0.0005 && s.openAtMost > 0.9;
    if (!s.isNormalised() && (lonely || emptyAtMost)) rules.from = s.most * 0.9999;
    if (s.isNormalised() && emptyAtMost) rules.from = s.most * 0.9999;
    const double told = s.openAtZero * (rules.zero ? 1.0 : 0.0) + s.openNotFinite +
                        (std::isfinite(rules.from) ? s.openAtMost : 0.0);
    rules.outsideAlpha = s.openShare > 0.0005 && told < 0.9;
    return rules;
}

ReadingProposal proposeReading(const Plane<float>& whole, const Plane<float>* wholeAlpha,
                               const DepthStatistics& statistics, const ProposalHints& hints)
{
    // A large picture says no more than one of HD size made of its pixels; it would take seconds.
    const int divisor = enoughDivisor(whole.width());
    const Plane<float> raw = divisor > 1 ? picked(whole, divisor) : whole;
    const Plane<float> fewAlpha = divisor > 1 && wholeAlpha ? picked(*wholeAlpha, divisor) : Plane<float>();
    const Plane<float>* alpha = divisor > 1 && wholeAlpha ? &fewAlpha : wholeAlpha;
    // Mixtures at anti-aliased edges lie on no surface; they must not vote.
    const Plane<float> stored = isAntiAliased(statistics) ? snapped(raw) : raw;
    ReadingProposal proposal;
    if (statistics.distinct < 3) {
        proposal.reasons.emplace_back("fewer than three different numbers: nothing can be told");
        return proposal;
    }
    const Plane<std::uint8_t> mask = cautiousMask(stored, alpha, statistics);
    Case c{statistics, poleVotes(stored, mask, centralRange(stored, mask), statistics.quantum()),
           0,          0,
           0,          0,
           0,          0,
           0,          0,
           0,          0,
           {}};
    c.peak = c.votes.peak();
    c.peakShare = c.votes.share(c.peak);
    if (c.votes.low > 0.0) {
        c.zeroShare = c.votes.share(c.votes.position(0.0));
        c.zeroNarrow = c.votes.share(c.votes.position(0.0), kNarrow);
    }
    c.straightShare = c.votes.share(0.0);
    c.peakNarrow = c.votes.share(c.peak, kVeryNarrow);
    const bool mayBeDistance = !statistics.isNormalised() || statistics.levels == 0;
    // Votes of exact numbers that crowd at 0 already leave no room for rays.
    const bool planar = c.zeroShare > 0.6 && c.zeroNarrow > 0.85 * c.zeroShare && statistics.quantum() < 1e-5;
    if (mayBeDistance && !planar && c.votes.low > 0.0) weighRays(c, stored, mask, hints);
    c.direction = directionOf(stored, mask, statistics.quantum());
    tellRange(c, proposal);
    const double distanceShare = std::max(c.zeroShare, c.rayShare);
    // A normalised pass is a distance only where nothing says it was stretched to fill 0..1.
    if (!c.enoughVotes() || std::max(c.peakShare, distanceShare) < kHeard)
        asRangeTells(c, proposal);
    else if (!isStretched(statistics) && distanceShare > 0.8 * c.peakShare &&
             distanceShare >= c.straightShare)
        asDistance(c, proposal);
    else if (std::abs(c.peak) < kStraight)
        asReciprocal(c, proposal);
    else if (c.crowds() || statistics.levels == 255)
        asGrey(c, proposal);
    else
        asRangeTells(c, proposal);
    if (isGrey(proposal.settings.reading)) doubtDirection(statistics, proposal);
    if (statistics.isNormalised() && proposal.scaleKnown)
        proposal.confidence = std::min(proposal.confidence, 0.75);
    proposal.settings.gaps = proposeGaps(statistics, needsEnds(proposal.settings.reading));
    tellGaps(statistics, proposal);
    proposeMending(statistics, proposal);
    return proposal;
}

} // namespace retinex::depth
