#include "app/delivery/delivery_queue.h"

#include "core/delivery/frame_list.h"
#include "core/frame/places/subject_measure.h"
#include "core/project/file/project_file.h"
#include "core/system/error.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QSaveFile>
#include <algorithm>
#include <thread>

namespace retinex::app {

namespace {

QString titleOf(const delivery::DeliveryJob& job)
{
    const QString project = QFileInfo(QString::fromStdString(job.projectFile.string())).completeBaseName();
    return (project.isEmpty() ? QObject::tr("untitled") : project) + QStringLiteral(": ") +
           QString::fromStdString(job.delivery.name);
}

/// 0 where its list does not fit, which is told when its turn comes.
int frameCount(const delivery::DeliveryJob& job)
{
    try {
        return static_cast<int>(job.frames ? job.frames->size()
                                           : delivery::framesOf(job.delivery, *job.project).size());
    } catch (const Error&) {
        return 0;
    }
}

QString listFile(const QString& folder)
{
    return folder + QStringLiteral("/queue.json");
}

QString projectCopy(const QString& folder, int id)
{
    return folder + QStringLiteral("/%1.retinex").arg(id);
}

} // namespace

DeliveryQueue::DeliveryQueue(const QString& folder, QObject* parent) : QObject(parent), m_folder(folder)
{
    if (!m_folder.isEmpty()) readKept();
}

DeliveryQueue::Entry* DeliveryQueue::find(int id)
{
    const auto it = std::ranges::find(m_entries, id, &Entry::id);
    return it == m_entries.end() ? nullptr : &*it;
}

int DeliveryQueue::waiting() const
{
    return static_cast<int>(std::ranges::count(m_entries, State::waiting, &Entry::state));
}

double DeliveryQueue::secondsLeft() const
{
    const auto it = std::ranges::find(m_entries, m_running, &Entry::id);
    if (it == m_entries.end() || m_shareAtStart < 0.0 || it->share - m_shareAtStart < 0.02) return -1.0;
    return static_cast<double>(m_clock.elapsed()) / 1000.0 * (1.0 - it->share) / (it->share - m_shareAtStart);
}

double DeliveryQueue::framesPerSecond() const
{
    const auto it = std::ranges::find(m_entries, m_running, &Entry::id);
    const double seconds = static_cast<double>(m_clock.elapsed()) / 1000.0;
    return it == m_entries.end() || seconds <= 0.0 ? 0.0 : (it->written - m_writtenAtStart) / seconds;
}

void DeliveryQueue::add(delivery::DeliveryJob job)
{
    Entry entry;
    entry.id = ++m_last;
    entry.title = titleOf(job);
    entry.projectFile = QString::fromStdString(job.projectFile.string());
    job.resumes = true;
    entry.job = std::move(job);
    entry.frames = frameCount(entry.job);
    // One that waits already is asked for anew: as it is now.
    const auto same = std::ranges::find_if(m_entries, [&](const Entry& other) {
        return other.state == State::waiting && !entry.projectFile.isEmpty() && other.title == entry.title &&
               other.projectFile == entry.projectFile;
    });
    if (same != m_entries.end()) m_entries.erase(same);
    m_entries.push_back(std::move(entry));
    keep();
    emit changed();
    startNext();
}

QString DeliveryQueue::sharedTarget(std::vector<delivery::DeliveryJob> added) const
{
    for (const Entry& entry : m_entries)
        if (entry.state == State::waiting || entry.state == State::running) added.push_back(entry.job);
    try {
        return QString::fromStdString(delivery::sharedTarget(added));
    } catch (const Error&) { // frames that do not fit are told when their turn comes
        return {};
    }
}

void DeliveryQueue::startNext()
{
    if (m_isPaused || m_running != 0) return;
    const auto next = std::ranges::find(m_entries, State::waiting, &Entry::state);
    if (next != m_entries.end()) {
        begin(*next);
        return;
    }
    if (m_count > 0) emit emptied(std::exchange(m_count, 0), std::exchange(m_failed, 0));
}

void DeliveryQueue::begin(Entry& entry)
{
    entry.state = State::running;
    entry.failures.clear();
    entry.written = entry.kept = 0;
    entry.share = 0.0;
    m_running = entry.id;
    m_shareAtStart = -1.0;
    const auto work = [this, id = entry.id, job = entry.job](const Background::Task& task) {
        Run run{std::max(1, static_cast<int>(std::thread::hardware_concurrency()) / 2), {}, task.stop()};
        const passes::PassSource source(job.project->colour, job.project->depth, job.project->passOptions,
                                        passes::Keeping::oneByOne());
        delivery::DeliveryJob measured = job;
        project::Project project = *job.project;
        frame::measureSubjects(project, source, true, run);
        measured.project = std::make_shared<const project::Project>(std::move(project));
        int lastPermille = -1;
        run.progress = [this, id, &task, &lastPermille](double share) {
            const int permille = static_cast<int>(1000.0 * share);
            if (permille == lastPermille) return;
            lastPermille = permille;
            task.post([this, id, share] {
                Entry* running = find(id);
                if (!running) return;
                if (m_shareAtStart < 0.0) {
                    m_shareAtStart = share;
                    m_clock.restart();
                }
                running->share = share;
                emit changed();
            });
        };
        const auto report = delivery::deliver(
            source, measured, run, [this, id, &task](int, const auto& file, const std::string& failure) {
                task.post([this, id, name = QString::fromStdString(file.string()),
                           message = QString::fromStdString(failure)] {
                    Entry* running = find(id);
                    if (!running) return;
                    if (message.isEmpty()) {
                        ++running->written;
                        running->lastFile = name;
                    } else {
                        running->failures << message;
                    }
                    emit changed();
                });
            });
        task.post([this, id, kept = static_cast<int>(report.kept.size()), failed = !report.failed.empty()] {
            if (Entry* running = find(id)) running->kept = kept;
            end(id, failed ? State::failed : State::done, {});
        });
    };
    m_work.start(tr("Delivering"), work,
                 {[this, id = entry.id](const QString& message) { end(id, State::failed, message); },
                  [this, id = entry.id] { end(id, m_isPaused ? State::waiting : State::cancelled, {}); }});
    emit changed();
}

void DeliveryQueue::end(int id, State state, const QString& message)
{
    m_running = 0;
    if (Entry* entry = find(id)) {
        entry->state = state;
        if (!message.isEmpty()) entry->failures << message;
        if (state == State::done) entry->share = 1.0;
        if (state == State::done || state == State::failed) {
            ++m_count;
            if (state == State::failed) ++m_failed;
        }
    }
    keep();
    emit changed();
    // Once what ended has been heard of.
    QMetaObject::invokeMethod(this, &DeliveryQueue::startNext, Qt::QueuedConnection);
}

void DeliveryQueue::setPaused(bool paused)
{
    if (paused == m_isPaused) return;
    m_isPaused = paused;
    if (paused && m_running != 0)
        m_work.requestStop();
    else
        startNext();
    emit changed();
}

void DeliveryQueue::cancel(int id)
{
    Entry* entry = find(id);
    if (!entry) return;
    if (id == m_running) {
        m_work.requestStop();
        return;
    }
    if (entry->state == State::waiting) entry->state = State::cancelled;
    keep();
    emit changed();
}

void DeliveryQueue::retry(int id)
{
    Entry* entry = find(id);
    if (!entry || id == m_running) return;
    entry->state = State::waiting;
    entry->failures.clear();
    keep();
    emit changed();
    startNext();
}

void DeliveryQueue::remove(int id)
{
    if (id == m_running) return;
    std::erase_if(m_entries, [id](const Entry& entry) { return entry.id == id; });
    keep();
    emit changed();
}

void DeliveryQueue::move(int id, int by)
{
    const auto it = std::ranges::find(m_entries, id, &Entry::id);
    if (it == m_entries.end()) return;
    const auto to = (it - m_entries.begin()) + by;
    if (to < 0 || to >= static_cast<std::ptrdiff_t>(m_entries.size())) return;
    std::iter_swap(it, m_entries.begin() + to);
    keep();
    emit changed();
}

/// Projects as they were when they were added: they may be edited meanwhile, or never be saved.
void DeliveryQueue::keep() const
{
    if (m_folder.isEmpty()) return;
    try {
        QDir().mkpath(m_folder);
        QJsonArray list;
        QStringList kept{QStringLiteral("queue.json")};
        for (const Entry& entry : m_entries) {
            if (entry.state == State::done) continue;
            const QString copy = projectCopy(m_folder, entry.id);
            kept << QFileInfo(copy).fileName();
            if (!QFile::exists(copy)) {
                project::Project project = *entry.job.project;
                project.deliveries = {entry.job.delivery};
                project::saveProject(copy.toStdString(), project);
            }
            QJsonArray frames;
            if (entry.job.frames)
                for (const int frame : *entry.job.frames)
                    frames.append(frame);
            list.append(
                QJsonObject{{"id", entry.id},
                            {"project", entry.projectFile},
                            {"folder", QString::fromStdString(entry.job.folder.string())},
                            {"frames", frames},
                            {"waits", entry.state == State::waiting || entry.state == State::running}});
        }
        QSaveFile file(listFile(m_folder));
        if (!file.open(QIODevice::WriteOnly)) return;
        file.write(QJsonDocument(list).toJson());
        file.commit();
        for (const QString& name : QDir(m_folder).entryList(QDir::Files))
            if (!kept.contains(name)) QFile::remove(m_folder + QLatin1Char('/') + name);
    } catch (const Error&) { // what cannot be kept is still made
    }
}

void DeliveryQueue::readKept()
{
    QFile file(listFile(m_folder));
    if (!file.open(QIODevice::ReadOnly)) return;
    for (const auto& value : QJsonDocument::fromJson(file.readAll()).array()) {
        const QJsonObject object = value.toObject();
        try {
            Entry entry;
            entry.id = object["id"].toInt();
            auto project = std::make_shared<project::Project>(
                project::loadProject(projectCopy(m_folder, entry.id).toStdString()));
            if (project->deliveries.empty()) continue;
            entry.projectFile = object["project"].toString();
            entry.job.delivery = project->deliveries.front();
            entry.job.project = project;
            entry.job.projectFile = entry.projectFile.toStdString();
            entry.job.folder = object["folder"].toString().toStdString();
            entry.job.resumes = true;
            if (const QJsonArray frames = object["frames"].toArray(); !frames.isEmpty()) {
                entry.job.frames.emplace();
                for (const auto& frame : frames)
                    entry.job.frames->push_back(frame.toInt());
            }
            entry.state = object["waits"].toBool() ? State::waiting : State::cancelled;
            entry.title = titleOf(entry.job);
            entry.frames = frameCount(entry.job);
            m_last = std::max(m_last, entry.id);
            m_isPaused = m_isPaused || entry.state == State::waiting;
            m_entries.push_back(std::move(entry));
        } catch (const Error&) { // its project is damaged: nothing can be made of it
        }
    }
}

} // namespace retinex::app
