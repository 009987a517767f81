#include "core/depth/reading_evidence.h"

#include "core/depth/conditioning.h"
#include "core/image/reduced.h"
#include "core/image/srgb.h"

#include <algorithm>
#include <cmath>

namespace retinex::depth {

namespace {

constexpr double kNarrow = 0.02;
constexpr double kVeryNarrow = 0.007;
constexpr double kBesideStraight = 0.25; ///< poles nearer to infinity than this are no grey's
constexpr double kFewVotes = 50.0;
constexpr double kUsualField = 40.0; ///< degrees

/// The mask that the tests work on: whatever may be a gap is left out.
Plane<std::uint8_t> cautiousMask(const Plane<float>& numbers, const Plane<float>* alpha,
                                 const DepthStatistics& s)
{
    Plane<std::uint8_t> mask(numbers.width(), numbers.height());
    const GapRules rules = proposeGaps(s, false);
    for (std::size_t i = 0; i < numbers.size(); ++i) {
        const float v = numbers.pixels()[i];
        const bool end = (s.shareAtMost > 0.003 && static_cast<double>(v) >= s.most) || v == 0.0F;
        const bool open = alpha && alpha->pixels()[i] <= 0.0F;
        mask.pixels()[i] = !std::isfinite(v) || end || open || static_cast<double>(v) >= rules.from ? 1 : 0;
    }
    return mask;
}

/// The field of view for which lengths along the ray become planar best. The right one stands out within half
/// a degree, so a quick look at all of them comes first.
void weighRays(ReadingEvidence& e, const std::vector<NumberRow>& rows, const ProposalHints& hints)
{
    double top = -1.0;
    // How closely votes lie around 0; the field of view that they lie closest for is the one.
    const auto weigh = [&](double field) {
        const PoleVotes votes = poleVotes(rows, e.range, e.quantum, field);
        if (!(votes.total > kFewVotes)) return;
        const double at = votes.position(0.0);
        const double closeness = votes.share(at, kVeryNarrow) + votes.share(at, kNarrow);
        if (closeness <= top) return;
        top = closeness;
        e.rayNarrow = votes.share(at, kNarrow);
        e.ray = votes.share(at);
        e.rayFieldDeg = field;
    };
    if (hints.fieldOfViewDeg > 0.0) {
        weigh(hints.fieldOfViewDeg);
        return;
    }
    weigh(kUsualField);
    constexpr std::size_t kQuickLook = 4000;
    const std::size_t thinning = std::max<std::size_t>(1, rows.size() / kQuickLook);
    double best = kUsualField;
    double most = -1.0;
    for (double field = 18.0; field <= 100.0; field += 0.5) {
        const PoleVotes votes = poleVotes(rows, e.range, e.quantum, field, thinning);
        const double count = votes.total * votes.share(votes.position(0.0), 0.04);
        if (count > most) {
            most = count;
            best = field;
        }
    }
    for (const double step : {0.0, 0.5, 1.0, 1.5, 2.0, 2.5}) {
        weigh(best - step);
        weigh(best + step);
    }
    for (const double step : {0.25, 0.12, 0.06}) {
        const double found = e.rayFieldDeg;
        weigh(found - step);
        weigh(found + step);
    }
}

ReadingEvidence::Side sideOf(const PoleVotes& votes, double from, double to)
{
    const double q = votes.peak(from, to);
    return {votes.pole(q), votes.share(q), votes.share(q, kVeryNarrow)};
}

/// What stands where nothing is: by alpha, or by one number that a part of the picture holds throughout.
double emptySideOf(const DepthStatistics& s)
{
    if (s.openShare > 0.002) {
        if (s.openAtMost > 0.8) return 1.0;
        if (s.openAtZero > 0.8 && s.isNormalised()) return -1.0;
    }
    if (!s.isNormalised()) return 0.0;
    // Surfaces hardly hold the very ends of a grey, whatever lies flat before the camera.
    const double atOne = s.most >= 1.0 ? s.shareAtMost : 0.0;
    const double more = atOne - s.shareAtZero;
    constexpr double kEnough = 0.02; // of the picture
    if (std::abs(more) < 3.0 * std::min(atOne, s.shareAtZero)) return 0.0;
    return 0.7 * std::clamp(more / kEnough, -1.0, 1.0);
}

} // namespace

bool ReadingEvidence::hasFlatSurfaces() const noexcept
{
    constexpr double kHeard = 0.12;
    const auto crowd = [](double narrow, double share, double most) {
        return share > kHeard && narrow > most * share;
    };
    return crowd(zeroNarrow, zero, 0.4) || crowd(rayNarrow, ray, 0.4) ||
           crowd(straightNarrow, straight, 0.4) || crowd(aboveHigh.narrow, aboveHigh.share, 0.25) ||
           crowd(belowLow.narrow, belowLow.share, 0.25);
}

int enoughDivisor(int width) noexcept
{
    constexpr double kEnough = 1920.0;
    return std::max(1, static_cast<int>(std::lround(width / kEnough)));
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

ReadingEvidence evidenceOf(const Plane<float>& whole, const Plane<float>* wholeAlpha,
                           const DepthStatistics& statistics, const ProposalHints& hints)
{
    ReadingEvidence e;
    e.numbers = statistics;
    // A large picture says no more than one of HD size made of its pixels; it would take seconds.
    const int divisor = enoughDivisor(whole.width());
    Plane<float> numbers = divisor > 1 ? picked(whole, divisor) : whole;
    const Plane<float> fewAlpha = divisor > 1 && wholeAlpha ? picked(*wholeAlpha, divisor) : Plane<float>();
    const Plane<float>* alpha = divisor > 1 && wholeAlpha ? &fewAlpha : wholeAlpha;
    const std::size_t finite = statistics.pixels - statistics.zeros - statistics.nans - statistics.infinites;
    e.isBelowZero = 10 * statistics.negatives > 9 * finite;
    if (e.isBelowZero) {
        for (float& v : numbers.pixels())
            v = -v;
        e.numbers = statisticsOf(numbers, alpha);
    }
    const DepthStatistics& s = e.numbers;
    // Mixtures at anti-aliased edges lie on no surface; they must not vote.
    if (s.isAntiAliased()) numbers = snapped(numbers);
    e.quantum = s.quantum();
    const Plane<std::uint8_t> mask = cautiousMask(numbers, alpha, s);
    e.range = centralRange(numbers, mask);
    e.cover = 1.0 - static_cast<double>(std::count(mask.pixels().begin(), mask.pixels().end(), 1)) /
                        static_cast<double>(std::max<std::size_t>(1, mask.size()));
    const auto rows = numberRows(numbers, mask, e.range, e.quantum, hints.pixelAspect);
    const PoleVotes votes = poleVotes(rows, e.range, e.quantum);
    e.votes = votes.total;
    if (e.range.low > 0.0) {
        e.zero = votes.share(votes.position(0.0));
        e.zeroNarrow = votes.share(votes.position(0.0), kNarrow);
    }
    e.straight = votes.share(0.0);
    e.straightNarrow = votes.share(0.0, kNarrow);
    e.aboveHigh = sideOf(votes, kBesideStraight, 2.0);
    e.belowLow = sideOf(votes, -2.0, -kBesideStraight);
    const bool mayBeDistance = !s.isNormalised() || s.levels == 0;
    // Votes of exact numbers that crowd at 0 already leave no room for rays.
    const bool planar = e.zero > 0.6 && e.zeroNarrow > 0.85 * e.zero && e.quantum < 1e-5;
    if (mayBeDistance && !planar && e.range.low > 0.0) weighRays(e, rows, hints);
    e.direction = directionOf(numbers, mask, e.quantum);
    if (s.levels > 0) {
        for (float& v : numbers.pixels())
            v = fromSrgb(v);
        const NumberRange range = centralRange(numbers, mask);
        // A step is largest at the bright end, where the curve is steepest.
        const double quantum = 2.2 / s.levels / std::max(range.high - range.low, 1e-6);
        const PoleVotes shown = poleVotes(numbers, mask, range, quantum);
        if (shown.total > kFewVotes) {
            e.shownAboveHigh = sideOf(shown, kBesideStraight, 2.0);
            e.shownBelowLow = sideOf(shown, -2.0, -kBesideStraight);
        }
    }
    e.emptySide = emptySideOf(s);
    return e;
}

} // namespace retinex::depth
