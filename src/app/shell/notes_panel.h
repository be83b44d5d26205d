#pragma once

#include <QObject>

#include "scene/mark_tool.h"
#include "shell/stage.h"
#include "shell/views_panel.h"

namespace wendrix::app {

/// The register of numbered notes in the details panel, one of them opened in its view; and writing a new one.
class NotesPanel final : public QObject {
    Q_OBJECT
public:
    NotesPanel(Details& details, const ViewsContext& at, MarkTool& tool, QObject* parent);

    void show();
    /// The form of a note about to stand at this place.
    void begin(Point3 place);
    void step(int by);                  ///< to the next or previous note, and its view
    void open(const std::string& uuid); ///< with its view
    /// An issue of the note that is open.
    [[nodiscard]] std::optional<IssueStart> issueStart() const;
    /// Signs of the notes in the scene, or none.
    void setSigns(bool areShown);

private:
    void writeNote(const project::Note& note);

    Details& details_;
    ViewsContext at_;
    MarkTool& tool_;
    std::string current_;            ///< uuid; empty while none is open
    QMap<QString, QString> answers_; ///< begun, by note: they outlast whatever happens elsewhere
    std::optional<Point3> begun_;
    bool areSignsShown_ = false;
};

} // namespace wendrix::app
