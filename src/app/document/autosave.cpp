#include "app/document/autosave.h"

#include "core/project/file/project_file.h"
#include "core/system/error.h"

#include <QBuffer>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QStandardPaths>
#include <QUuid>
#include <algorithm>
#include <nlohmann/json.hpp>

namespace retinex::app {

namespace {

using Json = nlohmann::ordered_json;
constexpr const char* kKey = "recovery"; ///< of the copy's file, beside what the project has
constexpr int kPictureWidth = 240;

Json parsed(const std::string& unknown)
{
    Json json = unknown.empty() ? Json::object() : Json::parse(unknown, nullptr, false);
    return json.is_object() ? json : Json::object();
}

QString lockFileOf(const QString& copy)
{
    return copy + QStringLiteral(".lock");
}

/// Takes the lock of a copy whose program has ended; false while that lives.
bool takeLeft(QLockFile& lock)
{
    lock.setStaleLockTime(0);
    return lock.tryLock(0);
}

} // namespace

QString Autosave::standardFolder()
{
    return QStandardPaths::writableLocation(QStandardPaths::GenericCacheLocation) +
           QStringLiteral("/retinex/recovery");
}

Autosave::Autosave(Document& document, QString folder, QObject* parent)
    : QObject(parent), m_document(document), m_folder(std::move(folder)),
      m_file(QDir(m_folder).filePath(QUuid::createUuid().toString(QUuid::Id128) + QStringLiteral(".retinex")))
{
    m_timer.setSingleShot(true);
    m_timer.setInterval(kDelayMs);
    connect(&m_timer, &QTimer::timeout, this, &Autosave::write);
    connect(&document, &Document::projectChanged, this, &Autosave::changed);
    connect(&document, &Document::titleChanged, this, &Autosave::changed);
    connect(&document, &Document::opened, this, [this] {
        m_timer.stop();
        remove();
    });
}

Autosave::~Autosave()
{
    remove();
}

/// The first change starts the clock; those that follow wait with it.
void Autosave::changed()
{
    if (!m_document.isModified()) {
        m_timer.stop();
        remove();
    } else if (!m_timer.isActive()) {
        m_timer.start();
    }
}

void Autosave::write()
{
    if (!m_document.isModified()) return;
    if (!m_lock) {
        QDir().mkpath(m_folder);
        m_lock = std::make_unique<QLockFile>(lockFileOf(m_file));
        m_lock->setStaleLockTime(0); // it holds as long as its program lives
        m_lock->tryLock(0);
    }
    Json recovery{{"file", m_document.file().toStdString()},
                  {"title", m_document.title().toStdString()},
                  {"time", QDateTime::currentDateTimeUtc().toString(Qt::ISODateWithMs).toStdString()},
                  {"frame", m_document.frame()}};
    const QImage picture = m_picture ? m_picture() : QImage();
    const auto work = [file = m_file.toStdString(), project = m_document.project(), recovery, picture,
                       gone = m_isGone](const Background::Task&) mutable {
        if (!picture.isNull()) {
            QByteArray bytes;
            QBuffer buffer(&bytes);
            (void)picture.scaledToWidth(kPictureWidth, Qt::SmoothTransformation).save(&buffer, "PNG");
            recovery["picture"] = bytes.toBase64().toStdString();
        }
        Json unknown = parsed(project.unknown);
        unknown[kKey] = recovery;
        project.unknown = unknown.dump(-1, ' ', false, Json::error_handler_t::replace);
        project::saveProject(file, project);
        if (*gone) QFile::remove(QString::fromStdString(file)); // it went while it was written
    };
    m_work.start(tr("Keeping unsaved work"), work, {[this](const QString& message) {
                     if (!std::exchange(m_toldFailure, true)) emit failed(message);
                     m_timer.start(); // try again
                 }});
}

void Autosave::remove()
{
    if (!m_lock) return; // none was ever written
    *std::exchange(m_isGone, std::make_shared<std::atomic<bool>>(false)) = true;
    QFile::remove(m_file);
    m_lock.reset();
}

bool mayHaveRecovered(const QString& folder)
{
    const QFileInfoList copies = QDir(folder).entryInfoList({QStringLiteral("*.retinex")}, QDir::Files);
    return std::any_of(copies.begin(), copies.end(), [](const QFileInfo& copy) {
        QLockFile lock(lockFileOf(copy.filePath()));
        return takeLeft(lock);
    });
}

std::vector<Recovered> findRecovered(const QString& folder)
{
    std::vector<Recovered> found;
    const QDir dir(folder);
    for (const QFileInfo& file : dir.entryInfoList({QStringLiteral("*.retinex")}, QDir::Files, QDir::Time)) {
        QLockFile lock(lockFileOf(file.filePath()));
        if (!takeLeft(lock)) continue;
        try {
            const project::Project project = project::loadProject(file.filePath().toStdString());
            const Json all = parsed(project.unknown);
            const Json json = all.value(kKey, Json::object());
            Recovered recovered;
            recovered.copy = file.filePath();
            recovered.original = QString::fromStdString(json.value("file", std::string()));
            recovered.title = QString::fromStdString(json.value("title", std::string()));
            recovered.time = QDateTime::fromString(QString::fromStdString(json.value("time", std::string())),
                                                   Qt::ISODateWithMs);
            if (!recovered.time.isValid()) recovered.time = file.lastModified();
            recovered.frame = json.value("frame", 1);
            recovered.picture.loadFromData(
                QByteArray::fromBase64(QByteArray::fromStdString(json.value("picture", std::string()))));
            found.push_back(std::move(recovered));
        } catch (const Error&) { // damaged by others: nothing to offer, and nothing to take away
        } catch (const Json::exception&) {
        }
    }
    return found;
}

project::Project projectOf(const Recovered& recovered)
{
    project::Project project = project::loadProject(recovered.copy.toStdString());
    Json unknown = parsed(project.unknown);
    unknown.erase(kKey);
    project.unknown = unknown.empty() ? std::string() : unknown.dump();
    return project;
}

void discard(const Recovered& recovered)
{
    QFile::remove(recovered.copy);
    QFile::remove(lockFileOf(recovered.copy));
}

} // namespace retinex::app
