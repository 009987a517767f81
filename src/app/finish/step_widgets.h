#pragma once

#include "app/document/document.h"
#include "app/fields/section.h"

#include <QCheckBox>
#include <QComboBox>

namespace retinex::app {

/// A section within one: to begin with it is folded.
[[nodiscard]] Section* foldedSection(const QString& title, const char* key);
/// A check box for a described switch of the present shot.
QCheckBox* addSwitch(Document& document, Section& section, const QString& text, const SettingPath& path,
                     const QString& help);
/// A chooser for a described word; `words` in the order of its choices.
QComboBox* addWord(Document& document, Section& section, const QString& label, const SettingPath& path,
                   const QStringList& words, const QString& help);
/// Calls `refresh` whenever the document shows other values, and now.
void followDocument(Document& document, QObject* owner, const std::function<void()>& refresh);

/// A curve is straight without points.
[[nodiscard]] inline bool isCurved(const project::Pairs& curve) noexcept
{
    return curve.size() > 1;
}

} // namespace retinex::app
