#include "shell/tool_strip.h"

#include "scene/scene_view.h"
#include "shell/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QStackedWidget>
#include <QToolButton>

#include <algorithm>

namespace wendrix::app {

ToolStrip::ToolStrip(SceneView& scene, QWidget* parent) : QWidget(parent), scene_(scene)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    column->setSizeConstraint(QLayout::SetFixedSize);
    strip_ = new QWidget;
    strip_->setObjectName("tools");
    strip_->setAttribute(Qt::WA_StyledBackground);
    setStyleSheet("#tools, #toolRow { background:#FFFFFF; border:1px solid #DAD4C6; border-radius:4px; }"
                  "QToolButton { border:0; border-right:1px solid #EAE5D9; padding:4px 7px; font-weight:500; }"
                  "QToolButton:hover { background:#F3F0E8 } QToolButton:checked { background:#E7EFEE; font-weight:700 }"
                  "QToolButton:focus { border:2px solid #2B7A84 }");
    auto* layout = new QHBoxLayout(strip_);
    layout->setContentsMargins(1, 1, 1, 1);
    layout->setSpacing(0);
    column->addWidget(strip_, 0, Qt::AlignLeft);

    box_ = new QWidget;
    box_->setObjectName("toolRow");
    box_->setAttribute(Qt::WA_StyledBackground);
    auto* boxLayout = new QVBoxLayout(box_);
    boxLayout->setContentsMargins(2, 2, 2, 4);
    boxLayout->setSpacing(0);
    rows_ = new QStackedWidget;
    rows_->addWidget(new QWidget); // of tools without choices
    boxLayout->addWidget(rows_);
    hint_ = new QLabel;
    hint_->setObjectName("toolHint");
    hint_->setFont(theme::font(11));
    hint_->setStyleSheet("color:#5F6B70; padding-left:8px");
    hint_->setWordWrap(true);
    boxLayout->addWidget(hint_);
    column->addWidget(box_, 0, Qt::AlignLeft);
    box_->hide();
}

void ToolStrip::add(const ToolEntry& entry)
{
    auto* button = new QToolButton;
    button->setObjectName(entry.id);
    button->setText(entry.words);
    if (!entry.icon.isEmpty())
        button->setIcon(theme::icon(entry.icon, theme::kInk, 16, 2));
    button->setToolButtonStyle(entry.icon.isEmpty() ? Qt::ToolButtonTextOnly : Qt::ToolButtonTextBesideIcon);
    button->setToolTip(entry.tip);
    button->setFocusPolicy(Qt::TabFocus);
    button->setCheckable(entry.tool != nullptr);
    connect(button, &QToolButton::clicked, this, [this, id = entry.id] { toggle(id); });
    strip_->layout()->addWidget(button);
    if (entry.row != nullptr)
        rows_->addWidget(entry.row);
    added_.append({entry, button});
    button->setVisible(entry.stage.isEmpty() || entry.stage == stage_);
}

void ToolStrip::setStage(const QString& stage)
{
    if (std::exchange(stage_, stage) == stage)
        return;
    bool isDropped = false;
    for (const Added& a : added_) {
        const bool isHere = a.entry.stage.isEmpty() || a.entry.stage == stage;
        a.button->setVisible(isHere);
        isDropped = isDropped || (!isHere && a.entry.id == inHand_);
    }
    if (isDropped)
        endAll();
    adjustSize();
    emit resized();
}

void ToolStrip::toggle(const QString& id) { take(id == inHand_ ? QString() : id); }

void ToolStrip::take(const QString& id)
{
    const auto found = std::find_if(added_.begin(), added_.end(), [&](const Added& a) { return a.entry.id == id; });
    const ToolEntry entry = found != added_.end() ? found->entry : ToolEntry{};
    // What is done at once leaves the tool in the hand.
    if (entry.tool != nullptr || entry.press == nullptr) {
        if (scene_.tool() != nullptr)
            scene_.tool()->putDown();
        inHand_ = entry.tool != nullptr ? id : QString();
        scene_.setTool(entry.tool);
        if (entry.tool != nullptr)
            entry.tool->taken();
        refresh();
    }
    if (entry.press)
        entry.press();
    if (entry.tool != nullptr || entry.press == nullptr)
        emit taken(inHand_);
}

void ToolStrip::setRoom(int pixels)
{
    // Decided anew from the width with signs, so that it does not swing to and fro.
    const auto style = [this](bool hasSigns) {
        for (const Added& a : added_)
            a.button->setToolButtonStyle(hasSigns && !a.button->icon().isNull() ? Qt::ToolButtonTextBesideIcon
                                                                                : Qt::ToolButtonTextOnly);
        strip_->layout()->invalidate();
    };
    style(true);
    if (strip_->sizeHint().width() > pixels)
        style(false);
}

void ToolStrip::refresh()
{
    QWidget* row = rows_->widget(0);
    for (const Added& a : added_) {
        a.button->setChecked(a.entry.id == inHand_);
        if (a.entry.id == inHand_ && a.entry.row != nullptr)
            row = a.entry.row;
    }
    for (int i = 0; i < rows_->count(); ++i) { // the box is as large as what it shows
        const auto policy = rows_->widget(i) == row ? QSizePolicy::Preferred : QSizePolicy::Ignored;
        rows_->widget(i)->setSizePolicy(policy, policy);
    }
    rows_->setCurrentWidget(row);
    box_->setVisible(!inHand_.isEmpty());
    hint_->setText(scene_.tool() != nullptr ? scene_.tool()->hint() : QString());
    adjustSize();
    emit resized();
}

} // namespace wendrix::app
