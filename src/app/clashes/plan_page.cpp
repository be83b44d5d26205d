#include "clashes/plan_page.h"

#include "core/base/text.h"
#include "shell/stage.h"
#include "shell/theme.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QToolTip>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace wendrix::app {

namespace {

using Bay = project::ClashPlan::Bay;

constexpr double kLeastRadius = 9, kMostRadius = 34, kGrowth = 4, kEdge = 34; // pixels; growth by the root of pairs

/// The parts of a sign, in the order they are drawn, each told apart by its pattern as well as by its tone.
struct Part {
    std::size_t Bay::*count;
    const char* words;
    QColor colour;
    Qt::BrushStyle pattern;
};
const Part kParts[] = {{&Bay::undecided, "undecided", theme::kOverlap, Qt::SolidPattern},
                       {&Bay::fix, "fix", theme::kPetrol, Qt::Dense4Pattern},
                       {&Bay::letStand, "let stand", theme::kSoftInk, Qt::BDiagPattern},
                       {&Bay::later, "later", theme::kSoftInk, Qt::Dense6Pattern}};

QString inWords(const Bay& bay)
{
    QStringList parts;
    for (const Part& part : kParts)
        if (bay.*part.count > 0)
            parts << q(grouped(bay.*part.count)) + " " + part.words;
    return (bay.name.empty() ? QString("no bay") : "bay " + q(bay.name)) + ": " + parts.join(", ");
}

} // namespace

PlanView::PlanView(QWidget* parent) : QWidget(parent)
{
    setObjectName("clashPlan");
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName("Pairs by bay");
}

void PlanView::setPlan(const QVector<Axis>& axes, std::vector<Bay> bays)
{
    const std::string before = chosen_ >= 0 ? bays_[static_cast<std::size_t>(chosen_)].name : std::string();
    axes_ = axes;
    bays_ = std::move(bays);
    chosen_ = -1;
    for (std::size_t k = 0; k < bays_.size(); ++k)
        if (!before.empty() && bays_[k].name == before)
            chosen_ = static_cast<int>(k);
    bounds_ = {};
    const auto add = [this](QPointF p) {
        const QRectF point(p, QSizeF(1e-6, 1e-6));
        bounds_ = bounds_.isNull() ? point : bounds_.united(point);
    };
    for (const Axis& axis : axes_) {
        add(axis.line.p1());
        add(axis.line.p2());
    }
    for (const Bay& bay : bays_)
        add({bay.x, bay.y});
    update();
}

QPointF PlanView::toScreen(double x, double y) const
{
    const double scale = std::min((width() - 2 * kEdge) / std::max(1.0, bounds_.width()),
                                  (height() - 2 * kEdge) / std::max(1.0, bounds_.height()));
    return {width() / 2.0 + scale * (x - bounds_.center().x()), height() / 2.0 - scale * (y - bounds_.center().y())};
}

QRectF PlanView::areaOf(int bay) const
{
    const Bay& b = bays_[static_cast<std::size_t>(bay)];
    const double radius = std::min(kMostRadius, kLeastRadius + kGrowth * std::sqrt(static_cast<double>(b.all())));
    const QPointF at = toScreen(b.x, b.y);
    return {at.x() - radius, at.y() - radius, 2 * radius, 2 * radius};
}

int PlanView::at(QPointF point) const
{
    for (int k = static_cast<int>(bays_.size()) - 1; k >= 0; --k) // the small ones lie above
        if (const QRectF area = areaOf(k);
            std::hypot(point.x() - area.center().x(), point.y() - area.center().y()) <= area.width() / 2)
            return k;
    return -1;
}

