#include "shell/narrow_chips.h"

#include "shell/flow_layout.h"

#include <QPushButton>

namespace wendrix::app {

NarrowChips::NarrowChips(QWidget* parent) : QWidget(parent)
{
    new FlowLayout(4, this);
    hide();
}

void NarrowChips::clear() { qDeleteAll(findChildren<QPushButton*>(QString(), Qt::FindDirectChildrenOnly)); }

void NarrowChips::add(const QString& name, const QString& words, std::function<void()> takeAway)
{
    auto* button = new QPushButton(words + "  ×");
    button->setObjectName("narrowed" + name);
    button->setProperty("chip", true);
    button->setToolTip("Show all again");
    connect(button, &QPushButton::clicked, this, std::move(takeAway), Qt::QueuedConnection);
    layout()->addWidget(button);
    button->show();
}

void NarrowChips::finish()
{
    setVisible(findChild<QPushButton*>(QString(), Qt::FindDirectChildrenOnly) != nullptr);
    updateGeometry();
}

} // namespace wendrix::app
