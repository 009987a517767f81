#pragma once

#include "core/passes/exr/exr_deep.h"

/// Samples of a deep picture that have a length: from Z to ZBack each is a volume of even density, whose
/// light is absorbed exponentially on its way. After Kainz, "Interpreting OpenEXR Deep Pixels" (2013), which
/// calls a pixel whose samples are sorted and do not overlap tidy.
namespace retinex::passes {

/// Splits samples that overlap where others begin and end, and joins what then has one extent, so that
/// "over", front to back, is right again. Pixels without overlapping volumes, or with more than 512 samples,
/// stay as they are, the order of their samples too; so does a picture without Z or ZBack. Every other
/// channel than Z, ZBack and A is light, premultiplied.
void makeTidy(DeepSamples& samples);

} // namespace retinex::passes
