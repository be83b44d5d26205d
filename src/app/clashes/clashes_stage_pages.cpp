#include "clashes/clashes_stage.h"

/// Clashes: its pages beside the list, and going from one to the other.
namespace wendrix::app {

/// The matrix or the plan, whichever is in sight: nobody waits for the other at every decision.
void ClashesStage::fillPage()
{
    if (isAtPlan())
        fillPlan();
    else
        fillMatrix();
}

void ClashesStage::fillMatrix()
{
    QString caption = "Pairs that are there, and what is undecided of them; at the right what the last run brought and "
                      "took. Hatched is what was not tested. Enter opens the list of a cell.";
    if (known_->lastRun)
        caption = q("Run " + std::to_string(known_->lastRun->id) + ", " + dayInWords(known_->lastRun->by.time) + ": " +
                    known_->lastRun->inWords()) +
                  " " + caption;
    matrix_->setMatrix(
        project::ClashMatrix(pairs_->briefs(), known_->lastRun ? &*known_->lastRun : nullptr, known_->disciplines),
        caption);
}

void ClashesStage::fillPlan()
{
    const project::ClashPlan plan(pairs_->briefs(), bar_->question());
    const project::ClashPlan::Storey* load = plan.find(storey_.toStdString());
    const QString storey = load != nullptr ? q(load->name) : storey_;
    plannedStorey_ = storey.toStdString();
    QVector<PlanView::Axis> axes;
    if (const federation::Member* reference = at_.session.reference())
        for (const view::GridLine& line : gridLinesOf(*reference, kGridColour, true, storey))
            axes.append({QLineF(line.start.x, line.start.y, line.end.x, line.end.y), q(line.tag)});
    plan_->setPlan(storey, axes, load);
}

void ClashesStage::turnTo(QWidget* page)
{
    pages_->setCurrentWidget(page);
    emit layoutChanged();
    if (isRegister())
        fillPage();
    enter();
    if (page == matrix_)
        matrix_->table().setFocus();
    if (page == plan_)
        plan_->view().setFocus();
}

void ClashesStage::step(int by)
{
    if (isAtTests())
        tests_->list()->step(by);
    else if (isAtPlan())
        plan_->view().step(by);
    else if (isRegister())
        matrix_->step(by);
    else
        list_->step(by);
}

void ClashesStage::enter()
{
    tests_->setFront(isAtTests());
    if (isAtTests()) {
        tests_->show();
        return;
    }
    if (isRegister()) {
        Details& d = at_.details;
        d.clear();
        d.addText(
            isAtPlan()
                ? "A sign says how many pairs lie in a bay. Choose one with the arrow keys; Enter lists it."
                : "A cell says how many pairs of two disciplines are there. Choose one with the arrow keys; Enter "
                  "opens its list.");
        d.finish();
        showPlain();
        return;
    }
    if (!isNextWanted_) // else the next one is shown as soon as it is known
        show(false);
}

} // namespace wendrix::app
