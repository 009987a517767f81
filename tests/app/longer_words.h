#pragma once

#include <QRegularExpression>
#include <QTranslator>

namespace retinex::test {

/// Stands for a language whose words are longer than English ones: each is longer by 40 % or so, as German
/// ones are (common practice). Places for values, names of files and keys stay as they are.
class LongerWords : public QTranslator
{
public:
    [[nodiscard]] bool isEmpty() const override { return false; }
    QString translate(const char*, const char* source, const char*, int) const override
    {
        static const QRegularExpression keys(
            QStringLiteral("^((Ctrl|Shift|Alt|Meta)\\+)+\\S+$|[*{<]|^[a-z0-9_./-]*[/._][a-z0-9_./-]*$"));
        static const QRegularExpression word(QStringLiteral("(?<![%\\w.])[A-Za-z&]{3,}(?![\\w.]*[\\w])"));
        QString text = QString::fromUtf8(source);
        if (keys.match(text).hasMatch()) return text;
        qsizetype from = 0;
        for (auto match = word.match(text, from); match.hasMatch(); match = word.match(text, from)) {
            const auto length = match.capturedLength();
            const QString more = length < 5   ? QStringLiteral("en")
                                 : length < 9 ? QStringLiteral("ung")
                                              : QStringLiteral("keit");
            text.insert(match.capturedEnd(), more);
            from = match.capturedEnd() + more.size();
        }
        return text;
    }
};

} // namespace retinex::test