void PlanView::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme::kPaper);
    painter.setFont(theme::font(11));
    for (const Axis& axis : axes_) {
        const QPointF a = toScreen(axis.line.x1(), axis.line.y1()), b = toScreen(axis.line.x2(), axis.line.y2());
        painter.setPen(QPen(theme::kLine, 1.5));
        painter.drawLine(a, b);
        if (axis.tag.isEmpty())
            continue;
        const QRectF bubble(a.x() - 10, a.y() - 10, 20, 20);
        painter.setBrush(theme::kPanel);
        painter.setPen(QPen(theme::kSoftInk, 1));
        painter.drawEllipse(bubble);
        painter.drawText(bubble, Qt::AlignCenter, axis.tag);
    }
    for (int k = 0; k < static_cast<int>(bays_.size()); ++k) {
        const Bay& bay = bays_[static_cast<std::size_t>(k)];
        const QRectF area = areaOf(k);
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme::kPanel);
        painter.drawEllipse(area);
        double from = 90;
        for (const Part& part : kParts) {
            const double share = 360.0 * static_cast<double>(bay.*part.count) / static_cast<double>(bay.all());
            painter.setBrush(QBrush(part.colour, part.pattern));
            painter.drawPie(area, static_cast<int>(16 * (from - share)), static_cast<int>(16 * share));
            from -= share;
        }
        const bool isChosen = k == chosen_;
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(isChosen ? theme::kFocus : theme::kInk, isChosen ? 3 : 1));
        painter.drawEllipse(area);
        const QString number = q(grouped(bay.all()));
        painter.setFont(theme::font(13, 700));
        const QRectF plate = QRectF(0, 0, painter.fontMetrics().horizontalAdvance(number) + 8, 17);
        const QRectF middle = plate.translated(area.center() - plate.center());
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme::kPanel);
        painter.drawRoundedRect(middle, 4, 4);
        painter.setPen(theme::kInk);
        painter.drawText(middle, Qt::AlignCenter, number);
    }
}

void PlanView::mousePressEvent(QMouseEvent* event)
{
    chosen_ = at(event->position());
    update();
    if (chosen_ >= 0)
        emit opened(q(bays_[static_cast<std::size_t>(chosen_)].name));
}

void PlanView::mouseMoveEvent(QMouseEvent* event)
{
    const int bay = at(event->position());
    setCursor(bay >= 0 ? Qt::PointingHandCursor : Qt::ArrowCursor);
    if (bay >= 0)
        QToolTip::showText(event->globalPosition().toPoint(), inWords(bays_[static_cast<std::size_t>(bay)]), this);
    else
        QToolTip::hideText();
}

void PlanView::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Right || event->key() == Qt::Key_Down)
        step(1);
    else if (event->key() == Qt::Key_Left || event->key() == Qt::Key_Up)
        step(-1);
    else if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && chosen_ >= 0)
        emit opened(q(bays_[static_cast<std::size_t>(chosen_)].name));
    else
        QWidget::keyPressEvent(event);
}

void PlanView::step(int by)
{
    if (bays_.empty())
        return;
    const int last = static_cast<int>(bays_.size()) - 1;
    chosen_ = chosen_ < 0 ? (by > 0 ? 0 : last) : std::clamp(chosen_ + by, 0, last);
    setAccessibleDescription(inWords(bays_[static_cast<std::size_t>(chosen_)]));
    update();
}

PlanPage::PlanPage(QWidget* parent)
    : QWidget(parent), title_(new QLabel), caption_(new QLabel), titleRow_(new QHBoxLayout), view_(new PlanView)
{
    setAutoFillBackground(true);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 12, 14, 8);
    title_->setFont(theme::font(15, 700));
    title_->setTextFormat(Qt::PlainText);
    titleRow_->addWidget(title_);
    titleRow_->addStretch();
    column->addLayout(titleRow_);
    caption_->setWordWrap(true);
    caption_->setStyleSheet("color:#5F6B70");
    column->addWidget(caption_);
    column->addWidget(view_, 1);
}

void PlanPage::setPlan(const QString& storey, const QVector<PlanView::Axis>& axes,
                       const project::ClashPlan::Storey* load)
{
    title_->setText("Where the load is: " + (storey.isEmpty() ? QString("no storey") : storey));
    std::vector<Bay> bays = load != nullptr ? load->bays : std::vector<Bay>();
    const bool hasBays = std::any_of(bays.begin(), bays.end(), [](const Bay& b) { return !b.name.empty(); });
    caption_->setText(
        load != nullptr && !hasBays
            ? q(counted(load->all(), "pair", "pairs")) +
                  ". The reference has no grid here, so bays can not be told; the sign stands in the middle."
        : load == nullptr ? QString("No pair is there. Choose another storey on the ladder.")
                          : q(counted(load->all(), "pair", "pairs")) + " in " + q(counted(bays.size(), "bay", "bays")) +
                                ". Full: undecided; dense: fix; hatched: let stand; dotted: later. The ladder chooses "
                                "the storey; Enter or a click lists a bay.");
    view_->setPlan(axes, std::move(bays));
}

void PlanPage::addButton(QWidget* button) { titleRow_->addWidget(button); }

} // namespace wendrix::app
