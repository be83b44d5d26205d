#include "shell/ways_menu.h"

#include <QMenu>

namespace wendrix::app {

void chooseWay(QWidget* over, const QString& question, const QVector<Way>& ways)
{
    if (ways.size() == 1)
        return ways[0].go();
    auto* menu = new QMenu(over);
    menu->setObjectName("ways");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setToolTipsVisible(true);
    QAction* head = menu->addAction(question);
    head->setEnabled(false);
    menu->addSeparator();
    QAction* first = nullptr;
    for (const Way& way : ways) {
        QAction* action = menu->addAction(way.words, over, way.go, Qt::QueuedConnection);
        action->setToolTip(way.tip);
        first = first == nullptr ? action : first;
    }
    const QSize size = menu->sizeHint();
    menu->popup(over->mapToGlobal(QPoint((over->width() - size.width()) / 2, (over->height() - size.height()) / 3)));
    menu->setActiveAction(first);
}

} // namespace wendrix::app
