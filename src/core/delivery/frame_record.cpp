#include "core/delivery/frame_record.h"

#include "core/frame/depends_on.h"
#include "core/project/settings/delivery_settings.h"
#include "core/system/atomic_file.h"
#include "core/system/error.h"
#include "core/system/file_state.h"
#include "core/system/say.h"

#include <fmt/format.h>
#include <fstream>

namespace retinex::delivery {

namespace {

namespace fs = std::filesystem;

fs::path noteOf(const fs::path& file)
{
    return noteFolder(file.parent_path()) / (file.filename().string() + ".txt");
}

std::string noteText(const fs::path& file, const std::string& fingerprint)
{
    return fingerprint + ' ' + fileState(file) + '\n';
}

} // namespace

fs::path noteFolder(const fs::path& folder)
{
    return folder / ".retinex";
}

void checkNotes(const fs::path& folder)
{
    std::error_code code;
    const fs::file_status there = fs::status(noteFolder(folder), code);
    if (fs::exists(there) && !fs::is_directory(there))
        throw Error(
            say("{}: notes on the frames are kept in a folder of this name, and it is none. Take it away, or "
                "choose another folder.",
                noteFolder(folder).string()));
}

std::string deliveryFingerprint(const passes::PassSource& source, const project::Project& project,
                                const project::Delivery& delivery, int frame)
{
    frame::FileStates files;
    frame::DependsOn on(source, project, frame, files);
    on.stagesUpTo(project::Stage::finish);
    // What does not go out as the pass has it goes through the configuration.
    if (source.needsConversion() || !delivery.colourSpace.empty() || delivery.file != project::FileKind::exr)
        on.colourConfiguration();
    for (const auto& field : project::deliverySettings().fields()) {
        if (field.path == "name" || field.path == "on" || field.path == "frames" || field.path == "folder" ||
            field.path == "fileName")
            continue; // where it goes, not what it is
        on.text(field.path);
        if (field.isNumber())
            on.text(fmt::format("{}", field.get(delivery)));
        else if (const auto* access =
                     std::get_if<project::Field<project::Delivery>::Access<std::string>>(&field.access))
            on.text(access->get(delivery));
    }
    return on.fingerprint();
}

void noteFile(const fs::path& file, const std::string& fingerprint)
{
    const fs::path note = noteOf(file);
    std::error_code code;
    // The folder of the file is not made anew: a share that is gone comes back with what lay in it.
    fs::create_directory(note.parent_path(), code); // what cannot be made is told of when it is written to
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
