#pragma once

#include "app/window_fixture.h"
#include "support/made_model.h"

#include <filesystem>

namespace wendrix::test {

/// A project made from nothing in the window, of files the demo does not have.
class OwnProject : public WindowFixture {
public:
    /// An empty project with these disciplines, the first of them the reference, opened in the window.
    void openEmpty(const std::vector<std::string>& disciplines = {"Architecture", "Structure", "Piping"});
    /// A file of boxes of 2 m with a beam's name each, their corners at these places along x.
    [[nodiscard]] std::filesystem::path boxes(const std::string& name, const std::vector<double>& places,
                                              const std::vector<std::string>& guids = {}) const;
    /// A made-up building in a file of the model's name and this revision.
    [[nodiscard]] std::filesystem::path fileOf(const MadeModel& made, const std::string& revision) const;
    [[nodiscard]] bool takeIn(const MadeModel& made, const std::string& revision)
    {
        return takeIn(fileOf(made, revision), made.name, revision);
    }
    /// Received and taken in as a person would. @return whether it is in use then
    [[nodiscard]] bool takeIn(const std::filesystem::path& file, const std::string& discipline,
                              const std::string& revision);
    /// Says of every member but the reference that it is to be tested where it stands, by the button.
    void acceptEveryPlace();
    /// The row of a stage's list whose title or words hold this; -1 if there is none.
    [[nodiscard]] int rowWith(const QString& stage, const QString& words);
    /// What stands in a stage's list beside its rows, one text a line.
    [[nodiscard]] QString words(const QString& stage);
};

} // namespace wendrix::test
