#pragma once

#include <fmt/format.h>
#include <string>

namespace retinex {

/// A sentence of the core in the words of the program's language, or as it stands here where there are none.
/// Called from any thread.
using Translator = std::string (*)(const char* sentence);

/// Set once at the start, before other threads run; null: as they stand.
void setTranslator(Translator translator) noexcept;

/// The words for `sentence`; those that lack a value, or ask for one that is not there, are not taken.
[[nodiscard]] std::string inWords(const char* sentence, fmt::format_args values);

/// What an artist is told, put together like fmt::format does. `sentence` is a literal: it is what
/// translators are given (lupdate finds it by this function's name).
template <typename... Values>
[[nodiscard]] std::string say(fmt::format_string<Values...> sentence, Values&&... values)
{
    return inWords(fmt::string_view(sentence).data(), fmt::make_format_args(values...));
}

} // namespace retinex
