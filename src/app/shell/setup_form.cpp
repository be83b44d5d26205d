#include "shell/setup_form.h"

#include "shell/form.h"
#include "shell/long_text.h"
#include "shell/theme.h"

#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QFileDialog>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QRadioButton>
#include <QToolButton>
#include <QVBoxLayout>

#include <optional>
#include <type_traits>

namespace wendrix::app {

namespace {

QString q(const std::string& s) { return QString::fromStdString(s); }

QString joined(const std::vector<std::string>& list)
{
    QStringList words;
    for (const std::string& one : list)
        words += q(one);
    return words.join(", ");
}

std::vector<std::string> split(const QString& text, QChar at)
{
    std::vector<std::string> list;
    for (const QString& one : text.split(at))
        if (!one.trimmed().isEmpty())
            list.push_back(one.trimmed().toStdString());
    return list;
}

/// "All engineers: Jon Alder, Sofie Brandt"
std::optional<project::PersonGroup> groupOf(const QString& line)
{
    const qsizetype colon = line.indexOf(':');
    project::PersonGroup group{line.left(std::max<qsizetype>(0, colon)).trimmed().toStdString(),
                               split(line.mid(colon + 1), ',')};
    return colon < 0 || group.name.empty() || group.people.empty() ? std::nullopt : std::optional(std::move(group));
}

/// "IfcWall Pset_WallCommon.FireRating"
std::optional<checks::Expectations::Needed> propertyOf(const QString& line)
{
    const QString words = line.simplified();
    const qsizetype blank = words.indexOf(' '), dot = words.indexOf('.', blank);
    if (blank <= 0 || dot <= blank + 1 || dot + 1 == words.size())
        return {};
    return checks::Expectations::Needed{words.left(blank).toStdString(),
                                        words.mid(blank + 1, dot - blank - 1).toStdString(),
                                        words.mid(dot + 1).toStdString()};
}

/// What each line says, without empty ones; `problem` gets the first that says nothing.
template <class Parse>
auto linesOf(const QPlainTextEdit* field, Parse parse, QString* problem = nullptr)
{
    std::vector<typename std::invoke_result_t<Parse, QString>::value_type> all;
    for (const QString& line : field->toPlainText().split('\n')) {
        if (line.trimmed().isEmpty())
            continue;
        if (auto one = parse(line))
            all.push_back(std::move(*one));
        else if (problem != nullptr && problem->isEmpty())
            *problem = line.trimmed();
    }
    return all;
}

void paintColour(QToolButton* button, const std::string& colour)
{
    QPixmap pixels(18, 18);
    pixels.fill(QColor(q(colour)));
    button->setIcon(pixels);
}

QLabel* heading(const QString& words)
{
    auto* label = new QLabel(words);
    label->setFont(theme::font(13, 700));
    return label;
}

} // namespace

SetupForm::SetupForm(QWidget* parent) : QWidget(parent), grid_(new QGridLayout)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    column->addWidget(heading("Disciplines"));
    grid_->setHorizontalSpacing(6);
    grid_->setVerticalSpacing(4);
    const char* const heads[] = {"", "Name", "Company", "People, with commas between", "Drop folder", "", "Reference"};
    for (int c = 0; c < 7; ++c) {
        auto* head = new QLabel(heads[c]);
        head->setFont(theme::font(11, 600));
        head->setStyleSheet("color:#5F6B70");
        grid_->addWidget(head, 0, c);
    }
    grid_->setColumnStretch(1, 3);
    grid_->setColumnStretch(2, 4);
    grid_->setColumnStretch(3, 5);
    grid_->setColumnStretch(4, 4);
    column->addLayout(grid_);
    auto* add = new QPushButton("Add a discipline");
    add->setObjectName("addDisciplineLine");
    connect(add, &QPushButton::clicked, this, [this] {
        addLine({{}, {}, project::usualColour({}), lines_.isEmpty(), {}, {}, {}}, false);
        lines_.back().name->setFocus();
    });
    column->addWidget(add, 0, Qt::AlignLeft);
    column->addSpacing(6);

