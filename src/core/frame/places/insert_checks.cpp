#include "core/frame/places/insert_checks.h"

#include "core/frame/places/insert_pictures.h"
#include "core/frame/places/region_places.h"
#include "core/regions/name_list.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>

namespace retinex::frame {

namespace {

using inserts::AlphaKind;
using inserts::DistanceFrom;
using inserts::Insert;

/// A sentence goes on after it.
std::string withoutStop(std::string text)
{
    while (text.ends_with('.'))
        text.pop_back();
    return text;
}

} // namespace

std::vector<InsertProblem> insertProblems(const passes::PassSource& source, const Project& project, int frame)
{
    std::vector<InsertProblem> problems;
    const Settings values = project.valuesAt(frame);
    for (const Insert& insert : values.inserts) {
        if (!insert.isOn) continue;
        const auto add = [&](std::string what) {
            problems.push_back({insert.id, insert.name, std::move(what)});
        };
        if (insert.content == inserts::Content::picture && insert.file.empty()) add(say("has no file"));
        try {
            const auto fault = inserts::faultOf(insertCorners(source, project, insert, frame));
            if (!fault.empty()) add(fault);
        } catch (const Error& error) {
            add(say("cannot be read: {}", withoutStop(error.what())));
        }
        for (const std::string& name : regions::namesIn(insert.follows))
            if (!project.subjectNamed(name)) add(say("follows \"{}\", which is no subject any more", name));
        if (insert.distanceFrom == DistanceFrom::subject && !project.subjectNamed(insert.subject))
            add(say("takes its distance from \"{}\", which is no subject any more", insert.subject));
        if (insert.isBackdrop() && values.openBy == inserts::OpenBy::mattes)
            for (const std::string& title : titlesNotIn(project, regions::namesIn(values.openMattes)))
                add(say("is seen outside the matte \"{}\", which is not in the list", title));
        for (const std::string& title : titlesNotIn(project, regions::namesIn(insert.heldOutBy)))
            add(say("is held out by the matte \"{}\", which is not in the list", title));
    }
    return problems;
}

std::string backdropNotice(const passes::PassSource& source, const Project& project, int frame)
{
    const Settings values = project.valuesAt(frame);
    const auto backdrop = std::ranges::find_if(
        values.inserts, [](const Insert& insert) { return insert.isBackdrop() && isUsed(insert); });
    if (backdrop == values.inserts.end()) return {};
    const bool hasAlpha =
        values.colourAlpha != AlphaKind::none &&
        (source.colourLayer().alpha || source.alphaFiles() || source.options().isEmptyFrame());
    if (values.openBy == inserts::OpenBy::alpha && !hasAlpha)
        return say(
            "The backdrop is seen nowhere: the colour pass has no alpha. Give it a file for alpha in Passes, "
            "or choose gaps of depth or mattes at \"Seen where\".");
    if (values.openBy == inserts::OpenBy::mattes && openMattesOf(project, values).empty())
        return say("The backdrop is seen nowhere: no matte is chosen that stands before it. Choose one at "
                   "\"Mattes\" in Backdrop and inserts{}.",
                   project.mattes.empty() ? say(", after adding it in Passes") : std::string());
    return {};
}

void checkInserts(const passes::PassSource& source, const Project& project, int frame)
{
    const auto problems = insertProblems(source, project, frame);
    if (!problems.empty())
        throw Error(say("The insert \"{}\" {}. Set it right, or switch it off.", problems.front().name,
                        problems.front().what));
}

} // namespace retinex::frame
