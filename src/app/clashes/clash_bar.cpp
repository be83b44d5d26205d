#include "clashes/clash_bar.h"

#include "core/base/text.h"
#include "shell/letters.h"
#include "shell/narrow_chips.h"
#include "shell/stage.h"
#include "shell/theme.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

namespace wendrix::app {

namespace {

using project::ClashOrder;
using Decision = project::PairBrief::Decision;

constexpr std::pair<ClashOrder, const char*> kOrders[] = {{ClashOrder::Fewest, "fewest elements"},
                                                          {ClashOrder::LeftElement, "left element"},
                                                          {ClashOrder::RightElement, "right element"},
                                                          {ClashOrder::Place, "storey and bay"},
                                                          {ClashOrder::LeftType, "type, left"},
                                                          {ClashOrder::RightType, "type, right"},
                                                          {ClashOrder::LeftSystem, "system, left"},
                                                          {ClashOrder::RightSystem, "system, right"},
                                                          {ClashOrder::Test, "test"},
                                                          {ClashOrder::Nearness, "nearness"}};

constexpr std::pair<Decision, const char*> kDecisions[] = {{Decision::None, "undecided"},
                                                           {Decision::Fix, "fix"},
                                                           {Decision::LetStand, "let stand"},
                                                           {Decision::Later, "later"}};

constexpr std::pair<unsigned, const char*> kCauses[] = {{project::Added, "an element is new"},
                                                        {project::Moved, "an element moved"},
                                                        {project::Reshaped, "an element was reshaped"},
                                                        {0u, "neither element changed"}};

/// Leaves letters to the window's keys instead of choosing by them.
class OrderBox final : public QComboBox {
public:
    using QComboBox::QComboBox;

protected:
    void keyPressEvent(QKeyEvent* event) override
    {
        if (isPlainLetter(*event))
            event->ignore();
        else
            QComboBox::keyPressEvent(event);
    }
};

template <class Values, class Value>
QString wordsOf(const Values& values, const Value& value)
{
    for (const auto& [one, words] : values)
        if (one == value)
            return words;
    return {};
}

} // namespace

ClashBar::ClashBar(QWidget* parent)
    : QWidget(parent), order_(new OrderBox), narrow_(new QPushButton("Narrow")), chips_(new NarrowChips)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    order_->setObjectName("clashOrder");
    order_->setAccessibleName("Grouped by");
    order_->setToolTip("What pairs are put together by (G: the next way)");
    for (const auto& [order, words] : kOrders)
        order_->addItem("by " + QString(words), static_cast<int>(order));
    connect(order_, &QComboBox::activated, this, [this](int index) {
        question_.order = static_cast<ClashOrder>(order_->itemData(index).toInt());
        emit changed();
    });
    row->addWidget(order_, 1);
    narrow_->setObjectName("narrowClashes");
    narrow_->setToolTip("Show only some: by discipline, class, system, bay, test, decision, cause, who decides (X)");
    connect(narrow_, &QPushButton::clicked, this, &ClashBar::openMenu, Qt::QueuedConnection);
    row->addWidget(narrow_);
    auto* write = new QPushButton("Export…");
    write->setObjectName("exportClashes");
    write->setToolTip("Write this list: its pairs as a table, or its groups as a report with pictures");
    connect(write, &QPushButton::clicked, this, &ClashBar::exportWanted);
    row->addWidget(write);
    column->addLayout(row);
    column->addWidget(chips_);
}

void ClashBar::setValues(const project::PairBriefs& briefs,
                         const std::map<std::string, std::set<std::string>>& deciders)
{
    std::set<std::string> disciplines, classes, systems, bays, tests;
    std::vector<bool> isSeen(briefs.elements.size(), false);
    std::set<std::uint32_t> ofPairs[2];
    for (const project::PairBrief& p : briefs.pairs) {
        ofPairs[0].insert(p.bay);
        ofPairs[1].insert(p.test);
    }
    for (const project::ElementBrief& e : briefs.elements) {
        disciplines.insert(briefs.texts[e.discipline]);
        classes.insert(briefs.texts[e.className]);
        systems.insert(briefs.texts[e.system]);
    }
    for (const std::uint32_t bay : ofPairs[0])
        bays.insert(briefs.texts[bay]);
    for (const std::uint32_t test : ofPairs[1])
        tests.insert(briefs.texts[test]);
    const auto listOf = [](std::set<std::string>& values) {
        values.erase("");
        return std::vector<std::string>(values.begin(), values.end());
    };
    disciplines_ = listOf(disciplines);
    classes_ = listOf(classes);
    systems_ = listOf(systems);
    bays_ = listOf(bays);
    tests_ = listOf(tests);
    deciders_ = deciders;
}

void ClashBar::narrow(const std::function<void(project::ClashQuestion&)>& how)
{
    how(question_);
    showChips();
    emit changed();
}

void ClashBar::narrowTo(const std::string& discipline, const std::string& against)
{
    narrow([&](project::ClashQuestion& q) {
        q.discipline = discipline;
        q.against = against;
    });
}

void ClashBar::narrowToBay(const std::string& storey, const std::string& bay)
{
    narrow([&](project::ClashQuestion& q) {
        q.storey = storey;
        q.bay = bay;
    });
}

