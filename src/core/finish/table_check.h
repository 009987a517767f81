#pragma once

#include <filesystem>

namespace retinex::finish {

/// Reads a table for what makes wrong colours in silence, or never ends. Throws Error naming the file, the
/// line and the matter. Of a `.cube` (Adobe, "Cube LUT Specification", 1.0, and its common extension by which
/// a file holds a curve and a cube): a row that is not three finite numbers with points, a size below 2, as
/// many rows as the size does not ask for, ends of the domain that are equal or the wrong way round. Of a
/// `.csp`: metadata without an end. Of any: a size that the file cannot hold.
void checkTable(const std::filesystem::path& file);

} // namespace retinex::finish
