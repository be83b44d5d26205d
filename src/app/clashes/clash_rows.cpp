#include "clashes/clash_rows.h"

#include "core/base/text.h"
#include "core/clash/words.h"
#include "core/project/issue_making.h"
#include "shell/stage.h"
#include "shell/theme.h"

namespace wendrix::app {

QVector<Row> ClashRows::page(int first, int number) const
{
    QVector<Row> rows;
    if (!session_.hasProject())
        return rows;
    for (const project::ClashRow& r : orNothing(list_->page(
             session_.project().clashes(), static_cast<std::size_t>(first), static_cast<std::size_t>(number)))) {
        const project::Pair& p = r.pair;
        Row row;
        row.id = q(r.id);
        row.title = q(r.title);
        row.isStruck = p.isGone();
        const QString where = q(p.storey, "no storey") + (p.bay.empty() ? "" : " · " + q(p.bay));
        const QString extent = q(clash::inWords(p.extent()));
        const QString state = (p.decision.empty() ? "" : q(p.decision) + ", ") + q(p.stateInWords());
        if (r.isSection) {
            row.right = q(counted(r.pairs, "pair", "pairs"));
            row.subtitle = q(counted(r.groups, "group", "groups"));
            row.isStruck = false;
        } else if (r.isGroup) {
            row.mark = Mark::Bars;
            row.markText = QString::number(project::weightOf(p.extent().missing()).bars);
            row.markColour = theme::kInk;
            row.right = q(counted(r.pairs, "pair", "pairs"));
            row.subtitle = q(r.other) + " · " + where + " · " + extent + " · " + state;
            if (p.decision.empty() && p.state == clash::PairState::Back)
                row.loud = "back again";
        } else {
            row.level = 1;
            row.mark = Mark::Number;
            row.markText = QString::number(r.number);
            row.markColour = theme::kSoftInk;
            row.right = p.kind == clash::Kind::Hard ? q(clash::depthInWords(p.depth, p.isApproximate)) : extent;
            row.subtitle = where + " · " + state;
        }
        rows.append(row);
    }
    return rows;
}

} // namespace wendrix::app
