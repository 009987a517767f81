// What the window does about takes, and about comparing two pictures.
#include "app/window/main_window.h"

#include "core/base/error.h"
#include "core/project/takes.h"

namespace retinex::app {

namespace {

constexpr int kTakeWidth = 320; ///< px of a take's picture

} // namespace

void MainWindow::connectCompare()
{
    connect(m_compare, &CompareBar::changed, this, &MainWindow::compareChanged);
    connect(&m_otherRenderer, &RenderService::pictureReady, m_picture, &PictureView::showOther);
    connect(&m_otherRenderer, &RenderService::failed, this,
            [this](quint64, const QString& message) { m_message->show(MessageBar::Kind::trouble, message); });
    connect(&m_sheet->takes(), &TakesPanel::keepAsked, this, &MainWindow::keepTake);
    connect(&m_sheet->takes(), &TakesPanel::compareAsked, this, [this](const std::string& take) {
        m_compare->setSide(0, {CompareSide::Kind::present});
        m_compare->setSide(1, {CompareSide::Kind::take, take});
        m_compare->setMode(m_compare->mode() == Comparison::Mode::off ? Comparison::Mode::wipe
                                                                      : m_compare->mode());
    });
}

/// Its picture is what is seen, made small; where that is not the result, it is made.
void MainWindow::keepTake()
{
    if (!m_document.isOpen()) return;
    const Picture& seen = m_picture->picture();
    QImage picture;
    if (seen.mode == ViewMode::result && seen.isFinal && seen.detail.part.empty() &&
        seen.frame == m_document.frame() && !m_renderer.isBusy() &&
        m_compare->mode() == Comparison::Mode::off) {
        picture = seen.image.scaledToWidth(kTakeWidth, Qt::SmoothTransformation);
    } else {
        PictureRequest request = wholeRequest();
        request.mode = ViewMode::result;
        try {
            picture = makePicture(request, {std::max(1, request.source->width() / kTakeWidth), {}}, {}).image;
        } catch (const Error& error) { // the settings are kept all the same
            m_message->show(MessageBar::Kind::trouble, QString::fromStdString(error.what()));
        }
    }
    m_sheet->takes().keep(picture);
}

/// The request as a side of a comparison wants it.
void MainWindow::putSide(PictureRequest& request, const CompareSide& side) const
{
    request.mode = side.kind == CompareSide::Kind::source ? ViewMode::source : ViewMode::result;
    if (side.kind != CompareSide::Kind::take) return;
    for (const project::Take& take : request.project->takes) {
        if (take.name != side.take) continue;
        request.project = std::make_shared<project::Project>(project::withTake(*request.project, take));
        return;
    }
}

void MainWindow::compareChanged()
{
    Comparison& comparison = m_picture->comparison();
    const bool on = m_compare->mode() != Comparison::Mode::off;
    const bool began = on && comparison.mode == Comparison::Mode::off;
    for (int which = 0; which < 2; ++which)
        comparison.names[which] = CompareBar::nameOf(m_compare->side(which));
    comparison.gain = m_compare->gain();
    m_picture->setComparison(m_compare->mode());
    if (!m_document.isOpen()) return;
    if (on) m_playback.stop();
    if (began) comparison.other = {};
    if (began && m_strip->mode() != ViewMode::result)
        setMode(ViewMode::result); // asks for the pictures
    else
        requestPicture();
}

/// While it is held the second picture is seen alone; the source where nothing is compared.
void MainWindow::hold(bool held)
{
    Comparison& comparison = m_picture->comparison();
    if (held == comparison.isHeld || !m_document.isOpen() || (held && m_playback.isPlaying())) return;
    comparison.isHeld = held;
    const bool compares = m_compare->mode() != Comparison::Mode::off;
    comparison.names[1] =
        compares ? CompareBar::nameOf(m_compare->side(1)) : CompareBar::nameOf({CompareSide::Kind::source});
    m_picture->setComparison(m_compare->mode());
    if (held && !compares) {
        comparison.other = {};
        askOther(m_picture->visibleOf({m_document.source()->width(), m_document.source()->height()}));
    }
    m_picture->update();
}

void MainWindow::askOther(const PictureDetail& visible)
{
    const bool compares = m_compare->mode() != Comparison::Mode::off;
    if (!compares && !m_picture->comparison().isHeld) return;
    PictureRequest request = wholeRequest();
    putSide(request, compares ? m_compare->side(1) : CompareSide{CompareSide::Kind::source});
    request.visible = visible;
    m_otherRenderer.request(std::move(request));
}

} // namespace retinex::app
