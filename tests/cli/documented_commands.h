#pragma once

#include <QFile>
#include <QRegularExpression>
#include <QStringList>

namespace retinex::test {

/// A command as a page of the manual writes it: in a line indented by four, which may go on after a
/// backslash.
struct DocumentedCommand
{
    QString page;
    QString text; ///< without a remark at its end
};

/// Those of a page that begin with `program`.
inline QList<DocumentedCommand> commandsIn(const QString& page, const QString& program)
{
    QFile file(page);
    if (!file.open(QIODevice::ReadOnly)) qFatal("%s cannot be read", qPrintable(page));
    static const QRegularExpression remark(QStringLiteral("\\s#\\s.*$"));
    QList<DocumentedCommand> found;
    QString text;
    for (QString line : QString::fromUtf8(file.readAll()).split(QLatin1Char('\n'))) {
        if (text.isEmpty() && !line.startsWith(QStringLiteral("    ") + program + QLatin1Char(' '))) continue;
        line.remove(remark);
        line = line.trimmed();
        const bool goesOn = line.endsWith(QLatin1Char('\\'));
        if (goesOn) line.chop(1);
        text += line.trimmed() + QLatin1Char(' ');
        if (goesOn) continue;
        found.append({page.section(QLatin1Char('/'), -1), text.trimmed()});
        text.clear();
    }
    return found;
}

/// The commands that it stands for: without what is in brackets, with each of these alone, and with each of
/// what is parted by strokes. "..." is left out.
inline QStringList readingsOf(const QString& command)
{
    static const QRegularExpression brackets(
        QStringLiteral("\\[([^\\]\\[]*(?:\\[[^\\]]*\\])?[^\\]\\[]*)\\]"));
    static const QRegularExpression strokes(QStringLiteral("(\\S+(?:\\|\\S+)+)"));
    QStringList options;
    for (auto match = brackets.globalMatch(command); match.hasNext();)
        for (const QString& one : match.next().captured(1).split(QStringLiteral(" | ")))
            options << one.trimmed();
    QString bare = command;
    bare.remove(brackets);
    QStringList all{bare};
    for (const QString& option : options)
        all << bare + QLatin1Char(' ') + option;
    QStringList readings;
    for (const QString& each : all) {
        const auto match = strokes.match(each);
        if (!match.hasMatch()) {
            readings << each;
            continue;
        }
        for (const QString& one : match.captured(1).split(QLatin1Char('|'))) {
            QString taken = each;
            taken.replace(match.capturedStart(), match.capturedLength(), one);
            readings << readingsOf(taken);
        }
    }
    for (QString& reading : readings)
        reading =
            reading.remove(QRegularExpression(QStringLiteral("\\[|\\]|\\s\\.\\.\\.(?=\\s|$)"))).simplified();
    readings.removeDuplicates();
    return readings;
}

} // namespace retinex::test
