#include "clashes/clashes_stage.h"

#include "clashes/clash_rows.h"
#include "core/base/text.h"
#include "shell/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace wendrix::app {

namespace {

constexpr std::pair<const char*, project::ClashFilter> kFilters[] = {
    {"undecided", project::ClashFilter::Undecided}, {"new", project::ClashFilter::New},
    {"still", project::ClashFilter::StillThere},    {"back", project::ClashFilter::Back},
    {"gone", project::ClashFilter::Gone},           {"goneNow", project::ClashFilter::GoneNow},
    {"notTested", project::ClashFilter::NotTested}, {"all", project::ClashFilter::There}};

project::ClashFilter filterOf(const QString& id)
{
    for (const auto& [name, filter] : kFilters)
        if (id == name)
            return filter;
    return project::ClashFilter::Undecided;
}

} // namespace

ClashesStage::ClashesStage(const StageContext& context, QObject* parent)
    : ListStage("Clashes", context, parent), pages_(new QStackedWidget), tests_(new TestsPage(context, this)),
      matrix_(new MatrixPage), plan_(new PlanPage), bar_(new ClashBar), offerBox_(new QWidget), offerWords_(new QLabel),
      explaining_(context.session)
{
    pages_->addWidget(list_);
    pages_->addWidget(tests_->list());
    pages_->addWidget(matrix_);
    pages_->addWidget(plan_);
    connect(&plan_->view(), &PlanView::opened, this, [this](const QString& bay) {
        filter_ = "all";
        pages_->setCurrentWidget(list_);
        emit layoutChanged();
        bar_->narrowToBay(plannedStorey_, bay.toStdString());
    });
    list_->setBar(bar_);
    connect(bar_, &ClashBar::changed, this, &ClashesStage::narrowed);
    connect(matrix_, &MatrixPage::opened, this, [this](const QString& discipline, const QString& against) {
        filter_ = "all";
        pages_->setCurrentWidget(list_);
        emit layoutChanged();
        bar_->narrowTo(discipline.toStdString(), against.toStdString());
    });
    connect(list_, &Worklist::linkChosen, this, [this](const QString& link) {
        filter_ = link;
        refresh();
    });
    auto* offer = new QVBoxLayout(offerBox_);
    offer->setContentsMargins(14, 8, 14, 8);
    offerBox_->setObjectName("offer");
    offerWords_->setObjectName("offerWords");
    offerWords_->setWordWrap(true);
    offerWords_->setTextFormat(Qt::PlainText);
    offer->addWidget(offerWords_);
    auto* answers = new QHBoxLayout;
    for (const auto& [name, words, isTaken] :
         {std::tuple{"offerTake", "Let them stand too (Y)", true}, std::tuple{"offerLeave", "No", false}}) {
        auto* answer = new QPushButton(words);
        answer->setObjectName(name);
        connect(
            answer, &QPushButton::clicked, this, [this, isTaken = isTaken] { takeOffer(isTaken); },
            Qt::QueuedConnection);
        answers->addWidget(answer);
    }
    answers->addStretch();
    offer->addLayout(answers);
    offerBox_->setStyleSheet("#offer { background:#FFFFFF; border-top:2px solid #C8501E; }");
    offerBox_->hide();
    list_->setFooter(offerBox_);
    const auto turner = [this](auto& on, const char* name, const QString& words, const QString& tip, QWidget* to) {
        auto* button = new QPushButton(words);
        button->setObjectName(name);
        button->setToolTip(tip);
        connect(
            button, &QPushButton::clicked, this, [this, to] { turnTo(to); }, Qt::QueuedConnection);
        on.addButton(button);
    };
    turner(*list_, "showTests", "Tests", "What is tested: sheets, tests and sets (T)", tests_->list());
    turner(*list_, "showMatrix", "Matrix", "Every discipline against every other (V)", matrix_);
    turner(*tests_->list(), "showPairs", "Pairs", "What was found (T)", list_);
    turner(*matrix_, "matrixPairs", "Pairs", "What was found (V)", list_);
    turner(*matrix_, "matrixTests", "Tests", "What is tested (T)", tests_->list());
    turner(*matrix_, "showPlan", "Plan", "Where the load is, bay by bay (P)", plan_);
    turner(*plan_, "planPairs", "Pairs", "What was found (P)", list_);
    turner(*plan_, "planMatrix", "Matrix", "Every discipline against every other (V)", matrix_);
    connect(tests_, &TestsPage::plainWanted, this, [this] { showPlain(); });
    auto* run = new QPushButton("Run tests");
    run->setObjectName("runTests");
    run->setToolTip("Test every member against every other again (R)");
    connect(run, &QPushButton::clicked, this, [this] { at_.session.runTests(); });
    list_->addButton(run);
    connect(bar_, &ClashBar::exportWanted, this, &ClashesStage::exportList, Qt::QueuedConnection);
    connect(list_, &Worklist::chipChosen, this, [this](const QString& id) {
        filter_ = id;
        refresh();
    });
}

