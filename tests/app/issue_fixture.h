#pragma once

#include "app/own_project.h"

#include "core/issues/issue.h"

namespace wendrix::test {

/// A project of three boxes in the window, on the Issues stage.
class IssueProject final : public OwnProject {
public:
    IssueProject();

    /// An issue about one of the boxes, with a viewpoint, as Structure's. @return its uuid
    std::string made(const std::string& title, const std::string& status = "Open", const std::string& due = "",
                     std::size_t box = 0);
    [[nodiscard]] issues::Issue issue(const std::string& uuid)
    {
        return must(project().issues().find(uuid, false)).value();
    }
    [[nodiscard]] std::vector<issues::Issue> all() { return must(project().issues().all()); }
    [[nodiscard]] view::ElementKey box(const char* name);
    void select(const char* name) { scene().choose({box(name)}); }
    void pressAndWait(Qt::Key key, Qt::KeyboardModifiers modifiers = {})
    {
        press(key, modifiers);
        waitIdle();
    }
    /// Chooses one in the list.
    void open(const std::string& uuid);
    /// Of the menu that asks which way to go. @return whether there is such a way
    [[nodiscard]] bool goWay(const QString& words);
    [[nodiscard]] QStringList ways();
};

} // namespace wendrix::test
