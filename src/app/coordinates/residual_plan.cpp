#include "coordinates/residual_plan.h"

#include "core/base/text.h"
#include "core/federation/standing.h"
#include "shell/details.h"
#include "shell/theme.h"

#include <QHeaderView>
#include <QHelpEvent>
#include <QMap>
#include <QPainter>
#include <QTableWidget>
#include <QToolTip>

#include <algorithm>

namespace wendrix::app {

namespace {

constexpr int kMostAcross = 6, kMostDown = 12, kWorstShown = 5;
constexpr int kPlanHeight = 150, kMargin = 12, kTableHeight = 200;
constexpr double kLeastDot = 3, kLargestDot = 8; // pixels

QString q(const std::string& text) { return QString::fromStdString(text); }

struct Table {
    QStringList across;
    QVector<QStringList> rows; ///< each with its letter first
};

Table tableOf(const std::vector<federation::Residual>& residuals)
{
    QStringList firsts, seconds;
    QMap<QString, QString> cells;
    for (const federation::Residual& r : residuals) {
        if (!firsts.contains(q(r.first)))
            firsts.append(q(r.first));
        if (!seconds.contains(q(r.second)))
            seconds.append(q(r.second));
        cells[q(r.name())] = residualInWords(r.distance);
    }
    Table table{seconds, {}};
    for (const QString& first : firsts) {
        QStringList row{first};
        for (const QString& second : seconds)
            row.append(cells.value(first + "/" + second, "–"));
        table.rows.append(row);
    }
    return table;
}

QWidget* scrolled(const Table& table)
{
    auto* view = new QTableWidget(static_cast<int>(table.rows.size()), static_cast<int>(table.across.size()));
    view->setObjectName("residualTable");
    view->setFont(theme::font(11));
    view->horizontalHeader()->setFont(theme::font(11, 600));
    view->verticalHeader()->setFont(theme::font(11, 600));
    view->setEditTriggers(QAbstractItemView::NoEditTriggers);
    view->setHorizontalHeaderLabels(table.across);
    QStringList down;
    for (int r = 0; r < table.rows.size(); ++r) {
        down.append(table.rows[r][0]);
        for (int c = 0; c < table.across.size(); ++c) {
            auto* cell = new QTableWidgetItem(table.rows[r][c + 1]);
            cell->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            view->setItem(r, c, cell);
        }
    }
    view->setVerticalHeaderLabels(down);
    view->resizeColumnsToContents();
    view->verticalHeader()->setDefaultSectionSize(20);
    view->setFixedHeight(std::min(kTableHeight, 20 * static_cast<int>(table.rows.size()) +
                                                    view->horizontalHeader()->sizeHint().height() + 20));
    return view;
}

} // namespace

QString residualInWords(Metres distance)
{
    return distance.value < 10 ? QString::number(toMillimetres(distance), 'f', 1) : q(lengthInWords(distance));
}

ResidualPlan::ResidualPlan(std::vector<federation::Residual> residuals, Metres limit, QWidget* parent)
    : QWidget(parent), residuals_(std::move(residuals)), limit_(limit)
{
    setObjectName("residualPlan");
    setMouseTracking(true);
    std::sort(residuals_.begin(), residuals_.end(),
              [](const auto& a, const auto& b) { return a.distance < b.distance; });
    for (const federation::Residual& r : residuals_)
        extent_.add(r.reference);
    setFixedHeight(kPlanHeight);
}

QSize ResidualPlan::sizeHint() const { return {200, kPlanHeight}; }

QPointF ResidualPlan::pixelOf(const federation::Residual& residual) const
{
    const Vector3 size = extent_.size();
    const double wide = width() - 2 * kMargin, high = height() - 2 * kMargin;
    const double scale = std::min(wide / std::max(size.x, 0.1), high / std::max(size.y, 0.1));
    const Point3 middle = extent_.centre();
    return {width() / 2.0 + scale * (residual.reference.x - middle.x),
            height() / 2.0 - scale * (residual.reference.y - middle.y)};
}

bool ResidualPlan::event(QEvent* event)
{
    if (event->type() != QEvent::ToolTip)
        return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const federation::Residual* nearest = nullptr;
    double best = 12;
    for (const federation::Residual& r : residuals_)
        if (const double d = QLineF(pixelOf(r), help->pos()).length(); d < best) {
            best = d;
            nearest = &r;
        }
    if (nearest != nullptr)
        QToolTip::showText(help->globalPos(),
                           q(nearest->name()) + ": " + residualInWords(nearest->distance) +
                               (nearest->distance.value < 10 ? " mm" : ""),
                           this);
    return true;
}

void ResidualPlan::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (residuals_.empty())
        return;
    const double worst = std::max(residuals_.back().distance.value, limit_.value);
    for (const federation::Residual& r : residuals_) {
        const bool isOff = r.distance > limit_;
        const double radius = kLeastDot + (kLargestDot - kLeastDot) * (isOff ? r.distance.value / worst : 0);
        p.setPen(QPen(Qt::white, 1));
        p.setBrush(isOff ? theme::kAction : theme::kFocus);
        p.drawEllipse(pixelOf(r), radius, radius);
    }
    if (residuals_.back().distance <= limit_)
        return;
    // Which one is the worst is written at it, on the side where there is room.
    const QPointF at = pixelOf(residuals_.back());
    const bool isRight = at.x() < width() / 2.0;
    p.setPen(theme::kInk);
    p.setFont(theme::font(11, 700));
    p.drawText(QRectF(isRight ? at.x() + 11 : at.x() - 91, at.y() - 8, 80, 16),
               (isRight ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter, q(residuals_.back().name()));
}

void addResiduals(Details& details, const std::vector<federation::Residual>& residuals, Metres limit)
{
    const Table table = tableOf(residuals);
    if (table.across.size() <= kMostAcross && table.rows.size() <= kMostDown) {
        details.addTable(QStringList{""} + table.across, table.rows, "residuals");
        // Where they all stand right the numbers say enough.
        if (std::any_of(residuals.begin(), residuals.end(), [&](const auto& r) { return r.distance > limit; }))
            details.addWidget(new ResidualPlan(residuals, limit));
        return;
    }
    std::vector<const federation::Residual*> worst;
    for (const federation::Residual& r : residuals)
        worst.push_back(&r);
    std::stable_sort(worst.begin(), worst.end(),
                     [](const auto* a, const auto* b) { return a->distance > b->distance; });
    worst.resize(std::min<std::size_t>(worst.size(), kWorstShown));
    QVector<QStringList> rows;
    for (const federation::Residual* r : worst)
        rows.append({q(r->name()), residualInWords(r->distance)});
    constexpr double kShown = 0.00005; // metres: less reads as 0.0
    if (!worst.empty() && worst.front()->distance.value >= kShown)
        details.addTable({"Worst", ""}, rows, "residuals");
    details.addWidget(new ResidualPlan(residuals, limit));
    details.addWidget(scrolled(table));
}

} // namespace wendrix::app
