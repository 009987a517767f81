#include "core/system/say.h"

namespace retinex {

namespace {

Translator g_translator = nullptr;

} // namespace

void setTranslator(Translator translator) noexcept
{
    g_translator = translator;
}

std::string inWords(const char* sentence, fmt::format_args values)
{
    if (g_translator) {
        try {
            return fmt::vformat(g_translator(sentence), values);
        } catch (const fmt::format_error&) {
            // a translation with a place for a value that is not there
        }
    }
    return fmt::vformat(sentence, values);
}

} // namespace retinex
