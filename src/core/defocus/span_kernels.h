#pragma once

/// The inner loop of the engine, compiled for each instruction set and chosen at run time (Highway).
namespace retinex::defocus {

/// One row of an iris applied to one row of a slice: for x in [0, count)
///
///   sums[x] += weight * (lerp(prefix, x + endAt) - lerp(prefix, x + startAt))
///
/// where lerp(p, i + f) = (1 - f) p[i] + f p[i + 1] and prefix[i] is the sum of all samples before i.
/// `prefix` points at the entry for x = 0 and must be readable from floor(startAt) to
/// count + floor(endAt) (inclusive). No alignment is needed; any count, 0 is fine.
void addSpan(const double* prefix, double startAt, double endAt, double weight, double* sums, int count);

/// The plain twin of addSpan, for tests.
void addSpanScalar(const double* prefix, double startAt, double endAt, double weight, double* sums,
                   int count);

} // namespace retinex::defocus
