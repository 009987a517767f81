#include "app/document/insert_edits.h"

#include <algorithm>

namespace retinex::app {

namespace {

using inserts::Insert;

std::string freeInsertId(const project::Project& project)
{
    for (int number = 1;; ++number) {
        const std::string id = std::to_string(number);
        const bool isTaken = std::ranges::any_of(project.shots, [&](const project::Shot& shot) {
            return std::ranges::find(shot.settings.inserts, id, &Insert::id) != shot.settings.inserts.end();
        });
        if (!isTaken) return id;
    }
}

std::string freeName(const Document& document, const std::string& wanted)
{
    const auto& inserts = document.values().inserts;
    std::string name = wanted;
    for (int number = 2; std::ranges::find(inserts, name, &Insert::name) != inserts.end(); ++number)
        name = wanted + ' ' + std::to_string(number);
    return name;
}

} // namespace

const Insert* insertWith(const Document& document, const std::string& id) noexcept
{
    const auto& inserts = document.values().inserts;
    const auto found = std::ranges::find(inserts, id, &Insert::id);
    return found == inserts.end() ? nullptr : &*found;
}

SettingPath insertPath(const std::string& id, std::string_view key)
{
    return "inserts/" + id + '/' + std::string(key);
}

Insert newInsert(const Document& document, const std::string& file)
{
    Insert insert;
    insert.file = file;
    insert.name = std::filesystem::path(file).stem().string();
    insert.distance = document.values().focusDistance;
    insert.startFrame = document.project().framesOf(document.project().shotIndexAt(document.frame())).first;
    insert.followsFrom = document.frame();
    insert.cornerDistances.fill(insert.distance);
    if (const auto& source = document.source()) {
        insert.moveX = 0.5 * source->width();
        insert.moveY = 0.5 * source->height();
        insert.widthPx = 0.5 * source->width();
    }
    return insert;
}

Insert newBackdrop(const std::string& file)
{
    Insert insert;
    insert.file = file;
    insert.content = file.empty() ? inserts::Content::colour : inserts::Content::picture;
    insert.name = QObject::tr("backdrop").toStdString();
    insert.placing = inserts::Placing::backdrop;
    insert.distanceFrom = inserts::DistanceFrom::infinity;
    return insert;
}

std::string addInsert(Document& document, Insert insert)
{
    insert.id = freeInsertId(document.project());
    insert.name = freeName(document, insert.name);
    document.editShot(QObject::tr("add %1").arg(QString::fromStdString(insert.name)),
                      [&](project::Shot& shot) {
                          auto& inserts = shot.settings.inserts;
                          inserts.insert(insert.isBackdrop() ? inserts.end() : inserts.begin(), insert);
                      });
    return insert.id;
}

void changeInsert(Document& document, const QString& what, const std::string& id,
                  const std::function<void(Insert&)>& change, int gesture)
{
    if (!insertWith(document, id)) return;
    document.editShot(
        what,
        [&](project::Shot& shot) {
            for (Insert& insert : shot.settings.inserts)
                if (insert.id == id) change(insert);
        },
        gesture);
}

void placeInsert(Document& document, const QString& what, const std::string& id,
                 const std::function<void(Insert&)>& change, int gesture)
{
    if (!insertWith(document, id)) return;
    document.editSettings(
        what,
        [&](project::Settings& settings) {
            for (Insert& insert : settings.inserts)
                if (insert.id == id) change(insert);
        },
        gesture);
}

void removeInsert(Document& document, const std::string& id)
{
    const Insert* insert = insertWith(document, id);
    if (!insert) return;
    document.editShot(
        QObject::tr("delete %1").arg(QString::fromStdString(insert->name)), [&](project::Shot& shot) {
            std::erase_if(shot.settings.inserts, [&](const Insert& each) { return each.id == id; });
            std::erase_if(shot.tracks, [&](const auto& track) {
                return track.first.text().starts_with("inserts/" + id + '/');
            });
        });
}

void orderInserts(Document& document, const std::vector<std::string>& ids)
{
    document.editShot(QObject::tr("reorder inserts"), [&](project::Shot& shot) {
        std::ranges::stable_sort(shot.settings.inserts, {}, [&](const Insert& insert) {
            return std::find(ids.begin(), ids.end(), insert.id) - ids.begin();
        });
    });
}

} // namespace retinex::app
