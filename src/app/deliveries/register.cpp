#include "deliveries/register.h"

#include "core/base/text.h"
#include "core/project/proposal.h"
#include "shell/long_text.h"
#include "shell/rows.h"
#include "shell/theme.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QScrollBar>
#include <QToolTip>

namespace wendrix::app {

namespace {

constexpr int kHead = 34, kNames = 190, kGap = 8, kFullWidth = 216, kCompactWidth = 124, kFullHeight = 64,
              kCompactHeight = 40, kLeastRow = 66;

QString q(const std::string& s) { return QString::fromStdString(s); }

struct StateLook {
    QString sign, words;
    QColor colour, edge;
    QString fewWords = {}; ///< for a small card; empty where the words are few
    [[nodiscard]] QString wordsFor(bool isSmall) const { return isSmall && !fewWords.isEmpty() ? fewWords : words; }
};

StateLook lookOf(const project::Delivery& d)
{
    switch (d.state) {
    case project::DeliveryState::InUse:
        return {"●", "in use", theme::kPetrol, theme::kPetrol};
    case project::DeliveryState::Held:
        return {"■",
                d.heldUntil.empty() ? "held until released" : "held until " + q(dayInWords(d.heldUntil + "T12:00:00Z")),
                theme::kPetrol, theme::kPetrol,
                d.heldUntil.empty() ? "held" : "held to " + q(dayInWords(d.heldUntil + "T12:00:00Z"))};
    case project::DeliveryState::Waiting:
        return {"◆", d.lookedAt.person.empty() ? "waiting, not looked at" : "waiting", theme::kAction, theme::kAction,
                d.lookedAt.person.empty() ? "not looked at" : ""};
    case project::DeliveryState::Replaced:
        return {"○", "replaced", theme::kSoftInk, QColor(0xB9, 0xB2, 0xA2)};
    case project::DeliveryState::Declined:
        return {"×", "declined: " + q(d.declined), theme::kSoftInk, QColor(0xB9, 0xB2, 0xA2), "declined"};
    }
    return {};
}

} // namespace

Register::Register(QWidget* parent) : QAbstractScrollArea(parent)
{
    setObjectName("register");
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::StrongFocus);
    viewport()->setMouseTracking(true);
    viewport()->setAutoFillBackground(false);
    setAccessibleName("Register of deliveries");
}

void Register::setContent(std::vector<project::Discipline> disciplines, std::vector<project::Delivery> deliveries)
{
    disciplines_ = std::move(disciplines);
    deliveries_ = std::move(deliveries);
    grid_ = project::RegisterGrid(disciplines_, deliveries_);
    layOut();
    viewport()->update();
}

void Register::setLookedAt(int cycle, std::set<project::DeliveryId> then)
{
    lookedAt_ = cycle;
    then_ = std::move(then);
    viewport()->update();
}

bool Register::isCompact() const { return cardWidth_ < 180; }

void Register::layOut()
{
    const int room = std::max(0, viewport()->width() - kNames);
    const int even = room / std::max(1, grid_.cycles()) - kGap;
    cardWidth_ = even >= 180 ? std::min(even, kFullWidth) : kCompactWidth;
    cardHeight_ = isCompact() ? kCompactHeight : kFullHeight;
    rowTops_.assign(1, 0);
    for (std::size_t row = 0; row < grid_.rows(); ++row)
        rowTops_.push_back(rowTops_.back() +
                           std::max(kLeastRow, static_cast<int>(grid_.tallest(row)) * (cardHeight_ + kGap)) + 8);
    const bool wasAtEnd = !wasFitted_ || horizontalScrollBar()->value() == horizontalScrollBar()->maximum();
    const int width = grid_.cycles() * (cardWidth_ + kGap), roomDown = viewport()->height() - kHead;
    horizontalScrollBar()->setRange(0, std::max(0, width - room));
    horizontalScrollBar()->setPageStep(room);
    horizontalScrollBar()->setSingleStep(cardWidth_ + kGap);
    verticalScrollBar()->setRange(0, std::max(0, rowTops_.back() - roomDown));
    verticalScrollBar()->setPageStep(std::max(1, roomDown));
    verticalScrollBar()->setSingleStep(24);
    if (wasAtEnd) // the present cycle is what one comes for
        horizontalScrollBar()->setValue(horizontalScrollBar()->maximum());
    wasFitted_ = wasFitted_ || !deliveries_.empty();
}

