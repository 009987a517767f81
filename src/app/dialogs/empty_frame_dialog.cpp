#include "app/dialogs/empty_frame_dialog.h"

#include "app/look/style.h"
#include "core/passes/image_file.h"
#include "core/system/error.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>
#include <QVBoxLayout>

namespace retinex::app {

namespace {

constexpr int kWidestPx = 32768;

QSpinBox* numberBox(const char* name, int least, int most, const QString& suffix)
{
    auto* box = new QSpinBox;
    box->setObjectName(QLatin1String(name));
    box->setRange(least, most);
    box->setSuffix(suffix);
    box->setFont(style::numberFont());
    box->setMinimumWidth(140);
    return box;
}

} // namespace

EmptyFrameDialog::EmptyFrameDialog(const QStringList& pictures, QWidget* parent)
    : QDialog(parent), m_width(numberBox("emptyWidth", 2, kWidestPx, tr(" px"))),
      m_height(numberBox("emptyHeight", 2, kWidestPx, tr(" px"))),
      m_first(numberBox("emptyFirst", -1000000, 1000000, {})),
      m_last(numberBox("emptyLast", -1000000, 1000000, {}))
{
    setObjectName(QStringLiteral("emptyFrameDialog"));
    setWindowTitle(tr("New from pictures"));
    auto* words = new QLabel(tr("%n picture(s) hung before a camera, in a frame of this size:", nullptr,
                                static_cast<int>(pictures.size())));
    words->setWordWrap(true);
    auto* form = new QFormLayout;
    form->setHorizontalSpacing(16);
    form->addRow(tr("Width"), m_width);
    form->addRow(tr("Height"), m_height);
    form->addRow(tr("First frame"), m_first);
    form->addRow(tr("Last frame"), m_last);
    m_width->setValue(1920);
    m_height->setValue(1080);
    m_first->setValue(1);
    m_last->setValue(1);
    proposeFor(pictures);
    connect(m_first, &QSpinBox::valueChanged, this,
            [this](int first) { m_last->setValue(std::max(first, m_last->value())); });
    connect(m_last, &QSpinBox::valueChanged, this,
            [this](int last) { m_first->setValue(std::min(last, m_first->value())); });
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    buttons->button(QDialogButtonBox::Ok)->setText(tr("Begin"));
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    auto* layout = new QVBoxLayout(this);
    layout->setSpacing(14);
    layout->addWidget(words);
    layout->addLayout(form);
    layout->addWidget(buttons);
}

/// The size of the largest and the frames of the longest. A picture that cannot be read is told of when it is
/// laid in.
void EmptyFrameDialog::proposeFor(const QStringList& pictures)
{
    long long largest = 0;
    std::size_t longest = 1;
    for (const QString& picture : pictures) {
        try {
            const auto files = passes::Sequence::find(picture.toStdString());
            const auto& window = passes::inspectFile(files.file(files.isStill() ? 1 : files.frames().front()))
                                     .part(0)
                                     .displayWindow;
            const long long size = static_cast<long long>(window.width()) * window.height();
            if (size > largest) {
                largest = size;
                m_width->setValue(window.width());
                m_height->setValue(window.height());
            }
            if (files.frames().size() > longest) {
                longest = files.frames().size();
                m_first->setValue(files.frames().front());
                m_last->setValue(files.frames().back());
            }
        } catch (const std::exception&) {
        }
    }
}

passes::PassOptions EmptyFrameDialog::emptyFrame() const
{
    passes::PassOptions options;
    options.emptyWidth = m_width->value();
    options.emptyHeight = m_height->value();
    options.stillFirst = m_first->value();
    options.stillLast = m_last->value();
    return options;
}

} // namespace retinex::app
