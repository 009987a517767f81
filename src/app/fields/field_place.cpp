#include "app/fields/field_place.h"

#include <algorithm>

namespace retinex::app {

namespace {

using TextAccess = project::Field<project::Settings>::Access<std::string>;

} // namespace

SettingPath ShotPlace::path(const std::string& key) const
{
    return m_list.empty() ? SettingPath(key) : SettingPath(m_list + '/' + m_chosen() + '/' + key);
}

bool ShotPlace::isThere() const
{
    if (m_list.empty()) return true;
    const auto lists = project::shotSettings().lists();
    const auto list = std::ranges::find(lists, m_list, &project::Description<project::Settings>::List::name);
    const auto ids = list->ids(m_document.values());
    return std::ranges::find(ids, m_chosen()) != ids.end();
}

project::SettingInfo ShotPlace::info(const std::string& key) const
{
    return *project::infoOf(m_list.empty() ? SettingPath(key) : SettingPath(m_list + "/0/" + key));
}

double ShotPlace::defaultOf(const std::string& key) const
{
    return project::infoOf(m_list.empty() ? SettingPath(key) : SettingPath(m_list + "/0/" + key))
        ->defaultValue();
}

double ShotPlace::number(const std::string& key) const
{
    return project::infoOf(path(key))->get(m_document.values());
}

std::string ShotPlace::text(const std::string& key) const
{
    return std::get<TextAccess>(project::infoOf(path(key))->access).get(m_document.values());
}

void ShotPlace::setNumber(const QString& what, const std::string& key, double value, int gesture)
{
    const auto field = project::infoOf(path(key));
    if (field->kind != project::Kind::onOff && field->kind != project::Kind::word) {
        m_document.changeSetting(path(key), value, gesture);
        return;
    }
    m_document.editSettings(what, [&](project::Settings& settings) { field->set(settings, value); });
}

void ShotPlace::setText(const QString& what, const std::string& key, const std::string& text)
{
    const auto field = project::infoOf(path(key));
    m_document.editSettings(
        what, [&](project::Settings& settings) { std::get<TextAccess>(field->access).set(settings, text); });
}

} // namespace retinex::app
