#pragma once

#include "app/document/document.h"
#include "app/jobs/background.h"

#include <QDateTime>
#include <QImage>
#include <QLockFile>
#include <QTimer>
#include <atomic>
#include <memory>

/// Unsaved work is kept beside the cache, so that a crash loses a few seconds at most.
namespace retinex::app {

/// Keeps a copy of one document while it has changes that are not saved.
class Autosave : public QObject
{
    Q_OBJECT

public:
    static constexpr int kDelayMs = 3000; ///< from a change to the copy

    explicit Autosave(Document& document, QString folder = standardFolder(), QObject* parent = nullptr);
    /// Takes the copy away: the document was closed as the artist wanted.
    ~Autosave() override;

    [[nodiscard]] static QString standardFolder();
    /// What the copy shows when it is offered; called when one is made.
    void setPicture(std::function<QImage()> picture) { m_picture = std::move(picture); }
    /// The project file that holds the copy.
    [[nodiscard]] QString file() const { return m_file; }

signals:
    /// A copy could not be written; not told again before one was.
    void failed(const QString& message);

private:
    void changed();
    void write();
    void remove();

    Document& m_document;
    QString m_folder;
    QString m_file;
    std::unique_ptr<QLockFile> m_lock; ///< says to others that this copy's program lives
    std::function<QImage()> m_picture;
    QTimer m_timer;
    std::shared_ptr<std::atomic<bool>> m_isGone = std::make_shared<std::atomic<bool>>(false);
    bool m_toldFailure = false;
    Background m_work;
};

/// A copy whose program is gone.
struct Recovered
{
    QString copy;     ///< the project file that holds it
    QString original; ///< the project it was opened from; "" of one that was never saved
    QString title;
    QDateTime time; ///< when the copy was made
    int frame = 1;
    QImage picture; ///< may be null
};
/// The newest first. Copies of programs that are running are left out, also those of this one.
[[nodiscard]] std::vector<Recovered> findRecovered(const QString& folder = Autosave::standardFolder());
/// Quickly: whether there may be any; what is in the copies is not looked at.
[[nodiscard]] bool mayHaveRecovered(const QString& folder = Autosave::standardFolder());
/// The project of a copy, without what the copy says of itself. Throws Error.
[[nodiscard]] project::Project projectOf(const Recovered& recovered);
/// Takes the copy away.
void discard(const Recovered& recovered);

} // namespace retinex::app
