#pragma once

#include <QString>
#include <QVector>

#include <functional>

class QWidget;

namespace wendrix::app {

/// One way to do something, in words.
struct Way {
    QString words, tip;
    std::function<void()> go;
};
/// Goes the only way at once; of several a person chooses one, in a menu in the middle of `over` whose first is ready
/// for Enter. Escape goes none.
void chooseWay(QWidget* over, const QString& question, const QVector<Way>& ways);

} // namespace wendrix::app
