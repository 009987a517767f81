#include "core/delivery/target_check.h"

#include "core/frame/depends_on.h"
#include "core/system/atomic_file.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>
#include <fmt/format.h>
#include <set>
#include <sys/stat.h>

namespace retinex::delivery {

namespace {

namespace fs = std::filesystem;

/// What a file is, whatever names and links lead to it.
using FileId = std::pair<dev_t, ino_t>;

std::optional<FileId> idOf(const fs::path& file)
{
    struct stat info = {};
    if (::stat(file.c_str(), &info) != 0) return std::nullopt;
    return FileId{info.st_dev, info.st_ino};
}

/// All inputs of a project: their files, and the patterns of their sequences.
class Inputs
{
public:
    Inputs(const passes::PassSource& source, const project::Project& project,
           const std::vector<fs::path>& alsoRead)
    {
        for (const fs::path& file : alsoRead)
            addFile(file);
        add(source.colourFiles());
        add(source.depthFiles());
        if (source.alphaFiles()) add(*source.alphaFiles());
        if (source.motionFiles()) add(*source.motionFiles());
        for (const fs::path& file : frame::filesNamed(project)) {
            addFile(file);
            addFound(file);
        }
    }
    [[nodiscard]] bool has(const fs::path& file) const
    {
        const auto id = idOf(file);
        return id && m_files.contains(*id);
    }
    /// Whether a file of this name would be a frame of an input.
    [[nodiscard]] bool wouldJoin(const fs::path& file, int frame) const
    {
        std::error_code code;
        const fs::path whole = fs::weakly_canonical(file, code);
        return std::any_of(m_patterns.begin(), m_patterns.end(), [&](const fs::path& pattern) {
            std::error_code ignored;
            return fs::weakly_canonical(passes::withFrame(pattern, frame), ignored) == whole;
        });
    }

private:
    void addFile(const fs::path& file)
    {
        if (const auto id = idOf(file)) m_files.insert(*id);
    }
    /// One that is not there cannot be written over.
    void addFound(const fs::path& file)
    {
        try {
            if (!file.empty()) add(passes::Sequence::find(file));
        } catch (const Error&) {
        }
    }
    void add(const passes::Sequence& files)
    {
        if (files.isStill() || files.isMovie()) {
            addFile(files.pattern());
            return;
        }
        for (const int frame : files.frames())
            addFile(files.file(frame));
        if (std::find(m_patterns.begin(), m_patterns.end(), files.pattern()) == m_patterns.end())
            m_patterns.push_back(files.pattern());
    }

    std::set<FileId> m_files;
    std::vector<fs::path> m_patterns;
};

/// A name with what is put to it while the file is written must fit too.
void checkName(const fs::path& file)
{
    constexpr std::size_t kLongest = 255 - 32; // bytes: NAME_MAX, less what a part file adds
    const std::string name = file.filename().string();
    if (name.empty() || name == "." || name == "..")
        throw Error(say("{}: this names a folder. Put a file name after it.", file.string()));
    if (file.string().find('\0') != std::string::npos)
        throw Error(say("{}: there is a zero byte in the name. Choose another name.", name.c_str()));
    if (name.size() > kLongest)
        throw Error(say("{}...: the file's name has {} bytes, and {} at most can be written. Shorten it.",
                        name.substr(0, 40), name.size(), kLongest));
}

void checkFile(const Inputs& inputs, const fs::path& file, int frame)
{
    checkName(file);
    if (inputs.has(file) || inputs.wouldJoin(file, frame))
        throw Error(say("{}: this is one of the input files, which are never written. Choose another "
                        "name or folder.",
                        file.string()));
    std::error_code code;
    const fs::file_status status = fs::status(file, code);
    if (fs::exists(status) && !fs::is_regular_file(status))
        throw Error(say("{}: this is not a regular file, and is not written over. Choose another name.",
                        file.string()));
}

} // namespace

void requireWritableFolder(const fs::path& folder)
{
    std::error_code code;
    fs::path there = folder.empty() ? fs::path(".") : fs::absolute(folder, code);
    while (!fs::exists(there, code) && there.has_relative_path())
        there = there.parent_path();
    if (!fs::is_directory(there, code))
        throw Error(say("{}: frames cannot be written there: {} is no folder. Choose another folder.",
                        folder.string(), there.string()));
    try {
        probeFolder(there);
    } catch (const Error& error) {
        if (fs::exists(folder, code)) throw;
        throw Error(say("{}: this folder cannot be made. {}", folder.string(), error.what()), error.cause());
    }
}

void checkTargets(const passes::PassSource& source, const project::Project& project,
                  const std::vector<fs::path>& files, const std::vector<int>& frames, const MayWrite& may)
{
    const Inputs inputs(source, project, may.alsoRead);
    std::vector<int> there;
    std::set<fs::path> names;
    for (std::size_t i = 0; i < files.size(); ++i) {
        checkFile(inputs, files[i], frames[i]);
        std::error_code code;
        if (fs::exists(files[i], code)) there.push_back(frames[i]);
        if (!names.insert(files[i]).second)
            throw Error(say("{}: two frames would have this name. Put {{frame:4}} into the file name.",
                            files[i].string()));
    }
    if (may.existing == Existing::refuse && !there.empty()) {
        const std::string resume = may.isResumable ? say(" go on with what is there (--resume),") : "";
        throw Error(files.size() == 1
                        ? say("{}: is there already. Write over it (--overwrite),{} or choose another name "
                              "or folder.",
                              files.front().string(), resume)
                        : say("{}: frames {} are there already. Write over them (--overwrite),{} or choose "
                              "another name or folder.",
                              files.front().parent_path().string(), passes::describeFrames(there), resume));
    }
    requireWritableFolder(files.front().parent_path());
}

void checkFiles(const passes::PassSource& source, const project::Project& project,
                const std::vector<fs::path>& files, const std::vector<int>& frames, const MayWrite& may)
{
    checkTargets(source, project, files, frames, may);
    const fs::path folder = files.front().parent_path();
    std::error_code code;
    if (!folder.empty()) fs::create_directories(folder, code);
    if (code)
        throw Error(say("{}: this folder cannot be made ({}). Choose another folder.", folder.string(),
                        code.message()),
                    code.message());
    requireWritableFolder(folder);
}

} // namespace retinex::delivery
