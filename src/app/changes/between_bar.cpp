#include "changes/between_bar.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <QSlider>
#include <QVBoxLayout>

#include <tuple>

namespace wendrix::app {

namespace {

constexpr int kSteps = 100;

} // namespace

BetweenBar::BetweenBar(QWidget* parent)
    : QWidget(parent), slider_(new QSlider(Qt::Horizontal)), before_(new QPushButton("Before")),
      both_(new QPushButton("Both")), after_(new QPushButton("After")), two_(new QPushButton("Side by side"))
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    const std::tuple<QPushButton*, double, const char*> ways[] = {{before_, 0.0, "What was (1)"},
                                                                  {both_, 0.5, "What is, and what was as a ghost (2)"},
                                                                  {after_, 1.0, "What is (3)"}};
    for (const auto& [button, at, tip] : ways) {
        button->setObjectName("between" + button->text());
        button->setCheckable(true);
        button->setProperty("chip", true);
        button->setToolTip(tip);
        connect(button, &QPushButton::clicked, this, [this, to = at] { setAt(to); });
        row->addWidget(button, 1);
    }
    two_->setObjectName("betweenTwo");
    two_->setCheckable(true);
    two_->setProperty("chip", true);
    two_->setToolTip("What was on the left, what is on the right, seen from the same place (4)");
    connect(two_, &QPushButton::toggled, this, &BetweenBar::twoViewsWanted);
    row->addWidget(two_, 1);
    column->addLayout(row);
    slider_->setObjectName("betweenSlider");
    slider_->setAccessibleName("Between before and after");
    slider_->setRange(0, kSteps);
    slider_->setValue(kSteps / 2);
    slider_->setToolTip("From what was to what is");
    connect(slider_, &QSlider::valueChanged, this, [this] {
        showWhich();
        emit moved(at());
    });
    column->addWidget(slider_);
    showWhich();
}

double BetweenBar::at() const { return static_cast<double>(slider_->value()) / kSteps; }

void BetweenBar::setAt(double at)
{
    slider_->setValue(static_cast<int>(at * kSteps));
    showWhich();
}

void BetweenBar::showWhich()
{
    before_->setChecked(slider_->value() == 0);
    both_->setChecked(slider_->value() == kSteps / 2);
    after_->setChecked(slider_->value() == kSteps);
}

} // namespace wendrix::app
