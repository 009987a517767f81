#include "core/delivery/circles.h"

#include "core/frame/places/region_places.h"
#include "core/system/say.h"

#include <algorithm>
#include <functional>
#include <map>
#include <set>

namespace retinex::delivery {

namespace {

/// A subject or a region of a shot, and what it hangs on.
struct Node
{
    bool isSubject = false;
    std::string name;
    friend auto operator<=>(const Node&, const Node&) = default;
};

struct Link
{
    Node to;
    std::string words; ///< "is measured over the region "head""
};

using Links = std::map<Node, std::vector<Link>>;

Links linksIn(const project::Project& project, const project::Shot& shot)
{
    Links links;
    for (const timeline::Subject& subject : project.subjects)
        if (!subject.region.empty())
            links[{true, subject.name}].push_back(
                {{false, subject.region}, say("is measured over the region \"{}\"", subject.region)});
    for (const regions::Region& region : shot.settings.regions) {
        auto& from = links[{false, region.name}];
        const std::vector<std::string> followed = regions::followedSubjects(region);
        for (const std::string& name : frame::placingSubjects(region))
            from.push_back({{true, name},
                            std::ranges::find(followed, name) != followed.end()
                                ? say("follows \"{}\"", name)
                                : say("has a point on \"{}\"", name)});
        if (region.patch == regions::PatchKind::subject)
            from.push_back({{true, region.subject}, say("takes its distance from \"{}\"", region.subject)});
    }
    return links;
}

/// Walks along the links; a node that is on the way already closes a circle.
class Walk
{
public:
    Walk(const Links& links, std::set<std::set<Node>>& told, std::vector<std::string>& found)
        : m_links(links), m_told(told), m_found(found)
    {
    }

    void from(const Node& node)
    {
        if (!m_seen.insert(node).second) return;
        m_way.push_back(node);
        if (const auto links = m_links.find(node); links != m_links.end())
            for (const Link& link : links->second) {
                m_words.push_back(link.words);
                if (const auto start = std::ranges::find(m_way, link.to); start != m_way.end())
                    tell(static_cast<std::size_t>(start - m_way.begin()));
                else
                    from(link.to);
                m_words.pop_back();
            }
        m_way.pop_back();
    }

private:
    void tell(std::size_t start)
    {
        if (!m_told.insert({m_way.begin() + static_cast<std::ptrdiff_t>(start), m_way.end()}).second) return;
        std::string text = m_way[start].isSubject ? say("The subject \"{}\"", m_way[start].name)
                                                  : say("The region \"{}\"", m_way[start].name);
        for (std::size_t i = start; i < m_words.size(); ++i)
            text += (i == start ? " " : say(", which ")) + m_words[i];
        m_found.push_back(text);
    }

    const Links& m_links;
    std::set<std::set<Node>>& m_told;
    std::vector<std::string>& m_found;
    std::set<Node> m_seen;
    std::vector<Node> m_way;
    std::vector<std::string> m_words;
};

} // namespace

std::vector<std::string> circles(const project::Project& project)
{
    std::vector<std::string> found;
    std::set<std::set<Node>> told;
    for (const project::Shot& shot : project.shots) {
        const Links links = linksIn(project, shot);
        Walk walk(links, told, found);
        for (const auto& [node, to] : links)
            walk.from(node);
    }
    return found;
}

} // namespace retinex::delivery