unsigned ClashesStage::books() const { return app::books(project::Book::Clashes, project::Book::Setup); }

Stage::Counting ClashesStage::waiting() const
{
    return [](const project::Project& p) { return static_cast<int>(orNothing(p.clashes().undecided())); };
}

QMap<QString, int> ClashesStage::storeyCounts() const
{
    QMap<QString, int> counts;
    for (const auto& [storey, n] : pairs_->counts().byStorey)
        counts[q(storey)] = static_cast<int>(n);
    return counts;
}

void ClashesStage::setStorey(const QString& storey)
{
    if (storey_ == storey)
        return;
    Stage::setStorey(storey);
    becomeStale();
}

project::ClashQuestion ClashesStage::question() const
{
    project::ClashQuestion question = bar_->question();
    question.filter = filterOf(filter_);
    if (!storey_.isEmpty())
        question.storey = storey_.toStdString();
    return question;
}

Result<ClashesStage::Read> ClashesStage::readAll(const project::Project& p, const project::ClashQuestion& question)
{
    auto briefs = p.clashes().briefs();
    const auto lastRun = p.clashes().lastRun();
    const auto sheets = project::sheetsInForce(p);
    const auto disciplines = p.setup().disciplines();
    if (const auto error = firstError(briefs, lastRun, sheets, disciplines))
        return wendrix::fail(*error);
    Read read;
    read.list = std::make_shared<project::ClashList>(std::move(*briefs), question);
    auto known = std::make_shared<Known>();
    known->lastRun = *lastRun;
    if (known->lastRun)
        known->notUpToDate = project::notRunAsTheyAre(project::testsOf(*sheets), *known->lastRun);
    for (const project::Discipline& d : *disciplines)
        known->disciplines.push_back(d.name);
    for (const project::KeptSheet& kept : *sheets)
        for (const clash::Test& t : kept.sheet.tests)
            if (!t.decider.empty()) {
                known->deciders[t.decider].insert(t.name);
                known->deciderOf.emplace(t.name, t.decider);
            }
    if (auto templates = p.issues().templatesFor(issues::made_from::kClash))
        known->templates = std::move(*templates);
    read.known = std::move(known);
    return read;
}

void ClashesStage::refresh()
{
    takeOffer(false); // what is alike may be something else now
    tests_->refresh();
    ask([question = question()](const project::Project& p) { return readAll(p, question); });
}

void ClashesStage::narrowed()
{
    if (isAwaited_)
        return refresh(); // what is awaited may be of before this
    ask([former = pairs_, question = question(), known = known_](const project::Project&) -> Result<Read> {
        return Read{std::make_shared<project::ClashList>(former->briefs(), question), known};
    });
}

bool ClashesStage::follow(const project::Changed& what)
{
    auto decided = project::decidedAnew(what);
    if (!decided || isAwaited_) // what is awaited may have been read before this
        return false;
    ask([decided = std::move(*decided), former = pairs_, known = known_,
         question = question()](const project::Project& p) -> Result<Read> {
        const auto anew = p.clashes().decisionBriefs(decided);
        if (!anew)
            return wendrix::fail(anew.error());
        project::PairBriefs briefs = former->briefs();
        briefs.update(*anew);
        return Read{std::make_shared<project::ClashList>(std::move(briefs), question), known};
    });
    return true;
}

