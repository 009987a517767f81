#include "app/window/export_bar.h"

#include "app/look/style.h"

#include <QHBoxLayout>

namespace retinex::app {

namespace {

QString timeLeft(double seconds)
{
    if (seconds < 0.0) return ExportBar::tr("estimating…");
    const int whole = static_cast<int>(seconds + 0.5);
    return whole >= 60 ? ExportBar::tr("%1 min %2 s left").arg(whole / 60).arg(whole % 60)
                       : ExportBar::tr("%1 s left").arg(whole);
}

} // namespace

ExportBar::ExportBar(QWidget* parent)
    : QWidget(parent), m_name(new QLabel), m_bar(new QProgressBar), m_left(new QLabel),
      m_cancel(new QPushButton(tr("Cancel")))
{
    setObjectName(QStringLiteral("exportBar"));
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(10, 2, 8, 2);
    layout->addWidget(m_name);
    layout->addWidget(m_bar, 1);
    layout->addWidget(m_left);
    layout->addWidget(m_cancel);
    m_bar->setRange(0, 1000);
    m_bar->setTextVisible(false);
    m_bar->setFixedHeight(12);
    m_left->setFont(style::numberFont(8.5));
    m_left->setMinimumWidth(120);
    m_cancel->setObjectName(QStringLiteral("cancelExport"));
    connect(m_cancel, &QPushButton::clicked, this, &ExportBar::cancel);
    hide();
}

void ExportBar::start(std::unique_ptr<ExportWork> work)
{
    m_work = std::move(work);
    const QString name = QString::fromStdString(m_work->job().target.filename().string());
    m_name->setText(tr("Exporting %1").arg(name));
    m_bar->setValue(0);
    m_failed = 0;
    m_left->setText(timeLeft(-1.0));
    m_cancel->setEnabled(true);
    connect(m_work.get(), &ExportWork::progressed, this, [this](double share) {
        m_bar->setValue(static_cast<int>(1000.0 * share));
        m_left->setText(timeLeft(m_work->secondsLeft(share)));
    });
    connect(m_work.get(), &ExportWork::frameFailed, this, [this, name](int frame, const QString& message) {
        m_name->setText(tr("Exporting %1, %2 failed").arg(name).arg(++m_failed));
        emit frameFailed(frame, message);
    });
    connect(m_work.get(), &ExportWork::finished, this, &ExportBar::finish);
    show();
    m_work->start();
}

void ExportBar::cancel()
{
    if (!m_work) return;
    m_cancel->setEnabled(false);
    m_work->cancel();
}

void ExportBar::finish(bool cancelled, int written, const QStringList& failures)
{
    const QString where = QString::fromStdString(m_work->job().target.string());
    m_work.release()->deleteLater(); // we are inside its signal
    hide();
    const QString summary =
        cancelled ? tr("Export cancelled; %1 written to %2").arg(tr("%n frame(s)", nullptr, written), where)
                  : tr("%1 written to %2").arg(tr("%n frame(s)", nullptr, written), where);
    QString trouble;
    if (!failures.isEmpty()) {
        trouble = failures.mid(0, 3).join(QLatin1Char('\n'));
        if (failures.size() > 3)
            trouble +=
                tr("\n… and %n more frame(s) that failed.", nullptr, static_cast<int>(failures.size()) - 3);
    }
    emit ended(summary, trouble, cancelled || !failures.isEmpty());
}

} // namespace retinex::app
