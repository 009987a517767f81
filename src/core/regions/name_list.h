#pragma once

#include <algorithm>
#include <string>
#include <vector>

/// Lists of names as a text, separated by ", ".
namespace retinex::regions {

[[nodiscard]] inline std::vector<std::string> namesIn(const std::string& list)
{
    std::vector<std::string> names;
    for (std::size_t at = 0; at < list.size();) {
        const std::size_t end = std::min(list.find(", ", at), list.size());
        if (end > at) names.push_back(list.substr(at, end - at));
        at = end + 2;
    }
    return names;
}

[[nodiscard]] inline std::string listOf(const std::vector<std::string>& names)
{
    std::string list;
    for (const std::string& name : names)
        list += (list.empty() ? "" : ", ") + name;
    return list;
}

} // namespace retinex::regions