void ClashesStage::ask(std::function<Result<Read>(const project::Project&)> question)
{
    isAwaited_ = true;
    at_.session.ask<Result<Read>>(this, "list", std::move(question), [this](Result<Read> answer) {
        isAwaited_ = false;
        problem_ = answer ? QString() : q(answer.error().inWords());
        Read read = answer ? std::move(*answer) : Read{std::make_shared<project::ClashList>(), known_};
        auto former = std::exchange(pairs_, std::move(read.list));
        const bool isReadAnew = known_ != read.known;
        known_ = std::move(read.known);
        if (isReadAnew)
            bar_->setValues(pairs_->briefs(), known_->deciders);
        const bool isDecided = isNextWanted_;
        const QString before = list_->chosen();
        fillList();
        Session::letGo(std::move(former));
        emit countsChanged();
        if (isFront() && isAtPairs() && (isDecided || at_.details.owner().isEmpty()))
            show(list_->chosen() != before); // the view goes on to the next, as the list does
    });
}

QString ClashesStage::cycleInWords() const
{
    if (!known_->lastRun || pairs_->isEmpty())
        return {};
    const project::ClashCounts& n = pairs_->counts();
    const auto part = [](std::size_t count, const char* words, const char* filter) {
        const QString text = q(grouped(count)) + " " + words;
        return count == 0 ? text : QString("<a href=\"%1\" style=\"color:#2B7A84\">%2</a>").arg(filter, text);
    };
    QString words = "Run " + QString::number(known_->lastRun->id) + ": " + part(n.isNew, "new", "new") + ", " +
                    part(n.stillThere, "still there", "still") + ", " + part(n.goneNow, "gone", "goneNow") + ", " +
                    part(n.back, "back", "back") + ", " + part(n.notTested, "not tested", "notTested");
    QStringList silent;
    for (const project::RunMember& m : known_->lastRun->members)
        if (!m.isTested)
            silent << q(m.title()).toHtmlEscaped();
    if (n.notTested > 0 && !silent.isEmpty())
        words += ": " + silent.join(", ");
    return words + ".";
}

void ClashesStage::fillList()
{
    if (isRegister())
        fillPage();
    const project::ClashCounts& n = pairs_->counts();
    const auto number = [](std::size_t count) { return QString::number(count); };
    list_->setFigures({{number(pairs_->groupCount()), pairs_->groupCount() == 1 ? "group" : "groups"},
                       {number(pairs_->pairCount()), pairs_->pairCount() == 1 ? "pair" : "pairs"},
                       {number(n.undecided), "undecided", n.undecided > 0},
                       {number(n.gone), "gone"}});
    const auto chip = [&](const char* id, const QString& words, std::size_t count) {
        return Worklist::Chip{id, words + " " + number(count), filter_ == id};
    };
    QVector<Worklist::Chip> chips{chip("undecided", "Undecided", n.undecided), chip("new", "New", n.isNew),
                                  chip("back", "Back", n.back), chip("gone", "Gone", n.gone)};
    if (filter_ == "still")
        chips.append(chip("still", "Still there", n.stillThere));
    if (filter_ == "goneNow")
        chips.append(chip("goneNow", "Gone now", n.goneNow));
    if (n.notTested > 0 || filter_ == "notTested")
        chips.append(chip("notTested", "Not tested", n.notTested));
    chips.append(chip("all", "All there", n.there));
    list_->setChips(chips);
    list_->setText(cycleInWords());
    QString caption = pairs_->rowCount() == 0 ? QString()
                                              : "Most pairs first, then deepest" +
                                                    (storey_.isEmpty() ? QString() : " · " + storey_ + " only");
    if (!known_->notUpToDate.empty())
        caption += (caption.isEmpty() ? "" : "\n") + q(counted(known_->notUpToDate.size(), "test was", "tests were")) +
                   " changed since the last run · R runs them";
    // What a run was silent about stands with what it found.
    if (known_->lastRun && (pairs_->isEmpty() || known_->lastRun->isSilentOfSome()))
        caption += (caption.isEmpty() ? "" : "\n") +
                   q("Run " + std::to_string(known_->lastRun->id) + ", " + dayInWords(known_->lastRun->by.time) + ": " +
                     known_->lastRun->inWords());
    list_->setCaption(caption);
    list_->setEmptyText(
        !problem_.isEmpty() ? "The clashes could not be read. " + problem_
        : !known_->lastRun
            ? "No test has been run yet. Align the members in Coordinates first, then press Run tests (R)."
        : pairs_->isEmpty() ? "The last run found no pair. " + q(known_->lastRun->inWords())
                            : "No pair answers to this filter. Choose another one above.");
    list_->setSource(std::make_shared<ClashRows>(pairs_, at_.session), std::exchange(isNextWanted_, false));
    if (!wanted_.isEmpty())
        list_->choose(std::exchange(wanted_, {}));
}

