#include "core/regions/region.h"

#include "core/regions/name_list.h"

#include <bit>
#include <fmt/format.h>

namespace retinex::regions {

namespace {

/// FNV-1a, 64 bits (Fowler, Noll, Vo; draft-eastlake-fnv), of whole numbers of 64 bits.
class Hash
{
public:
    void add(std::uint64_t value) noexcept
    {
        m_value = (m_value ^ value) * 0x100000001b3U;
        m_value ^= m_value >> 29U;
    }
    void add(double value) noexcept { add(std::bit_cast<std::uint64_t>(value)); }
    void add(const Point& point) noexcept
    {
        add(point.x);
        add(point.y);
    }
    void add(const std::string& text) noexcept
    {
        add(static_cast<std::uint64_t>(text.size()));
        for (const char c : text)
            add(static_cast<std::uint64_t>(static_cast<unsigned char>(c)));
    }
    [[nodiscard]] std::uint64_t value() const noexcept { return m_value; }

private:
    std::uint64_t m_value = 0xcbf29ce484222325U;
};

std::string fingerprintOf(const std::vector<Piece>& pieces)
{
    if (pieces.empty()) return {};
    Hash hash;
    const auto count = [&hash](auto number) { hash.add(static_cast<std::uint64_t>(number)); };
    for (const Piece& piece : pieces) {
        count(piece.kind);
        count(piece.joining);
        count(piece.outline.size());
        for (const OutlineMark& mark : piece.outline) {
            count(mark.frame);
            count(mark.points.size());
            for (const OutlinePoint& point : mark.points) {
                for (const Point& place : {point.at, point.arriving, point.leaving})
                    hash.add(place);
                count(point.turn);
                hash.add(point.subject);
            }
        }
        count(piece.strokes.size());
        for (const Stroke& stroke : piece.strokes) {
            for (const double number : {stroke.radiusPx, stroke.softness, stroke.strength})
                hash.add(number);
            count(stroke.erases ? 1 : 0);
            count(stroke.points.size());
            for (const StrokePoint& point : stroke.points) {
                hash.add(point.at);
                hash.add(static_cast<double>(point.pressure));
            }
        }
        count(piece.mattes.size());
        for (const std::string& matte : piece.mattes)
            hash.add(matte);
        for (const double number : {piece.nearest, piece.farthest, piece.softEnds})
            hash.add(number);
        hash.add(piece.unknown);
    }
    return fmt::format("{:016x}", hash.value());
}

} // namespace

Area::Area(std::vector<Piece> pieces)
    : m_pieces(std::make_shared<const std::vector<Piece>>(std::move(pieces))),
      m_fingerprint(fingerprintOf(*m_pieces))
{
}

std::vector<std::string> followedSubjects(const Region& region)
{
    return namesIn(region.follows);
}

} // namespace retinex::regions