void ClashBar::setOrder(ClashOrder order)
{
    order_->setCurrentIndex(std::max(0, order_->findData(static_cast<int>(order))));
    question_.order = order;
    emit changed();
}

void ClashBar::orderNext()
{
    setOrder(static_cast<ClashOrder>(order_->itemData((order_->currentIndex() + 1) % order_->count()).toInt()));
}

void ClashBar::clear()
{
    if (!question_.isNarrowed())
        return;
    const ClashOrder order = question_.order;
    narrow([&](project::ClashQuestion& q) {
        q = {};
        q.order = order;
    });
}

QString ClashBar::orderInWords() const { return wordsOf(kOrders, question_.order); }

void ClashBar::openMenu()
{
    auto* menu = new QMenu(this);
    menu->setObjectName("narrowMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto add = [&](const char* name, const QString& words, const std::vector<std::string>& values,
                         const std::function<void(project::ClashQuestion&, const std::string&)>& set) {
        QMenu* sub = menu->addMenu(words);
        sub->setObjectName(QString("narrowMenu") + name);
        sub->setEnabled(!values.empty());
        for (const std::string& value : values)
            sub->addAction(q(value), this,
                           [this, set, value] { narrow([&](project::ClashQuestion& one) { set(one, value); }); });
    };
    std::vector<std::string> deciders;
    for (const auto& [decider, tests] : deciders_)
        deciders.push_back(decider);
    add("Discipline", "Discipline, with any", disciplines_, [](project::ClashQuestion& one, const std::string& v) {
        one.discipline = v;
        one.against.clear();
    });
    add("Against", "… against", question_.discipline.empty() ? std::vector<std::string>() : disciplines_,
        [](project::ClashQuestion& one, const std::string& v) { one.against = v; });
    add("Class", "Class", classes_, [](project::ClashQuestion& one, const std::string& v) { one.className = v; });
    add("System", "System", systems_, [](project::ClashQuestion& one, const std::string& v) { one.system = v; });
    add("Bay", "Bay", bays_, [](project::ClashQuestion& one, const std::string& v) { one.bay = v; });
    add("Test", "Test", tests_, [](project::ClashQuestion& one, const std::string& v) { one.test = v; });
    add("Decider", "Who decides", deciders, [this](project::ClashQuestion& one, const std::string& v) {
        one.decider = v;
        one.testsOfDecider = deciders_.at(v);
    });
    QMenu* decisions = menu->addMenu("Decision");
    decisions->setObjectName("narrowMenuDecision");
    for (const auto& [decision, words] : kDecisions)
        decisions->addAction(words, this, [this, decision = decision] {
            narrow([&](project::ClashQuestion& one) { one.decision = decision; });
        });
    QMenu* causes = menu->addMenu("Cause, of new and back ones");
    causes->setObjectName("narrowMenuCause");
    for (const auto& [cause, words] : kCauses)
        causes->addAction(words, this,
                          [this, cause = cause] { narrow([&](project::ClashQuestion& one) { one.cause = cause; }); });
    menu->addSeparator();
    menu->addAction("Everything", this, &ClashBar::clear)->setEnabled(question_.isNarrowed());
    menu->popup(narrow_->mapToGlobal(QPoint(0, narrow_->height())));
}

void ClashBar::showChips()
{
    chips_->clear();
    const auto chip = [this](const char* name, const QString& words,
                             const std::function<void(project::ClashQuestion&)>& without) {
        chips_->add(name, words, [this, without] { narrow(without); });
    };
    const project::ClashQuestion& n = question_;
    if (!n.discipline.empty())
        chip("Discipline",
             n.against.empty()           ? q(n.discipline)
             : n.against == n.discipline ? "within " + q(n.discipline)
                                         : q(n.discipline) + " × " + q(n.against),
             [](project::ClashQuestion& one) {
                 one.discipline.clear();
                 one.against.clear();
             });
    if (!n.className.empty())
        chip("Class", q(n.className), [](project::ClashQuestion& one) { one.className.clear(); });
    if (!n.system.empty())
        chip("System", q(n.system), [](project::ClashQuestion& one) { one.system.clear(); });
    if (!n.bay.empty())
        chip("Bay", (n.storey.empty() ? QString() : q(n.storey) + ", ") + "bay " + q(n.bay),
             [](project::ClashQuestion& one) {
                 one.bay.clear();
                 one.storey.clear();
             });
    if (!n.test.empty())
        chip("Test", q(n.test), [](project::ClashQuestion& one) { one.test.clear(); });
    if (!n.decider.empty())
        chip("Decider", q(n.decider) + " decides", [](project::ClashQuestion& one) {
            one.decider.clear();
            one.testsOfDecider.clear();
        });
    if (n.decision)
        chip("Decision", wordsOf(kDecisions, *n.decision), [](project::ClashQuestion& one) { one.decision.reset(); });
    if (n.cause)
        chip("Cause", wordsOf(kCauses, *n.cause), [](project::ClashQuestion& one) { one.cause.reset(); });
    chips_->finish();
}

} // namespace wendrix::app
