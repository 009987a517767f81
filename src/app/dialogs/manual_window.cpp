#include "app/dialogs/manual_window.h"

#include "app/look/style.h"

#include <QFile>
#include <QHBoxLayout>
#include <QImage>
#include <QLineEdit>
#include <QListWidget>
#include <QScrollBar>
#include <QTextBrowser>
#include <QTextDocument>
#include <QTextTable>
#include <QVBoxLayout>

#include <algorithm>

namespace retinex::app {

namespace {

struct Chapter
{
    QString title;
    const char* file;
};

QList<Chapter> chapters()
{
    return {{ManualWindow::tr("First ten minutes"), "first.md"},
            {ManualWindow::tr("Passes"), "passes.md"},
            {ManualWindow::tr("Depth readings"), "depth.md"},
            {ManualWindow::tr("Lens"), "lens.md"},
            {ManualWindow::tr("Iris"), "iris.md"},
            {ManualWindow::tr("Repair"), "repair.md"},
            {ManualWindow::tr("Regions"), "regions.md"},
            {ManualWindow::tr("Backdrop and inserts"), "inserts.md"},
            {ManualWindow::tr("Finish"), "finish.md"},
            {ManualWindow::tr("Delivery"), "delivery.md"},
            {ManualWindow::tr("On a farm"), "farm.md"},
            {ManualWindow::tr("Pulling focus"), "pulling.md"},
            {ManualWindow::tr("Playing and comparing"), "playing.md"}};
}

constexpr int kMargin = 18;

/// Pictures that are wider than the page are made to fit.
class Page : public QTextBrowser
{
public:
    using QTextBrowser::QTextBrowser;

protected:
    QVariant loadResource(int type, const QUrl& name) override
    {
        const QVariant found = QTextBrowser::loadResource(type, name);
        if (type != QTextDocument::ImageResource) return found;
        const QImage picture = found.canConvert<QImage>() && !found.value<QImage>().isNull()
                                   ? found.value<QImage>()
                                   : QImage::fromData(found.toByteArray());
        const int room = viewport()->width() - 2 * kMargin - verticalScrollBar()->sizeHint().width();
        if (picture.isNull() || picture.width() <= room) return found;
        return picture.scaledToWidth(room, Qt::SmoothTransformation);
    }
};

} // namespace

ManualWindow::ManualWindow(QWidget* parent)
    : QDialog(parent), m_search(new QLineEdit), m_chapters(new QListWidget), m_text(new Page)
{
    setWindowTitle(tr("Manual"));
    setObjectName(QStringLiteral("manual"));
    resize(900, 680);
    m_chapters->setFixedWidth(170);
    m_chapters->setAccessibleName(tr("Chapters"));
    m_chapters->setObjectName(QStringLiteral("manualChapters"));
    m_chapters->setStyleSheet(
        QStringLiteral("QListWidget { border: none; padding: 8px; } QListWidget::item { padding: 6px 0; }"));
    for (const Chapter& chapter : chapters())
        m_chapters->addItem(chapter.title);
    m_text->setAccessibleName(tr("The chapter"));
    m_text->setObjectName(QStringLiteral("manualText"));
    m_text->setOpenLinks(false);
    m_text->setSearchPaths({QStringLiteral(":/manual")});
    m_text->document()->setDocumentMargin(kMargin);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    auto* side = new QVBoxLayout;
    side->setContentsMargins(8, 8, 0, 0);
    m_search->setObjectName(QStringLiteral("manualSearch"));
    m_search->setPlaceholderText(tr("Search"));
    m_search->setAccessibleName(tr("Search the manual"));
    m_search->setClearButtonEnabled(true);
    m_search->setFixedWidth(170);
    side->addWidget(m_search);
    side->addWidget(m_chapters, 1);
    layout->addLayout(side);
    layout->addWidget(m_text, 1);
    connect(m_search, &QLineEdit::textChanged, this, &ManualWindow::search);
    connect(m_search, &QLineEdit::returnPressed, this, &ManualWindow::findNext);
    connect(m_chapters, &QListWidget::currentRowChanged, this, &ManualWindow::open);
    // A link to another chapter opens that chapter.
    connect(m_text, &QTextBrowser::anchorClicked, this, [this](const QUrl& link) {
        const auto all = chapters();
        for (int i = 0; i < all.size(); ++i)
            if (link.path() == QLatin1String(all[i].file)) m_chapters->setCurrentRow(i);
    });
    m_chapters->setCurrentRow(0);
}

/// Chapters that have the words stay in the list; on the page they are marked.
void ManualWindow::search(const QString& words)
{
    int first = -1;
    for (int i = 0; i < m_chapters->count(); ++i) {
        const bool has = words.isEmpty() || textOf(i).contains(words, Qt::CaseInsensitive);
        m_chapters->item(i)->setHidden(!has);
        if (has && first < 0) first = i;
    }
    if (first >= 0 && m_chapters->currentItem() && m_chapters->currentItem()->isHidden())
        m_chapters->setCurrentRow(first);
    mark();
}

void ManualWindow::mark()
{
    QList<QTextEdit::ExtraSelection> found;
    QTextCursor at(m_text->document());
    while (!m_search->text().isEmpty()) {
        at = m_text->document()->find(m_search->text(), at);
        if (at.isNull()) break;
        QTextEdit::ExtraSelection selection;
        selection.cursor = at;
        selection.format.setBackground(style::text);
        selection.format.setForeground(style::well);
        found.append(selection);
    }
    m_text->setExtraSelections(found);
    if (!found.isEmpty()) {
        m_text->setTextCursor(found.front().cursor);
        m_text->ensureCursorVisible();
    }
}

/// On this page, then on the next that has it.
void ManualWindow::findNext()
{
    if (m_search->text().isEmpty() || m_text->find(m_search->text())) return;
    for (int step = 1; step <= m_chapters->count(); ++step) {
        const int row = (m_chapters->currentRow() + step) % m_chapters->count();
        if (m_chapters->item(row)->isHidden()) continue;
        m_chapters->setCurrentRow(row);
        return;
    }
}

QString ManualWindow::textOf(int chapter)
{
    QFile file(QStringLiteral(":/manual/%1").arg(QLatin1String(chapters().value(chapter).file)));
    return file.open(QIODevice::ReadOnly) ? QString::fromUtf8(file.readAll()) : QString();
}

void ManualWindow::choose(int chapter)
{
    m_chapters->setCurrentRow(std::clamp(chapter, 0, m_chapters->count() - 1));
}

void ManualWindow::open(int chapter)
{
    m_text->document()->setDefaultFont(style::textFont(10));
    m_text->setMarkdown(textOf(chapter));
    for (QTextFrame* frame : m_text->document()->rootFrame()->childFrames()) {
        auto* table = qobject_cast<QTextTable*>(frame);
        if (!table) continue;
        QTextTableFormat format = table->format();
        format.setCellPadding(5);
        format.setCellSpacing(0);
        format.setBorderCollapse(true);
        format.setBorderBrush(style::line);
        table->setFormat(format);
    }
    mark();
}

} // namespace retinex::app