    auto* lower = new QGridLayout;
    lower->setHorizontalSpacing(28);
    lower->addWidget(heading("Groups of people"), 0, 0);
    lower->addWidget(heading("What deliveries should be like"), 0, 1);
    auto* left = new Form;
    groups_ = left->text("setupGroups", {}, {}, 8);
    groups_->setPlaceholderText("A group a line, as\nAll engineers: Jon Alder, Sofie Brandt");
    lower->addWidget(left, 1, 0, Qt::AlignTop);
    auto* right = new Form;
    schemas_ = right->line("setupSchemas", "Schemas", {}, "any; else as IFC4, IFC4X3");
    unit_ = right->choice("setupUnit", "Length unit",
                          {{"any", ""}, {"millimetre", "millimetre"}, {"metre", "metre"}, {"foot", "foot"}});
    properties_ = right->text("setupProperties", "Properties", {}, 5);
    properties_->setPlaceholderText("A line each, as\nIfcWall Pset_WallCommon.FireRating");
    georeferenced_ = right->tick("setupGeoreferenced", "The model says where on earth it is", true);
    dimensions_ = right->tick("setupDimensions", "Ducts, pipes and carriers say their size in a name", true);
    lower->addWidget(right, 1, 1, Qt::AlignTop);
    lower->setColumnStretch(0, 1);
    lower->setColumnStretch(1, 1);
    column->addLayout(lower);
    column->addStretch(1); // what there is too much of is below, not between
}

void SetupForm::addLine(const project::Discipline& d, bool isThere)
{
    Line line;
    const QString number = QString::number(lines_.size());
    const auto field = [&](const char* id, const QString& text, const char* words) {
        auto* edit = new QLineEdit;
        setWhole(*edit, text);
        edit->setObjectName(id + number);
        edit->setAccessibleName(words);
        edit->setCursorPosition(0);
        return edit;
    };
    line.colour = new QToolButton;
    line.colour->setObjectName("setupColour" + number);
    line.colour->setAccessibleName("Colour");
    line.colour->setProperty("quiet", true);
    line.colourName = d.colour;
    paintColour(line.colour, d.colour);
    line.name = field("setupName", q(d.name), "Name");
    line.id = isThere ? d.id : 0;
    line.company = field("setupCompany", q(d.company), "Company");
    line.people = field("setupPeople", joined(d.people), "People");
    line.folder = field("setupFolder", q(d.dropFolder), "Drop folder");
    line.folder->setPlaceholderText("none, added by hand");
    auto* choose = new QToolButton;
    choose->setText("…");
    choose->setToolTip("Choose the folder");
    choose->setProperty("quiet", true);
    line.more = choose;
    line.reference = new QRadioButton;
    line.reference->setObjectName("setupReference" + number);
    line.reference->setAccessibleName("Reference");
    line.reference->setChecked(d.isReference);
    line.reference->setEnabled(!isThere_);
    auto* remove = new QToolButton;
    remove->setText("✕");
    remove->setToolTip("Leave this discipline out");
    remove->setProperty("quiet", true);
    remove->setObjectName("setupRemove" + number);
    remove->setEnabled(!isThere);
    line.remove = remove;
    line.leftOut = d.leftOut;
    connect(line.colour, &QToolButton::clicked, this, [this, name = line.name] {
        for (Line& x : lines_)
            if (x.name == name)
                if (const QColor chosen =
                        QColorDialog::getColor(QColor(q(x.colourName)), this, "Colour of " + name->text());
                    chosen.isValid()) {
                    x.colourName = chosen.name().toUpper().toStdString();
                    paintColour(x.colour, x.colourName);
                }
    });
    connect(choose, &QToolButton::clicked, this, [this, folder = line.folder] {
        if (const QString chosen = QFileDialog::getExistingDirectory(this, "Where its files arrive", folder->text());
            !chosen.isEmpty()) {
            folder->setText(chosen);
            folder->setModified(true);
        }
    });
    connect(
        remove, &QToolButton::clicked, this, [this, name = line.name] { removeLine(name); }, Qt::QueuedConnection);
    // A name that is known brings its colour.
    connect(line.name, &QLineEdit::editingFinished, this, [this, name = line.name] {
        for (Line& x : lines_)
            if (x.name == name && x.id == 0 && x.colourName == project::usualColour({}))
                paintColour(x.colour, x.colourName = project::usualColour(name->text().toStdString()));
    });
    lines_.append(line);
    arrange();
}