void Register::resizeEvent(QResizeEvent*)
{
    layOut();
    if (const QRect card = cardOf(chosen_); !card.isNull())
        ensureVisible(card);
}

QRect Register::rectOf(project::RegisterGrid::Place place) const
{
    const auto cell = grid_.cellOf(place);
    if (!cell)
        return {};
    return {kNames + (cell->cycle - 1) * (cardWidth_ + kGap) - horizontalScrollBar()->value(),
            kHead + rowTops_[cell->row] + 6 + static_cast<int>(cell->level) * (cardHeight_ + kGap) -
                verticalScrollBar()->value(),
            cardWidth_, cardHeight_};
}

QRect Register::cardOf(project::DeliveryId id) const
{
    const auto place = grid_.find(id);
    return place ? rectOf(*place) : QRect();
}

QRect Register::headOf(int cycle) const
{
    return {kNames + (cycle - 1) * (cardWidth_ + kGap) - horizontalScrollBar()->value(), 0, cardWidth_, kHead};
}

std::optional<project::RegisterGrid::Place> Register::at(QPoint point) const
{
    if (point.x() < kNames || point.y() < kHead || cardWidth_ == 0)
        return {};
    const int cycle = (point.x() - kNames + horizontalScrollBar()->value()) / (cardWidth_ + kGap) + 1;
    const int down = point.y() - kHead + verticalScrollBar()->value();
    const auto next = std::upper_bound(rowTops_.begin(), rowTops_.end(), down);
    const auto row = static_cast<std::size_t>(next - rowTops_.begin()) - 1;
    if (cycle > grid_.cycles() || row >= grid_.rows())
        return {};
    for (const auto place : grid_.cell(row, cycle))
        if (rectOf(place).contains(point))
            return place;
    return {};
}

void Register::ensureVisible(const QRect& card)
{
    const QRect room = viewport()->rect().adjusted(kNames, kHead, -4, -4);
    if (card.left() < room.left())
        horizontalScrollBar()->setValue(horizontalScrollBar()->value() - (room.left() - card.left()));
    else if (card.right() > room.right())
        horizontalScrollBar()->setValue(horizontalScrollBar()->value() + card.right() - room.right());
    if (card.top() < room.top() + 6)
        verticalScrollBar()->setValue(verticalScrollBar()->value() - (room.top() + 6 - card.top()));
    else if (card.bottom() > room.bottom())
        verticalScrollBar()->setValue(verticalScrollBar()->value() + card.bottom() - room.bottom());
}

void Register::choose(project::DeliveryId id)
{
    chosen_ = id;
    if (const QRect card = cardOf(id); !card.isNull())
        ensureVisible(card);
    viewport()->update();
    emit deliveryChosen(id);
}

void Register::mousePressEvent(QMouseEvent* event)
{
    const QPoint point = event->position().toPoint();
    if (const auto place = at(point))
        choose(deliveries_[*place].id);
    else if (hoveredHead_ > 0 && headOf(hoveredHead_).contains(point))
        emit cycleClicked(hoveredHead_);
}

void Register::mouseDoubleClickEvent(QMouseEvent* event)
{
    if (const auto place = at(event->position().toPoint()))
        emit deliveryOpened(deliveries_[*place].id);
}

void Register::mouseMoveEvent(QMouseEvent* event)
{
    int head = 0;
    const QPoint point = event->position().toPoint();
    for (int c = 1; c <= grid_.cycles() && point.y() < kHead && point.x() >= kNames; ++c)
        if (headOf(c).contains(point))
            head = c;
    if (head == hoveredHead_)
        return;
    hoveredHead_ = head;
    viewport()->setCursor(head > 0 ? Qt::PointingHandCursor : Qt::ArrowCursor);
    viewport()->update(0, 0, viewport()->width(), kHead);
}

