#include "app/controllers/workbench.h"

#include "core/system/failure.h"

namespace retinex::app {

Workbench::Workbench(QWidget& parent)
    : window(parent), playMenu(new PlayMenu(document, playback, &parent)), strip(new ViewStrip),
      compare(new CompareBar(document)), depthStrip(new DepthStrip),
      toolRow(new ToolRow(*compare, *depthStrip)), picture(new PictureView(document)),
      message(new MessageBar(picture)), readingStrip(new ReadingStrip(picture)),
      start(new StartPage(*picture)), probe(new ProbeLine(document)),
      passing(new MessageBar(probe, MessageBar::Place::insteadOf, message)), exportBar(new ExportBar),
      frameBar(new FrameBar(document, deskState, playback, *playMenu)),
      profile(new DepthProfile(document, survey, deskState)),
      desk(new FocusDesk(document, survey, deskState)), lanes(new MarkLanes(document, deskState)),
      card(new MarkCard(document, deskState, &parent)), sheet(new Sheet(document, analysis, subjects))
{
}

void Workbench::tellFailure(const QString& doing) const
{
    message->show(MessageBar::Kind::trouble,
                  QString::fromStdString(failureText(std::current_exception(), doing.toStdString())));
}

} // namespace retinex::app
