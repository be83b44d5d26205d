#pragma once

#include "core/project/test_sheets.h"
#include "shell/stage.h"

namespace wendrix::app {

class Form;

/// What is tested: sheets with their tests and sets, to be changed where they stand; what tests leave out because it
/// is expected to meet; and what can not be tested, with why.
class TestsPage final : public QObject {
    Q_OBJECT
public:
    TestsPage(const StageContext& context, QObject* parent);

    [[nodiscard]] Worklist* list() { return list_; }
    /// Reads the project anew and fills its list.
    void refresh();
    /// Its choice in scene and details. To be called while it is in front only.
    void show();
    void setFront(bool isFront);
    bool press(Qt::Key key);

signals:
    void plainWanted(); ///< nothing of it is shown in the scene

private:
    /// A pair that is expected to meet is shown until so many.
    static constexpr std::size_t kMostExpected = 5'000;
    struct Untested {
        std::string guid, name, why, member;
    };
    struct Read {
        std::vector<project::KeptSheet> sheets;
        std::optional<project::Run> lastRun;
        std::vector<project::ExpectedPair> expected;
        std::vector<std::string> notUpToDate, people; ///< people: who can be asked to decide
        std::vector<Untested> untested;
    };
    /// What a row stands for.
    struct Place {
        enum class Kind { None, Sheet, Set, Test, Expected, Untested, Member } kind = Kind::None;
        std::size_t sheet = 0, number = 0; ///< of sets and tests in their sheet; of others in their list
    };

    void fill();
    [[nodiscard]] static Place placeOf(const QString& id);
    [[nodiscard]] static QString idOf(const char* kind, std::size_t sheet, std::size_t number)
    {
        return QString("%1|%2|%3").arg(kind).arg(sheet).arg(number);
    }
    [[nodiscard]] Row rowOf(const project::KeptSheet& kept, std::size_t sheet) const;
    [[nodiscard]] Row rowOf(const clash::Test& test, const clash::TestSheet& sheet, const QString& id) const;
    [[nodiscard]] const project::RunTest* lastRunOf(const clash::Test& test, const clash::TestSheet& sheet) const;

    /// Changes one test as it is written.
    using TestEdit = std::function<void(const std::function<void(clash::Test&)>&)>;
    void addFields(Form& form, const clash::Test& test, const TestEdit& edit);
    void addMeetings(Form& form, const clash::Test& test, const project::RunTest* last, const TestEdit& edit);
    void showSheet(std::size_t sheet);
    void showTest(std::size_t sheet, std::size_t number);
    void showSet(std::size_t sheet, std::size_t number);
    void showPair(const project::ExpectedPair& pair);
    void showUntested(const Untested& untested);
    void showBoth(const std::vector<view::ElementKey>& left, const std::vector<view::ElementKey>& right,
                  bool isLookedAt);

    /// One change of a sheet, kept as what was done.
    void change(std::size_t sheet, const std::string& what, const std::function<void(clash::TestSheet&)>& edit,
                const QString& thenChosen = {});
    void addTest(std::size_t sheet);
    void addSet(std::size_t sheet);
    void saveToFile(std::size_t sheet);
    void loadFromFile();
    void runAlone(); ///< the chosen tests

    StageContext at_;
    Worklist* list_;
    Read read_;
    QString filter_ = "tests", wanted_;
    bool isFront_ = false;
    project::RunId shownRun_ = 0; ///< whose counts the form has
    QString shown_;               ///< the row whose form is in the details
    std::string shownSheet_;      ///< what that form knows of its sheet: rewritten only where somebody else changed it
    bool isLeftNew_ = true, isRightNew_ = true;  ///< the sides of what is shown were not looked at yet
    std::vector<view::ElementKey> left_, right_; ///< what the shown sides pick
};

} // namespace wendrix::app
