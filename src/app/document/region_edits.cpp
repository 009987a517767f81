#include "app/document/region_edits.h"

#include "core/regions/placement.h"

#include <algorithm>

namespace retinex::app {

namespace {

using regions::OutlineMark;
using regions::Piece;
using regions::Region;

/// The lowest number that no region of the project has as its id: shots may be copied onto each other.
std::string freeId(const project::Project& project)
{
    for (int number = 1;; ++number) {
        const std::string id = std::to_string(number);
        const bool isTaken = std::ranges::any_of(project.shots, [&](const project::Shot& shot) {
            return std::ranges::any_of(shot.settings.regions,
                                       [&](const Region& region) { return region.id == id; });
        });
        if (!isTaken) return id;
    }
}

} // namespace

constexpr double kAddedBlurPx = 10.0; ///< to begin with: enough to be seen

const Region* regionWith(const Document& document, const std::string& id) noexcept
{
    for (const Region& region : document.values().regions)
        if (region.id == id) return &region;
    return nullptr;
}

SettingPath regionPath(const std::string& id, std::string_view key)
{
    return "regions/" + id + '/' + std::string(key);
}

std::string nameForRegion(const Document& document, RegionStart start)
{
    const QString kind = start == RegionStart::guard   ? QObject::tr("guard")
                         : start == RegionStart::blur  ? QObject::tr("added blur")
                         : start == RegionStart::patch ? QObject::tr("patch")
                                                       : QObject::tr("region");
    const auto& regions = document.values().regions;
    for (int number = 1;; ++number) {
        const std::string name =
            (number == 1 ? kind : QStringLiteral("%1 %2").arg(kind).arg(number)).toStdString();
        if (std::ranges::none_of(regions, [&](const Region& region) { return region.name == name; }))
            return name;
    }
}

std::string addRegion(Document& document, RegionStart start, Piece piece)
{
    Region region;
    region.id = freeId(document.project());
    region.name = nameForRegion(document, start);
    region.area = regions::Area({std::move(piece)});
    region.followsFrom = region.heldFrame = document.frame();
    if (start == RegionStart::guard) region.share = 0.0;
    if (start == RegionStart::blur) region.addedPx = kAddedBlurPx;
    if (start == RegionStart::patch) region.patch = regions::PatchKind::median;
    document.editShot(QObject::tr("add %1").arg(QString::fromStdString(region.name)),
                      [&](project::Shot& shot) { shot.settings.regions.push_back(region); });
    return region.id;
}

void changeRegion(Document& document, const QString& what, const std::string& id,
                  const std::function<void(Region&)>& change, int gesture)
{
    document.editShot(
        what,
        [&](project::Shot& shot) {
            for (Region& region : shot.settings.regions)
                if (region.id == id) change(region);
        },
        gesture);
}

void changePieces(Document& document, const QString& what, const std::string& id,
                  const std::function<void(std::vector<Piece>&)>& change, int gesture)
{
    changeRegion(
        document, what, id,
        [&](Region& region) {
            std::vector<Piece> pieces = region.area.pieces();
            change(pieces);
            region.area = regions::Area(std::move(pieces));
        },
        gesture);
}

void removeRegion(Document& document, const std::string& id)
{
    const Region* region = regionWith(document, id);
    if (!region) return;
    document.editShot(
        QObject::tr("delete %1").arg(QString::fromStdString(region->name)), [&](project::Shot& shot) {
            std::erase_if(shot.settings.regions, [&](const Region& each) { return each.id == id; });
            std::erase_if(shot.tracks, [&](const auto& track) {
                return track.first.text().starts_with("regions/" + id + '/');
            });
        });
}

void orderRegions(Document& document, const std::vector<std::string>& ids)
{
    document.editShot(QObject::tr("reorder regions"), [&](project::Shot& shot) {
        std::ranges::stable_sort(shot.settings.regions, {}, [&](const Region& region) {
            return std::find(ids.begin(), ids.end(), region.id) - ids.begin();
        });
    });
}

std::vector<regions::OutlinePoint>& pointsToChange(Piece& piece, int frame)
{
    if (piece.outline.size() == 1) return piece.outline.front().points;
    auto at =
        std::ranges::find_if(piece.outline, [&](const OutlineMark& mark) { return mark.frame >= frame; });
    if (at == piece.outline.end() || at->frame != frame)
        at = piece.outline.insert(at, {frame, regions::pointsAt(piece.outline, frame)});
    return at->points;
}

void toggleOutlineMark(Document& document, const std::string& id)
{
    const int frame = document.frame();
    changePieces(document, QObject::tr("mark of the outline at %1").arg(frame), id,
                 [&](std::vector<Piece>& pieces) {
                     for (Piece& piece : pieces) {
                         if (piece.outline.empty()) continue;
                         const auto here = std::ranges::find(piece.outline, frame, &OutlineMark::frame);
                         if (here == piece.outline.end()) {
                             const OutlineMark mark{frame, regions::pointsAt(piece.outline, frame)};
                             piece.outline.insert(
                                 std::ranges::find_if(piece.outline,
                                                      [&](const OutlineMark& m) { return m.frame > frame; }),
                                 mark);
                         } else if (piece.outline.size() > 1) {
                             piece.outline.erase(here);
                         }
                     }
                 });
}

} // namespace retinex::app