void ClashesStage::choose(const QString& id)
{
    pages_->setCurrentWidget(list_);
    emit layoutChanged();
    if (pairs_->rowOf(id.toStdString()) >= 0) {
        list_->choose(id);
        return;
    }
    wanted_ = id;
    filter_ = "all"; // wherever it stands
    bar_->clear();
    refresh();
}

std::vector<project::PairId> ClashesStage::chosenPairs() const
{
    std::vector<std::string> ids;
    for (const QString& id : list_->chosenAll())
        ids.push_back(id.toStdString());
    return pairs_->pairsOf(ids);
}

QString ClashesStage::titleOf(const std::vector<project::Pair>& pairs) const
{
    if (pairs.size() == 1)
        return q(pairs[0].left.name) + " × " + q(pairs[0].right.name);
    std::vector<project::PairId> ids;
    for (const project::Pair& p : pairs)
        ids.push_back(p.id);
    const std::size_t groups = pairs_->groupsOf(ids);
    const auto* group = pairs_->groupOf(std::to_string(pairs[0].id));
    if (groups == 1 && group != nullptr)
        return q(orNothing(pairs_->titleOf(at_.session.project().clashes(), *group)));
    return QString("%1 pairs in %2 groups").arg(pairs.size()).arg(groups);
}

void ClashesStage::focusFilter()
{
    if (isAtTests())
        tests_->list()->focusFilter();
    else
        list_->focusFilter();
}

bool ClashesStage::press(Qt::Key key)
{
    switch (key) {
    case Qt::Key_T:
        turnTo(isAtTests() ? static_cast<QWidget*>(list_) : tests_->list());
        return true;
    case Qt::Key_V:
        turnTo(isRegister() && !isAtPlan() ? static_cast<QWidget*>(list_) : matrix_);
        return true;
    case Qt::Key_P:
        turnTo(isAtPlan() ? static_cast<QWidget*>(list_) : plan_);
        return true;
    case Qt::Key_R:
        at_.session.runTests();
        return true;
    default:
        break;
    }
    if (isAtTests())
        return tests_->press(key);
    if (!isAtPairs())
        return false;
    switch (key) {
    case Qt::Key_F:
        makeIssue();
        return true;
    case Qt::Key_S:
        decide("let stand");
        return true;
    case Qt::Key_L:
        decide("later");
        return true;
    case Qt::Key_Y:
        takeOffer(true);
        return true;
    case Qt::Key_G:
        bar_->orderNext();
        return true;
    case Qt::Key_X:
        bar_->openMenu();
        return true;
    case Qt::Key_E:
        if (reason_ != nullptr)
            reason_->setFocus(Qt::ShortcutFocusReason);
        return true;
    case Qt::Key_D:
        copyRows();
        return true;
    default:
        return false;
    }
}

QVector<QPair<QString, QString>> ClashesStage::keys() const
{
    return {{"F", "fix: make an issue of what is chosen"},
            {"S", "let it stand, for the reason that is written"},
            {"E", "write the reason"},
            {"L", "later"},
            {"Y", "let stand what is alike, too"},
            {"R", "run the tests"},
            {"V", "every discipline against every other, and back"},
            {"P", "where the load is, bay by bay, and back"},
            {"T", "what is tested, and back to what was found"},
            {"G", "put pairs together in the next way"},
            {"X", "narrow to some"},
            {"D", "copy the chosen rows for a spreadsheet"},
            {"N", "a new test or template, where what is tested is shown"},
            {"A", "run the chosen test alone, there"}};
}

} // namespace wendrix::app
