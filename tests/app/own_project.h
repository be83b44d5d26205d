#pragma once

#include "app/window_fixture.h"

#include <filesystem>

namespace wendrix::test {

/// A project made from nothing in the window, of files the demo does not have.
class OwnProject final : public WindowFixture {
public:
    /// An empty project with these disciplines, the first of them the reference, opened in the window.
    void openEmpty(const std::vector<std::string>& disciplines = {"Architecture", "Structure", "Piping"});
    /// A file of boxes of 2 m with a beam's name each, their corners at these places along x.
    [[nodiscard]] std::filesystem::path boxes(const std::string& name, const std::vector<double>& places, const std::vector<std::string>& guids = {}) const;
    /// Received and taken in as a person would. @return whether it is in use then
    [[nodiscard]] bool takeIn(const std::filesystem::path& file, const std::string& discipline, const std::string& revision);
    /// Says of every member but the reference that it is to be tested where it stands, by the button.
    void acceptEveryPlace();
    /// What stands in a stage's list beside its rows, one text a line.
    [[nodiscard]] QString words(const QString& stage);
};

} // namespace wendrix::test