void SetupForm::removeLine(QWidget* name)
{
    for (qsizetype i = 0; i < lines_.size(); ++i)
        if (lines_[i].name == name) {
            for (QWidget* w : {static_cast<QWidget*>(lines_[i].colour), static_cast<QWidget*>(lines_[i].name),
                               static_cast<QWidget*>(lines_[i].company), static_cast<QWidget*>(lines_[i].people),
                               static_cast<QWidget*>(lines_[i].folder), lines_[i].more,
                               static_cast<QWidget*>(lines_[i].reference), lines_[i].remove}) {
                w->hide();
                w->setObjectName({}); // its name is the next one's
                w->deleteLater();
            }
            lines_.remove(i);
            break;
        }
    arrange();
}

void SetupForm::arrange()
{
    for (int i = 0; i < lines_.size(); ++i) {
        const Line& line = lines_[i];
        int c = 0;
        for (QWidget* w :
             {static_cast<QWidget*>(line.colour), static_cast<QWidget*>(line.name), static_cast<QWidget*>(line.company),
              static_cast<QWidget*>(line.people), static_cast<QWidget*>(line.folder), line.more,
              static_cast<QWidget*>(line.reference), line.remove})
            grid_->addWidget(w, i + 1, c++, w == line.reference ? Qt::AlignCenter : Qt::Alignment());
    }
}

void SetupForm::setSetup(const project::Setup& setup, bool isThere)
{
    while (!lines_.isEmpty())
        removeLine(lines_.back().name);
    given_ = setup;
    isThere_ = isThere;
    for (const project::Discipline& d : setup.disciplines)
        addLine(d, isThere);
    QStringList groups, properties;
    for (const project::PersonGroup& g : setup.personGroups)
        groups += q(g.name) + ": " + joined(g.people);
    groups_->setPlainText(groups.join("\n"));
    for (const auto& n : setup.expectations.properties)
        properties += q(n.className) + " " + q(n.set) + "." + q(n.property);
    properties_->setPlainText(properties.join("\n"));
    schemas_->setText(joined(setup.expectations.schemas));
    unit_->setCurrentIndex(std::max(0, unit_->findData(q(setup.expectations.lengthUnit))));
    georeferenced_->setChecked(setup.expectations.isGeoreferenced);
    dimensions_->setChecked(setup.expectations.areDimensionsNamed);
}

project::Setup SetupForm::setup() const
{
    project::Setup s = given_;
    s.disciplines.clear();
    for (const Line& line : lines_)
        s.disciplines.push_back({line.name->text().trimmed().toStdString(),
                                 line.company->text().trimmed().toStdString(), line.colourName,
                                 line.reference->isChecked(), split(line.people->text(), ','),
                                 line.folder->text().trimmed().toStdString(), line.leftOut, line.id});
    s.personGroups = linesOf(groups_, groupOf);
    s.expectations.schemas = split(schemas_->text(), ',');
    s.expectations.lengthUnit = unit_->currentData().toString().toStdString();
    s.expectations.isGeoreferenced = georeferenced_->isChecked();
    s.expectations.areDimensionsNamed = dimensions_->isChecked();
    s.expectations.properties = linesOf(properties_, propertyOf);
    return s;
}

std::vector<project::Discipline> SetupForm::withFolderByHand() const
{
    std::vector<project::Discipline> all = setup().disciplines;
    std::size_t i = 0;
    std::erase_if(all, [&](const project::Discipline& d) {
        return !lines_[static_cast<qsizetype>(i++)].folder->isModified() || d.dropFolder.empty();
    });
    return all;
}

QString SetupForm::problem() const
{
    QString line;
    (void)linesOf(groups_, groupOf, &line);
    if (!line.isEmpty())
        return QString("Groups of people: write “%1” as a name, a colon and who is in it.").arg(line);
    (void)linesOf(properties_, propertyOf, &line);
    if (!line.isEmpty())
        return QString("Properties: write “%1” as a class, a set and a property: IfcWall Pset_WallCommon.FireRating.")
            .arg(line);
    return {};
}

} // namespace wendrix::app
