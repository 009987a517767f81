#include "core/delivery/frame_record.h"

#include "core/base/atomic_file.h"
#include "core/base/hash.h"
#include "core/delivery/frame_views.h"
#include "core/passes/file_state.h"
#include "core/project/fingerprint.h"
#include "core/project/settings/delivery_settings.h"

#include <fmt/format.h>
#include <fstream>

namespace retinex::delivery {

namespace {

namespace fs = std::filesystem;

fs::path noteOf(const fs::path& file)
{
    return file.parent_path() / ".retinex" / (file.filename().string() + ".txt");
}

std::string noteText(const fs::path& file, const std::string& fingerprint)
{
    return fingerprint + ' ' + passes::fileState(file) + '\n';
}

} // namespace

std::string deliveryFingerprint(const passes::PassSource& source, const project::Project& project,
                                const project::Delivery& delivery, int frame)
{
    std::string text = project::passesFingerprint(project) + project::finishFingerprint(project, frame);
    text += passes::fileState(source.colourFiles(), frame) + passes::fileState(source.depthFiles(), frame);
    if (source.alphaFiles()) text += passes::fileState(*source.alphaFiles(), frame);
    text += viewsState(source, project, frame);
    for (const passes::MatteChoice& matte : project.mattes)
        text += matte.file.string() + matte.name;
    for (const auto& field : project::deliverySettings().fields()) {
        if (field.path == "name" || field.path == "on" || field.path == "frames" || field.path == "folder" ||
            field.path == "fileName")
            continue; // where it goes, not what it is
        text += '\n' + field.path + ' ';
        if (field.isNumber())
            text += fmt::format("{}", field.get(delivery));
        else if (const auto* access =
                     std::get_if<project::Field<project::Delivery>::Access<std::string>>(&field.access))
            text += access->get(delivery);
    }
    return hashText(text);
}

void noteFile(const fs::path& file, const std::string& fingerprint)
{
    const fs::path note = noteOf(file);
    std::error_code code;
    fs::create_directories(note.parent_path(), code); // what cannot be made is told of when it is written to
    writeFileAtomically(note, noteText(file, fingerprint));
}

bool isMadeFrom(const fs::path& file, const std::string& fingerprint)
{
    std::error_code code;
    if (!fs::is_regular_file(file, code)) return false;
    std::ifstream in(noteOf(file));
    std::string line;
    std::getline(in, line);
    return !line.empty() && line + '\n' == noteText(file, fingerprint);
}

} // namespace retinex::delivery
