#include "shell/fact_list.h"

#include "shell/long_text.h"
#include "shell/theme.h"

#include <QApplication>
#include <QClipboard>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QVBoxLayout>

namespace wendrix::app {

namespace {

constexpr int kNameWidth = 88;

bool holds(const Fact& fact, const QString& words)
{
    return fact.name.contains(words, Qt::CaseInsensitive) || fact.value.contains(words, Qt::CaseInsensitive);
}

/// Long names of one word may break before a capital; zero-width spaces say where.
QString breakable(const QString& words)
{
    static const QRegularExpression inner("(?<=[a-z0-9_])(?=[A-Z])");
    return QString(words).replace(inner, QString(QChar(0x200B)));
}

QLabel* line(const QString& words, const QColor& ink)
{
    auto* label = new QLabel(words);
    label->setFont(theme::font(12));
    label->setTextFormat(Qt::PlainText); // what comes from files is shown as it is
    label->setWordWrap(true);
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    theme::setInk(*label, ink);
    return label;
}

} // namespace

FactList::FactList(QVector<FactGroup> groups, QWidget* parent) : QWidget(parent), facts_(std::move(groups))
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    auto* top = new QHBoxLayout;
    auto* field = new QLineEdit;
    field->setObjectName("factFilter");
    field->setPlaceholderText("Leave lines with …");
    field->setClearButtonEnabled(true);
    top->addWidget(field, 1);
    auto* copy = new QPushButton("Copy");
    copy->setObjectName("copyFacts");
    copy->setToolTip("Copy the lines that show");
    top->addWidget(copy);
    column->addLayout(top);
    connect(field, &QLineEdit::textChanged, this, &FactList::filter);
    connect(copy, &QPushButton::clicked, this, [this] { QApplication::clipboard()->setText(asText()); });
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(1, 1);
    column->addLayout(grid);
    int row = 0;
    for (const FactGroup& group : facts_) {
        if (group.facts.isEmpty())
            continue;
        auto* heading = line(group.heading, theme::kSoftInk);
        heading->setFont(theme::font(11, 700));
        heading->setContentsMargins(0, 8, 0, 0);
        grid->addWidget(heading, row++, 0, 1, 2);
        Group made{heading, {}};
        for (const Fact& fact : group.facts) {
            auto* name = line(breakable(endsOf(fact.name)), theme::kSoftInk);
            name->setFixedWidth(kNameWidth);
            grid->addWidget(name, row, 0, Qt::AlignTop);
            QWidget* value;
            if (fact.go) {
                auto* link = new QPushButton(endsOf(fact.value));
                link->setObjectName("follow");
                link->setToolTip(tipOf("Go there: " + fact.value));
                link->setStyleSheet("QPushButton { text-align:left; border:0; padding:0; background:transparent; "
                                    "color:#1D626B; text-decoration:underline; font-weight:500 }"
                                    "QPushButton:focus { border:1px solid #2B7A84 }");
                link->setCursor(Qt::PointingHandCursor);
                link->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
                // Queued: following rebuilds the panel this stands in.
                connect(
                    link, &QPushButton::clicked, this, [go = fact.go] { go(); }, Qt::QueuedConnection);
                value = link;
            } else {
                value = line(endsOf(fact.value, kMostInPanel), theme::kInk); // copied, it is whole
            }
            grid->addWidget(value, row++, 1, Qt::AlignTop);
            made.rows.append({name, value, fact.name + "\t" + fact.value});
        }
        groups_.append(made);
    }
}

void FactList::filter(const QString& words)
{
    filter_ = words.trimmed();
    int g = 0;
    for (const FactGroup& group : facts_) {
        if (group.facts.isEmpty())
            continue;
        Group& made = groups_[g++];
        bool isAny = false;
        for (int i = 0; i < group.facts.size(); ++i) {
            const bool isLeft = filter_.isEmpty() || holds(group.facts[i], filter_) ||
                                group.heading.contains(filter_, Qt::CaseInsensitive);
            made.rows[i].name->setVisible(isLeft);
            made.rows[i].value->setVisible(isLeft);
            isAny = isAny || isLeft;
        }
        made.heading->setVisible(isAny);
    }
}

QString FactList::asText() const
{
    QString text;
    for (const Group& group : groups_) {
        bool isSaid = false;
        for (const Row& row : group.rows) {
            if (row.name->isHidden())
                continue;
            if (!isSaid)
                text += qobject_cast<QLabel*>(group.heading)->text() + "\n";
            isSaid = true;
            text += row.text + "\n";
        }
    }
    return text;
}

} // namespace wendrix::app
