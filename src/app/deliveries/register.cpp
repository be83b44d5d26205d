#include "deliveries/register.h"

#include "core/base/text.h"
#include "shell/rows.h"
#include "shell/theme.h"

#include <QKeyEvent>
#include <QPainter>

namespace wendrix::app {

namespace {

constexpr int kHeader = 34, kNames = 190, kCardHeight = 64, kGap = 8, kCardWidth = 216;

QString q(const std::string& s) { return QString::fromStdString(s); }

struct StateLook {
    QString sign, words;
    QColor colour, edge;
};

StateLook lookOf(const project::Delivery& d)
{
    switch (d.state) {
    case project::DeliveryState::InUse:
        return {"●", "in use", theme::kPetrol, theme::kPetrol};
    case project::DeliveryState::Held:
        return {"■", d.heldUntil.empty() ? "held until released" : "held until " + q(dayInWords(d.heldUntil + "T12:00:00Z")), theme::kPetrol, theme::kPetrol};
    case project::DeliveryState::Waiting:
        return {"◆", "waiting", theme::kAction, theme::kAction};
    case project::DeliveryState::Replaced:
        return {"○", "replaced", theme::kSoftInk, QColor(0xB9, 0xB2, 0xA2)};
    case project::DeliveryState::Declined:
        return {"×", "declined: " + q(d.declined), theme::kSoftInk, QColor(0xB9, 0xB2, 0xA2)};
    }
    return {};
}

} // namespace

Register::Register(QWidget* parent) : QWidget(parent)
{
    setObjectName("register");
    setFocusPolicy(Qt::StrongFocus);
}

void Register::setContent(std::vector<project::Discipline> disciplines, std::vector<project::Delivery> deliveries)
{
    disciplines_ = std::move(disciplines);
    deliveries_ = std::move(deliveries);
    layOut();
    updateGeometry();
    update();
}

void Register::layOut()
{
    cards_.assign(deliveries_.size(), {});
    rowTops_.clear();
    cycles_ = 1;
    for (const project::Delivery& d : deliveries_)
        cycles_ = std::max(cycles_, d.cycle);
    int top = kHeader;
    for (const project::Discipline& discipline : disciplines_) {
        rowTops_.push_back(top);
        std::vector<int> used(static_cast<std::size_t>(cycles_) + 1, 0);
        int rows = 1;
        for (std::size_t i = 0; i < deliveries_.size(); ++i) {
            if (deliveries_[i].discipline != discipline.name)
                continue;
            int& row = used[static_cast<std::size_t>(std::max(0, deliveries_[i].cycle))];
            cards_[i] = QRect(kNames + (deliveries_[i].cycle - 1) * (kCardWidth + kGap), top + 6 + row * (kCardHeight + kGap),
                              kCardWidth, kCardHeight);
            rows = std::max(rows, ++row);
        }
        top += rows * (kCardHeight + kGap) + 6;
    }
    rowTops_.push_back(top);
    setMinimumSize(kNames + cycles_ * (kCardWidth + kGap), top);
}

QSize Register::sizeHint() const { return minimumSize(); }

QRect Register::cardOf(project::DeliveryId id) const
{
    for (std::size_t i = 0; i < deliveries_.size(); ++i)
        if (deliveries_[i].id == id)
            return cards_[i];
    return {};
}

void Register::choose(project::DeliveryId id)
{
    chosen_ = id;
    update();
    emit deliveryChosen(id);
}

void Register::mousePressEvent(QMouseEvent* event)
{
    for (std::size_t i = 0; i < cards_.size(); ++i)
        if (cards_[i].contains(event->position().toPoint()))
            choose(deliveries_[i].id);
}

void Register::keyPressEvent(QKeyEvent* event)
{
    const QRect now = cardOf(chosen_);
    QPoint step;
    switch (event->key()) {
    case Qt::Key_Left: step = {-1, 0}; break;
    case Qt::Key_Right: step = {1, 0}; break;
    case Qt::Key_Up: step = {0, -1}; break;
    case Qt::Key_Down: step = {0, 1}; break;
    default: QWidget::keyPressEvent(event); return;
    }
    // The nearest card that lies that way.
    std::size_t best = cards_.size();
    int bestDistance = 1 << 30;
    for (std::size_t i = 0; i < cards_.size(); ++i) {
        const QPoint d = cards_[i].center() - now.center();
        const int along = QPoint::dotProduct(d, step);
        const int across = std::abs(d.x() * step.y()) + std::abs(d.y() * step.x());
        if ((now.isNull() || along > 0) && along + 4 * across < bestDistance) {
            bestDistance = along + 4 * across;
            best = i;
        }
    }
    if (best < cards_.size())
        choose(deliveries_[best].id);
}

void Register::paintCard(QPainter& p, const QRect& box, const project::Delivery& d) const
{
    const StateLook look = lookOf(d);
    const bool isChosen = d.id == chosen_;
    p.setPen(QPen(isChosen ? theme::kFocus : d.state == project::DeliveryState::Waiting ? theme::kAction : theme::kLine,
                  isChosen ? 2 : 1));
    p.setBrush(isChosen ? theme::kChosenRow : theme::kPanel);
    p.drawRoundedRect(box, 4, 4);
    p.fillRect(QRect(box.left(), box.top() + 3, 4, box.height() - 5), look.edge);
    const QRect inner = box.adjusted(13, 5, -10, -4);
    p.setFont(theme::font(13, 700));
    p.setPen(d.state == project::DeliveryState::Declined ? theme::kSoftInk : theme::kInk);
    p.drawText(inner, Qt::AlignLeft | Qt::AlignTop, q(d.revision));
    p.setFont(theme::font(12));
    p.setPen(theme::kSoftInk);
    p.drawText(inner, Qt::AlignRight | Qt::AlignTop, q(dayInWords(d.time)));
    p.setFont(theme::font(12, d.state == project::DeliveryState::Waiting ? 600 : 400));
    p.setPen(look.colour);
    p.drawText(inner, Qt::AlignLeft | Qt::AlignVCenter,
               QFontMetrics(p.font()).elidedText(look.sign + " " + look.words, Qt::ElideRight, inner.width()));
    p.setFont(theme::font(11));
    p.setPen(theme::kSoftInk);
    p.drawText(inner, Qt::AlignLeft | Qt::AlignBottom,
               QFontMetrics(p.font()).elidedText(q(d.title), Qt::ElideRight, inner.width()));
}

void Register::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme::kPanel);
    p.setFont(theme::font(11, 600));
    p.setPen(theme::kSoftInk);
    p.drawText(QRect(14, 0, kNames, kHeader), Qt::AlignVCenter, "Discipline");
    for (int c = 1; c <= cycles_; ++c)
        p.drawText(QRect(kNames + (c - 1) * (kCardWidth + kGap), 0, kCardWidth, kHeader), Qt::AlignVCenter,
                   "Cycle " + QString::number(c));
    for (std::size_t i = 0; i < disciplines_.size(); ++i) {
        const int top = rowTops_[i];
        p.setPen(QColor(0xEA, 0xE5, 0xD9));
        p.drawLine(8, top, width() - 8, top);
        paintMark(p, QRectF(10, top + 6, 20, 20), Mark::Swatch, "", QColor(q(disciplines_[i].colour)));
        p.setFont(theme::font(13, 700));
        p.setPen(theme::kInk);
        p.drawText(QRect(32, top + 6, kNames - 40, 20), Qt::AlignVCenter, q(disciplines_[i].name));
        p.setFont(theme::font(12));
        p.setPen(theme::kSoftInk);
        p.drawText(QRect(32, top + 25, kNames - 40, 18), Qt::AlignVCenter, q(disciplines_[i].company));
        if (disciplines_[i].isReference)
            p.drawText(QRect(32, top + 42, kNames - 40, 18), Qt::AlignVCenter, "reference");
    }
    for (std::size_t i = 0; i < deliveries_.size(); ++i)
        if (!cards_[i].isNull())
            paintCard(p, cards_[i], deliveries_[i]);
}

} // namespace wendrix::app
