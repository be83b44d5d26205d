#include "changes/change_bar.h"

#include "core/base/text.h"
#include "core/project/change_words.h"
#include "shell/narrow_chips.h"
#include "shell/stage.h"

#include <QHBoxLayout>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

namespace wendrix::app {

namespace {

constexpr double kDistances[] = {0.1, 0.5, 1.0}; // metres
constexpr std::size_t kMostValues = 60;          // of a menu

constexpr std::pair<const char*, const char*> kReviews[] = {
    {"", "not looked at"}, {"seen", "seen"}, {"agreed", "agreed"}, {"questioned", "questioned"}};

} // namespace

ChangeBar::ChangeBar(QWidget* parent)
    : QWidget(parent), grouped_(new QPushButton("Alike together")), narrow_(new QPushButton("Narrow")),
      chips_(new NarrowChips)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    grouped_->setObjectName("changesTogether");
    grouped_->setCheckable(true);
    grouped_->setProperty("chip", true);
    grouped_->setChecked(true);
    grouped_->setToolTip("Put together what happened to several alike: a storey that moved, a type that was given "
                         "another value (T)");
    connect(grouped_, &QPushButton::toggled, this, [this](bool isOn) {
        question_.isGrouped = isOn;
        emit changed();
    });
    row->addWidget(grouped_, 1);
    narrow_->setObjectName("narrowChanges");
    narrow_->setToolTip("Show only some: by member, class, type, system, zone, phase, review, nearness, or a set (X)");
    connect(narrow_, &QPushButton::clicked, this, &ChangeBar::openMenu, Qt::QueuedConnection);
    row->addWidget(narrow_);
    auto* write = new QPushButton("Export…");
    write->setObjectName("exportChanges");
    write->setToolTip("Write this list: as a table, as a report with pictures, or as BCF");
    connect(write, &QPushButton::clicked, this, &ChangeBar::exportWanted);
    row->addWidget(write);
    column->addLayout(row);
    column->addWidget(chips_);
}

void ChangeBar::setValues(const project::ChangeBriefs& briefs, const std::vector<std::string>& disciplines)
{
    std::set<std::uint32_t> words[5];
    for (const project::ChangeBrief& c : briefs.changes) {
        const std::uint32_t of[] = {c.className, c.type, c.system, c.zone, c.phase};
        for (std::size_t k = 0; k < 5; ++k)
            words[k].insert(of[k]);
    }
    std::vector<std::string>* const lists[] = {&values_.classes, &values_.types, &values_.systems, &values_.zones,
                                               &values_.phases};
    for (std::size_t k = 0; k < 5; ++k) {
        lists[k]->clear();
        for (const std::uint32_t word : words[k])
            if (!briefs.words[word].empty())
                lists[k]->push_back(briefs.words[word]);
        std::sort(lists[k]->begin(), lists[k]->end());
    }
    members_.clear();
    for (const project::ComparisonRecord& k : briefs.comparisons)
        members_.emplace_back(k.id, k.discipline);
    disciplines_ = disciplines;
}

void ChangeBar::narrow(const std::function<void(project::ChangeQuestion&)>& how)
{
    how(question_);
    showChips();
    emit changed();
}

void ChangeBar::setGrouped(bool isGrouped) { grouped_->setChecked(isGrouped); }

void ChangeBar::setAmong(std::optional<std::set<project::ChangeKey>> among, const QString& words)
{
    narrow([&](project::ChangeQuestion& q) {
        q.among = std::move(among);
        q.amongWords = words.toStdString();
    });
}

void ChangeBar::clear()
{
    if (!question_.isNarrowed())
        return;
    const bool isGrouped = question_.isGrouped;
    narrow([&](project::ChangeQuestion& q) {
        q = {};
        q.isGrouped = isGrouped;
    });
}

