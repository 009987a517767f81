#pragma once

#include "app/document/document.h"

/// Changes of the backdrop and the inserts of the present shot, each one step to undo.
namespace retinex::app {

[[nodiscard]] const inserts::Insert* insertWith(const Document& document, const std::string& id) noexcept;
/// Path of one of its settings.
[[nodiscard]] SettingPath insertPath(const std::string& id, std::string_view key);

/// Adds one on top (a backdrop at the end) and returns its id; `insert` needs no id, and its name is made one
/// that no other has.
std::string addInsert(Document& document, inserts::Insert insert);
/// Upright in the middle of the frame, at the focus distance, over half the frame's width.
[[nodiscard]] inserts::Insert newInsert(const Document& document, const std::string& file);
[[nodiscard]] inserts::Insert newBackdrop(const std::string& file);

/// A change of what has no marks; nothing where it is gone.
void changeInsert(Document& document, const QString& what, const std::string& id,
                  const std::function<void(inserts::Insert&)>& change, int gesture = 0);
/// A change of its numbers as they are on the present frame: where these have marks, of marks.
void placeInsert(Document& document, const QString& what, const std::string& id,
                 const std::function<void(inserts::Insert&)>& change, int gesture = 0);
/// It and its marks.
void removeInsert(Document& document, const std::string& id);
void orderInserts(Document& document, const std::vector<std::string>& ids);

} // namespace retinex::app
