#include "core/delivery/file_name.h"

#include "core/passes/movie/movie_file.h"
#include "core/system/error.h"
#include "core/system/lower.h"
#include "core/system/say.h"

#include <array>
#include <ctime>
#include <fmt/format.h>
#include <map>
#include <set>

namespace retinex::delivery {

namespace {

namespace fs = std::filesystem;
using project::Delivery;
using project::FileKind;

std::string safe(std::string text)
{
    for (char& c : text)
        if (c == '/' || c == '\\' || static_cast<unsigned char>(c) < 0x20) c = '_';
    return text;
}

std::string today()
{
    const std::time_t now = std::time(nullptr);
    std::tm local{};
    localtime_r(&now, &local);
    std::array<char, 16> text{};
    std::strftime(text.data(), text.size(), "%Y-%m-%d", &local);
    return text.data();
}

} // namespace

std::string endingOf(FileKind file)
{
    static constexpr std::array<const char*, 8> kEndings{".exr", ".png", ".tif", ".jpg",
                                                         ".mkv", ".mov", ".mp4", ".webm"};
    return kEndings[static_cast<std::size_t>(file)];
}

std::optional<FileKind> pictureKindOf(const fs::path& name)
{
    static const std::map<std::string, FileKind> kWritten{
        {".exr", FileKind::exr},   {".png", FileKind::png},  {".tif", FileKind::tiff},
        {".tiff", FileKind::tiff}, {".jpg", FileKind::jpeg}, {".jpeg", FileKind::jpeg}};
    const std::string ending = lower(name.extension().string());
    if (const auto found = kWritten.find(ending); found != kWritten.end()) return found->second;
    if (passes::isMovie(name))
        throw Error(
            say("{}: a movie is made by a delivery of a project. Add one there, or end the name in .exr, "
                ".png, .tif or .jpg for pictures.",
                name.string()));
    static const std::set<std::string> kOthers{".bmp", ".cin", ".dpx", ".gif", ".hdr", ".heic",
                                               ".jp2", ".pic", ".psd", ".sgi", ".tga", ".webp"};
    if (kOthers.contains(ending))
        throw Error(
            say("{}: pictures are written as EXR, PNG, TIFF or JPEG. End the name in .exr, .png, .tif "
                "or .jpg.",
                name.string()));
    return std::nullopt;
}

FileNames::FileNames(const project::Project& project, const fs::path& projectFile, const Delivery& delivery,
                     const fs::path& folder)
    : m_project(project), m_projectName(projectFile.empty() ? "untitled" : projectFile.stem().string()),
      m_delivery(delivery), m_date(today())
{
    const fs::path beside =
        projectFile.empty() ? fs::current_path() : fs::absolute(projectFile).parent_path();
    if (!folder.empty())
        m_folder = folder;
    else if (delivery.folder.empty())
        m_folder = beside / safe(m_projectName + '-' + (delivery.name.empty() ? "delivery" : delivery.name));
    else
        m_folder = beside / fs::path(delivery.folder); // an absolute one stays as it is
    (void)of(project.firstFrame);
    if (!delivery.isMovie() && delivery.fileName.find("{frame") == std::string::npos)
        throw Error(
            say("The delivery \"{}\" has a file for each frame, and its file name \"{}\" has no {{frame:4}}.",
                delivery.name, delivery.fileName));
    if (delivery.bothEyes && delivery.fileName.find("{eye}") == std::string::npos)
        throw Error(say("The delivery \"{}\" makes both eyes, and its file name \"{}\" has no {{eye}}.",
                        delivery.name, delivery.fileName));
}

fs::path FileNames::of(int frame) const
{
    std::string name;
    const std::string& text = m_delivery.fileName;
    for (std::size_t at = 0; at < text.size();) {
        if (text[at] != '{') {
            name += text[at++];
            continue;
        }
        const std::size_t end = text.find('}', at);
        const std::string word = end == std::string::npos ? std::string() : text.substr(at + 1, end - at - 1);
        int digits = 1;
        bool isKnown = true;
        if (word.starts_with("frame:") && word.size() == 7 && word[6] >= '1' && word[6] <= '9')
            digits = word[6] - '0';
        else
            isKnown = word == "frame" || word == "project" || word == "shot" || word == "delivery" ||
                      word == "date" || word == "eye";
        if (!isKnown)
            throw Error(
                say("The delivery \"{}\": \"{{{}}}\" in its file name is not known. There are {{project}}, "
                    "{{shot}}, {{delivery}}, {{eye}}, {{frame:4}} and {{date}}.",
                    m_delivery.name, word));
        if (word == "project") {
            name += safe(m_projectName);
        } else if (word == "shot") {
            const std::size_t index = m_project.shotIndexAt(frame);
            const std::string& shot = m_project.shots[index].name;
            name += safe(shot.empty() ? fmt::format("shot{}", index + 1) : shot);
        } else if (word == "delivery") {
            name += safe(m_delivery.name);
        } else if (word == "date") {
            name += m_date;
        } else if (word == "eye") {
            name += safe(m_project.passOptions.eye);
        } else if (!m_delivery.isMovie()) { // a movie has all frames
            name += frame < 0 ? fmt::format("-{:0{}}", -frame, digits) : fmt::format("{:0{}}", frame, digits);
        }
        at = end + 1;
    }
    while (m_delivery.isMovie() && (name.ends_with('.') || name.ends_with('_') || name.ends_with('-')))
        name.pop_back();
    if (name.empty()) name = "untitled";
    return m_folder / (safe(name) + endingOf(m_delivery.file));
}

} // namespace retinex::delivery
