#pragma once

class QCoreApplication;

namespace retinex::app {

/// Loads the words of the user's language, English with its plurals where there is none, and lets the core
/// speak in them too.
void loadLanguage(QCoreApplication& application);

} // namespace retinex::app
