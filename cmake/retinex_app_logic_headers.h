// Precompiled for what stands between core and window: what most of its files include, none of it ours.
#include "retinex_core_headers.h"

#include <QByteArray>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QImage>
#include <QObject>
#include <QSettings>
#include <QString>
#include <QTimer>
