#include "shell/scene_tools.h"

#include "shell/details.h"
#include "shell/tool_strip.h"

#include <QApplication>
#include <QButtonGroup>
#include <QClipboard>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QPushButton>

namespace wendrix::app {

namespace {

QPushButton* rowButton(QHBoxLayout* layout, const QString& name, const QString& words, const QString& tip = {})
{
    auto* button = new QPushButton(words);
    button->setObjectName(name);
    button->setProperty("chip", true);
    button->setToolTip(tip);
    layout->addWidget(button);
    return button;
}

/// Lines of a tool's row, one under the other.
QVBoxLayout* linesOf(QWidget* row)
{
    auto* column = new QVBoxLayout(row);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    return column;
}

QHBoxLayout* rowLayout(QWidget* row)
{
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(6, 4, 6, 4);
    layout->setSpacing(4);
    return layout;
}

} // namespace

SceneTools::SceneTools(SceneView& scene, ToolStrip& strip, Details& details, QObject* parent)
    : QObject(parent), scene_(scene), strip_(strip), details_(details), cut_(new CutTool(scene, this)),
      measure_(new MeasureTool(scene, this)), mark_(new MarkTool(scene, this)), walk_(scene)
{
    strip.add({"lookAll", "Look", "maximize", "Look at everything (Z: at the selection)", nullptr, nullptr, [this] {
                   strip_.endAll();
                   scene_.fitAll();
               }});
    strip.add({kWalk, "Walk", "footprints", "Walk through the building at eye height", &walk_, walkRow(), {}});
    strip.add({kCut, "Cut", "slice", "Cut the view open (C: to the storey of the selection)", cut_, cutRow(), {}});
    strip.add({kMeasure, "Measure", "ruler", "Measure in the model (M)", measure_, measureRow(),
               [this] { showMeasurements(); }});
    strip.add(
        {kMarkUp, "Mark up", "pencil-line", "Draw over the view, and write numbered notes", mark_, markRow(), {}});
    connect(cut_, &CutTool::changed, this, &SceneTools::refresh);
    connect(mark_, &MarkTool::changed, this, &SceneTools::refresh);
    connect(&scene_, &SceneView::viewRested, this, [this] {
        if (strip_.inHand() == kMarkUp)
            refresh();
    });
    connect(&strip, &ToolStrip::taken, this, &SceneTools::refresh);
    connect(cut_, &CutTool::said, this, &SceneTools::said);
    connect(mark_, &MarkTool::said, this, &SceneTools::said);
    connect(measure_, &MeasureTool::said, this, &SceneTools::said);
    connect(measure_, &MeasureTool::resultsChanged, this, [this] {
        refresh();
        showMeasurements();
    });
}

void SceneTools::refresh()
{
    otherMarks_->setVisible(mark_->marksElsewhere() > 0);
    const auto at = cut_->position();
    const QSignalBlocker blocker(position_);
    position_->setEnabled(at.has_value());
    position_->setValue(at.value_or(0));
    strip_.refresh();
}

QWidget* SceneTools::walkRow()
{
    auto* row = new QWidget;
    auto* layout = rowLayout(row);
    auto* gravity = rowButton(layout, "walkGravity", "Feet on the floor",
                              "Without it one floats, through floors but not through walls");
    gravity->setCheckable(true);
    gravity->setChecked(true);
    connect(gravity, &QPushButton::toggled, this, [this](bool isOn) { walk_.setGravity(isOn); });
    layout->addStretch(1);
    return row;
}

QWidget* SceneTools::cutRow()
{
    auto* row = new QWidget;
    QVBoxLayout* column = linesOf(row);
    auto* first = new QWidget;
    auto* make = rowLayout(first);
    connect(rowButton(make, "cutFace", "At a face", "Along the face that is clicked"), &QPushButton::clicked, this,
            [this] { cut_->want(CutTool::Wanted::Face); });
    connect(rowButton(make, "cutPlaces", "3 places", "Through three places that are clicked"), &QPushButton::clicked,
            this, [this] { cut_->want(CutTool::Wanted::ThreePlaces); });
    const std::pair<const char*, const char*> axes[] = {{"Across X", "cutX"}, {"Across Y", "cutY"}, {"Level", "cutZ"}};
    for (int axis = 0; axis < 3; ++axis)
        connect(rowButton(make, axes[axis].second, axes[axis].first), &QPushButton::clicked, this,
                [this, axis] { cut_->cutAcross(axis); });
    connect(rowButton(make, "cutFlat", "Flat", "Two members or revisions laid over each other in the cut"),
            &QPushButton::clicked, this, &SceneTools::showFlat);
    make->addStretch(1);
    column->addWidget(first);
    auto* second = new QWidget;
    auto* change = rowLayout(second);
    connect(rowButton(change, "cutBox", "Round selection"), &QPushButton::clicked, this,
            [this] { cut_->boxAroundSelection(); });
    position_ = new QDoubleSpinBox;
    position_->setObjectName("cutPosition");
    position_->setRange(-1e6, 1e6);
    position_->setDecimals(3);
    position_->setSingleStep(0.05);
    position_->setSuffix(" m");
    position_->setPrefix("at ");
    position_->setKeyboardTracking(false);
    position_->setFixedWidth(108);
    connect(position_, &QDoubleSpinBox::valueChanged, this, [this](double metres) { cut_->setPosition(metres); });
    change->addWidget(position_);
    connect(rowButton(change, "cutTurn", "Turn over"), &QPushButton::clicked, this, [this] { cut_->turnOver(); });
    connect(rowButton(change, "cutEnd", "End it"), &QPushButton::clicked, this, [this] { cut_->endInHand(); });
    connect(rowButton(change, "cutEndAll", "End all"), &QPushButton::clicked, this, [this] { cut_->endAll(); });
    change->addStretch(1);
    column->addWidget(second);
    return row;
}

QWidget* SceneTools::measureRow()
{
    auto* row = new QWidget;
    QVBoxLayout* column = linesOf(row);
    auto* group = new QButtonGroup(this);
    QHBoxLayout* layout = nullptr;
    const view::MeasureKind kinds[] = {view::MeasureKind::Distance, view::MeasureKind::Perpendicular,
                                       view::MeasureKind::Shortest, view::MeasureKind::Opening,
                                       view::MeasureKind::Angle,    view::MeasureKind::Area,
                                       view::MeasureKind::Elevation};
    for (int i = 0; i < 7; ++i) {
        if (i == 0 || i == 4) {
            auto* line = new QWidget;
            layout = rowLayout(line);
            column->addWidget(line);
        }
        QString words = QString::fromStdString(view::inWords(kinds[i]));
        words[0] = words[0].toUpper();
        auto* chip = rowButton(layout, "measure" + QString::number(i), words);
        chip->setCheckable(true);
        chip->setChecked(i == 0);
        group->addButton(chip);
        connect(chip, &QPushButton::clicked, this, [this, kind = kinds[i]] {
            measure_->setKind(kind);
            refresh();
        });
        if (i == 3)
            layout->addStretch(1);
    }
    connect(rowButton(layout, "measureClear", "Clear"), &QPushButton::clicked, this,
            [this] { measure_->setResults({}); });
    layout->addStretch(1);
    return row;
}

QWidget* SceneTools::markRow()
{
    auto* row = new QWidget;
    QVBoxLayout* column = linesOf(row);
    auto* group = new QButtonGroup(this);
    const auto line = [&] {
        auto* widget = new QWidget;
        column->addWidget(widget);
        return rowLayout(widget);
    };
    const auto choice = [&](QHBoxLayout* layout, const QString& name, QString words, const QString& tip,
                            std::function<void()> press) {
        words[0] = words[0].toUpper();
        auto* chip = rowButton(layout, name, words, tip);
        chip->setCheckable(true);
        group->addButton(chip);
        connect(chip, &QPushButton::clicked, this, press);
        return chip;
    };
    QHBoxLayout* shapes = line();
    for (const view::MarkKind kind : {view::MarkKind::Cloud, view::MarkKind::Ellipse, view::MarkKind::Rectangle,
                                      view::MarkKind::Line, view::MarkKind::Arrow})
        choice(shapes, "mark" + QString::number(static_cast<int>(kind)), QString::fromStdString(view::inWords(kind)),
               {}, [this, kind] { mark_->draw(kind); })
            ->setChecked(kind == view::MarkKind::Cloud);
    shapes->addStretch(1);
    QHBoxLayout* rest = line();
    for (const view::MarkKind kind : {view::MarkKind::FreeLine, view::MarkKind::Text})
        choice(rest, "mark" + QString::number(static_cast<int>(kind)), QString::fromStdString(view::inWords(kind)), {},
               [this, kind] { mark_->draw(kind); });
    choice(rest, "markNote", "note", "A numbered note at a place of the model", [this] { mark_->note(); });
    choice(rest, "markErase", "erase", "Take away the mark that is clicked", [this] { mark_->erase(); });
    rest->addStretch(1);
    QHBoxLayout* all = line();
    connect(rowButton(all, "markBack", "Take back", "Del"), &QPushButton::clicked, this, [this] { mark_->takeBack(); });
    connect(rowButton(all, "markClear", "Clear all"), &QPushButton::clicked, this, [this] { mark_->clear(); });
    otherMarks_ = rowButton(all, "markOthers", "To the other marks", "To the view that they were drawn over");
    connect(otherMarks_, &QPushButton::clicked, this, [this] { mark_->toOtherMarks(); });
    all->addStretch(1);
    return row;
}

void SceneTools::showFlat()
{
    details_.clear();
    details_.addTitle("Laid over each other");
    if (scene_.cuts().isEmpty() || scene_.members().size() < 2) {
        details_.addText("Make a cut first; two members or revisions are then compared in its face, one filled, the "
                         "other as an outline.");
        details_.finish();
        return;
    }
    const auto choice = [&](const QString& name, std::uint32_t now) {
        auto* box = new QComboBox;
        box->setObjectName(name);
        for (const federation::Member& member : scene_.members())
            box->addItem(QString::fromStdString(member.title()));
        box->setCurrentIndex(static_cast<int>(now));
        return box;
    };
    view::Overlay now = scene_.overlay().value_or(view::Overlay{0, 1});
    details_.addHeading("Filled");
    auto* filled = choice("flatFilled", now.filled);
    details_.addWidget(filled);
    details_.addHeading("As an outline");
    auto* outlined = choice("flatOutlined", now.outlined);
    details_.addWidget(outlined);
    const auto lay = [this, filled, outlined] {
        scene_.setOverlay(view::Overlay{static_cast<std::uint32_t>(filled->currentIndex()),
                                        static_cast<std::uint32_t>(outlined->currentIndex())});
    };
    connect(filled, &QComboBox::activated, this, lay);
    connect(outlined, &QComboBox::activated, this, lay);
    details_.addText("Seen straight on, without perspective. In Changes the revision before is in the lists too.");
    details_.addButtons({{"flatEnd", "Show the model again", {}, false, true, [this] { scene_.setOverlay({}); }}});
    details_.finish();
    lay();
}

void SceneTools::showMeasurements()
{
    details_.clear();
    details_.addTitle("Measured");
    if (measure_->results().empty())
        details_.addText("Nothing yet. The sign at the cursor says what it holds: a square a corner, a triangle a "
                         "midpoint, a plus a "
                         "centre line, a cross an edge, a ring a face.");
    QString all;
    for (auto m = measure_->results().rbegin(); m != measure_->results().rend(); ++m) {
        const QString kind = QString::fromStdString(view::inWords(m->kind)), value = QString::fromStdString(m->value);
        details_.addHeading(kind.left(1).toUpper() + kind.mid(1));
        details_.addFact("Measured", value);
        all += kind + "\t" + value + "\n";
        for (const auto& [name, part] : m->parts) {
            details_.addFact(QString::fromStdString(name), QString::fromStdString(part));
            all += "  " + QString::fromStdString(name) + "\t" + QString::fromStdString(part) + "\n";
        }
    }
    if (!measure_->results().empty())
        details_.addButtons(
            {{"copyMeasured", "Copy all", {}, false, true, [all] { QApplication::clipboard()->setText(all); }},
             {"removeMeasured", "Remove the last", "Del", false, true, [this] { measure_->removeLast(); }}});
    details_.finish();
}

} // namespace wendrix::app
