#include "shell/stage.h"

#include "shell/theme.h"

namespace wendrix::app {

QString q(const std::string& text, const char* otherwise) { return text.empty() ? QString(otherwise) : q(text); }

ListStage::ListStage(const QString& title, const StageContext& context, QObject* parent)
    : Stage(context, parent), list_(new Worklist(title)), title_(title)
{
    list_->setObjectName(title.toLower());
    connect(list_, &Worklist::rowChosen, this, [this] {
        if (isFront())
            showChosenRow();
    });
}

std::vector<view::GridLine> gridLinesOf(const federation::Member& member, const QColor& colour, bool hasBubbles,
                                        const QString& storey)
{
    std::vector<view::GridLine> lines;
    const Transform fit = member.fit.transform();
    double height = member.model->storeys().empty() ? 0 : member.model->storeys().front().height.value;
    for (const ifc::Storey& s : member.model->storeys())
        if (q(s.name) == storey)
            height = s.height.value;
    for (const ifc::Grid& grid : member.model->grids())
        for (const ifc::GridAxis& axis : grid.axes) {
            std::vector<Point3> places = axis.points(Metres{0.02});
            for (Point3& p : places) {
                p.z = height;
                p = fit.apply(p);
            }
            for (std::size_t i = 0; i + 1 < places.size(); ++i)
                lines.push_back(
                    {places[i], places[i + 1], hasBubbles && i == 0 ? axis.tag : std::string(), toColour(colour)});
        }
    return lines;
}

void Stage::becomeStale()
{
    isStale_ = true;
    if (!isFront_)
        return;
    isStale_ = false;
    refresh();
}

void Stage::hear(const project::Changed& what)
{
    if (!isFront_ || isStale_ || !follow(what))
        becomeStale();
}

void Stage::comeToFront()
{
    if (std::exchange(isStale_, false))
        refresh();
    enter();
}

void Stage::showPlain()
{
    view::Subject subject;
    subject.grid = gridOn(storey_);
    at_.scene.change([&](view::Scene& scene) { scene.show(std::move(subject)); });
}

std::vector<view::GridLine> Stage::gridOn(const QString& storey)
{
    const federation::Member* reference = at_.session.reference();
    const QString shown = storey.isEmpty() ? storey_ : storey;
    std::optional<StoreyPlan::Storey> plan;
    if (reference != nullptr)
        for (const ifc::Storey& s : reference->model->storeys())
            if (q(s.name) == shown)
                plan = StoreyPlan::Storey{*reference, reference->fit.transform().apply(Point3{0, 0, s.height.value}).z,
                                          q(s.name)};
    at_.scene.setPlanStorey(std::move(plan));
    return reference != nullptr ? gridLinesOf(*reference, kGridColour, true, shown) : std::vector<view::GridLine>{};
}

} // namespace wendrix::app
