#pragma once

#include "app/document/opening.h"

#include <QObject>
#include <memory>
#include <thread>

namespace retinex::app {

/// Opens files on a thread of its own, so that a slow disk does not block the window. The newest wins.
class Opener : public QObject
{
    Q_OBJECT

public:
    explicit Opener(QObject* parent = nullptr) : QObject(parent) {}
    ~Opener() override;

    void open(const QStringList& files);

signals:
    void opened(const std::shared_ptr<retinex::app::Opened>& opened);
    void failed(const QString& message);

private:
    std::thread m_thread;
    quint64 m_round = 0;
};

} // namespace retinex::app
