#pragma once

#include <cstddef>
#include <cstdint>

/// The inner loops of the engine, compiled for each instruction set and chosen at run time (Highway).
namespace retinex::defocus {

/// One row of an iris, as it falls into a row of output: for each x it adds
///
///   weight * (lerp(prefix, x + endAt) - lerp(prefix, x + startAt))
///
/// where lerp(p, i + f) = (1 - f) p[i] + f p[i + 1] and prefix[i] is the sum of all samples before i.
template <class Real>
struct Span
{
    Span() = default;
    /// `prefix` points at the entry for x = 0 of the first channel.
    Span(const Real* prefix, double startAt, double endAt, double weight);

    const Real* start = nullptr; ///< what start0 applies to at x = 0; start1 to the next entry
    const Real* end = nullptr;
    Real start0 = 0;
    Real start1 = 0;
    Real end0 = 0;
    Real end1 = 0;
    int from = 0; ///< output that it may add to is [from, to); beyond, both ends are alike
    int to = 0;
};

/// All spans of an iris that reach one row of output.
template <class Real>
struct SpanRow
{
    const Span<Real>* spans = nullptr;
    int spanCount = 0;
    std::ptrdiff_t prefixStride = 0; ///< from channel to channel
    Real* sums = nullptr;            ///< out
    std::ptrdiff_t sumsStride = 0;
    int channels = 1;
    int count = 0; ///< of output; any, 0 is fine
};
/// Writes the sums of each channel. No alignment is needed; all spans' prefixes must be readable for all of
/// the row. Real is float or double.
void addSpans(const SpanRow<float>& row);
void addSpans(const SpanRow<double>& row);

/// The plain twin of addSpans, for tests.
void addSpansScalar(const SpanRow<float>& row);
void addSpansScalar(const SpanRow<double>& row);

/// Expands a row of cells to pixels by linear interpolation between the cells' centres: out[x] for x in
/// [0, count), where pixel 0 is the first of cells[1]. `cell` is a power of two from 2 on; cells must hold
/// count / cell + 2 (rounded up) entries.
void expandCells(const float* cells, int cell, float* out, int count);

/// Joins pixels to cells: to[i] becomes `scale` times the sum of the `cell` numbers from pixels[cell * i] on,
/// for i in [0, cells). `cell` is a power of two from 2 on. `to` has room for cells * cell / 2 numbers, and
/// may be `pixels` itself or lie before it in the same row.
void joinCells(const float* pixels, int cell, float* to, int cells, float scale);

/// out[x] = a[x] + share * (b[x] - a[x]) for x in [0, count).
void mixRows(const float* a, const float* b, float share, float* out, int count);

/// What addShared works on: a stretch of a row of pixels, and the sums it is added to.
struct SharedRow
{
    static constexpr int maxChannels = 6;
    const std::uint8_t* rung = nullptr; ///< of each pixel, the slice in front of it
    const float* behind = nullptr;      ///< and its share of the slice behind that one
    int slice = 0;
    int channels = 0;
    const float* value[maxChannels] = {};
    float* sum[maxChannels] = {};
};
/// Adds to each channel's sum its value times the pixel's share of the slice, for `count` pixels.
void addShared(const SharedRow& row, int count);
/// Its plain twin, for tests.
void addSharedScalar(const SharedRow& row, int count);

/// What addWithinBudget works on: one row of a slice as it arrives, and the group it is added to.
struct BudgetRow
{
    const float* light[4] = {};      ///< R, G, B, A, where alpha is at most the evidence but for rounding
    const float* evidence = nullptr; ///< how much of that light is seen rather than guessed
    const float* covered = nullptr;  ///< share of the lens that the slice covers
    const float* inside = nullptr;   ///< share of the iris that lies inside the frame, outside of which it is
                                     ///< dark; null: all
    const float* nearer = nullptr;   ///< coverage of the group by clearly nearer slices; null: none
    float* coverage = nullptr;       ///< of the group
    float* colour[4] = {};           ///< of the group; raised by the mean of the light times the same
};

/// Adds one row of `count` pixels: coverage is raised by what is seen of the slice, at most by what is left.
///
/// What arrives is s, of pixels that show the surface, and g, of guesses, which count `kGuessEvidence` as
/// evidence. Of n, clearly nearer, and the slice
///
/// - min(s, 1 - n) is seen where nothing goes on behind what is nearer: no two surfaces fill the same
///   part of a pixel, so that in the lens too the two lie beside each other;
/// - (1 - n) (s + g) is seen where all of it does: then the two do not depend on each other (a bar across
///   another), and g (1 - n) = s n.
///
/// In between, the second counts g (1 - n) / (s n). Where nothing arrives nothing changes.
void addWithinBudget(const BudgetRow& row, int count);
/// Its plain twin, for tests.
void addWithinBudgetScalar(const BudgetRow& row, int count);

} // namespace retinex::defocus