void Register::keyPressEvent(QKeyEvent* event)
{
    using Way = project::RegisterGrid::Way;
    const auto from = grid_.find(chosen_);
    const auto go = [&](Way way) {
        const auto next = from                  ? grid_.step(*from, way)
                          : deliveries_.empty() ? std::nullopt
                                                : std::optional(deliveries_.size() - 1);
        if (next)
            choose(deliveries_[*next].id);
    };
    switch (event->key()) {
    case Qt::Key_Left:
        return go(Way::Left);
    case Qt::Key_Right:
        return go(Way::Right);
    case Qt::Key_Up:
        return go(Way::Up);
    case Qt::Key_Down:
        return go(Way::Down);
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (from)
            emit deliveryOpened(chosen_);
        return;
    default:
        event->ignore(); // the window's keys
    }
}

bool Register::viewportEvent(QEvent* event)
{
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        QString words;
        if (const auto place = at(help->pos())) {
            const project::Delivery& d = deliveries_[*place];
            words = q(d.name()) + " · " + q(d.title) + "\n" + q(d.sender) + ", " + q(timeInWords(d.time)) + "\n" +
                    lookOf(d).sign + " " + lookOf(d).words;
            if (const std::string code = project::suitabilityInWords(d.suitability); !code.empty())
                words += "\n" + q(d.suitability) + ": " + q(code);
        } else if (hoveredHead_ > 0) {
            words = QString("Look at the composition of cycle %1 again").arg(hoveredHead_);
        }
        QToolTip::showText(help->globalPos(), words, viewport());
        return true;
    }
    return QAbstractScrollArea::viewportEvent(event);
}

void Register::paintCard(QPainter& p, const QRect& box, const project::Delivery& d) const
{
    StateLook look = lookOf(d);
    if (lookedAt_ > 0)
        look = then_.contains(d.id) ? StateLook{"●", "in use then", theme::kPetrol, theme::kPetrol}
                                    : StateLook{look.sign, look.wordsFor(isCompact()) + " now", theme::kSoftInk,
                                                QColor(0xB9, 0xB2, 0xA2)};
    const bool isChosen = d.id == chosen_, isWaiting = d.state == project::DeliveryState::Waiting && lookedAt_ == 0;
    p.setPen(QPen(isChosen ? theme::kFocus : isWaiting ? theme::kAction : theme::kLine, isChosen ? 2 : 1));
    p.setBrush(isChosen ? theme::kChosenRow : theme::kPanel);
    p.drawRoundedRect(box, 4, 4);
    p.fillRect(QRect(box.left(), box.top() + 3, 4, box.height() - 5), look.edge);
    const QRect inner =
        box.adjusted(isCompact() ? 10 : 13, isCompact() ? 3 : 5, isCompact() ? -6 : -10, isCompact() ? -3 : -4);
    p.setFont(theme::font(13, 700));
    p.setPen(d.state == project::DeliveryState::Declined ? theme::kSoftInk : theme::kInk);
    p.drawText(inner, Qt::AlignLeft | Qt::AlignTop, q(d.revision));
    const int revision = p.fontMetrics().horizontalAdvance(q(d.revision));
    p.setFont(theme::font(12));
    p.setPen(theme::kSoftInk);
    p.drawText(inner, Qt::AlignRight | Qt::AlignTop, q(dayInWords(d.time)));
    if (!isCompact() && !d.suitability.empty())
        p.drawText(inner.adjusted(revision + 8, 1, 0, 0), Qt::AlignLeft | Qt::AlignTop, q(d.suitability));
    p.setFont(theme::font(12, isWaiting ? 600 : 400));
    p.setPen(look.colour);
    p.drawText(inner, Qt::AlignLeft | (isCompact() ? Qt::AlignBottom : Qt::AlignVCenter),
               p.fontMetrics().elidedText(look.sign + " " + look.wordsFor(isCompact()), Qt::ElideRight, inner.width()));
    if (isCompact())
        return;
    p.setFont(theme::font(11));
    p.setPen(theme::kSoftInk);
    QStringList carries;
    if (!d.moreModels.empty())
        carries += QString::number(d.moreModels.size() + 1) + " models";
    if (d.documents > 0)
        carries += q(counted(d.documents, "document", "documents"));
    const QString right = carries.join(", ");
    const int used = right.isEmpty() ? 0 : p.fontMetrics().horizontalAdvance(right) + 8;
    p.drawText(inner, Qt::AlignRight | Qt::AlignBottom, right);
    p.drawText(inner, Qt::AlignLeft | Qt::AlignBottom,
               p.fontMetrics().elidedText(endsOf(q(d.title)), Qt::ElideRight, inner.width() - used));
}

