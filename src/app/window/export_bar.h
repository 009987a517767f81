#pragma once

#include "app/jobs/export_job.h"

#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QWidget>
#include <memory>

namespace retinex::app {

/// Progress of an export, with the time left and Cancel. Hidden when nothing is exported.
class ExportBar : public QWidget
{
    Q_OBJECT

public:
    explicit ExportBar(QWidget* parent = nullptr);

    void start(std::unique_ptr<ExportWork> work);
    [[nodiscard]] bool isRunning() const noexcept { return m_work != nullptr; }
    void cancel();

signals:
    /// While it goes on.
    void frameFailed(int frame, const QString& message);
    /// `trouble` is empty when all went well; `isIncomplete`: some frames are not written.
    void ended(const QString& summary, const QString& trouble, bool isIncomplete);

private:
    void finish(bool cancelled, int written, const QStringList& failures);

    std::unique_ptr<ExportWork> m_work;
    int m_failed = 0;
    QLabel* m_name;
    QProgressBar* m_bar;
    QLabel* m_left;
    QPushButton* m_cancel;
};

} // namespace retinex::app
