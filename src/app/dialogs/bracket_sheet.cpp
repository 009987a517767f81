#include "app/dialogs/bracket_sheet.h"

#include "app/fields/chooser.h"
#include "app/fields/setting_formats.h"
#include "app/look/style.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <cmath>

namespace retinex::app {

namespace {

constexpr int kColumns = 3;
constexpr QSize kPicture{320, 180};

} // namespace

BracketSheet::BracketSheet(Document& document, std::shared_ptr<const colour::ViewTransform> view,
                           const depth::DepthRange& range, QWidget* parent)
    : QDialog(parent), m_document(document), m_view(std::move(view)), m_range(range), m_over(new Chooser),
      m_trouble(new QLabel)
{
    setObjectName(QStringLiteral("bracketSheet"));
    setWindowTitle(tr("Bracket of frame %1").arg(document.frame()));
    m_over->setObjectName(QStringLiteral("bracketOver"));
    m_over->addItems({tr("focus distances"), tr("f-stops")});
    connect(m_over, &QComboBox::activated, this, &BracketSheet::start);
    m_trouble->setWordWrap(true);
    auto* top = new QHBoxLayout;
    top->addWidget(new QLabel(tr("This frame at several")));
    top->addWidget(m_over);
    top->addSpacing(12);
    top->addWidget(m_trouble, 1);
    auto* hint = new QLabel(tr("The framed one is nearest to what is set. A click adopts one."));
    hint->setStyleSheet(QStringLiteral("color: %1;").arg(style::dimText.name()));
    top->addWidget(hint);
    auto* grid = new QGridLayout;
    grid->setSpacing(8);
    for (int i = 0; i < count; ++i) {
        auto* picture = new QToolButton;
        picture->setObjectName(QStringLiteral("bracket%1").arg(i));
        picture->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        picture->setIconSize(kPicture);
        picture->setFont(style::numberFont());
        picture->setCheckable(true);
        // A frame, not a field of light beside a dark picture that is to be judged.
        picture->setStyleSheet(QStringLiteral("QToolButton { border: 2px solid transparent; } "
                                              "QToolButton:checked { background: %1; color: %2; border: 2px "
                                              "solid %2; }")
                                   .arg(style::panel.name(), style::text.name()));
        connect(picture, &QToolButton::clicked, this, [this, i] { adopt(i); });
        m_pictures.append(picture);
        grid->addWidget(picture, i / kColumns, i % kColumns);
    }
    auto* layout = new QVBoxLayout(this);
    layout->setSpacing(10);
    layout->addLayout(top);
    layout->addLayout(grid);
    connect(&m_job, &BracketJob::pictureReady, this, [this](int index, const QImage& picture) {
        m_pictures[index]->setIcon(QPixmap::fromImage(
            picture.scaled(kPicture * devicePixelRatioF(), Qt::KeepAspectRatio, Qt::SmoothTransformation)));
    });
    connect(&m_job, &BracketJob::failed, m_trouble, &QLabel::setText);
    start();
}

void BracketSheet::start()
{
    const project::Settings& values = m_document.values();
    const bool byStop = m_over->currentIndex() == 1;
    m_setting = byStop ? project::setting::fStop : project::setting::focusDistance;
    const double nearest = m_range.hasSurface() ? m_range.nearest : 0.5 * values.focusDistance;
    const double farthest = m_range.hasSurface() ? m_range.farthest : 2.0 * values.focusDistance;
    m_values = byStop ? bracketStops(count) : bracketDistances(nearest, farthest, count);
    // The one that is nearest to what is set bears a frame.
    const double present = project::infoOf(m_setting)->get(values);
    int closest = 0;
    const NumberFormat format = settingFormat(m_setting, m_document.project());
    QPixmap empty(kPicture);
    empty.fill(style::well);
    for (int i = 0; i < count; ++i) {
        const double value = m_values[static_cast<std::size_t>(i)];
        if (std::abs(std::log(value / present)) <
            std::abs(std::log(m_values[static_cast<std::size_t>(closest)] / present)))
            closest = i;
        m_pictures[i]->setText(format.toText(value));
        m_pictures[i]->setIcon(empty);
    }
    for (int i = 0; i < count; ++i)
        m_pictures[i]->setChecked(i == closest);
    m_trouble->clear();
    m_job.start({m_document.source(), m_document.project(), m_view, m_document.frame(), m_setting, m_values,
                 static_cast<int>(kPicture.width() * devicePixelRatioF())});
}

void BracketSheet::adopt(int index)
{
    m_document.changeSetting(m_setting, m_values[static_cast<std::size_t>(index)]);
    accept();
}

} // namespace retinex::app