void Register::paintNames(QPainter& p) const
{
    p.fillRect(QRect(0, kHead, kNames - 6, viewport()->height()), theme::kPanel);
    for (std::size_t i = 0; i < disciplines_.size(); ++i) {
        const project::Discipline& d = disciplines_[i];
        // The name stays in sight as long as anything of its row does.
        const int rowTop = kHead + rowTops_[i] - verticalScrollBar()->value(),
                  rowBottom = kHead + rowTops_[i + 1] - verticalScrollBar()->value();
        const int top = std::min(std::max(rowTop, kHead), rowBottom - kLeastRow);
        if (top > viewport()->height() || rowBottom < kHead)
            continue;
        paintMark(p, QRectF(10, top + 6, 20, 20), Mark::Swatch, "", QColor(q(d.colour)));
        p.setFont(theme::font(13, 700));
        p.setPen(theme::kInk);
        p.drawText(QRect(32, top + 6, kNames - 40, 20), Qt::AlignVCenter,
                   p.fontMetrics().elidedText(q(d.name), Qt::ElideRight, kNames - 44));
        p.setFont(theme::font(12));
        p.setPen(theme::kSoftInk);
        p.drawText(QRect(32, top + 25, kNames - 40, 18), Qt::AlignVCenter,
                   p.fontMetrics().elidedText(q(d.company), Qt::ElideRight, kNames - 44));
        if (d.isReference)
            p.drawText(QRect(32, top + (d.company.empty() ? 25 : 42), kNames - 40, 18), Qt::AlignVCenter, "reference");
    }
}

void Register::paintHead(QPainter& p) const
{
    p.fillRect(QRect(0, 0, viewport()->width(), kHead), theme::kPanel);
    for (int c = 1; c <= grid_.cycles(); ++c) {
        const QRect box = headOf(c);
        if (box.right() < kNames || box.left() > viewport()->width())
            continue;
        QFont font = theme::font(11, 600);
        font.setUnderline(c == hoveredHead_);
        p.setFont(font);
        p.setPen(c == lookedAt_ ? theme::kAction : theme::kSoftInk);
        p.drawText(box, Qt::AlignVCenter, (c == lookedAt_ ? "▸ Cycle " : "Cycle ") + QString::number(c));
    }
    p.fillRect(QRect(0, 0, kNames - 6, kHead), theme::kPanel);
    p.setFont(theme::font(11, 600));
    p.setPen(theme::kSoftInk);
    p.drawText(QRect(14, 0, kNames, kHead), Qt::AlignVCenter, "Discipline");
}

void Register::paintEvent(QPaintEvent*)
{
    QPainter p(viewport());
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(viewport()->rect(), theme::kPanel);
    const int first = cardWidth_ > 0 ? horizontalScrollBar()->value() / (cardWidth_ + kGap) + 1 : 1;
    const int last =
        cardWidth_ > 0
            ? std::min(grid_.cycles(),
                       (horizontalScrollBar()->value() + viewport()->width() - kNames) / (cardWidth_ + kGap) + 1)
            : 0;
    for (std::size_t row = 0; row < grid_.rows(); ++row) {
        const int top = kHead + rowTops_[row] - verticalScrollBar()->value(),
                  bottom = kHead + rowTops_[row + 1] - verticalScrollBar()->value();
        if (bottom < kHead || top > viewport()->height())
            continue;
        p.setPen(QColor(0xEA, 0xE5, 0xD9));
        p.drawLine(8, top, viewport()->width() - 8, top);
        for (int c = first; c <= last; ++c)
            for (const auto place : grid_.cell(row, c)) {
                const QRect box = rectOf(place);
                if (box.bottom() >= kHead && box.top() <= viewport()->height())
                    paintCard(p, box, deliveries_[place]);
            }
    }
    paintNames(p);
    paintHead(p);
}

} // namespace wendrix::app
