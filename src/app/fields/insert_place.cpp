#include "app/fields/insert_place.h"

#include "app/document/insert_edits.h"
#include "core/frame/places/insert_pictures.h"
#include "core/system/error.h"

#include <cmath>
#include <numbers>

namespace retinex::app {

namespace {

using inserts::Insert;
using inserts::Placing;
using inserts::Point;

/// As it is placed, before subjects move it; nothing where its picture cannot be read.
std::optional<std::array<Point, 4>> placedCorners(const Document& document, Insert insert)
{
    insert.follows.clear();
    insert.isMirrored = false; // the corners of a mirrored one are kept as those of the frame
    if (!document.source()) return std::nullopt;
    try {
        return frame::insertCorners(*document.source(), document.project(), insert, document.frame());
    } catch (const Error&) {
        return std::nullopt;
    }
}

void lay(Insert& insert, Placing placing, const std::array<Point, 4>& corners)
{
    const bool wasBackdrop = insert.isBackdrop();
    insert.placing = placing;
    if (placing == Placing::corners) {
        insert.corners = corners;
    } else if (placing == Placing::upright) {
        const double x = corners[1].x + corners[2].x - corners[0].x - corners[3].x;
        const double y = corners[1].y + corners[2].y - corners[0].y - corners[3].y;
        insert.widthPx = std::max(1.0, 0.5 * std::hypot(x, y));
        insert.turnDeg = -std::atan2(y, x) * 180.0 / std::numbers::pi;
        insert.moveX = 0.25 * (corners[0].x + corners[1].x + corners[2].x + corners[3].x);
        insert.moveY = 0.25 * (corners[0].y + corners[1].y + corners[2].y + corners[3].y);
    } else if (!wasBackdrop) { // its place is a shift from the middle
        insert.moveX = insert.moveY = insert.turnDeg = 0.0;
    }
}

} // namespace

void InsertPlace::setNumber(const QString& what, const std::string& key, double value, int gesture)
{
    const Insert* insert = insertWith(m_document, m_chosen());
    const auto corners = insert && key == "placing" ? placedCorners(m_document, *insert) : std::nullopt;
    if (!corners) {
        ShotPlace::setNumber(what, key, value, gesture);
        return;
    }
    const auto placing = static_cast<Placing>(std::lround(value)); // in the order of its words
    placeInsert(
        m_document, what, m_chosen(), [&](Insert& changed) { lay(changed, placing, *corners); }, gesture);
}

} // namespace retinex::app
