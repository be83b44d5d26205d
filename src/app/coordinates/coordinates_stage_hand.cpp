#include "coordinates/coordinates_stage.h"

#include "coordinates/lengths.h"
#include "coordinates/pair_table.h"
#include "core/base/number.h"
#include "shell/form.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>

/// The stage's fit by hand: what is taken in the scene or named, numbers, and where the member is shown meanwhile.
namespace wendrix::app {

namespace {

const QString kNumbers = "numbers";
constexpr double kApart = 0.15; // of both widths, between members side by side

QPushButton* chip(QHBoxLayout* line, QButtonGroup* group, const QString& name, const QString& words, const QString& tip)
{
    auto* button = new QPushButton(words);
    button->setObjectName(name);
    button->setProperty("chip", true);
    button->setCheckable(group != nullptr);
    button->setToolTip(tip);
    if (group != nullptr)
        group->addButton(button);
    line->addWidget(button);
    return button;
}

} // namespace

QVector<ToolEntry> CoordinatesStage::tools()
{
    connect(hand_, &HandTool::pairsChanged, this, &CoordinatesStage::fitByHand);
    connect(hand_, &HandTool::hintChanged, this, &Stage::toolChanged);
    return {{kHandTool, "Fit", "", "Take hold of what is to coincide in both (P)", hand_, handRow(), [this] {
                 const federation::Member* member = chosenMember();
                 if (member != nullptr && isLocked(*member))
                     at_.session.fail({project::kFitLocked, "The fit of " + member->discipline +
                                                                " is locked. Unlock it first, and say why."});
             }}};
}

QWidget* CoordinatesStage::handRow()
{
    auto* row = new QWidget;
    auto* column = new QVBoxLayout(row);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    const auto line = [&] {
        auto* widget = new QWidget;
        auto* layout = new QHBoxLayout(widget);
        layout->setContentsMargins(6, 4, 6, 4);
        layout->setSpacing(4);
        column->addWidget(widget);
        return layout;
    };
    QHBoxLayout* what = line();
    auto* kinds = new QButtonGroup(this);
    const std::tuple<HandTool::Kind, const char*, const char*> all[] = {
        {HandTool::Kind::Places, "Places", "A corner on a corner: one moves, two turn, more are least squares"},
        {HandTool::Kind::Axes, "Grid axes", "An axis on an axis, as 1 on 1, then J on J"},
        {HandTool::Kind::Lines, "Edges", "An edge or centre line on another"},
        {HandTool::Kind::Faces, "Faces", "An upright face on a face, or a level one for the height"}};
    for (const auto& [kind, words, tip] : all) {
        auto* button = chip(what, kinds, "hand" + QString(words).remove(' '), words, tip);
        button->setChecked(kind == hand_->kind());
        connect(button, &QPushButton::clicked, this, [this, kind = kind] { hand_->setKind(kind); });
    }
    what->addStretch(1);
    QHBoxLayout* where = line();
    places_ = new QButtonGroup(this);
    const std::tuple<Placement, const char*, const char*> placements[] = {
        {Placement::AsItStands, "As it stands", "With the fit in force"},
        {Placement::Fitted, "As fitted", "With the fit that is looked at"},
        {Placement::Beside, "Side by side", "The member beside the reference, so that nothing hides in the other"}};
    for (const auto& [placement, words, tip] : placements) {
        auto* button = chip(where, places_, "place" + QString(words).remove(' '), words, tip);
        button->setChecked(placement == placement_);
        connect(button, &QPushButton::clicked, this, [this, placement = placement] { setPlacement(placement); });
    }
    connect(chip(where, nullptr, "handBack", "Take back", "Del"), &QPushButton::clicked, this,
            [this] { hand_->removeLast(); });
    where->addStretch(1);
    return row;
}

void CoordinatesStage::setPlacement(Placement placement)
{
    placement_ = placement;
    beside_.reset();
    if (places_ != nullptr)
        places_->buttons()[static_cast<int>(placement)]->setChecked(true);
    showChosen(true);
}

federation::Fit CoordinatesStage::shownFit(const federation::Member& m, const federation::Member& member,
                                           const federation::Member& reference) const
{
    const federation::Fit inForce = fitInForce(m);
    if (m.discipline != member.discipline || m.revision != member.revision || placement_ == Placement::AsItStands)
        return inForce;
    const WayToFit* way = isLocked(member) ? nullptr : chosenWay(member, reference);
    federation::Fit fit = way != nullptr ? way->found->fit : inForce;
    if (placement_ == Placement::Fitted)
        return fit;
    // It stays where it is while things are taken hold of, whatever they say of the fit.
    if (beside_ && beside_->first == member.model)
        return beside_->second;
    // Beside it to the right of who looks, its foot at the reference's.
    const Box3 mine = reference.fit.transform().apply(reference.geometry->bounds()),
               theirs = fit.transform().apply(member.geometry->bounds());
    Vector3 right = at_.scene.camera().right();
    right.z = 0;
    right = length(right) > 1e-6 ? normalised(right) : Vector3{1, 0, 0};
    const auto reach = [&](const Box3& box) {
        return (std::abs(right.x) * box.size().x + std::abs(right.y) * box.size().y) / 2;
    };
    const double apart = (1 + kApart) * (reach(mine) + reach(theirs));
    Vector3 shift = mine.centre() + apart * right - theirs.centre();
    shift.z = mine.min.z - theirs.min.z;
    fit.translation = fit.translation + shift;
    beside_ = {member.model, fit};
    return fit;
}

federation::Fit CoordinatesStage::fitInForce(const federation::Member& m) const
{
    for (const auto* workspace : {&at_.session.shown(), &at_.session.shownUnder()})
        for (const federation::Member& one : workspace->members)
            if (one.model == m.model && one.title() == m.title())
                return one.fit;
    return m.fit;
}

void CoordinatesStage::placeMembers()
{
    const federation::Member* reference = at_.session.reference();
    const federation::Member* member = chosenMember();
    if (reference == nullptr || member == nullptr)
        return;
    at_.scene.placeMembers([&](const federation::Member& m) { return shownFit(m, *member, *reference); });
}

void CoordinatesStage::leave()
{
    placement_ = Placement::AsItStands;
    beside_.reset();
    if (places_ != nullptr)
        places_->buttons()[0]->setChecked(true);
    at_.scene.placeMembers([this](const federation::Member& m) { return fitInForce(m); });
}

void CoordinatesStage::fitByHand()
{
    const federation::Member* reference = at_.session.reference();
    const federation::Member* member = chosenMember();
    own_.removeIf([](const WayToFit& way) { return way.id == kHandWay; });
    if (reference != nullptr && member != nullptr && !hand_->pairs().empty()) {
        own_.prepend(handWay(*reference, *member, hand_->pairs(),
                             isScaleFree_ ? federation::Scale::IsFree : federation::Scale::IsOne));
        way_ = kHandWay;
    } else if (way_ == kHandWay) {
        way_.clear();
    }
    if (isFront())
        showChosen(false);
}

void CoordinatesStage::addHand()
{
    Details& d = at_.details;
    d.addHeading("By hand");
    if (!hand_->pairs().empty()) {
        const auto hand = std::find_if(own_.begin(), own_.end(), [](const WayToFit& w) { return w.id == kHandWay; });
        const bool isFound = hand != own_.end() && hand->found;
        auto* table = new PairTable(hand_->pairs(), isFound ? hand->found->left : std::vector<coordinates::Left>());
        const auto later = [this](auto change) { // the table is replaced by what follows
            QMetaObject::invokeMethod(
                this,
                [this, change] {
                    std::vector<coordinates::HandPair> pairs = hand_->pairs();
                    change(pairs);
                    hand_->setPairs(std::move(pairs));
                },
                Qt::QueuedConnection);
        };
        connect(table, &PairTable::weightChanged, this, [later](int pair, double weight) {
            later([=](auto& pairs) { pairs[static_cast<std::size_t>(pair)].weight = weight; });
        });
        connect(table, &PairTable::removeWanted, this,
                [later](int pair) { later([=](auto& pairs) { pairs.erase(pairs.begin() + pair); }); });
        d.addWidget(table);
        if (hand != own_.end() && !hand->found)
            d.addText(q(hand->found.error().message), false);
    } else {
        d.addText("Take what is to coincide in the scene, name it, or write numbers.");
    }
    d.addButtons({{"takeInScene", "Take in the scene", "P", false, true, [this] { emit toolWanted(kHandTool); }},
                  {"pairByName", "Name a pair…", "N", false, true, [this] { askPair(); }},
                  {"fitByNumbers", "Numbers…", "U", false, true, [this] { askNumbers(); }}});
    if (hand_->pairs().size() >= 2) {
        auto* scale = new QCheckBox("The scale is fitted too");
        scale->setObjectName("scaleIsFree");
        scale->setChecked(isScaleFree_);
        connect(scale, &QCheckBox::toggled, this, [this](bool isOn) {
            isScaleFree_ = isOn;
            QMetaObject::invokeMethod(
                this, [this] { fitByHand(); }, Qt::QueuedConnection);
        });
        d.addWidget(scale);
    }
}

void CoordinatesStage::askPair()
{
    const federation::Member* reference = at_.session.reference();
    const federation::Member* member = chosenMember();
    if (reference == nullptr || member == nullptr || isLocked(*member))
        return;
    Details& d = at_.details;
    d.clear();
    d.setOwner(kCoordinatesForm);
    d.addTitle("Name a pair");
    d.addText("A grid axis (C), a crossing (C/4), a storey (Level 2), or a place in metres in the file's own "
              "coordinates (12.5 3.0 0.0).");
    auto* form = new Form;
    auto* moving = form->line("pairMoving", q(member->discipline));
    auto* onto = form->line("pairReference", q(reference->discipline));
    auto* weight = form->line("pairWeight", "Weight", "1");
    d.addWidget(form);
    const auto keep = [this, moving, onto, weight, m = member->model, r = reference->model] {
        const auto one = coordinates::heldByName(*m, moving->text().toStdString());
        const auto other = coordinates::heldByName(*r, onto->text().toStdString());
        const auto heavy = numberIn(weight->text().toStdString());
        if (const auto error = firstError(one, other))
            return at_.session.fail(*error);
        if (!heavy || *heavy <= 0)
            return at_.session.fail({coordinates::kNotNamed, "The weight is a number over 0."});
        const coordinates::HandPair pair{*one, *other, *heavy};
        // Said here, where it can be put right, not when it is in the list.
        if (const auto fits = coordinates::fitByHand(std::span(&pair, 1), {}); !fits)
            return at_.session.fail(fits.error());
        at_.details.setOwner({});
        hand_->add(pair);
    };
    for (QLineEdit* field : {moving, onto, weight})
        connect(field, &QLineEdit::returnPressed, this, keep, Qt::QueuedConnection); // it ends the field
    d.addButtons({{"keepPair", "Keep the pair", "", true, true, keep},
                  {"noPair", "Back", "", false, true, [this] { endForm(); }}});
    d.finish();
    moving->setFocus();
}

void CoordinatesStage::askNumbers()
{
    const federation::Member* reference = at_.session.reference();
    const federation::Member* member = chosenMember();
    if (reference == nullptr || member == nullptr || isLocked(*member))
        return;
    const WayToFit* way = chosenWay(*member, *reference);
    const federation::Fit now = way != nullptr ? way->found->fit : member->fit;
    Details& d = at_.details;
    d.clear();
    d.setOwner(kCoordinatesForm);
    d.addTitle("Fit by numbers");
    d.addText("First the scale, then the turn about the file's origin, counter-clockwise seen from above, then the "
              "move.");
    auto* form = new Form;
    const auto number = [&](const char* name, const char* words, double value) {
        return form->line(name, words, q(exactNumber(value)));
    };
    const std::array<QLineEdit*, 5> fields{
        number("moveX", "Move X, m", now.translation.x), number("moveY", "Move Y, m", now.translation.y),
        number("moveZ", "Move Z, m", now.translation.z), number("turnDegrees", "Turn, °", toDegrees(now.rotation)),
        number("scaleBy", "Scale", now.scale)};
    d.addWidget(form);
    const auto keep = [this, fields, onto = reference->model, model = member->model] {
        double values[5];
        for (std::size_t i = 0; i < 5; ++i) {
            const auto value = numberIn(fields[i]->text().toStdString());
            if (!value || (i == 4 && !(*value > 0)))
                return at_.session.fail(
                    {coordinates::kNotNamed,
                     fields[i]->accessibleName().toStdString() + (i == 4 ? " is a number over 0." : " is a number.")});
            values[i] = *value;
        }
        const federation::Fit fit{values[4], fromDegrees(values[3]), {values[0], values[1], values[2]}};
        own_.removeIf([](const WayToFit& w) { return w.id == kNumbers; });
        own_.append({kNumbers, "By numbers", coordinates::alignByValues(*onto, *model, fit)});
        way_ = kNumbers;
        endForm();
    };
    for (QLineEdit* field : fields)
        connect(field, &QLineEdit::returnPressed, this, keep, Qt::QueuedConnection); // it ends the field
    d.addButtons({{"keepNumbers", "Look at it", "", true, true, keep},
                  {"noNumbers", "Back", "", false, true, [this] { endForm(); }}});
    d.finish();
    fields[0]->setFocus();
    fields[0]->selectAll();
}

void CoordinatesStage::endForm()
{
    at_.details.setOwner({});
    showChosen(false);
}

} // namespace wendrix::app
