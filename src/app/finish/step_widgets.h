#pragma once

#include "app/document/document.h"
#include "app/layout/section.h"

namespace retinex::app {

/// A section within one: to begin with it is folded.
[[nodiscard]] Section* foldedSection(const QString& title, const char* key);
/// Calls `refresh` whenever the document shows other values, and now.
void followDocument(Document& document, QObject* owner, const std::function<void()>& refresh);

/// A curve is straight without points.
[[nodiscard]] inline bool isCurved(const project::Pairs& curve) noexcept
{
    return curve.size() > 1;
}

} // namespace retinex::app