void ChangeBar::openMenu()
{
    auto* menu = new QMenu(this);
    menu->setObjectName("narrowMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto add = [&](const char* name, const QString& words, const std::vector<std::string>& values,
                         const std::function<void(project::ChangeQuestion&, const std::string&)>& set) {
        QMenu* sub = menu->addMenu(words);
        sub->setObjectName(QString("narrowMenu") + name);
        sub->setEnabled(!values.empty());
        for (std::size_t i = 0; i < std::min(values.size(), kMostValues); ++i)
            sub->addAction(q(values[i]), this, [this, set, value = values[i]] {
                narrow([&](project::ChangeQuestion& one) { set(one, value); });
            });
        if (values.size() > kMostValues)
            sub->addAction(QString("and %1 more: narrow by a set").arg(values.size() - kMostValues))->setEnabled(false);
    };
    QMenu* members = menu->addMenu("Member");
    members->setObjectName("narrowMenuMember");
    for (const auto& [id, discipline] : members_)
        members->addAction(q(discipline), this,
                           [this, id = id] { narrow([&](project::ChangeQuestion& one) { one.comparison = id; }); });
    QMenu* also = menu->addMenu("Kind, whatever else it is");
    also->setObjectName("narrowMenuAlso");
    for (const project::ChangeKind kind : project::kAllChangeKinds)
        also->addAction(project::nameOf(kind), this,
                        [this, kind] { narrow([&](project::ChangeQuestion& one) { one.also = kind; }); });
    using Question = project::ChangeQuestion;
    add("Class", "Class", values_.classes, [](Question& one, const std::string& v) { one.className = v; });
    add("Type", "Type", values_.types, [](Question& one, const std::string& v) { one.type = v; });
    add("System", "System", values_.systems, [](Question& one, const std::string& v) { one.system = v; });
    add("Zone", "Zone", values_.zones, [](Question& one, const std::string& v) { one.zone = v; });
    add("Phase", "Phase", values_.phases, [](Question& one, const std::string& v) { one.phase = v; });
    QMenu* reviews = menu->addMenu("Review");
    reviews->setObjectName("narrowMenuReview");
    for (const auto& [review, words] : kReviews)
        reviews->addAction(
            words, this, [this, review = review] { narrow([&](Question& one) { one.review = std::string(review); }); });
    QMenu* near = menu->addMenu("Near elements of");
    near->setObjectName("narrowMenuNear");
    for (const std::string& discipline : disciplines_)
        for (const double metres : kDistances)
            near->addAction(q(discipline) + ", within " + q(lengthInWords(Metres{metres})), this,
                            [this, discipline, metres] { emit nearWanted(q(discipline), metres); });
    menu->addAction("A set…", this, &ChangeBar::setWanted);
    menu->addSeparator();
    menu->addAction("Everything", this, &ChangeBar::clear)->setEnabled(question_.isNarrowed());
    menu->popup(narrow_->mapToGlobal(QPoint(0, narrow_->height())));
}

void ChangeBar::showChips()
{
    chips_->clear();
    const auto chip = [this](const char* name, const QString& words,
                             const std::function<void(project::ChangeQuestion&)>& without) {
        chips_->add(name, words, [this, without] { narrow(without); });
    };
    using Question = project::ChangeQuestion;
    const Question& n = question_;
    for (const auto& [id, discipline] : members_)
        if (n.comparison == id)
            chip("Member", q(discipline), [](Question& one) { one.comparison = 0; });
    if (n.also != 0)
        chip("Also", "also " + q(project::kindsInWords(n.also)), [](Question& one) { one.also = 0; });
    for (const auto& [name, value] : {std::pair{"Class", &Question::className}, std::pair{"Type", &Question::type},
                                      std::pair{"System", &Question::system}, std::pair{"Zone", &Question::zone},
                                      std::pair{"Phase", &Question::phase}})
        if (!(n.*value).empty())
            chip(name, q(n.*value), [value = value](Question& one) { (one.*value).clear(); });
    if (n.review)
        chip("Review", n.review->empty() ? "not looked at" : q(*n.review), [](Question& one) { one.review.reset(); });
    if (n.among)
        chip("Among", q(n.amongWords), [](Question& one) { one.among.reset(); });
    chips_->finish();
}

} // namespace wendrix::app
